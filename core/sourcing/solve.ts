import { Coverer, roundToPlan } from './greedy-cover.ts'
import { fewestCopies, searchShops, type Choice } from './shop-search.ts'
import type { SolveMilp } from '../solver/milp.ts'
import { explainNone } from './explain.ts'
import { buildModel, readDecisions, roughShops, usedShops, type SourcingModel } from './model.ts'
import { presolve, findUnreachable, type PresolvedProblem } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { gapOf, type Decisions, type PlanCost, type SourcingPlan, type Unreachable } from './plan.ts'
import { verifyPlan } from './verify-plan.ts'

export type SolveProgress = {
  /** Total of the best verified plan so far, minor units. */
  readonly best: number | null
  readonly bound: number | null
  readonly seconds: number
  readonly phase: 'search' | 'polish' | 'prove'
  /** Given when a better verified plan was found, so that a cancelled run keeps it. */
  readonly plan?: SourcingPlan
}

export type SolveOptions = {
  /** Seconds in all. */
  readonly timeLimit: number
  /** Seconds on any monotonic clock. */
  readonly now: () => number
  readonly milp: SolveMilp
  readonly onProgress?: (progress: SolveProgress) => void
  readonly shouldStop?: () => boolean
}

/** Offers up to which the exact model is solved without relaxing it first (measured on bench-s). */
const SMALL = 800

type Incumbent = { readonly decisions: Decisions; readonly cost: PlanCost; readonly total: number }

/**
 * Finds the least landed cost: presolve, shop search, exact reassignment within its shops, then the relaxed model of
 * the whole problem for a bound and better shops, restoring integrality shop by shop. Every plan that leaves here has
 * passed `verifyPlan`. `optimal` means that the integer total equals the bound rounded up.
 */
