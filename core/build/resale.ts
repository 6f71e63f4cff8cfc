import * as v from 'valibot'
import { ItemKeySchema, type ItemKey } from '../catalogue/item.ts'
import { MOST_AMOUNT } from '../units/money.ts'

const Price = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(MOST_AMOUNT))

/** What the user expects for a complete figure of a name, or for a piece; minor units of the build's currency. */
export const ResalePriceSchema = v.variant('kind', [
  v.object({
    kind: v.literal('figure'),
    name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
    price: Price,
    /** So many find a buyer at that price; any number when left out. */
    most: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(10_000))),
  }),
  v.object({ kind: v.literal('item'), item: ItemKeySchema, price: Price }),
])
export type ResalePrice = v.InferOutput<typeof ResalePriceSchema>

/** What leftovers may bring: prices of the user's own, and of all else a share of the median price. */
export type Resale = { readonly resalePercent: number; readonly resalePrices: readonly ResalePrice[] }

/** The user's own price of a complete figure. */
export const figurePrice = (name: string, { resalePrices }: Pick<Resale, 'resalePrices'>): number | undefined =>
  resalePrices.find((p) => p.kind === 'figure' && p.name === name)?.price

/** How many figures of a name find a buyer; undefined where any number does. */
export const figuresSoldAtMost = (name: string, { resalePrices }: Pick<Resale, 'resalePrices'>): number | undefined => {
  const price = resalePrices.find((p) => p.kind === 'figure' && p.name === name)
  return price?.kind === 'figure' ? price.most : undefined
}

/** The prices with so many figures of a name that find a buyer; any number where it is `undefined`. */
export const withMost = (prices: readonly ResalePrice[], name: string, most: number | undefined): ResalePrice[] =>
  prices.map((p) => {
    if (p.kind !== 'figure' || p.name !== name) return p
    const { most: _, ...rest } = p
    return most === undefined ? rest : { ...rest, most }
  })

/** The user's own prices of pieces, by item. */
export const itemPrices = ({ resalePrices }: Pick<Resale, 'resalePrices'>): ReadonlyMap<ItemKey, number> =>
  new Map(resalePrices.flatMap((p) => (p.kind === 'item' ? [[p.item, p.price] as const] : [])))

/** The prices with another for a figure or a piece; without one where it is `undefined`. */
export function withPrice(
  prices: readonly ResalePrice[],
  what: { readonly kind: 'figure'; readonly name: string } | { readonly kind: 'item'; readonly item: ItemKey },
  price: number | undefined,
): ResalePrice[] {
  const others = prices.filter((p) =>
    p.kind === 'figure' ? what.kind !== 'figure' || p.name !== what.name : what.kind !== 'item' || p.item !== what.item,
  )
  const before = prices.find((p) => !others.includes(p))
  const most = before?.kind === 'figure' && before.most !== undefined ? { most: before.most } : {}
  return price === undefined ? others : [...others, { ...what, price, ...most }]
}
