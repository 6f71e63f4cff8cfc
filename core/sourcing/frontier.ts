import { withBound, type SourcingPlan } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { solveSourcing, type SolveOptions } from './solve.ts'

/** The rules whose price can be drawn: shops ordered from, days until the last parcel, pieces bought loose, each at most. */
export const PRICED_RULES = ['maxShops', 'deadlineDays', 'maxPieces'] as const
export type PricedRule = (typeof PRICED_RULES)[number]

/** The cheapest plan found for a value of a rule. */
export type FrontierPoint = {
  /** What the plan needs (`neededBy`): orders, days until the last parcel, or loose pieces. It holds for every looser value. */
  readonly limit: number
  /** The problem with the rule at just that. */
  readonly problem: SourcingProblem
  /** Checked by `verifyPlan`; its bound holds for `problem`. */
  readonly plan: SourcingPlan
}

/** Why there is no tighter point: no plan can exist, none was found in time, there is nothing tighter to ask for. */
export const FRONTIER_ENDS = ['none can exist', 'none found', 'stopped', 'tightest'] as const
export type FrontierEnd = (typeof FRONTIER_ENDS)[number]

export type Frontier = {
  readonly rule: PricedRule
  /** From the loosest to the tightest; the total never falls. */
  readonly points: readonly FrontierPoint[]
  readonly end: FrontierEnd
}

/** The problem with a rule at a value, or at what it is where that is tighter. */
export const restricted = (problem: SourcingProblem, rule: PricedRule, limit: number): SourcingProblem => ({
  ...problem,
  [rule]: Math.min(problem[rule] ?? Infinity, limit),
})

/**
 * The tightest value of a rule that a plan keeps to: the shops it orders from, the days its last parcel takes (both at
 * least 1), or the pieces it buys loose.
 */
export function neededBy(problem: SourcingProblem, plan: Pick<SourcingPlan, 'purchases'>, rule: PricedRule): number {
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  if (rule === 'maxPieces')
    return plan.purchases.reduce((sum, { offer, packs }) => sum + packs * (offerById.get(offer)?.pack ?? 1), 0)
  const shops = new Set(
    plan.purchases.flatMap(({ offer, packs }) => (packs > 0 ? (offerById.get(offer)?.shop ?? []) : [])),
  )
  return rule === 'maxShops'
    ? Math.max(1, shops.size)
    : problem.shops.reduce((most, s) => (shops.has(s.id) ? Math.max(most, s.leadDays) : most), 1)
}

/**
 * The same problem with each loose piece at one unit and nothing else counting: no prices, fees, minimums or points. Its
 * least total is the fewest loose pieces that anything can be covered with; shops' minimums may ask for more.
 */
const countingPieces = (problem: SourcingProblem): SourcingProblem => ({
  ...problem,
  levies: [],
  items: problem.items.map((item) => ({ ...item, resale: null })),
  lines: problem.lines.map((line) => ({ ...line, accepts: line.accepts.map((a) => ({ ...a, penalty: 0 })) })),
  shops: problem.shops.map(({ rate: _, currency: __, ...shop }) => ({
    ...shop,
    minOrder: 0,
    bands: shop.bands.map(({ maxMass }) => ({ maxMass, fee: 0 })),
    service: null,
    handling: 0,
    lineFee: 0,
    levies: [],
  })),
  offers: problem.offers.map(({ penalty: _, ...offer }) => ({ ...offer, price: 1 })),
  sets: problem.sets.map(({ figures: _, ...set }) => ({ ...set, price: 0 })),
})

/** Values of the rule on loose pieces that are asked for, at most, from what a plan buys down to the fewest. */
const PIECE_STEPS = 6

/**
 * The loosest value tighter than one that may change a plan, or, of loose pieces, the next in a row that ends with the
 * fewest; undefined when there is none that a rule can have. Below what the soonest shop takes, donor copies may still do.
 */
function tighterThan(problem: SourcingProblem, rule: PricedRule, limit: number, row: PieceRow): number | undefined {
  if (rule === 'maxPieces') return limit > row.fewest ? Math.max(row.fewest, limit - row.stride) : undefined
  const sooner = problem.shops.filter((s) => s.status !== 'excluded' && s.leadDays < limit).map((s) => s.leadDays)
  const next = rule === 'deadlineDays' && sooner.length > 0 ? Math.max(...sooner) : limit - 1
  return next >= 1 ? next : undefined
}

