import type { Build } from '../build/build.ts'
import { billTotal } from '../costs/order-cost.ts'
import { planLandedCost } from '../sourcing/baskets.ts'
import type { KeptPlan } from '../sourcing/kept-plan.ts'
import { coveredBy, standInOf } from '../sourcing/plan-pieces.ts'
import { exchanged } from '../units/exchange.ts'
import { chargesOf, stateOf, type Order } from './order.ts'

/** What a plan for what is still short comes to. */
export type Replan = {
  /** Orders from shops, and donor copies. */
  readonly orders: number
  readonly copies: number
  /** At the door, minor units. */
  readonly cost: number
  /** Pieces of lines that stand-ins cover. */
  readonly standIns: number
  /** Lines that cannot be had, and their pieces. */
  readonly missingLines: number
  readonly missingPieces: number
}

export const NOTHING_TO_BUY: Replan = {
  orders: 0,
  copies: 0,
  cost: 0,
  standIns: 0,
  missingLines: 0,
  missingPieces: 0,
}

/** A plan in figures; undefined where there is none. */
export function replanOf(
  build: Pick<Build, 'rules'>,
  kept: Pick<KeptPlan, 'problem' | 'plan' | 'unavailable'>,
): Replan | undefined {
  const cost = planLandedCost(build, kept as KeptPlan)
  if (cost === undefined) return undefined
  const { problem, plan, unavailable } = kept
  const shops = new Map(problem.offers.map((o) => [o.id, o.shop]))
  let standIns = 0
  for (const { accept, qty } of coveredBy(problem, plan)) if (standInOf(accept) !== undefined) standIns += qty
  return {
    orders: new Set(plan.purchases.flatMap((p) => (p.packs > 0 ? [shops.get(p.offer)] : []))).size,
    copies: plan.sets.reduce((n, s) => n + s.copies, 0),
    cost,
    standIns,
    missingLines: unavailable.length,
    missingPieces: unavailable.reduce((n, u) => n + u.short, 0),
  }
}

/** Orders that may be thrown into a new plan: nothing was paid for them. */
export const mayThrowIn = (order: Order): boolean => ['drafted', 'placed'].includes(stateOf(order))

/** What orders come to in the builds' money: their bills at their rates, each rounded once, duty and tax with them. */
export const billsOf = (orders: readonly Order[]): number =>
  orders.reduce((sum, order) => {
    const charges = chargesOf(order)
    const bill = billTotal(charges)
    return sum + (order.rate === undefined ? bill : exchanged(bill, order.rate)) + charges.levies
  }, 0)

/**
 * What throwing orders in saves, minor units: their bills and what is to be bought beside them, less what one plan for all
 * of it costs. Negative where they are better left as they are. Only placed orders count beside the fixed plan: what is
 * a draft is in no count, so that it is bought in both.
 */
export const throwingInSaves = (fixed: Replan, open: Replan, thrown: readonly Order[]): number =>
  billsOf(thrown.filter((o) => stateOf(o) === 'placed')) + fixed.cost - open.cost
