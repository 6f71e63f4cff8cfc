import type { ItemKey } from '../catalogue/item.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'

export type LoosePrices = ReadonlyMap<ItemKey, { readonly best: number; readonly median: number }>

/** Best and lower median price per item of a list of prices. */
export function loosePrices(offers: Iterable<{ readonly item: ItemKey; readonly price: number }>): LoosePrices {
  const lists = new Map<ItemKey, number[]>()
  for (const { item, price } of offers) {
    const list = lists.get(item)
    if (list) list.push(price)
    else lists.set(item, [price])
  }
  return new Map(
    [...lists].map(([item, list]) => {
      list.sort((p, q) => p - q)
      return [item, { best: list[0] ?? 0, median: list[Math.floor((list.length - 1) / 2)] ?? 0 }]
    }),
  )
}

/** Best and median price per item of what shops of a currency offer, whatever the rules of a build. */
export function pricesIn(
  { offers, shops }: { readonly offers: readonly Offer[]; readonly shops: readonly Pick<Shop, 'id' | 'currency'>[] },
  currency: string,
): LoosePrices {
  const trading = new Set(shops.filter((s) => s.currency === currency).map((s) => s.id))
  return loosePrices(offers.filter((o) => trading.has(o.shop)))
}
