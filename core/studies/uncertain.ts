import { newPlanner } from '../netting/planner.ts'
import { AMOUNTS, type Amount } from '../design/explode.ts'
import { solveWithinReach, type WithinReach } from '../sourcing/leave-out.ts'
import type { SourcingPlan } from '../sourcing/plan.ts'
import type { SourcingProblem } from '../sourcing/problem.ts'
import type { SolveOptions } from '../sourcing/solve.ts'
import { verifyPlan } from '../sourcing/verify-plan.ts'
import { fail, ok, type Result } from '../units/result.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { sourcingTask } from '../sourcing/shortfall-task.ts'
import { tally } from '../netting/count.ts'

/** Whether any quantity of the design is not settled. */
export const isUncertain = ({ design }: Pick<Snapshot, 'design'>): boolean =>
  design.modules.some((m) => m.lines.some((l) => (l.low ?? l.qty) !== l.qty || (l.high ?? l.qty) !== l.qty))

/** A build with its uncertain quantities at their low, likely or high. */
const at = (snapshot: Snapshot, amount: Amount): Snapshot => ({
  ...snapshot,
  explosion: { ...snapshot.explosion, amount },
})

/** Pieces needed and short for the low, likely and high of uncertain quantities. */
export type Range = Readonly<Record<Amount, { readonly need: number; readonly short: number }>>

export function rangeOf(snapshot: Snapshot, onStep?: () => void, planner = newPlanner()): Range {
  const counted = AMOUNTS.map((amount) => {
    const { need, coverage } = tally(at(snapshot, amount), planner)
    onStep?.()
    return [amount, { need, short: coverage.short }] as const
  })
  return Object.fromEntries(counted) as Range
}

/** Ordering the likely now, the high now, or the likely now and the rest later; landed costs in minor units. */
export type OrderChoice = {
  readonly likely: number
  readonly high: number
  /** What a second order costs for what the high needs beyond all that was ordered first. */
  readonly second: number
  /** What the high costs more now, and what waiting costs more if it turns out high. */
  readonly extraNow: number
  readonly extraLater: number
  /** Percent of chance of the high above which ordering it now is the cheaper bet; 0 always, 100 never. */
  readonly breakEven: number
}

/**
 * Compares the orders. Expected costs of ordering the high now (H) and the likely now with a second order (S) at chance
 * p are H and L + p·S: they meet at p = (H − L) / S, the newsvendor's ratio of overage to the sum of overage and
 * underage, o / (o + u) with o = H − L and u = S − (H − L) (Arrow, Harris and Marschak, 1951).
 */
export function compareOrders(likely: number, high: number, second: number): OrderChoice {
  const extraNow = high - likely
  const breakEven =
    second <= 0 ? 100 : extraNow <= 0 ? 0 : Math.min(100, Math.max(1, Math.ceil((extraNow * 100) / second)))
  return { likely, high, second, extraNow, extraLater: likely + second - high, breakEven }
}

/** The gap, as a share of its total, at which an order is good enough to be compared. */
const GOOD_ENOUGH = 0.001

/** The orders compared, with what they cannot have and how near each is to the least possible. */
export type OrderStudy = OrderChoice & {
  /** No order is further above the least possible than so many minor units; 0 where all are proven, infinite where nothing bounds one. */
  readonly open: number
  /** Pieces that nobody can supply, of the likely and of the high. */
  readonly unavailable: { readonly likely: number; readonly high: number }
  /** Pieces of the second order. */
  readonly pieces: number
}
export type OrderFault = 'no offers' | 'no plan'

