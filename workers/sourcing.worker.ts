import { expose } from 'comlink'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { SourcingPlan } from '../core/sourcing/plan.ts'
import { solveSourcing, type SolveProgress } from '../core/sourcing/solve.ts'
import { highs } from './highs.ts'

const api = {
  /** Solves to the end or the time limit (seconds); progress is reported at most ten times a second, plans always. */
  async solve(
    problem: SourcingProblem,
    timeLimit: number,
    onProgress: (progress: SolveProgress) => void,
  ): Promise<SourcingPlan> {
    const milp = await highs()
    const now = () => performance.now() / 1000
    let last = -1
    return solveSourcing(problem, {
      timeLimit,
      now,
      milp,
      onProgress: (progress) => {
        if (progress.plan || progress.seconds - last > 0.1) {
          last = progress.seconds
          onProgress(progress)
        }
      },
    })
  },
}

export type SourcingWorker = typeof api
expose(api)
