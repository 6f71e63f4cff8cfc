import type { ItemKey } from '../catalogue/item.ts'
import type { Rules } from '../build/house-rules.ts'
import { usableOffers } from './market.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'

/** What pieces cost loose: goods alone, the cheapest allowed offers first, whole packs, up to their stock. */
export type GoodsCost = {
  /** Minor units. */
  readonly cost: number
  /** Pieces that nobody allowed has. */
  readonly unavailable: number
}

export type PriceOf = (item: ItemKey, qty: number) => GoodsCost

/** What a list of pieces costs loose, item by item. */
export function goodsFor(pieces: Iterable<readonly [ItemKey, number]>, priceOf: PriceOf): GoodsCost {
  let [cost, unavailable] = [0, 0]
  for (const [item, qty] of pieces) {
    const goods = priceOf(item, qty)
    cost += goods.cost
    unavailable += goods.unavailable
  }
  return { cost, unavailable }
}

/** Finds what loose pieces cost under a build's rules; a lower estimate, as shipping and fees are left out. */
export function goodsPricer(offers: readonly Offer[], shops: readonly Shop[], currency: string, rules: Rules): PriceOf {
  const byItem = new Map<ItemKey, Offer[]>()
  for (const offer of usableOffers({ offers, shops }, currency, rules)) {
    const list = byItem.get(offer.item)
    if (list) list.push(offer)
    else byItem.set(offer.item, [offer])
  }
  for (const list of byItem.values()) list.sort((p, q) => p.price - q.price || (p.id < q.id ? -1 : 1))
  return (item, qty) => {
    let open = qty
    let cost = 0
    for (const offer of byItem.get(item) ?? []) {
      if (open <= 0) break
      const packs = Math.min(Math.floor(offer.stock / offer.pack), Math.ceil(open / offer.pack))
      cost += packs * offer.pack * offer.price
      open -= packs * offer.pack
    }
    return { cost, unavailable: Math.max(0, open) }
  }
}