/** The row of values that are asked for of loose pieces: none below the fewest, so many fewer at a time. */
type PieceRow = { readonly fewest: number; readonly stride: number }

export type FrontierOptions = Omit<SolveOptions, 'onProgress'> & {
  /** Told of each point as it is found, before its neighbours have a say. */
  readonly onPoint?: (point: FrontierPoint) => void
  /** Told what is asked next. */
  readonly onAsk?: (limit: number) => void
}

/**
 * Least cost for every value of a rule that changes the plan, from a plan of the problem as it is to the tightest value
 * that still has one: each a solve of its own (`solveSourcing`). `timeLimit` is seconds for all of them together; what
 * one leaves over goes to those after it. `base` must be a checked plan of `problem`.
 */
export function traceFrontier(
  problem: SourcingProblem,
  base: SourcingPlan,
  rule: PricedRule,
  { onPoint, onAsk, ...options }: FrontierOptions,
): Frontier {
  const started = options.now()
  const left = () => options.timeLimit - (options.now() - started)
  const first = neededBy(problem, base, rule)
  const points: FrontierPoint[] = [{ limit: first, problem: restricted(problem, rule, first), plan: base }]
  const done = (end: FrontierEnd): Frontier => settledFrontier({ rule, points, end })
  // What is proven of the fewest will do: below it there is nothing.
  const fewest =
    rule === 'maxPieces'
      ? (solveSourcing(countingPieces(problem), { ...options, timeLimit: options.timeLimit / 8 }).bound ?? 0)
      : 0
  let row: PieceRow = { fewest, stride: Math.max(1, Math.ceil((first - fewest) / PIECE_STEPS)) }
  for (;;) {
    const next = tighterThan(problem, rule, points.at(-1)?.limit ?? 0, row)
    if (next === undefined) return done('tightest')
    if (options.shouldStop?.() || left() <= 0) return done('stopped')
    onAsk?.(next)
    const asked = restricted(problem, rule, next)
    // A third of what is left, so that tighter values have their share; the last ones have all of it.
    const plan = solveSourcing(asked, { ...options, timeLimit: Math.max(1, left() / Math.max(1, Math.min(3, next))) })
    if (plan.status === 'infeasible' && rule === 'maxPieces') {
      // Values between this and the last point were not asked for: the row goes on among them.
      const gap = (points.at(-1)?.limit ?? 0) - next
      row = { fewest: next + 1, stride: Math.ceil(gap / 2) }
      if (gap > 1) continue
    }
    if (plan.total === null)
      return done(plan.status === 'infeasible' ? 'none can exist' : options.shouldStop?.() ? 'stopped' : 'none found')
    // What it needs may be less than it was allowed: its bound holds for that all the more.
    const limit = neededBy(problem, plan, rule)
    const point = { limit, problem: restricted(problem, rule, limit), plan }
    points.push(point)
    onPoint?.(point)
  }
}

/**
 * Points that do not contradict one another: a looser rule never costs more, so a tighter point that costs as little
 * takes the place of a looser one, and a looser point's bound holds for every tighter one.
 */
export function settledFrontier({ points: found, ...frontier }: Frontier): Frontier {
  const points = [...found].sort((p, q) => q.limit - p.limit)
  const serving = new Set<FrontierPoint>()
  let cheapest = Infinity
  for (const point of [...points].reverse()) {
    const total = point.plan.total ?? Infinity
    // Nothing is gained by a looser value where a tighter one costs as little.
    if (total >= cheapest) continue
    cheapest = total
    serving.add(point)
  }
  let bound: number | null = null
  return {
    ...frontier,
    points: points.flatMap((point): FrontierPoint[] => {
      bound = higher(bound, point.plan.bound)
      return serving.has(point) ? [{ ...point, plan: withBound(point.plan, bound) }] : []
    }),
  }
}

const higher = (p: number | null, q: number | null): number | null => (p === null ? q : q === null ? p : Math.max(p, q))

/** What a step to a tighter point costs more: between these, and just that where they are one. Minor units. */
export type StepCost = { readonly least: number; readonly most: number }

/** The price of going from one point to a tighter one, by what is proven of both; undefined when nothing is. */
export function stepCost(
  looser: Pick<FrontierPoint, 'plan'>,
  tighter: Pick<FrontierPoint, 'plan'>,
): StepCost | undefined {
  const [from, to] = [looser.plan, tighter.plan]
  if (from.total === null || to.total === null || from.bound === null || to.bound === null) return undefined
  return { least: Math.max(0, to.bound - from.total), most: to.total - from.bound }
}
