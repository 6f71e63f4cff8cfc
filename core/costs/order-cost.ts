import type { ItemKey } from '../catalogue/item.ts'
import { importCharge, orderTotal, type OrderCost } from './landed-cost.ts'
import type { Decisions } from '../sourcing/plan.ts'
import type { Build } from '../build/build.ts'
import type { KeptPlan } from '../sourcing/kept-plan.ts'
import type { Offer, Shop } from '../offers/offer.ts'
import { itemOf } from '../sourcing/shortfall-task.ts'

export type BasketLine = {
  readonly offer: Offer
  readonly item: ItemKey
  readonly packs: number
  readonly pieces: number
  readonly cost: number
}

export type Basket = {
  readonly shop: Shop
  readonly lines: readonly BasketLine[]
  readonly pieces: number
  /** Milligrams. */
  readonly mass: number
  readonly cost: OrderCost
  readonly total: number
}

/** A plan's purchases as one basket per shop, dearest first, with each basket's own landed cost. */
export function baskets(
  build: Build,
  decisions: Decisions,
  shops: ReadonlyMap<string, Shop>,
  offers: ReadonlyMap<string, Offer>,
  massOf: (item: ItemKey) => number,
): Basket[] {
  const byShop = new Map<string, BasketLine[]>()
  for (const { offer: id, packs } of decisions.purchases) {
    const offer = offers.get(id)
    if (!offer) continue
    const pieces = packs * offer.pack
    const line = { offer, item: offer.item, packs, pieces, cost: pieces * offer.price }
    byShop.set(offer.shop, [...(byShop.get(offer.shop) ?? []), line])
  }
  const result: Basket[] = []
  for (const [id, lines] of byShop) {
    const shop = shops.get(id)
    if (!shop) continue
    const goods = lines.reduce((sum, l) => sum + l.cost, 0)
    const mass = lines.reduce((sum, l) => sum + l.pieces * massOf(l.item), 0)
    const shipping = shop.bands.find((b) => mass <= b.maxMass)?.fee ?? shop.bands.at(-1)?.fee ?? 0
    const lineFees = shop.lineFee * lines.length
    const service = shop.service && goods < shop.service.threshold ? shop.service.fee : 0
    const base = goods + shipping + shop.handling + lineFees + service
    const cost = {
      goods,
      shipping,
      handling: shop.handling,
      lineFees,
      service,
      importCharge: importCharge(base, build.rules.importPercent, shop.country, build.rules.shipTo),
    }
    result.push({
      shop,
      lines: lines.sort((p, q) => q.cost - p.cost || (p.item < q.item ? -1 : 1)),
      pieces: lines.reduce((sum, l) => sum + l.pieces, 0),
      mass,
      cost,
      total: orderTotal(cost),
    })
  }
  return result.sort((p, q) => q.total - p.total || (p.shop.id < q.shop.id ? -1 : 1))
}

/**
 * The orders of a kept plan at the prices and stocks it was decided on, whatever the offers are by now. `current` tells
 * the condition of offers that still stand.
 */
export function planOrders(
  build: Build,
  kept: KeptPlan,
  shops: readonly Shop[],
  current: ReadonlyMap<string, Offer>,
): Basket[] {
  const decided = new Map(
    kept.problem.offers.map((o): [string, Offer] => [
      o.id,
      {
        ...o,
        item: itemOf(o.item),
        condition: current.get(o.id)?.condition ?? 'new',
        source: current.get(o.id)?.source ?? 'market',
      },
    ]),
  )
  const mass = new Map<ItemKey, number>(kept.problem.items.map((i) => [itemOf(i.id), i.mass]))
  return baskets(build, kept.plan, new Map(shops.map((s) => [s.id, s])), decided, (item) => mass.get(item) ?? 0)
}

/** Custom prints among what a kept plan buys. */
export const printsBought = (kept: KeptPlan): number =>
  kept.plan.assignments.reduce((n, a) => n + (a.accept.startsWith('print') ? a.qty : 0), 0)

/**
 * What a kept plan costs at the door in money: goods, fees, sets, the user's own import charges and custom prints, less
 * resale. Points of compromise were weighed in finding it, but nobody is paid for them. Undefined without a plan.
 */
export function landedTotal(build: Build, kept: KeptPlan, orders: readonly Basket[]): number | undefined {
  if (kept.plan.total === null || kept.plan.cost === null) return undefined
  return orders.reduce(
    (sum, o) => sum + o.cost.importCharge,
    kept.plan.total - kept.plan.cost.penalties + printsBought(kept) * build.rules.printPrice,
  )
}