/** What was bought, as supply on order; offers hold that much less. */
function afterBuying(problem: SourcingProblem, { plan, problem: asked }: WithinReach): SourcingProblem {
  const offerById = new Map(asked.offers.map((o) => [o.id, o]))
  const setById = new Map(asked.sets.map((s) => [s.id, s]))
  const packs = new Map(plan.purchases.map((p) => [p.offer, p.packs]))
  const copies = new Map(plan.sets.map((s) => [s.set, s.copies]))
  const ordered = new Map<string, number>()
  const bring = (item: string, qty: number) => ordered.set(item, (ordered.get(item) ?? 0) + qty)
  for (const [id, n] of packs) {
    const offer = offerById.get(id)
    if (offer) bring(offer.item, n * offer.pack)
  }
  for (const [id, n] of copies) for (const { item, qty } of setById.get(id)?.contents ?? []) bring(item, qty * n)
  const known = new Map(problem.items.map((i) => [i.id, i]))
  const unknown = asked.items.filter((i) => ordered.has(i.id) && !known.has(i.id)).map((i) => ({ ...i, owned: 0 }))
  return {
    ...problem,
    items: [...problem.items, ...unknown],
    offers: problem.offers.map((o) => ({ ...o, stock: o.stock - (packs.get(o.id) ?? 0) * o.pack })),
    sets: problem.sets.map((s) => ({ ...s, maxCopies: s.maxCopies - (copies.get(s.id) ?? 0) })),
    onOrder: [...ordered].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ item, qty })),
  }
}

/** What a verified plan costs in money: points of compromise are nobody's bill. */
function paid({ plan, problem }: WithinReach): number | undefined {
  if (plan.total === null || plan.cost === null) return undefined
  const verdict = verifyPlan(problem, plan)
  if (!verdict.ok || verdict.total !== plan.total) throw new Error('a plan does not hold')
  return plan.total - plan.cost.penalties
}

/** How far a plan may be above the least possible, minor units; infinite where nothing bounds it. */
const openOf = ({ status, total, bound }: SourcingPlan): number =>
  status === 'optimal' ? 0 : total === null || bound === null ? Infinity : total - bound

/**
 * "Order the likely or the high?" The likely and the high are each counted and bought by themselves; the second order is
 * what the high still needs once the likely's purchases are on order, at the offers that are left. Each solve ends when it
 * is within a thousandth of the least possible, or after `seconds`.
 */
export function orderStudy(
  snapshot: Snapshot,
  options: Pick<SolveOptions, 'milp' | 'now'> & { readonly seconds: number; readonly onStep?: () => void },
  planner = newPlanner(),
): Result<OrderStudy, OrderFault> {
  const { shops, offers } = snapshot.market ?? { shops: [], offers: [] }
  const askedFor = (amount: Amount) => {
    const asked = at(snapshot, amount)
    return sourcingTask(asked, tally(asked, planner), shops, offers, planner).asked
  }
  const buy = (problem: SourcingProblem) => {
    const found = solveWithinReach(problem, { ...options, timeLimit: options.seconds, goodEnough: GOOD_ENOUGH })
    options.onStep?.()
    return found
  }
  const asked = { likely: askedFor('likely'), high: askedFor('high') }
  if (asked.high.offers.length === 0 && asked.high.sets.length === 0 && asked.high.lines.length > 0)
    return fail('no offers')
  const likely = buy(asked.likely)
  const high = buy(asked.high)
  const second = buy(afterBuying(asked.high, likely))
  const orders = [likely, high, second]
  const [l, h, s] = orders.map(paid)
  if (l === undefined || h === undefined || s === undefined) return fail('no plan')
  const leftOut = ({ leftOut: list }: WithinReach) => list.reduce((n, u) => n + u.short, 0)
  const offerById = new Map(second.problem.offers.map((o) => [o.id, o]))
  return ok({
    // What brings the high brings the likely too: its order costs no more.
    ...compareOrders(Math.min(l, h), h, s),
    open: Math.max(...orders.map(({ plan }) => openOf(plan))),
    unavailable: { likely: leftOut(likely), high: leftOut(high) },
    pieces: second.plan.purchases.reduce((n, p) => n + p.packs * (offerById.get(p.offer)?.pack ?? 0), 0),
  })
}
