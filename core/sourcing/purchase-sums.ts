import type { ItemKey } from '../catalogue/item.ts'
import { landedCost } from '../costs/landed-cost.ts'
import { printsBought } from './baskets.ts'
import { neededBy } from './frontier.ts'
import { coveredBy, pieceOf, standInOf } from './plan-pieces.ts'
import type { PlanCost, SourcingPlan } from './plan.ts'
import { figuresOf, type SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'

/** What leftovers are taken to bring: nothing, what is weighed, or what is hoped for. */
export const RESALE_VIEWS = ['nothing', 'likely', 'hoped'] as const
export type ResaleView = (typeof RESALE_VIEWS)[number]

/** What a purchase plan comes to; money in minor units. */
export type PurchaseSums = {
  readonly cost: PlanCost
  /** What is paid up front: goods, fees, levies, copies and custom prints, before anything is sold. */
  readonly outlay: number
  /** Custom prints among it. */
  readonly prints: number
  /** What leftovers bring, by what is taken of them. */
  readonly resale: Readonly<Record<ResaleView, number>>
  /** Pieces bought loose. */
  readonly loose: number
  readonly orders: number
  /** Days until the last order comes, by the shops' word; 0 without an order. */
  readonly lastDay: number
  readonly copies: number
  /** Wanted pieces covered by a stand-in, owned or bought. */
  readonly standIns: number
  /** Wanted pieces that are covered, at least in part, by what is bought loose as well. */
  readonly withLoose: ReadonlySet<ItemKey>
  /** Pieces of orders and copies that the build does not use. */
  readonly surplus: number
}

/** What a purchase costs when its leftovers bring what they are taken to; minor units. */
export const netOf = ({ outlay, resale }: Pick<PurchaseSums, 'outlay' | 'resale'>, view: ResaleView): number =>
  outlay - resale[view]

/** Wanted pieces covered by items that are bought loose, be it only some of them. */
function coveredLoose(problem: SourcingProblem, plan: SourcingPlan): Set<ItemKey> {
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  const loose = new Set(
    plan.purchases.flatMap(({ offer, packs }) => (packs > 0 ? (offerById.get(offer)?.item ?? []) : [])),
  )
  const wanted = new Set<ItemKey>()
  for (const { line, accept } of coveredBy(problem, plan))
    if (accept.uses.some((u) => loose.has(u.item))) wanted.add(pieceOf(line))
  return wanted
}

/**
 * What a plan pays and leaves over, by an independent count (`verifyPlan`); `printPrice` is what a custom print costs,
 * minor units. Undefined where the plan does not hold for the problem, or there is none.
 */
export function purchaseSums(
  { problem, plan }: { readonly problem: SourcingProblem; readonly plan: SourcingPlan },
  printPrice: number,
): PurchaseSums | undefined {
  const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
  if (!verdict?.ok || verdict.total !== plan.total) return undefined
  const { cost, total, surplus, sold, orders } = verdict
  let hoped = 0
  for (const { id, resale } of problem.items)
    if (resale) hoped += Math.max(resale.credit, resale.hoped ?? 0) * (sold.get(id) ?? 0)
  for (const { set, figure } of figuresOf(problem)) {
    const whole = plan.figures?.find((f) => f.set === set.id && f.figure === figure.id)?.qty ?? 0
    hoped += Math.max(figure.credit, figure.hoped ?? 0) * whole
  }
  const prints = printsBought({ problem, plan })
  const paid = landedCost({ total, penalties: cost.penalties, prints, printPrice })
  let standIns = 0
  for (const { accept, qty } of coveredBy(problem, plan)) if (standInOf(accept) !== undefined) standIns += qty
  return {
    cost,
    outlay: paid + cost.credit,
    prints: prints * printPrice,
    resale: { nothing: 0, likely: cost.credit, hoped },
    loose: neededBy(problem, plan, 'maxPieces'),
    orders: orders.size,
    lastDay: orders.size === 0 ? 0 : neededBy(problem, plan, 'deadlineDays'),
    copies: plan.sets.reduce((n, s) => n + s.copies, 0),
    standIns,
    withLoose: coveredLoose(problem, plan),
    surplus: [...surplus.values()].reduce((n, left) => n + left, 0),
  }
}
