import { solveWithinReach, type WithinReach } from '../core/sourcing/leave-out.ts'
import type { KeptPlan } from '../core/sourcing/kept-plan.ts'
import { biggestShopFirst, cheapestLineByLine, type Baseline } from '../core/sourcing/baselines.ts'
import { traceMixes, type CopyMix, type MixOutcome } from '../core/sourcing/copy-mixes.ts'
import { traceFrontier, type Frontier, type PricedRule, type FrontierPoint } from '../core/sourcing/frontier.ts'
import type { DesignVersion } from '../core/design/version.ts'
import { newPlanner } from '../core/netting/planner.ts'
import type { Rest } from '../core/netting/shared-records.ts'
import { repairPlan, type Repaired } from '../core/sourcing/repair.ts'
import { traceWhatIfs, type WhatIf, type WhatIfAnswer } from '../core/sourcing/what-if.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { SourcingPlan } from '../core/sourcing/plan.ts'
import { proveApart, type ProofTask } from '../core/sourcing/prove-apart.ts'
import { solveSourcing, type SolveProgress } from '../core/sourcing/solve.ts'
import { jointProblem, type Party } from '../core/sourcing/joint-purchase.ts'
import { NO_SOLVER, type SolveMilp } from '../core/solver/milp.ts'
import { highs } from './highs.ts'
import { wholeSnapshot } from './lent.ts'
import { serve } from './serve.ts'

const now = () => performance.now() / 1000
/** Seconds between two reports without a better plan. */
const PAUSE_S = 0.1

/** How long a search may take, seconds, and the gap at which a plan is good enough, a share of its total. */
export type Patience = { readonly timeLimit: number; readonly goodEnough: number }

/** What is asked next, or a point that was found. */
export type FrontierNews = { readonly asking: number } | { readonly point: FrontierPoint }

/** The mix that is asked about next, or what came of one. */
export type MixNews = { readonly asking: CopyMix } | { readonly outcome: MixOutcome }

/** The what-if that is asked about next, by its id, or what came of one. */
export type WhatIfNews = { readonly asking: string } | { readonly answer: WhatIfAnswer }

export type WhatIfQuestion = Patience & {
  readonly whatIfs: readonly WhatIf[]
  readonly versions: readonly DesignVersion[]
  /** Whether it is asked for who owns the donors as well. */
  readonly bases: boolean
  /** A plan that is known already. */
  readonly known?: SourcingPlan
}

/** Which build is asked about by itself next, or what came of it; at last what all together come to so far. */
export type TogetherNews =
  { readonly apart: number } | { readonly alone: WithinReach } | { readonly together: WithinReach }

/** What builds cost each by itself, in their order, and all together. */
export type Together = { readonly alone: readonly WithinReach[]; readonly together: WithinReach }

/** An answer with what the two habits of buying by hand would cost for the same pieces. */
export type Bought = WithinReach & {
  readonly habits: KeptPlan['habits']
  /** The solver could not be loaded: the plan is a good guess that nothing proves. */
  readonly withoutSolver: boolean
}

/** How the search for a purchase goes on, a better plan, or the proof that another worker is to make. */
export type PurchaseNews =
  { readonly progress: SolveProgress } | { readonly found: Bought } | { readonly proof: ProofTask }

const habit = (result: Baseline): KeptPlan['habits']['lineByLine'] =>
  result.kind === 'plan' ? { ...result, mistakes: [...result.mistakes] } : result

const habitsOf = (problem: SourcingProblem): KeptPlan['habits'] => ({
  lineByLine: habit(cheapestLineByLine(problem)),
  biggestShop: habit(biggestShopFirst(problem)),
})

const withHabits = (found: WithinReach, milp: SolveMilp): Bought => ({
  ...found,
  withoutSolver: milp === NO_SOLVER,
  habits: habitsOf(found.problem),
})

