import type { ItemKey } from '../catalogue/item.ts'
import { CONDITIONS, countedAs } from '../units/condition.ts'
import type { Rules } from '../build/house-rules.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'

export type Market = { readonly offers: readonly Offer[]; readonly shops: readonly Shop[] }

/** Whether points of compromise are weighed against prices: pieces may be bought, and spending is what counts. */
export const weighsMoney = ({ sources, aim }: Pick<Rules, 'sources' | 'aim'>): boolean =>
  sources === 'donors, shelf and shops' && aim === 'least spending'

/** Whether an offer counts for a build: its shop's currency, the shops allowed, the worst condition, other makers. */
export function offerFilter(
  shops: readonly Shop[],
  currency: string,
  rules: Pick<Rules, 'condition' | 'unstated' | 'thirdParty' | 'shops'>,
): (offer: Offer) => boolean {
  const worst = CONDITIONS.indexOf(rules.condition)
  const allowed = new Set(
    shops.filter((s) => s.currency === currency && rules.shops[s.id] !== 'excluded').map((s) => s.id),
  )
  return ({ shop, condition, thirdParty }) =>
    allowed.has(shop) &&
    CONDITIONS.indexOf(countedAs(condition, rules.unstated)) <= worst &&
    (!thirdParty || rules.thirdParty)
}

/** The lowest price of a piece of each item, in minor units, among the offers the rules allow; goods alone. */
export function lowestPrices(
  { offers, shops }: Market,
  currency: string,
  rules: Pick<Rules, 'condition' | 'unstated' | 'thirdParty' | 'shops'>,
): ReadonlyMap<ItemKey, number> {
  const counts = offerFilter(shops, currency, rules)
  const prices = new Map<ItemKey, number>()
  for (const offer of offers) {
    const { item, price, stock, pack } = offer
    if (stock < pack || !counts(offer)) continue
    const before = prices.get(item)
    if (before === undefined || price < before) prices.set(item, price)
  }
  return prices
}
