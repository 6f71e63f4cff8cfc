import { useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import type { SolveProgress } from '../../core/sourcing/solve.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { put } from '../../storage/journal.ts'
import { startPurchase } from '../../workers/sourcing-client.ts'
import type { Patience } from '../../workers/sourcing.worker.ts'
import type { Count } from './count-store.ts'
import { nowIso } from './database.ts'
import { perform, wordsOf } from './perform.ts'
import { noteProof, problemOf } from './purchases.ts'

export type RunState = Patience & { readonly progress: SolveProgress | null }

/** Runs live here, not in a screen, so that leaving the screen does not end them. */
const states = new Map<BuildId, RunState>()
const cancels = new Map<BuildId, () => void>()
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

export const cancelRun = (id: BuildId): void => cancels.get(id)?.()

/**
 * Finds the cheapest orders for a build as it was counted and keeps the plan, verified once more on arrival. A cancelled
 * run keeps its best plan.
 */
export async function runSourcing(count: Count, patience: Patience): Promise<void> {
  const { id } = count.build
  if (states.has(id)) return
  let stopped = false
  cancels.set(id, () => {
    stopped = true
  })
  const show = (progress: SolveProgress | null) => {
    states.set(id, { progress, ...patience })
    emit()
  }
  show(null)
  try {
    const { asked, key } = await problemOf(count)
    const run = startPurchase(asked, patience, show)
    cancels.set(id, run.cancel)
    if (stopped) run.cancel()
    const found = await run.result
    if (!found) {
      toast('Stopped before a plan was found.')
      return
    }
    const { plan, problem, leftOut, habits } = found
    if (plan.total !== null) {
      const verdict = verifyPlan(problem, plan)
      if (!verdict.ok || verdict.total !== plan.total) throw new Error('the plan does not hold')
    }
    const kept: KeptPlan = { id, problem, plan, unavailable: [...leftOut], habits, asked: key, madeAt: nowIso() }
    const label = plan.total === null ? 'Found that there is no plan' : 'Kept a purchase plan'
    const takeBack = await noteProof(kept)
    if (found.withoutSolver)
      toast.warning(
        'The solver could not be loaded: what was found is not proven to be the cheapest. Reload, and find it again.',
        {
          duration: 20_000,
        },
      )
    if (!(await perform(label, [put('plans', [kept])]))) await takeBack()
  } catch (error) {
    toast.error(`The solver failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  } finally {
    cancels.delete(id)
    states.delete(id)
    emit()
  }
}
