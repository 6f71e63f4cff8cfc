import type { Build } from '../build/build.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { landedCost } from '../costs/landed-cost.ts'
import { orderCost, orderTotal, type OrderCost, type OrderTerms } from '../costs/order-cost.ts'
import type { Offer } from '../offers/offer.ts'
import type { Shop } from '../offers/shop.ts'
import type { KeptPlan } from './kept-plan.ts'
import type { Decisions } from './plan.ts'
import { leviesOf } from './problem.ts'
import { coveredBy, isPaidPrint, pieceOf } from './plan-pieces.ts'

export type BasketLine = {
  readonly offer: Offer
  readonly item: ItemKey
  readonly packs: number
  readonly pieces: number
  /** Minor units of the shop's currency. */
  readonly cost: number
}

export type Basket = {
  /** With the rate of exchange of its money, where that is not the build's. */
  readonly shop: Shop & Pick<OrderTerms, 'rate'>
  readonly lines: readonly BasketLine[]
  readonly pieces: number
  /** Milligrams. */
  readonly mass: number
  /** In the build's money; `billed` in the shop's. */
  readonly cost: OrderCost
  readonly total: number
}

/** A plan's purchases as one basket per shop, dearest first, with each basket's own landed cost. */
export function baskets(
  decisions: Pick<Decisions, 'purchases'>,
  shops: ReadonlyMap<string, Shop & Pick<OrderTerms, 'levies' | 'rate'>>,
  offers: ReadonlyMap<string, Offer>,
  massOf: (item: ItemKey) => number,
): Basket[] {
  const byShop = new Map<string, BasketLine[]>()
  for (const { offer: id, packs } of decisions.purchases) {
    const offer = offers.get(id)
    if (!offer) continue
    const pieces = packs * offer.pack
    const line = { offer, item: offer.item, packs, pieces, cost: pieces * offer.price }
    const lines = byShop.get(offer.shop)
    if (lines) lines.push(line)
    else byShop.set(offer.shop, [line])
  }
  const result: Basket[] = []
  for (const [id, lines] of byShop) {
    const shop = shops.get(id)
    if (!shop) continue
    const goods = lines.reduce((sum, l) => sum + l.cost, 0)
    const mass = lines.reduce((sum, l) => sum + l.pieces * massOf(l.item), 0)
    const cost = orderCost(shop, { goods, mass, lines: lines.length })
    // No plan that was verified sends a parcel heavier than its shop does.
    if (!cost) throw new Error(`no band of ${id} takes ${mass} mg`)
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
 * The orders of a kept plan at the prices, stocks, terms and levies it was decided on, whatever offers and shops are by now. `current` tells
 * the condition of offers that still stand.
 */
export function planOrders(kept: KeptPlan, shops: readonly Shop[], current: ReadonlyMap<string, Offer>): Basket[] {
  const pieces = new Map(kept.problem.items.map((item) => [item.id, pieceOf(item)]))
  const decided = new Map(
    kept.problem.offers.map((o): [string, Offer] => [
      o.id,
      {
        ...o,
        item: pieces.get(o.item) ?? pieceOf({ id: o.item }),
        condition: current.get(o.id)?.condition ?? 'new',
        source: current.get(o.id)?.source ?? 'market',
      },
    ]),
  )
  const mass = new Map<ItemKey, number>(kept.problem.items.map((i) => [pieceOf(i), i.mass]))
  const { problem } = kept
  const terms = new Map(
    problem.shops.map((s) => [s.id, { ...s, currency: s.currency ?? problem.currency, levies: leviesOf(problem, s) }]),
  )
  const then = new Map(shops.map((s) => [s.id, { ...s, ...terms.get(s.id) }]))
  return baskets(kept.plan, then, decided, (item) => mass.get(item) ?? 0)
}

/** Custom prints among what a kept plan buys. */
export function printsBought({ plan, problem }: Pick<KeptPlan, 'plan' | 'problem'>): number {
  let prints = 0
  for (const { accept, qty } of coveredBy(problem, plan)) if (isPaidPrint(accept)) prints += qty
  return prints
}

/** What a kept plan costs at the door (`landedCost`), minor units; undefined without a plan. */
export function planLandedCost(build: Pick<Build, 'rules'>, kept: KeptPlan): number | undefined {
  const { total, cost } = kept.plan
  if (total === null || cost === null) return undefined
  const prints = printsBought(kept)
  return landedCost({ total, penalties: cost.penalties, prints, printPrice: build.rules.printPrice })
}
