import * as v from 'valibot'
import { SourcingProblemSchema } from '../sourcing/problem.ts'
import { SourcingPlanSchema, UnreachableSchema } from '../sourcing/plan.ts'
import { BuildIdSchema } from '../units/ids.ts'

/** The last plan a build kept, with the problem it answers, so that it can be verified again at any time. */
export const KeptPlanSchema = v.object({
  id: BuildIdSchema,
  problem: SourcingProblemSchema,
  plan: SourcingPlanSchema,
  unavailable: v.array(UnreachableSchema),
  /** Totals of the two habits to compare with, minor units; null when the habit breaks a rule. */
  habits: v.object({ lineByLine: v.nullable(v.number()), biggestShop: v.nullable(v.number()) }),
  madeAt: v.pipe(v.string(), v.isoTimestamp()),
})
export type KeptPlan = v.InferOutput<typeof KeptPlanSchema>
