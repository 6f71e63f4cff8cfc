import { useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import { restricted, type Frontier, type PricedRule, type FrontierPoint } from '../../core/sourcing/frontier.ts'
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
  /** What is under way: the value that is being asked for, once the solver is there, and the points found so far. */
  readonly running: { readonly asking: number | undefined; readonly found: number } | undefined
}

/** Runs live here, not in a screen, so that leaving the screen does not end them. */
const states = new Map<string, FrontierState>()
const cancels = new Map<string, () => void>()
const listeners = new Set<() => void>()

const keyOf = (id: BuildId, rule: PricedRule) => `${rule} ${id}`

function show(key: string, state: FrontierState): void {
  states.set(key, state)
  for (const listener of listeners) listener()
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** What is known of a rule's price for a build; of an earlier plan where `of` is another. */
export const useFrontier = (id: BuildId, rule: PricedRule): FrontierState | undefined =>
  useSyncExternalStore(subscribe, () => states.get(keyOf(id, rule)))

/** Ends a run; the points found by then stay. */
export const cancelFrontier = (id: BuildId, rule: PricedRule): void => cancels.get(keyOf(id, rule))?.()

/** Draws what tightening a rule costs, from a kept plan; each point is verified once more on arrival. */
export async function runFrontier(kept: KeptPlan, rule: PricedRule, timeLimit: number): Promise<void> {
  const key = keyOf(kept.id, rule)
  if (cancels.has(key)) return
  const before = states.get(key)
  let running: NonNullable<FrontierState['running']> = { asking: undefined, found: 0 }
  const showRunning = () => {
    show(key, { of: kept, frontier: undefined, running })
  }
  const run = startFrontier(kept.problem, kept.plan, rule, timeLimit, (news) => {
    running = 'asking' in news ? { ...running, asking: news.asking } : { ...running, found: running.found + 1 }
    showRunning()
  })
  cancels.set(key, run.cancel)
  showRunning()
  try {
    const frontier = await run.result
    for (const { problem, plan } of frontier?.points ?? []) {
      const verdict = verifyPlan(problem, plan)
      if (!verdict.ok || verdict.total !== plan.total) throw new Error('a plan does not hold')
    }
    show(key, { of: kept, frontier, running: undefined })
  } catch (error) {
    show(key, { of: before?.of ?? kept, frontier: before?.frontier, running: undefined })
    toast.error(`The solver failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  } finally {
    cancels.delete(key)
  }
}

/** Makes a point's plan the kept one and its value the house rule, in one act. */
export async function keepPoint(
  count: Count,
  build: Build,
  kept: KeptPlan,
  rule: PricedRule,
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
      asked: problemKey(restricted(asked, rule, limit)),
      madeAt: nowIso(),
    }
    const takeBack = await noteProof(next)
    const rules = { ...build.rules, [rule]: limit }
    if (!(await perform(label, [edit('builds', build, { ...build, rules }), put('plans', [next])]))) await takeBack()
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}
