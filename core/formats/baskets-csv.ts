import type { ItemKey } from '../catalogue/item.ts'
import { billTotal } from '../costs/order-cost.ts'
import type { Shop } from '../offers/shop.ts'
import type { Basket } from '../sourcing/baskets.ts'
import type { SharedOrder } from '../sourcing/joint-shares.ts'
import { NOT_STATED } from '../units/condition.ts'
import { decimal, formatMoney } from '../units/money.ts'
import { plural } from '../units/numbers.ts'
import { writeCsv } from './delimited.ts'

/** How an item is called: by its part and colour, and in full. */
type NameItem = (item: ItemKey) => {
  readonly name: string
  readonly part: { readonly name: string }
  readonly colour: { readonly name: string }
}

/** Baskets as a table (RFC 4180), a row a line; money as decimals of the shop's currency. */
export function basketsCsv(orders: readonly Basket[], nameItem: NameItem): string {
  return writeCsv([
    ['shop', 'country', 'part', 'colour', 'pieces', 'packs', 'pack of', 'condition', 'price each', 'cost', 'currency'],
    ...orders.flatMap(({ shop, lines }) =>
      lines.map((l) => {
        const { part, colour } = nameItem(l.item)
        const { name, country, currency } = shop
        const [price, cost] = [decimal(l.offer.price, currency), decimal(l.cost, currency)]
        const { pack, condition } = l.offer
        return [name, country, part.name, colour.name, l.pieces, l.packs, pack, condition, price, cost, currency]
      }),
    ),
  ])
}

/** One basket in words for its shop, in the shop's money, a line each, to be pasted into a message. */
export function basketText({ shop, lines, pieces, cost }: Basket, nameItem: NameItem): string {
  return [
    `${shop.name}: ${plural(pieces, 'piece')}, ${formatMoney(billTotal(cost.billed), shop.currency)} ${shop.shippingUnknown ? 'without its shipping, which is not known' : 'with shipping and fees'}`,
    ...lines.map(({ pieces: n, item, offer: { condition, price } }) => {
      const said = condition === NOT_STATED ? '' : ` (${condition})`
      return `${n} x ${nameItem(item).name}${said} at ${decimal(price, shop.currency)}`
    }),
  ].join('\n')
}

/** Baskets for several builds as a table (RFC 4180): a row for each build that a line is for; money as above. */
export function sharedBasketsCsv(
  orders: readonly SharedOrder[],
  builds: readonly string[],
  shopOf: (id: string) => Pick<Shop, 'name' | 'country' | 'currency'>,
  nameItem: NameItem,
): string {
  return writeCsv([
    ['shop', 'country', 'for', 'part', 'colour', 'pieces', 'price each', 'cost', 'currency'],
    ...orders.flatMap(({ shop, lines }) => {
      const { name, country, currency } = shopOf(shop)
      return lines.flatMap(({ item, price, dealt, over }) => {
        const { part, colour } = nameItem(item)
        return [...dealt.map((n, p) => [builds[p] ?? '', n] as const), ['none of them', over] as const].flatMap(
          ([build, n]) =>
            n === 0
              ? []
              : [
                  [
                    ...[name, country, build, part.name, colour.name, n],
                    ...[decimal(price, currency), decimal(n * price, currency), currency],
                  ],
                ],
        )
      })
    }),
  ])
}
