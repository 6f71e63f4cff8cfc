import { proxy, wrap } from 'comlink'
import type { SourcingPlan } from '../core/sourcing/plan.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { SolveProgress } from '../core/sourcing/solve.ts'
import type { SourcingWorker } from './sourcing.worker.ts'

export type SourcingRun = {
  /** The plan; after a cancel the best one so far with status `cancelled`, or `undefined` when there was none yet. */
  readonly result: Promise<SourcingPlan | undefined>
  cancel(): void
}

/** Runs the solver in its own worker. HiGHS takes no message while it solves, so cancelling ends the worker. */
export function startSourcing(
  problem: SourcingProblem,
  timeLimit: number,
  onProgress: (progress: SolveProgress) => void,
): SourcingRun {
  const worker = new Worker(new URL('./sourcing.worker.ts', import.meta.url), { type: 'module' })
  const api = wrap<SourcingWorker>(worker)
  let best: SourcingPlan | undefined
  let settle: (plan: SourcingPlan | undefined) => void = () => undefined
  const result = new Promise<SourcingPlan | undefined>((resolve, reject) => {
    settle = resolve
    worker.addEventListener('error', (event) => {
      reject(new Error(event.message || 'the solver could not be loaded'))
    })
    api
      .solve(
        problem,
        timeLimit,
        proxy((progress: SolveProgress) => {
          if (progress.plan) best = progress.plan
          onProgress(progress)
        }),
      )
      .then(resolve, reject)
  }).finally(() => {
    worker.terminate()
  })
  return {
    result,
    cancel: () => {
      settle(best && { ...best, status: best.status === 'optimal' ? 'optimal' : 'cancelled' })
    },
  }
}
