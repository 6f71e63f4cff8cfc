import { Coverer, roundToPlan } from './greedy-cover.ts'
import { fewestCopies, searchShops, type Choice } from './shop-search.ts'
import { isSolved, type LoadedLp, type Milp, type MilpOptions, type SolveMilp } from '../solver/milp.ts'
import { searchFromStarts } from './search-from-starts.ts'
import { heldTo, nearTo, standingOf, type Standing } from './standings.ts'
import type { Found } from './standing-search.ts'
import { PackCuts } from './pack-cuts.ts'
import { findCuts, NO_CUTS, tightenAmongFew, withCuts, type Cuts, type Relaxation, type Solved } from './cuts.ts'
import { hopelessFor, NOTHING_HOPELESS, withoutHopeless, type Hopeless } from './hopeless.ts'
import { explainNone } from './explain.ts'
import { buildModel, readDecisions, roughShops, usedShops, type ModelOptions, type SourcingModel } from './model.ts'
import { presolve, findUnreachable, readingTime, type PresolvedProblem } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import type { ProofTask } from './prove-apart.ts'
import { gapOf, wholeBound, type Decisions, type PlanCost, type SourcingPlan, type Unreachable } from './plan.ts'
import { withFigures } from './sell-figures.ts'
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
  /** The gap, as a share of the total, at which a plan is good enough to stop; 0, a proof, when left out. */
  readonly goodEnough?: number
  readonly sizes?: Sizes
  /**
   * Another solver takes the proof of a large problem that has a plan (`proveApart`): it is told of it once, and all the time
   * that is left goes into plans from then on.
   */
  readonly onProof?: (task: ProofTask) => void
  /** Shops that a good plan is likely to order from, by id: a plan of a problem much like this one does. */
  readonly likelyShops?: readonly string[]
}

/** Numbers of offers at which the search goes about it otherwise. */
export type Sizes = {
  /** Up to this the search finds so good a choice of shops that all work may go into the bound. */
  readonly small: number
  /** Beyond that and up to this the whole relaxed model finds good plans by itself soon enough. */
  readonly medium: number
  /** Beyond this the tightened relaxation bounds the whole better than the solver does with its cuts. */
  readonly large: number
}
const SIZES: Sizes = { small: 1500, medium: 5000, large: 20_000 }
/** The share of the time in which plans are searched, where standings are. */
const SEARCHED = 0.65
/** How near the best, as a share of it, is near enough for a step of the search; what is too far from its bound to be kept. */
const [CLOSE_ENOUGH, FAR] = [3e-4, 2e-3]
/** What a round of cuts among few shops must bring where the relaxation of all is tightened further, as a share of the bound. */
const VAST_GAIN = 3e-4
/** Seconds without which packs of a vast problem are not decided exactly, where there is a careful plan. */
const LEAST_VAST = 15
/** How far above its tightened relaxation the best plan may well be, as a share; seconds without which a proof is not begun apart. */
const [LIKELY_GAP, LEAST_PROOF] = [5e-3, 2]

/** A solution of a relaxed model, and what it says of shops. */
type Relaxed = Found & { readonly model: SourcingModel }

type Incumbent = { readonly decisions: Decisions; readonly cost: PlanCost; readonly total: number }

/**
 * Finds the least landed cost: presolve, shop search; for large problems the relaxation of the whole, tightened, for a bound, a
 * search over ways to use its shops, and what no better plan does; then the relaxed model of the whole problem for a proof and better
 * shops, restoring integrality shop by shop. Every plan that leaves here has passed `verifyPlan`. `optimal` means that the
 * integer total equals the bound rounded up.
 */
export function solveSourcing(problem: SourcingProblem, options: SolveOptions): SourcingPlan {
  return new Run(problem, options).solve()
}

/** One search for a plan: what is known so far, and the phases that add to it. */
class Run {
  readonly #problem: SourcingProblem
  readonly #options: SolveOptions
  readonly #started: number
  readonly #net: PresolvedProblem
  readonly #coverer: Coverer
  /** Seconds a solver may take beyond its limit. */
  readonly #overhead: number
  readonly #sizes: Sizes
  readonly #settled = new Set<string>()
  #incumbent: Incumbent | undefined
  #bound: number | null = null
  #phase: SolveProgress['phase'] = 'search'
  #cuts: Cuts = NO_CUTS
  /** What no plan does that is better than the best so far. */
  #hopeless = NOTHING_HOPELESS
  /** Whether another solver proves. */
  #handedOver = false

