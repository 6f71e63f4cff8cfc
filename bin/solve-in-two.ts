import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import { withBound, type SourcingPlan } from '../core/sourcing/plan.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import { solveSourcing, type SolveOptions } from '../core/sourcing/solve.ts'

/**
 * Solves a problem as the page does: this thread looks for plans; where the machine does two things at once another one (`prover`)
 * bounds a large problem meanwhile. Where that fails the plan stays as it is.
 */
export async function solveInTwo(
  problem: SourcingProblem,
  prover: URL,
  options: Omit<SolveOptions, 'onProof'>,
): Promise<SourcingPlan> {
  const started = options.now()
  let proof: Promise<number | null> | undefined
  const plan = solveSourcing(problem, {
    ...options,
    ...(availableParallelism() > 1 && {
      onProof: (task) => {
        const timeLimit = Math.max(0, options.timeLimit - (options.now() - started))
        const worker = new Worker(prover, { workerData: { task, timeLimit } })
        proof = new Promise((resolve) => {
          worker.once('message', resolve)
          worker.once('error', () => {
            resolve(null)
          })
          worker.once('exit', () => {
            resolve(null)
          })
        })
      },
    }),
  })
  const bounded = withBound(plan, (await proof) ?? null)
  return { ...bounded, seconds: Math.round((options.now() - started) * 1000) / 1000 }
}
