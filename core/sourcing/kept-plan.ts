import * as v from 'valibot'
import { SourcingProblemSchema } from './problem.ts'
import { SourcingPlanSchema, UnreachableSchema } from './plan.ts'
import { BuildIdSchema } from '../units/ids.ts'

const BaselineSchema = v.variant('kind', [
  v.object({
    kind: v.literal('plan'),
    total: v.pipe(v.number(), v.safeInteger()),
    shops: v.pipe(v.number(), v.safeInteger(), v.minValue(0)),
    /** What of the total are points of compromise; not known in older files. */
    penalties: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(0)), 0),
    /** Single changes that would have saved most; not known in older files. */
    mistakes: v.optional(
      v.pipe(
        v.array(
          v.object({
            kind: v.picklist(['needless order', 'missed order', 'missed copy']),
            of: v.string(),
            saves: v.pipe(v.number(), v.safeInteger(), v.minValue(0)),
          }),
        ),
        v.maxLength(10),
      ),
    ),
  }),
  v.object({ kind: v.literal('fails'), why: v.string() }),
])

/** The last plan a build kept, with the problem it answers, so that it can be verified again at any time. */
export const KeptPlanSchema = v.object({
  id: BuildIdSchema,
  problem: SourcingProblemSchema,
  plan: SourcingPlanSchema,
  unavailable: v.array(UnreachableSchema),
  /** What the two habits of buying by hand would cost, minor units, for comparison. */
  habits: v.object({ lineByLine: BaselineSchema, biggestShop: BaselineSchema }),
  /** `problemKey` of what was asked, pieces that had to be left out included; unknown in older files. */
  asked: v.optional(v.pipe(v.string(), v.maxLength(100))),
  madeAt: v.pipe(v.string(), v.isoTimestamp()),
})
export type KeptPlan = v.InferOutput<typeof KeptPlanSchema>