const api = {
  /** Solves to the end or the time limit (seconds). */
  async solve(problem: SourcingProblem, timeLimit: number): Promise<SourcingPlan> {
    return solveSourcing(problem, { timeLimit, now, milp: await highs() })
  },

  /**
   * Buys all that can be had, until it is good enough or the time is over; progress is reported at most ten times a second,
   * better plans always, with all that belongs to them. Where another worker may prove (`apart`), it is told of that.
   */
  async buy(
    problem: SourcingProblem,
    { timeLimit, goodEnough, apart }: Patience & { readonly apart: boolean },
    onNews: (news: PurchaseNews) => void,
  ): Promise<Bought> {
    const milp = await highs()
    let last = -1
    const found = solveWithinReach(problem, {
      timeLimit,
      goodEnough,
      now,
      milp,
      onProgress: ({ plan: _, ...progress }) => {
        if (progress.seconds - last <= PAUSE_S) return
        last = progress.seconds
        onNews({ progress })
      },
      onFound: (found) => {
        onNews({ found: withHabits(found, milp) })
      },
      ...(apart && {
        onProof: (proof: ProofTask) => {
          onNews({ proof })
        },
      }),
    })
    return withHabits(found, milp)
  },

  /** Bounds a problem for which another worker looks for plans (`proveApart`); `timeLimit` in seconds. */
  async prove(task: ProofTask, timeLimit: number, onBound: (bound: number) => void): Promise<number | null> {
    return proveApart(task, { timeLimit, now, milp: await highs(), onBound })
  },

  /** Draws what tightening a rule costs, from a plan of the problem as it is; the time is for all of it. */
  async trace(
    problem: SourcingProblem,
    base: SourcingPlan,
    rule: PricedRule,
    patience: Patience,
    onNews: (news: FrontierNews) => void,
  ): Promise<Frontier> {
    return traceFrontier(problem, base, rule, {
      ...patience,
      now,
      milp: await highs(),
      onAsk: (asking) => {
        onNews({ asking })
      },
      onPoint: (point) => {
        onNews({ point })
      },
    })
  },

  /** The best purchase for each mix of copies; the time is for all of them. */
  async mixes(
    asked: SourcingProblem,
    mixes: readonly CopyMix[],
    patience: Patience,
    onNews: (news: MixNews) => void,
  ): Promise<MixOutcome[]> {
    return traceMixes(asked, mixes, {
      ...patience,
      now,
      milp: await highs(),
      onAsk: (asking) => {
        onNews({ asking })
      },
      onFound: (outcome) => {
        onNews({ outcome })
      },
    })
  },

  /** The best purchase for each what-if; the time is for all of them. */
  async whatIfs(
    sent: Rest,
    { whatIfs, versions, bases, known, timeLimit, goodEnough }: WhatIfQuestion,
    onNews: (news: WhatIfNews) => void,
    lender?: MessagePort,
  ): Promise<WhatIfAnswer[]> {
    const snapshot = await wholeSnapshot(sent, lender)
    const milp = await highs()
    return traceWhatIfs(snapshot, whatIfs, versions, {
      ...{ timeLimit, goodEnough, bases, now, milp },
      planner: newPlanner(milp),
      ...(known && { known }),
      onAsk: (asking) => {
        onNews({ asking })
      },
      onFound: (answer) => {
        onNews({ answer })
      },
    })
  },

  /**
   * Buys for several builds, each by itself and then all together, from the shops of those plans first. `timeLimit` is
   * seconds for all of it.
   */
  async together(
    parties: readonly Party[],
    maxShops: number | null,
    { timeLimit, goodEnough }: Patience,
    onNews: (news: TogetherNews) => void,
  ): Promise<Together> {
    const milp = await highs()
    const joint = jointProblem(parties, maxShops)
    if (!joint.ok) throw new Error(joint.error.message)
    const started = now()
    const alone = parties.map(({ asked }, p) => {
      onNews({ apart: p })
      const left = timeLimit / 2 - (now() - started)
      const limit = Math.max(1, left / (parties.length - p))
      const found = solveWithinReach(asked, { timeLimit: limit, goodEnough, now, milp })
      onNews({ alone: found })
      return found
    })
    onNews({ apart: parties.length })
    const shopOf = new Map(parties.flatMap(({ asked }) => asked.offers.map((o) => [o.id, o.shop] as const)))
    const likelyShops = alone.flatMap(({ plan }) => plan.purchases.map((p) => shopOf.get(p.offer) ?? ''))
    const together = solveWithinReach(joint.value.problem, {
      timeLimit: Math.max(2, timeLimit - (now() - started)),
      goodEnough,
      now,
      milp,
      likelyShops,
      onFound: (found) => {
        onNews({ together: found })
      },
    })
    return { alone, together }
  },

  /** Mends a kept plan by fresh offers with as few changes as possible. */
  async repair(
    asked: SourcingProblem,
    kept: Pick<KeptPlan, 'problem' | 'plan'>,
    { timeLimit }: Pick<Patience, 'timeLimit'>,
  ): Promise<Repaired> {
    return repairPlan(asked, kept, { timeLimit, now, milp: await highs() })
  },

  /** What the two habits of buying by hand would cost for a problem's pieces. */
  habits: habitsOf,
}

export type SourcingWorker = typeof api
serve(api)
