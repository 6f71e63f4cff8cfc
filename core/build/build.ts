import * as v from 'valibot'
import { BuildIdSchema } from '../units/ids.ts'
import { CurrencySchema } from '../units/money.ts'
import { ProvenanceSchema, PURPOSES } from '../design/provenance.ts'
import { RulesSchema } from './house-rules.ts'

export const BuildSchema = v.object({
  id: BuildIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  note: v.pipe(v.string(), v.maxLength(4000)),
  currency: CurrencySchema,
  rules: RulesSchema,
  /** Left out for an own design. */
  provenance: v.optional(ProvenanceSchema),
  purpose: v.optional(v.picklist(PURPOSES)),
  /** Set aside: kept, and counted only when it is opened. */
  archived: v.optional(v.boolean()),
})
export type Build = v.InferOutput<typeof BuildSchema>
