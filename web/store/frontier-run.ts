import { useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import { restricted, type Frontier, type FrontierAxis, type FrontierPoint } from '../../core/sourcing/frontier.ts'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import { problemKey } from '../../core/sourcing/problem-key.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { edit, put } from '../../storage/journal.ts'
import { startFrontier, startHabits } from '../../workers/sourcing-client.ts'
import type { Count } from './count-store.ts'
import { nowIso } from './database.ts'
import { perform, wordsOf } from './perform.ts'
import { noteProof, problemOf } from './purchases.ts'

/** What tightening a rule costs, as far as it is known. */
export type FrontierState = {
  /** The plan that it was drawn from: it is of no other. */
  readonly of: KeptPlan
  readonly frontier: Frontier | undefined
  /** The value that is being asked for; undefined when nothing is under way. */
  readonly asking: number | undefined
  /** Points found so far while it is under way. */
  readonly found: number
}

/** Runs live here, not in a screen, so that leaving the screen does not end them. */
const states = new Map<string, FrontierState>()
const cancels = new Map<string, () => void>()
const listeners = new Set<() => void>()

const keyOf = (id: BuildId, axis: FrontierAxis) => `${axis} ${id}`

function show(key: string, state: FrontierState): void {
  states.set(key, state)
  for (const listener of listeners) listener()
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** What is known of a rule's price for a build; of an earlier plan where `of` is another. */
export const useFrontier = (id: BuildId, axis: FrontierAxis): FrontierState | undefined =>
  useSyncExternalStore(subscribe, () => states.get(keyOf(id, axis)))

/** Ends a run; the points found by then stay. */
export const cancelFrontier = (id: BuildId, axis: FrontierAxis): void => cancels.get(keyOf(id, axis))?.()

/** Draws what tightening a rule costs, from a kept plan; each point is verified once more on arrival. */
export async function runFrontier(kept: KeptPlan, axis: FrontierAxis, timeLimit: number): Promise<void> {
  const key = keyOf(kept.id, axis)
  if (cancels.has(key)) return
  const before = states.get(key)
  let state: FrontierState = { of: kept, frontier: undefined, asking: 0, found: 0 }
  const run = startFrontier(kept.problem, kept.plan, axis, timeLimit, (news) => {
    state = 'asking' in news ? { ...state, asking: news.asking } : { ...state, found: state.found + 1 }
    show(key, state)
  })
  cancels.set(key, run.cancel)
  show(key, state)
  try {
    const frontier = await run.result
    for (const { problem, plan } of frontier?.points ?? []) {
      const verdict = verifyPlan(problem, plan)
      if (!verdict.ok || verdict.total !== plan.total) throw new Error('a plan does not hold')
    }
    show(key, { of: kept, frontier, asking: undefined, found: 0 })
  } catch (error) {
    show(key, { of: before?.of ?? kept, frontier: before?.frontier, asking: undefined, found: 0 })
    toast.error(`The solver failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  } finally {
    cancels.delete(key)
  }
}

/** The house rule that a point keeps to. */
export const ruleOf = (axis: FrontierAxis, limit: number) =>
  axis === 'orders' ? { maxShops: limit } : { deadlineDays: limit }

/** Makes a point's plan the kept one and its value the house rule, in one act. */
export async function keepPoint(
  count: Count,
  build: Build,
  kept: KeptPlan,
  axis: FrontierAxis,
  { limit, problem, plan }: FrontierPoint,
  label: string,
): Promise<void> {
  try {
    const [{ asked }, habits] = await Promise.all([problemOf(count), startHabits(problem).result])
    const next: KeptPlan = {
      ...kept,
      problem,
      plan,
      habits: habits ?? kept.habits,
      asked: problemKey(restricted(asked, axis, limit)),
      madeAt: nowIso(),
    }
    const takeBack = await noteProof(next)
    const rules = { ...build.rules, ...ruleOf(axis, limit) }
    if (!(await perform(label, [edit('builds', build, { ...build, rules }), put('plans', [next])]))) await takeBack()
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}
