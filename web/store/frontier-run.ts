import * as v from 'valibot'
import type { Build } from '../../core/build/build.ts'
import {
  FRONTIER_ENDS,
  PRICED_RULES,
  restricted,
  settledFrontier,
  type Frontier,
  type FrontierPoint,
  type PricedRule,
} from '../../core/sourcing/frontier.ts'
import { withMore } from '../../core/sourcing/few-more.ts'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import { SourcingPlanSchema } from '../../core/sourcing/plan.ts'
import { problemKey } from '../../core/sourcing/problem-key.ts'
import type { SourcingProblem } from '../../core/sourcing/problem.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { Change } from '../../storage/journal-entry.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { edit, put } from '../../storage/journal.ts'
import { startFrontier, startHabits } from '../../workers/sourcing-client.ts'
import type { FrontierNews, Patience } from '../../workers/sourcing.worker.ts'
import { question, type Answer, type QuestionState } from './answers.ts'
import type { Count } from './count-store.ts'
import { nowIso } from './database.ts'
import { perform, wordsOf } from './perform.ts'
import { noteProof, problemOf } from './purchases.ts'
import { toast } from 'sonner'

/** A frontier as it is kept: what a point answers follows from the problem it was drawn for. */
const DrawnSchema = v.object({
  rule: v.picklist(PRICED_RULES),
  end: v.picklist(FRONTIER_ENDS),
  points: v.array(v.object({ limit: v.number(), plan: SourcingPlanSchema })),
})
export type Drawn = v.InferOutput<typeof DrawnSchema>

/** What tightening each rule costs. */
export const FRONTIERS = {
  maxShops: question<Drawn, FrontierNews>('maxShops', DrawnSchema),
  deadlineDays: question<Drawn, FrontierNews>('deadlineDays', DrawnSchema),
  maxPieces: question<Drawn, FrontierNews>('maxPieces', DrawnSchema),
} as const satisfies Record<PricedRule, unknown>

/** What is known of a rule's price for a build. */
export const useFrontier = (id: BuildId, rule: PricedRule): QuestionState<Drawn, FrontierNews> =>
  FRONTIERS[rule].useAnswer(id)

const keys = new WeakMap<SourcingProblem, Map<PricedRule, string>>()
/** What a frontier is of: the kept plan's problem, whatever it says of the rule itself. So a point that is kept changes nothing. */
export function frontierKey({ problem }: Pick<KeptPlan, 'problem'>, rule: PricedRule): string {
  const known = keys.get(problem) ?? new Map<PricedRule, string>()
  keys.set(problem, known)
  const key = known.get(rule) ?? problemKey({ ...problem, [rule]: null })
  known.set(rule, key)
  return key
}

/** A kept frontier with the problems of its points, as far as an independent count finds that they hold. */
export function frontierOf(kept: Pick<KeptPlan, 'problem'>, { rule, points, end }: Drawn): Frontier {
  const free = { ...kept.problem, [rule]: null }
  return {
    rule,
    end,
    points: points.flatMap(({ limit, plan }): FrontierPoint[] => {
      const problem = restricted(free, rule, limit)
      const verdict = verifyPlan(problem, plan)
      return verdict.ok && verdict.total === plan.total ? [{ limit, problem, plan }] : []
    }),
  }
}

/**
 * Draws what tightening a rule costs, from a kept plan. Looser points that were drawn of the same problem before stay.
 */
export const runFrontier = (
  kept: KeptPlan,
  rule: PricedRule,
  patience: Patience,
  last: Answer<Drawn> | undefined,
): Promise<void> =>
  FRONTIERS[rule].ask(kept.id, (onNews) => {
    const key = frontierKey(kept, rule)
    const before = last?.key === key ? frontierOf(kept, last.answer).points : []
    const { result, cancel } = startFrontier(kept.problem, kept.plan, rule, patience, onNews)
    const drawn = result.then((found): Drawn | undefined => {
      if (!found) return undefined
      const loosest = found.points[0]?.limit ?? Infinity
      const { points, end } = settledFrontier({
        ...found,
        points: [...before.filter((p) => p.limit > loosest), ...found.points],
      })
      return { rule, end, points: points.map(({ limit, plan }) => ({ limit, plan })) }
    })
    return Promise.resolve({ key, run: { result: drawn, cancel } })
  })

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
    const { asked } = await problemOf(count)
    await keepAs(
      build,
      { ...kept, problem, plan, asked: problemKey({ ...asked, [rule]: limit }) },
      { [rule]: limit },
      label,
    )
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}

/** Keeps the kept plan with more pieces of an offer, counted anew; what was proven of the least stays. */
export async function keepMore(kept: KeptPlan, offer: string, more: number, label: string): Promise<void> {
  const plan = withMore(kept.problem, kept.plan, offer, more)
  if (!plan) {
    toast.error('That many are not to be had within the rules. Nothing was changed.')
    return
  }
  const next: KeptPlan = { ...kept, plan, madeAt: nowIso() }
  const takeBack = await noteProof(next)
  if (!(await perform(label, [put('plans', [next])]))) await takeBack()
}

/** Makes a plan the kept one and changes the house rules so that it answers the build as it then is, in one act. */
export async function keepAs(
  build: Build,
  plan: Omit<KeptPlan, 'habits' | 'madeAt'>,
  rules: Partial<Build['rules']>,
  label: string,
  besides: readonly Change[] = [],
): Promise<void> {
  const habits = await startHabits(plan.problem).result
  if (!habits) throw new Error('buying by hand was not worked out')
  const next: KeptPlan = { ...plan, habits, madeAt: nowIso() }
  const takeBack = await noteProof(next)
  const changed = edit('builds', build, { ...build, rules: { ...build.rules, ...rules } })
  if (!(await perform(label, [...besides, changed, put('plans', [next])]))) await takeBack()
}