export function solveSourcing(problem: SourcingProblem, options: SolveOptions): SourcingPlan {
  const started = options.now()
  const elapsed = () => options.now() - started
  const left = () => options.timeLimit - elapsed()
  const stopped = () => options.shouldStop?.() ?? false
  const net = presolve(problem)
  const unreachable = findUnreachable(net)
  /** Seconds a solver may take beyond its limit to read and reduce a model of this size (measured: 400,000 columns, 2 s). */
  const overhead = net.lines.reduce((n, l) => n + l.accepts.length, net.offers.length) / 200_000
  let incumbent: Incumbent | undefined
  let bound: number | null = null
  let phase: SolveProgress['phase'] = 'search'

  const proven = () => incumbent !== undefined && bound !== null && bound >= incumbent.total
  const finish = (status: SourcingPlan['status'], reasons: readonly Unreachable[] = []): SourcingPlan =>
    toPlan(problem, status, incumbent, bound, elapsed(), reasons)
  const report = (improved: boolean) =>
    options.onProgress?.({
      best: incumbent?.total ?? null,
      bound,
      seconds: elapsed(),
      phase,
      ...(improved ? { plan: finish(proven() ? 'optimal' : 'feasible') } : {}),
    })
  const offer = (decisions: Decisions | undefined): boolean => {
    if (!decisions) return false
    const verdict = verifyPlan(problem, decisions)
    if (!verdict.ok || (incumbent && verdict.total >= incumbent.total)) return false
    incumbent = { decisions, cost: verdict.cost, total: verdict.total }
    report(true)
    return true
  }
  const raiseBound = (value: number) => {
    // Rounded up, as totals are integers; the solver's tolerances must not push it over an integer. Never −0.
    const whole = Math.ceil(value - 1e-3 - 1e-8 * Math.abs(value)) + 0
    if (Number.isSafeInteger(whole) && (bound === null || whole > bound)) bound = whole
    if (incumbent && bound !== null && bound > incumbent.total) bound = incumbent.total
  }

  if (unreachable.length > 0) return finish('infeasible', unreachable)
  const floor = trivialBound(net)
  if (floor !== undefined) raiseBound(floor)

  // 1. A good choice of shops at once.
  const coverer = new Coverer(net)
  const searchUntil = Math.min(options.timeLimit * 0.25, 2 + net.offers.length / 4_000)
  /** Without any plan the search may take almost all the time there is. */
  const searchAtMost = options.timeLimit * 0.85
  let lastChoice: Choice | undefined
  if ((problem.maxShops ?? Infinity) >= net.shops.length) {
    const fewest = fewestCopies(net)
    offer(roundToPlan(net, coverer.evaluate(new Uint8Array(net.shops.length).fill(1), fewest, true), fewest))
  }
  searchShops(
    net,
    coverer,
    () => elapsed() > (incumbent ? searchUntil : searchAtMost) || stopped(),
    (choice) => {
      lastChoice = choice
      offer(roundToPlan(net, coverer.evaluate(choice.open, choice.copies, true), choice.copies))
    },
  )

  // 2. The optimum within those shops.
  const common = options.shouldStop ? { shouldStop: options.shouldStop } : {}
  const cutoff = () => (incumbent ? { cutoff: incumbent.total - 0.99 } : {})
  /** Rounds packs down, buys what that leaves open at the cheapest price in the same shops, pads with whole pieces. */
  const offerRounded = (model: SourcingModel, x: Float64Array): void => {
    const open = new Uint8Array(net.shops.length)
    for (const s of usedShops(model, x)) open[s] = 1
    const copies = model.copies.map((column) => Math.round(x[column] ?? 0))
    const start = net.offers.flatMap((o, i): [number, number][] => {
      const value = x[model.packs[i] ?? -1] ?? 0
      return value > 0.5 ? [[i, Math.min(o.packs, Math.floor(value + 1e-6))]] : []
    })
    offer(roundToPlan(net, coverer.evaluate(open, copies, true, start), copies))
  }
  const settled = new Set<string>()
  const settleWithin = (only: ReadonlySet<number>, start: ReadonlySet<number>, seconds: number): void => {
    const key = [...only].sort((p, q) => p - q).join()
    if (settled.has(key)) return
    settled.add(key)
    phase = 'polish'
    const until = elapsed() + Math.min(seconds, left())
    let whole: ReadonlySet<number> | 'all' = start
    while (elapsed() < until - 0.05 - overhead && !stopped()) {
      const model = buildModel(net, { only, whole })
      const outcome = options.milp(model.milp, {
        ...common,
        ...cutoff(),
        // A relaxed step may use half of what is left, so that a whole one follows.
        timeLimit: (until - elapsed() - overhead) * (whole === 'all' ? 1 : 0.5),
        absGap: 0.5,
        onSolution: (x) => {
          if (!offer(readDecisions(net, model, x))) offerRounded(model, x)
        },
      })
      if (outcome.status !== 'optimal' && outcome.status !== 'feasible') return
      offer(readDecisions(net, model, outcome.x))
      if (whole === 'all') return
      const unsettled: ReadonlySet<number> = roughShops(net, model, outcome.x)
      const next: Set<number> = new Set([...whole, ...unsettled])
      // Nothing left to make whole, yet the plan does not hold: only the options' pieces can be fractional.
      if (next.size === whole.size && verifyPlan(problem, readDecisions(net, model, outcome.x)).ok) return
      whole = next.size === whole.size ? 'all' : next
    }
  }
  if (lastChoice) settleWithin(openShops(lastChoice.open), new Set(), Math.min(8, options.timeLimit * 0.15))

  // 3. The whole problem, relaxed where that keeps a valid bound, made whole shop by shop.
  // Small problems go to the exact model at once: it ends sooner than relaxing first.
  const whole = new Set<number>(net.offers.length <= SMALL ? net.shops.keys() : [])
  while (!proven() && left() > 0.5 + overhead && !stopped()) {
    phase = 'prove'
    const model = buildModel(net, { whole: whole.size === net.shops.length ? 'all' : whole })
    const reserve = Math.min(8, options.timeLimit * 0.12)
    const outcome = options.milp(model.milp, {
      ...cutoff(),
      timeLimit: Math.max(0.2, left() - reserve - overhead),
      absGap: 0.5,
      onBound: (value) => {
        raiseBound(value)
        report(false)
      },
      onSolution: (x) => {
        if (!offer(readDecisions(net, model, x))) offerRounded(model, x)
      },
      shouldStop: () => stopped() || proven(),
    })
    if (outcome.status === 'infeasible') {
      if (!incumbent) return finish('infeasible', explainNone(net, options.milp, left))
      raiseBound(incumbent.total) // nothing below the cutoff: the plan in hand is optimal
      break
    }
    raiseBound(outcome.bound)
    if (outcome.status === 'none') break
    offer(readDecisions(net, model, outcome.x))
    if (proven()) break
    const unsettled = roughShops(net, model, outcome.x)
    settleWithin(usedShops(model, outcome.x), unsettled, Math.max(1, left() - 0.5))
    if (proven() || outcome.status === 'feasible') break
    const before = whole.size
    for (const shop of unsettled) whole.add(shop)
    if (whole.size === before) break
  }

  if (incumbent) return finish(proven() ? 'optimal' : stopped() ? 'cancelled' : 'feasible')
  // Out of time before any plan was found, or a proof that there is none.
  return finish('cancelled')
}

const openShops = (open: Uint8Array) => new Set([...open].flatMap((flag, s) => (flag === 1 ? [s] : [])))

/** Every piece at its cheapest price, no fees: a bound that needs no solver. None with donor sets or resale. */
function trivialBound(net: PresolvedProblem): number | undefined {
  if (net.sets.length > 0 || net.items.some((i) => i.creditMax > 0)) return undefined
  const cheapest = net.items.map((item) => (item.free > 0 ? 0 : (net.offers[item.offers[0] ?? -1]?.price ?? Infinity)))
  let sum = 0
  for (const line of net.lines) {
    let least = Infinity
    for (const { penalty, uses } of line.accepts)
      least = Math.min(
        least,
        uses.reduce((s, use) => s + use.qty * (cheapest[use.item] ?? 0), penalty),
      )
    sum += line.qty * least
  }
  return Number.isFinite(sum) ? sum : undefined
}

function toPlan(
  problem: SourcingProblem,
  status: SourcingPlan['status'],
  incumbent: Incumbent | undefined,
  bound: number | null,
  seconds: number,
  unreachable: readonly Unreachable[],
): SourcingPlan {
  const total = incumbent?.total ?? null
  return {
    format: 'sourcing-plan',
    version: 2,
    problem: problem.id,
    status,
    purchases: incumbent?.decisions.purchases ?? [],
    sets: incumbent?.decisions.sets ?? [],
    assignments: incumbent?.decisions.assignments ?? [],
    total,
    cost: incumbent?.cost ?? null,
    bound,
    gap: gapOf(total, bound),
    seconds: Math.round(seconds * 1000) / 1000,
    unreachable: [...unreachable],
  }
}
