import { proxy } from 'comlink'
import {
  neededBy,
  restricted,
  settledFrontier,
  type Frontier,
  type PricedRule,
  type FrontierPoint,
} from '../core/sourcing/frontier.ts'
import type { CopyMix, MixOutcome } from '../core/sourcing/copy-mixes.ts'
import type { KeptPlan } from '../core/sourcing/kept-plan.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'
import type { Party } from '../core/sourcing/joint-purchase.ts'
import type { Repaired } from '../core/sourcing/repair.ts'
import type { WhatIfAnswer } from '../core/sourcing/what-if.ts'
import type { SourcingPlan } from '../core/sourcing/plan.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { SolveProgress } from '../core/sourcing/solve.ts'
import { joinPurchase } from './joined-purchase.ts'
import { workerPort } from './port.ts'
import type {
  Bought,
  FrontierNews,
  MixNews,
  Patience,
  PurchaseNews,
  SourcingWorker,
  Together,
  TogetherNews,
  WhatIfNews,
  WhatIfQuestion,
} from './sourcing.worker.ts'
import { lentSnapshot } from './tally-client.ts'

export type SourcingRun<T> = {
  /** The answer; after a cancel the best one so far, or `undefined` when there was none yet. */
  readonly result: Promise<T | undefined>
  cancel(): void
}

const sourcingPort = () =>
  workerPort<SourcingWorker>(() => new Worker(new URL('./sourcing.worker.ts', import.meta.url), { type: 'module' }))

/** What was found, unless that is nothing: an answer from before then stays. */
const some = <T>(found: T[]): T[] | undefined => (found.length > 0 ? found : undefined)

/** HiGHS takes no message while it solves, so cancelling ends the worker; `best` is then the answer. */
function running<T, News extends unknown[] = []>(
  ask: (port: ReturnType<typeof sourcingPort>, onNews: (...news: News) => void) => Promise<T>,
  best: () => T | undefined,
  onNews: (...news: News) => void = () => undefined,
): SourcingRun<T> {
  const port = sourcingPort()
  let over = false
  let cancel: (best: T | undefined) => void = () => undefined
  const cancelled = new Promise<T | undefined>((resolve) => {
    cancel = resolve
  })
  return {
    result: Promise.race([
      ask(
        port,
        proxy((...news: News) => {
          // News come on a way of their own: some are behind the answer.
          if (!over) onNews(...news)
        }),
      ),
      cancelled,
    ]).finally(() => {
      over = true
      port.stop()
    }),
    cancel: () => {
      cancel(best())
    },
  }
}

/** Solves a problem as it is, in a worker of its own. */
export const startSourcing = (problem: SourcingProblem, timeLimit: number): SourcingRun<SourcingPlan> =>
  running(
    (port) => port.call('solve', problem, timeLimit),
    () => undefined,
  )

/** Draws what tightening a rule costs (`traceFrontier`), in a worker of its own; what was found by then stays after a cancel. */
export function startFrontier(
  problem: SourcingProblem,
  base: SourcingPlan,
  rule: PricedRule,
  patience: Patience,
  onNews: (news: FrontierNews) => void,
): SourcingRun<Frontier> {
  const limit = neededBy(problem, base, rule)
  const points: FrontierPoint[] = [{ limit, problem: restricted(problem, rule, limit), plan: base }]
  return running<Frontier, [FrontierNews]>(
    (port, tell) => port.call('trace', problem, base, rule, patience, tell),
    () => settledFrontier({ rule, points, end: 'stopped' }),
    (news) => {
      if ('point' in news) points.push(news.point)
      onNews(news)
    },
  )
}

/** The best purchase for each mix of copies (`traceMixes`), in a worker of its own; what was found by then stays after a cancel. */
export function startMixes(
  asked: SourcingProblem,
  mixes: readonly CopyMix[],
  patience: Patience,
  onNews: (news: MixNews) => void,
): SourcingRun<MixOutcome[]> {
  const found: MixOutcome[] = []
  return running<MixOutcome[], [MixNews]>(
    (port, tell) => port.call('mixes', asked, mixes, patience, tell),
    () => some(found),
    (news) => {
      if ('outcome' in news) found.push(news.outcome)
      onNews(news)
    },
  )
}

