import type { RareItem, RareReason } from '../../core/sourcing/rare.ts'
import { formatMoney } from '../../core/units/money.ts'
import { formatNumber, plural } from '../../core/units/numbers.ts'

/** Why a piece is hard to buy, with what is known of it. */
export function rareWords(rare: RareItem, currency: string): string {
  const { reasons, qty, stock, shops, price, elsewhere, colours } = rare
  const words: Record<RareReason, string> = {
    'no shop': 'no known shop has it within the rules',
    'too few': `shops have ${formatNumber(stock)} of ${formatNumber(qty)}`,
    'one shop': 'one shop alone has it',
    'opens an order': 'an order is opened for it',
    dear: `${formatMoney(price ?? 0, currency)} at the least, ${times(price, elsewhere)} times the ${formatMoney(elsewhere ?? 0, currency)} it costs in ${plural(colours, 'other colour')}`,
  }
  return reasons.map((r) => words[r]).join('; ') + (shops > 1 ? ` (${plural(shops, 'shop')})` : '')
}

const times = (price = 0, elsewhere = 1): string => (price / elsewhere).toFixed(1)

/** How many pieces are hard to buy, and in what way: "2 no shop has, 1 too few". */
export function rareSummary(items: readonly RareItem[]): string {
  const of = (reason: RareReason) => items.filter((i) => i.reasons[0] === reason).length
  const said: readonly (readonly [RareReason, string])[] = [
    ['no shop', 'that no shop has'],
    ['too few', 'of which shops have too few'],
    ['one shop', 'that one shop alone has'],
    ['opens an order', 'that an order is opened for'],
    ['dear', 'far dearer than in other colours'],
  ]
  return said
    .flatMap(([reason, words]) => (of(reason) > 0 ? [`${plural(of(reason), 'item')} ${words}`] : []))
    .join(', ')
}