  constructor(problem: SourcingProblem, options: SolveOptions) {
    this.#problem = problem
    this.#options = options
    this.#started = options.now()
    this.#sizes = options.sizes ?? SIZES
    this.#net = presolve(problem)
    this.#coverer = new Coverer(this.#net)
    this.#overhead = readingTime(this.#net)
  }

  solve(): SourcingPlan {
    const unreachable = findUnreachable(this.#net)
    if (unreachable.length > 0) return this.#finish('infeasible', unreachable)
    const floor = trivialBound(this.#net)
    if (floor !== undefined) this.#raiseBound(floor)
    const choice = this.#searchShops()
    this.#settleLikely(choice)
    if (this.#isLarge()) this.#searchStandings()
    const none = this.#handedOver ? undefined : this.#prove()
    if (none) return none
    if (this.#incumbent) return this.#finish(this.#proven() ? 'optimal' : this.#stopped() ? 'cancelled' : 'feasible')
    // Out of time before any plan was found, or a proof that there is none.
    return this.#finish('cancelled')
  }

  /** 1. A good choice of shops at once. */
  #searchShops(): Choice | undefined {
    const [net, coverer, { timeLimit }] = [this.#net, this.#coverer, this.#options]
    // Where standings are searched, they soon come to better plans.
    const searchUntil = Math.min(
      timeLimit * 0.25,
      this.#isLarge() ? net.offers.length / 25_000 : 2 + net.offers.length / 4_000,
    )
    /** Without any plan the search may take almost all the time there is. */
    const searchAtMost = timeLimit * 0.85
    if ((this.#problem.maxShops ?? Infinity) >= net.shops.length) {
      const fewest = fewestCopies(net)
      this.#offer(roundToPlan(net, coverer.evaluate(new Uint8Array(net.shops.length).fill(1), fewest, true), fewest))
    }
    let last: Choice | undefined
    searchShops(
      net,
      coverer,
      () => this.#elapsed() > (this.#incumbent ? searchUntil : searchAtMost) || this.#stopped(),
      (choice) => {
        last = choice
        this.#offer(roundToPlan(net, coverer.evaluate(choice.open, choice.copies, true), choice.copies))
      },
    )
    return last
  }

  /** The best within the shops that are known to be likely, and within those of the choice that was found. */
  #settleLikely(choice: Choice | undefined): void {
    const { timeLimit, likelyShops = [] } = this.#options
    const share = this.#isLarge() ? 0.05 : 0.15
    const seconds = Math.min(8, Math.max(timeLimit * share, Math.min(1, timeLimit / 3)))
    const likely = new Set(likelyShops)
    const known = new Set(this.#net.shops.flatMap((shop, s) => (likely.has(shop.id) ? [s] : [])))
    if (known.size > 0) this.#settleWithin(known, new Set(), seconds)
    // Beyond the sizes that are solved as a whole the search over standings finds better shops in that time.
    if (choice && !this.#isLarge()) this.#settleWithin(openShops(choice.open), new Set(), seconds)
  }

  /** The optimum within some shops, made whole shop by shop. */
  #settleWithin(only: ReadonlySet<number>, start: ReadonlySet<number>, seconds: number): void {
    const net = this.#net
    const key = [...only].sort((p, q) => p - q).join()
    if (this.#settled.has(key)) return
    this.#settled.add(key)
    this.#phase = 'polish'
    const until = this.#elapsed() + Math.min(seconds, this.#left())
    let whole: ReadonlySet<number> | 'all' = start
    while (this.#elapsed() < until - 0.05 - this.#overhead && !this.#stopped()) {
      const model = buildModel(net, { only, whole })
      const outcome = this.#options.milp(model.milp, {
        ...this.#common(),
        ...this.#cutoff(),
        // A relaxed step may use half of what is left, so that a whole one follows.
        timeLimit: (until - this.#elapsed() - this.#overhead) * (whole === 'all' ? 1 : 0.5),
        absGap: 0.5,
        onSolution: (x) => {
          this.#offerEither(model, x)
        },
      })
      if (!isSolved(outcome)) return
      this.#offer(readDecisions(net, model, outcome.x))
      if (whole === 'all') return
      const unsettled: ReadonlySet<number> = roughShops(net, model, outcome.x)
      const next: Set<number> = new Set([...whole, ...unsettled])
      // Nothing left to make whole, yet the plan does not hold: only the options' pieces can be fractional.
      if (next.size === whole.size && verifyPlan(this.#problem, readDecisions(net, model, outcome.x)).ok) return
      whole = next.size === whole.size ? 'all' : next
    }
  }

  /**
   * 2. The relaxation of the whole problem, tightened with cuts that are found among the few shops it uses, bounds it; among those a
   * plan is searched. Of vast problems the relaxation is tightened further, as its bound is the best there is.
   */
  #searchStandings(): void {
    const [net, { milp, timeLimit }] = [this.#net, this.#options]
    const { load } = milp
    const end = () => Math.max(0, this.#left() - 0.5 - this.#overhead)
    // Without a plan the whole model is needed, which may find one or that there is none.
    const apart = this.#options.onProof !== undefined && this.#incumbent !== undefined
    // The rest of the time is for the bound, unless another solver has it.
    const rest = apart ? 0 : Math.max(0, end() - timeLimit * SEARCHED)
    const left = () => Math.max(0, end() - rest)
    if (!load || left() === 0 || this.#done() || this.#stopped()) return
    const onBound = (bound: number) => {
      this.#raiseBound(bound)
      this.#report(false)
    }
    const whole = buildModel(net, { whole: new Set() })
    const lp = load(whole.milp)
    const finder = new PackCuts(net, load)
    try {
      const relaxed = lp.solve({ timeLimit: left() })
      if (!relaxed) return
      onBound(relaxed.objective)
      const over = this.#overAfter(left, 0.6)
      const cutting = { ...{ milp, load, finder, left, over, onBound }, ...(this.#isVast() && { least: VAST_GAIN }) }
      const tightened = tightenAmongFew(net, whole, lp, relaxed, cutting)
      if (!tightened) return
      const { few, all } = tightened
      try {
        this.#cuts = few.cuts
        const findHopeless = (total: number) => {
          const hopeless = hopelessFor(net, whole, all, total, load, this.#overAfter(end, 0.5))
          onBound(hopeless.bound)
          return hopeless
        }
        if (apart) this.#handOver(all, findHopeless)
        this.#searchAmong(few, load, left)
        if (this.#done() || this.#stopped() || this.#handedOver) return
        this.#phase = 'prove'
        if (!this.#isVast()) {
          if (this.#incumbent) this.#hopeless = findHopeless(this.#incumbent.total)
          return
        }
      } finally {
        few.lp.close()
      }
      findCuts(net, whole, lp, { milp, finder, left: end, over: this.#overAfter(end, 1), onBound })
    } finally {
      lp.close()
    }
  }

  /** Hands the proof over to another solver. */
  #handOver({ solution: { objective } }: Solved, findHopeless: (total: number) => Hopeless): void {
    if (this.#left() < LEAST_PROOF || this.#stopped()) return
    this.#handedOver = true
    const vast = this.#isVast()
    const under = Math.ceil(Math.max(objective, this.#bound ?? objective) + Math.abs(objective) * LIKELY_GAP)
    const hopeless = vast ? NOTHING_HOPELESS : findHopeless(under)
    this.#options.onProof?.({ problem: this.#problem, cuts: this.#cuts, hopeless, under, vast, toll: 0 })
  }

  /** Whether a share of the time that is left now is over, or nothing more is wanted. */
  #overAfter(left: () => number, share: number): () => boolean {
    const then = left() * (1 - share)
    return () => left() <= then || this.#stopped()
  }

  /** The best choice of shops and bands that is found from a relaxation, by its cuts; then packs are made whole. */
  #searchAmong(few: Relaxation, load: (program: Milp) => LoadedLp, left: () => number): void {
    const { milp } = this.#options
    const thorough = this.#handedOver
    const found = searchFromStarts(this.#net, few, {
      ...{ milp, load, left, over: this.#overAfter(left, thorough ? 0.65 : 0.5), thorough },
      onBetter: (tight, better) => {
        // A plan to go on with, roughly made whole, or with some care where that has its time.
        if (thorough) this.#makeWhole({ model: tight, ...better }, left() * 0.2)
        else this.#offerEither(tight, better.x)
      },
    })
    if (!found) return
    const { dived, best, tight } = found
    if (best) {
      // The solver keeps to its limit the worse the larger the problem is.
      if (!thorough || !this.#isVast() || left() > LEAST_VAST)
        this.#planWithin(best.standing, Math.max(1, left() * (thorough && !this.#isVast() ? 0.9 : 0.7)))
      // Where that found nothing near in time, the linear program's own solution is made whole.
      if ((this.#incumbent?.total ?? Infinity) > best.standing.cost + Math.abs(best.standing.cost) * FAR)
        this.#makeWhole({ model: tight, ...best }, Math.max(1, left()))
    } else this.#settleWithin(new Set(dived.shops.keys()), new Set(), Math.max(1, left()))
  }

  /** Plans of a standing that are better than the best so far. */
  #planWithin(standing: Standing, seconds: number): void {
    if (this.#done() || this.#stopped()) return
    this.#phase = 'polish'
    const net = this.#net
    const options: ModelOptions = { whole: 'all', only: new Set(standing.shops.keys()) }
    const model = withCuts(net, buildModel(net, options), options, this.#cuts)
    const outcome = this.#options.milp(heldTo(standing, model, new Set()), {
      ...this.#common(),
      ...this.#cutoff(),
      timeLimit: Math.max(0.3, Math.min(seconds, this.#left())),
      absGap: 0.5,
      relGap: this.#handedOver ? CLOSE_ENOUGH / 3 : CLOSE_ENOUGH,
      onSolution: (x) => {
        this.#offer(readDecisions(net, model, x))
      },
    })
    if (isSolved(outcome)) this.#offer(readDecisions(net, model, outcome.x))
  }

  /** Whole packs and paddings for a solution of a relaxed model, changing as little as that takes. */
  #makeWhole({ model: relaxed, x, standing }: Relaxed, seconds: number): void {
    const net = this.#net
    this.#phase = 'polish'
    this.#offerEither(relaxed, x)
    const only = new Set(standing.shops.keys())
    const until = this.#elapsed() + Math.min(seconds, this.#left())
    let [model, solution, whole] = [relaxed, x, new Set<number>()]
    while (this.#elapsed() < until && !this.#stopped()) {
      const rough = roughShops(net, model, solution)
      if (rough.size === 0) return
      whole = new Set([...whole, ...rough])
      const next = buildModel(net, { only, whole })
      const options = () => ({ ...this.#common(), timeLimit: Math.max(0.1, until - this.#elapsed()), absGap: 0.5 })
      const near = this.#options.milp(nearTo(net, standing, next, { model, x: solution }, rough), options())
      // Where the broken packs alone cannot be made whole, all of these shops are decided anew.
      const outcome = isSolved(near)
        ? near
        : this.#options.milp(heldTo(standing, next, rough), { ...options(), ...this.#cutoff(), relGap: CLOSE_ENOUGH })
      if (!isSolved(outcome)) return
      model = next
      solution = outcome.x
      this.#offerEither(model, solution)
    }
  }

  /**
   * 3. The whole problem, relaxed where that keeps a valid bound, made whole shop by shop. Where the plan in hand is good all
   * work goes into the bound. Gives an answer only where there is no plan.
   */
  #prove(): SourcingPlan | undefined {
    const [net, { timeLimit }] = [this.#net, this.#options]
    const whole = new Set<number>()
    const { small, medium } = this.#sizes
    const cuts = this.#isVast() ? NO_CUTS : this.#cuts
    const settled = net.offers.length <= small || net.offers.length > medium
    while (!this.#done() && this.#left() > 0.5 + this.#overhead && !this.#stopped()) {
      this.#phase = 'prove'
      const options: ModelOptions = { whole: whole.size === net.shops.length ? 'all' : whole }
      const model = withoutHopeless(withCuts(net, buildModel(net, options), options, cuts), this.#hopeless)
      // To make a solution whole takes little; to find a first plan in its shops takes more.
      const reserve = this.#incumbent ? Math.min(2, timeLimit * 0.05) : Math.min(8, timeLimit * 0.12)
      const outcome = this.#options.milp(model.milp, {
        // Where no proof is in sight a good plan's total only slows the bound down (docs/decisions/0002-solver.md).
        ...(net.offers.length > medium ? {} : this.#cutoff()),
        proving: settled && this.#incumbent !== undefined,
        timeLimit: Math.max(0.2, this.#left() - reserve - this.#overhead),
        absGap: 0.5,
        onBound: (value) => {
          this.#raiseBound(value)
          this.#report(false)
        },
        onSolution: (x) => {
          this.#offerEither(model, x)
        },
        shouldStop: () => this.#stopped() || this.#done(),
      })
      if (outcome.status === 'infeasible') {
        if (!this.#incumbent)
          return this.#finish(
            'infeasible',
            explainNone(net, this.#options.milp, () => this.#left()),
          )
        this.#raiseBound(this.#incumbent.total) // nothing below the cutoff: the plan in hand is optimal
        return undefined
      }
      this.#raiseBound(outcome.bound)
      if (outcome.status === 'none') return undefined
      const found = { model, x: outcome.x, standing: standingOf(model, outcome.x, outcome.objective) }
      if (outcome.objective < (this.#incumbent?.total ?? Infinity)) this.#makeWhole(found, this.#left() / 2)
      if (this.#done()) return undefined
      const unsettled = roughShops(net, model, outcome.x)
      this.#settleWithin(usedShops(model, outcome.x), unsettled, Math.max(1, this.#left() - 0.5))
      if (this.#done() || outcome.status === 'feasible') return undefined
      const before = whole.size
      for (const shop of unsettled) whole.add(shop)
      if (whole.size === before) return undefined
    }
    return undefined
  }

  /** Whether standings are searched, which takes a solver that keeps programs loaded. */
  #isLarge(): boolean {
    return this.#net.offers.length > this.#sizes.medium && this.#options.milp.load !== undefined
  }

  /** Whether the tightened relaxation bounds it better than the solver does with its cuts. */
  #isVast(): boolean {
    return this.#net.offers.length > this.#sizes.large
  }

  #elapsed(): number {
    return this.#options.now() - this.#started
  }

  #left(): number {
    return this.#options.timeLimit - this.#elapsed()
  }

  #stopped(): boolean {
    return this.#options.shouldStop?.() ?? false
  }

  #common(): Pick<MilpOptions, 'shouldStop'> {
    return this.#options.shouldStop ? { shouldStop: this.#options.shouldStop } : {}
  }

  #cutoff(): Pick<MilpOptions, 'cutoff'> {
    return this.#incumbent ? { cutoff: this.#incumbent.total - 0.99 } : {}
  }

  #proven(): boolean {
    return this.#incumbent !== undefined && this.#bound !== null && this.#bound >= this.#incumbent.total
  }

  /** Whether there is nothing left to do: a proof, or a gap that is good enough. */
  #done(): boolean {
    if (!this.#incumbent || this.#bound === null) return false
    const gap = gapOf(this.#incumbent.total, this.#bound) ?? Infinity
    return this.#proven() || gap <= (this.#options.goodEnough ?? 0)
  }

  #finish(status: SourcingPlan['status'], reasons: readonly Unreachable[] = []): SourcingPlan {
    return toPlan(this.#problem, status, this.#incumbent, this.#bound, this.#elapsed(), reasons)
  }

  #report(improved: boolean): void {
    this.#options.onProgress?.({
      best: this.#incumbent?.total ?? null,
      bound: this.#bound,
      seconds: this.#elapsed(),
      phase: this.#phase,
      ...(improved ? { plan: this.#finish(this.#proven() ? 'optimal' : 'feasible') } : {}),
    })
  }

  /** Takes decisions that hold and cost less than the best so far. */
  #offer(offered: Decisions | undefined): boolean {
    if (!offered) return false
    const decisions = withFigures(this.#problem, offered)
    const verdict = verifyPlan(this.#problem, decisions)
    if (!verdict.ok || (this.#incumbent && verdict.total >= this.#incumbent.total)) return false
    this.#incumbent = { decisions, cost: verdict.cost, total: verdict.total }
    this.#report(true)
    return true
  }

  /**
   * A solution as it is; or, where that does not hold, with packs rounded down, what that leaves open bought at the
   * cheapest price in the same shops, and whole pieces for padding.
   */
  #offerEither(model: SourcingModel, x: Float64Array): void {
    const net = this.#net
    if (this.#offer(readDecisions(net, model, x))) return
    const open = new Uint8Array(net.shops.length)
    for (const s of usedShops(model, x)) open[s] = 1
    const copies = model.copies.map((column) => Math.round(x[column] ?? 0))
    const start = net.offers.flatMap((o, i): [number, number][] => {
      const value = x[model.packs[i] ?? -1] ?? 0
      return value > 0.5 ? [[i, Math.min(o.packs, Math.floor(value + 1e-6))]] : []
    })
    this.#offer(roundToPlan(net, this.#coverer.evaluate(open, copies, true, start), copies))
  }

  #raiseBound(value: number): void {
    const whole = wholeBound(value)
    if (whole !== undefined && (this.#bound === null || whole > this.#bound)) this.#bound = whole
    if (this.#incumbent && this.#bound !== null && this.#bound > this.#incumbent.total)
      this.#bound = this.#incumbent.total
  }
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
  // A bill in other money is rounded once, down by half a unit at most.
  const rounded = net.shops.filter((s) => s.rate !== undefined).length / 2
  return Number.isFinite(sum) ? Math.max(0, sum - rounded) : undefined
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
    ...((incumbent?.decisions.figures?.length ?? 0) > 0 && { figures: incumbent?.decisions.figures }),
    total,
    cost: incumbent?.cost ?? null,
    bound,
    gap: gapOf(total, bound),
    seconds: Math.round(seconds * 1000) / 1000,
    unreachable: [...unreachable],
  }
}
