import { useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import type { Habit, KeptPlan } from '../../core/planning/kept-plan.ts'
import type { SourcingTask } from '../../core/planning/sourcing-problem.ts'
import { biggestShopFirst, cheapestLineByLine, type NaiveResult } from '../../core/sourcing/naive.ts'
import type { SolveProgress } from '../../core/sourcing/solve.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { put } from '../../storage/journal.ts'
import { startSourcing, type SourcingRun } from '../../workers/sourcing-client.ts'
import { nowIso } from './database.ts'
import { perform } from './perform.ts'

export type RunState = { readonly progress: SolveProgress | null; readonly timeLimit: number }

/** Runs live here, not in a screen, so that leaving the screen does not end them. */
const states = new Map<BuildId, RunState>()
const runs = new Map<BuildId, SourcingRun>()
const listeners = new Set<() => void>()

const emit = () => {
  for (const listener of listeners) listener()
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** The build's run, or `undefined` when none is under way. */
export const useRun = (id: BuildId): RunState | undefined => useSyncExternalStore(subscribe, () => states.get(id))

export const cancelRun = (id: BuildId): void => runs.get(id)?.cancel()

/** Solves a task and keeps the plan, verified once more on arrival. A cancelled run keeps its best plan. */
export async function runSourcing(id: BuildId, task: SourcingTask, timeLimit: number): Promise<void> {
  if (runs.has(id)) return
  const run = startSourcing(task.problem, timeLimit, (progress) => {
    states.set(id, { progress, timeLimit })
    emit()
  })
  runs.set(id, run)
  states.set(id, { progress: null, timeLimit })
  emit()
  try {
    const plan = await run.result
    if (!plan) {
      toast('Stopped before a plan was found.')
      return
    }
    if (plan.total !== null) {
      const verdict = verifyPlan(task.problem, plan)
      if (!verdict.ok || verdict.total !== plan.total) throw new Error('the plan does not hold')
    }
    const habit = (result: NaiveResult): Habit =>
      result.kind === 'plan' ? { kind: 'plan', total: result.total, shops: result.shops } : result
    const kept: KeptPlan = {
      id,
      problem: task.problem,
      plan,
      unavailable: [...task.unavailable],
      habits: {
        lineByLine: habit(cheapestLineByLine(task.problem)),
        biggestShop: habit(biggestShopFirst(task.problem)),
      },
      madeAt: nowIso(),
    }
    await perform(plan.total === null ? 'Found that there is no plan' : 'Kept a purchase plan', [put('plans', [kept])])
  } catch (error) {
    toast.error(
      `The solver failed: ${error instanceof Error ? error.message : 'unknown reason'}. Nothing was changed; try again.`,
    )
  } finally {
    runs.delete(id)
    states.delete(id)
    emit()
  }
}