/**
 * The best purchase for each what-if (`traceWhatIfs`), in a worker of its own; what was found by then stays after a
 * cancel.
 */
export function startWhatIfs(
  snapshot: Snapshot,
  question: WhatIfQuestion,
  onNews: (news: WhatIfNews) => void,
): SourcingRun<WhatIfAnswer[]> {
  const found: WhatIfAnswer[] = []
  return running<WhatIfAnswer[], [WhatIfNews]>(
    (port, tell) => {
      const { args, failed } = lentSnapshot(snapshot)
      const [rest, ...lender] = args
      return Promise.race([port.call('whatIfs', rest, question, tell, ...lender), failed])
    },
    () => some(found),
    (news) => {
      if ('answer' in news) found.push(news.answer)
      onNews(news)
    },
  )
}

/**
 * Buys for several builds, each by itself and then all together (`sourcing.worker`), in a worker of its own; after a cancel
 * the best for all together stays, if there is one by then.
 */
export function startTogether(
  parties: readonly Party[],
  maxShops: number | null,
  patience: Patience,
  onNews: (news: TogetherNews) => void,
): SourcingRun<Together> {
  const alone: Together['alone'][number][] = []
  let best: Together['together'] | undefined
  return running<Together, [TogetherNews]>(
    (port, tell) => port.call('together', parties, maxShops, patience, tell),
    () => best && { alone, together: best },
    (news) => {
      if ('alone' in news) alone.push(news.alone)
      if ('together' in news) best = news.together
      onNews(news)
    },
  )
}

/** Mends a kept plan by fresh offers (`repairPlan`), in a worker of its own; `timeLimit` in seconds. */
export const startRepair = (
  asked: SourcingProblem,
  kept: Pick<KeptPlan, 'problem' | 'plan'>,
  timeLimit: number,
): SourcingRun<Repaired> =>
  running(
    (port) => port.call('repair', asked, kept, { timeLimit }),
    () => undefined,
  )

/** What the two habits of buying by hand would cost for a problem's pieces. */
export const startHabits = (problem: SourcingProblem): SourcingRun<KeptPlan['habits']> =>
  running(
    (port) => port.call('habits', problem),
    () => undefined,
  )

/**
 * Buys all that can be had (`solveWithinReach`), in a worker of its own; where the machine does two things at once another one bounds a
 * large problem meanwhile (`proveApart`).
 */
export function startPurchase(
  problem: SourcingProblem,
  patience: Patience,
  onProgress: (progress: SolveProgress) => void,
): SourcingRun<Bought> {
  const started = performance.now()
  const seconds = () => (performance.now() - started) / 1000
  const prover = sourcingPort()
  let over = false
  const { onNews, searched, enough, best } = joinPurchase({
    ...{ goodEnough: patience.goodEnough, seconds, onProgress },
    prove: (task, onBound) =>
      prover.call(
        'prove',
        task,
        Math.max(0, patience.timeLimit - seconds()),
        proxy((bound: number) => {
          if (!over) onBound(bound)
        }),
      ),
  })
  const { result, cancel } = running<Bought, [PurchaseNews]>(
    (port, tell) =>
      Promise.race([
        port.call('buy', problem, { ...patience, apart: navigator.hardwareConcurrency > 1 }, tell).then(searched),
        enough,
      ]),
    () => {
      const found = best()
      if (!found) return undefined
      return { ...found, plan: { ...found.plan, status: found.plan.status === 'optimal' ? 'optimal' : 'cancelled' } }
    },
    onNews,
  )
  return {
    cancel,
    result: result.finally(() => {
      over = true
      prover.stop()
    }),
  }
}
