import { gapOf, withBound } from '../core/sourcing/plan.ts'
import type { ProofTask } from '../core/sourcing/prove-apart.ts'
import type { SolveProgress } from '../core/sourcing/solve.ts'
import type { Bought, PurchaseNews } from './sourcing.worker.ts'

export type JoinOptions = {
  /** The gap at which a plan is good enough to stop, a share of its total. */
  readonly goodEnough: number
  /** Seconds since the start. */
  readonly seconds: () => number
  /** Has another worker bound every plan; tells of each better bound, and ends when it proves no more. */
  readonly prove: (task: ProofTask, onBound: (bound: number) => void) => Promise<unknown>
  readonly onProgress: (progress: SolveProgress) => void
}

/** What is bought where one worker looks for plans and another, once it is told of the problem, bounds them. */
export type JoinedPurchase = {
  readonly onNews: (news: PurchaseNews) => void
  /** What comes of a search that has ended: the proof may go on. */
  readonly searched: (found: Bought) => Promise<Bought>
  /** The best so far, once it is good enough by what both know. */
  readonly enough: Promise<Bought>
  /** The best so far, by what both know. */
  readonly best: () => Bought | undefined
}

export function joinPurchase({ goodEnough, seconds, prove, onProgress }: JoinOptions): JoinedPurchase {
  let best: Bought | undefined
  let bound: number | null = null
  let phase: SolveProgress['phase'] = 'search'
  let proof: Promise<unknown> | undefined
  let end: (found: Bought) => void = () => undefined
  const enough = new Promise<Bought>((resolve) => {
    end = resolve
  })
  const raise = (value: number | null) => {
    if (value !== null) bound = Math.max(value, bound ?? value)
  }
  const bounded = (found: Bought): Bought => ({ ...found, plan: withBound(found.plan, bound) })
  const tell = () => {
    const plan = best && bounded(best).plan
    onProgress({ best: plan?.total ?? null, bound: plan?.bound ?? bound, seconds: seconds(), phase })
    if (proof && best && plan && (gapOf(plan.total, plan.bound) ?? Infinity) <= goodEnough) end(bounded(best))
  }
  return {
    enough,
    best: () => best && bounded(best),
    onNews(news) {
      if ('proof' in news) {
        // Where no second worker can be had, what the first finds stays as it is.
        proof ??= prove(news.proof, (value) => {
          raise(value)
          tell()
        }).catch(() => undefined)
        return
      }
      if ('found' in news) best = news.found
      else phase = news.progress.phase
      raise('found' in news ? news.found.plan.bound : news.progress.bound)
      tell()
    },
    async searched(found) {
      best = found
      raise(found.plan.bound)
      if (proof && found.plan.total !== null) {
        phase = 'prove'
        tell()
        await proof
      }
      return bounded(best)
    },
  }
}
