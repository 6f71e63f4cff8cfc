import type { ItemKey } from '../catalogue/item.ts'
import { splitItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { orderCost, orderTotal } from '../costs/order-cost.ts'
import type { PartId } from '../units/ids.ts'
import type { KeptPlan } from './kept-plan.ts'
import { gapOf, type SourcingPlan } from './plan.ts'
import { pieceOf } from './plan-pieces.ts'
import { leviesOf, type SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'

/** Why a few more of a piece may be worth ordering: one shop alone has it, it is cut to length, or the number is no round one. */
export const MORE_REASONS = ['one shop', 'length', 'round number'] as const
export type MoreReason = (typeof MORE_REASONS)[number]

/** A few more of a piece that a plan buys; money in minor units. */
export type FewMore = {
  readonly item: ItemKey
  readonly offer: string
  readonly shop: string
  readonly reasons: readonly MoreReason[]
  /** Pieces that are bought of the offer, and how many more are asked about: whole packs, as far as there is stock. */
  readonly bought: number
  readonly more: number
  /**
   * What they add to the purchase: goods, a heavier parcel, fees and levies, an offer's penalty, less what a leftover may
   * bring; below 0 where they save a fee.
   */
  readonly costs: number
  /**
   * What the cheapest order of the smallest pack later costs, by the offers known and what the plan leaves in stock, at
   * least; undefined where nobody has more.
   */
  readonly later: number | undefined
  /**
   * The chance of needing them, percent rounded up, from which ordering them now is the cheaper bet: overage by overage and
   * underage (the newsvendor's critical ratio), as a piece that is missed is paid with the later order. 0 where they cost
   * nothing now; undefined where nobody has more.
   */
  readonly paysFrom: number | undefined
}

/** Numbers are rounded up to the next multiple of this. */
const ROUND = 5
/** Families that are cut to length. */
const LENGTHS: ReadonlySet<string> = new Set(['hose', 'string'])
/** Pieces that are asked about at most. */
const MOST = 40

/**
 * Pieces of a kept plan of which a few more may be wanted, and what they cost now and later. `round` asks about all numbers
 * that are not round as well. Nothing for a plan that does not hold.
 */
export function fewMore(
  { problem, plan }: Pick<KeptPlan, 'problem' | 'plan'>,
  parts: ReadonlyMap<PartId, Part>,
  round: boolean,
): FewMore[] {
  const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
  if (!verdict?.ok) return []
  const packs = new Map(plan.purchases.map((p) => [p.offer, p.packs]))
  const massOf = new Map(problem.items.map((i) => [i.id, i.mass]))
  const pieces = new Map(problem.items.map((i) => [i.id, pieceOf(i)]))
  const usable = usableShops(problem)
  const offersOf = new Map<string, SourcingProblem['offers'][number][]>()
  for (const offer of problem.offers)
    if (usable.has(offer.shop) && offer.stock >= offer.pack)
      offersOf.set(offer.item, [...(offersOf.get(offer.item) ?? []), offer])
  const shopOf = new Map(problem.offers.map((o) => [o.id, o.shop]))
  const linesOf = new Map<string, number>()
  for (const { offer, packs: n } of plan.purchases)
    if (n > 0) linesOf.set(shopOf.get(offer) ?? '', (linesOf.get(shopOf.get(offer) ?? '') ?? 0) + 1)
  const earned = leftoversEarn(problem, plan, verdict.surplus)
  const priced = ({ shop, item, price, penalty = 0 }: SourcingProblem['offers'][number], more: number) => {
    const terms = usable.get(shop)
    const order = verdict.orders.get(shop)
    if (!terms || !order) return undefined
    const lines = linesOf.get(shop) ?? 0
    const goods = order.billed.goods + more * price
    const now = orderCost(terms, { goods: order.billed.goods, mass: order.mass, lines })
    const then = orderCost(terms, { goods, mass: order.mass + more * (massOf.get(item) ?? 0), lines })
    return now && then && orderTotal(then) - orderTotal(now) + more * penalty - earned(item, more)
  }
  const found: FewMore[] = []
  for (const offer of problem.offers) {
    const bought = (packs.get(offer.id) ?? 0) * offer.pack
    if (bought === 0) continue
    const item = pieces.get(offer.item) ?? pieceOf({ id: offer.item })
    const others = offersOf.get(offer.item) ?? []
    const reasons: MoreReason[] = [
      ...(new Set(others.map((o) => o.shop)).size <= 1 ? (['one shop'] as const) : []),
      ...(LENGTHS.has(parts.get(splitItemKey(item).part)?.shape.family ?? '') ? (['length'] as const) : []),
      ...(round && bought % ROUND !== 0 ? (['round number'] as const) : []),
    ]
    const wanted = reasons.includes('round number') ? ROUND - (bought % ROUND) : 1
    const more = Math.min(Math.floor((offer.stock - bought) / offer.pack), Math.ceil(wanted / offer.pack)) * offer.pack
    const costs = reasons.length > 0 && more > 0 ? priced(offer, more) : undefined
    if (costs === undefined) continue
    const later = laterCost(others, usable, packs, massOf)
    const over = Math.max(0, costs)
    found.push({
      ...{ item, offer: offer.id, shop: offer.shop, reasons, bought, more, costs, later },
      paysFrom: later === undefined ? undefined : Math.min(100, Math.ceil((100 * over) / Math.max(1, over, later))),
    })
  }
  const rank = (m: FewMore) => (m.later === undefined ? -1 : (m.paysFrom ?? 100))
  return found.sort((p, q) => rank(p) - rank(q) || (p.item < q.item ? -1 : 1)).slice(0, MOST)
}

/** What more left over of an item earns one by one, beside what is sold of it already. */
function leftoversEarn(
  { items, sets }: SourcingProblem,
  { figures = [] }: SourcingPlan,
  surplus: ReadonlyMap<string, number>,
): (item: string, more: number) => number {
  const whole = new Map<string, number>()
  for (const { set, figure, qty } of figures)
    for (const piece of sets.find((s) => s.id === set)?.figures?.find((f) => f.id === figure)?.pieces ?? [])
      whole.set(piece.item, (whole.get(piece.item) ?? 0) + qty * piece.qty)
  const resaleOf = new Map(items.map((i) => [i.id, i.resale]))
  return (item, more) => {
    const resale = resaleOf.get(item)
    if (!resale) return 0
    const left = (surplus.get(item) ?? 0) - (whole.get(item) ?? 0)
    return resale.credit * (Math.min(resale.max, left + more) - Math.min(resale.max, left))
  }
}

/** Shops that may be ordered from, with their levies. */
const usableShops = (problem: SourcingProblem) =>
  new Map(
    problem.shops
      .filter((s) => s.status !== 'excluded' && (problem.deadlineDays === null || s.leadDays <= problem.deadlineDays))
      .map((s) => [s.id, { ...s, levies: leviesOf(problem, s) }] as const),
  )

/** The cheapest order of one pack of an item later, of what a plan leaves in stock; a minimum is filled up with something. */
function laterCost(
  offers: readonly SourcingProblem['offers'][number][],
  usable: ReturnType<typeof usableShops>,
  packs: ReadonlyMap<string, number>,
  massOf: ReadonlyMap<string, number>,
): number | undefined {
  let least: number | undefined
  for (const { id, shop, item, price, stock, pack } of offers) {
    const terms = usable.get(shop)
    if (!terms || stock - (packs.get(id) ?? 0) * pack < pack) continue
    const goods = Math.max(price * pack, terms.minOrder)
    const cost = orderCost(terms, { goods, mass: pack * (massOf.get(item) ?? 0), lines: 1 })
    if (cost && (least === undefined || orderTotal(cost) < least)) least = orderTotal(cost)
  }
  return least
}

/**
 * A plan with more pieces of an offer, counted anew; its bound stays, so that it says how much above the least it is.
 * Undefined where that does not hold: no such offer, less in stock, a rule against it.
 */
export function withMore(
  problem: SourcingProblem,
  plan: SourcingPlan,
  offer: string,
  more: number,
): SourcingPlan | undefined {
  const pack = problem.offers.find((o) => o.id === offer)?.pack
  if (pack === undefined || more % pack !== 0) return undefined
  const purchases = plan.purchases.map((p) => (p.offer === offer ? { ...p, packs: p.packs + more / pack } : p))
  const verdict = verifyPlan(problem, { ...plan, purchases })
  if (!verdict.ok) return undefined
  const { total, cost } = verdict
  const proven = plan.bound !== null && plan.bound >= total
  return { ...plan, purchases, total, cost, gap: gapOf(total, plan.bound), status: proven ? 'optimal' : 'feasible' }
}
