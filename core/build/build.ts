import * as v from 'valibot'
import { BuildIdSchema } from '../units/ids.ts'
import { CurrencySchema, MoneySchema } from '../units/money.ts'
import { ProvenanceSchema, PURPOSES } from '../design/provenance.ts'
import { RulesSchema } from './house-rules.ts'

/** Ways to share a donor's price between a build and what it leaves over. */
export const DONOR_SHARES = ['whole', 'by pieces'] as const

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
  /** What of a donor's price the build bears: all of it when left out, or by the pieces it uses. */
  donorShare: v.optional(v.picklist(DONOR_SHARES)),
  /** The official set that it is built in place of, and what that costs new. */
  replaces: v.optional(v.object({ name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)), price: MoneySchema })),
  /** Pictures of the model before and after, by their ids: for the build sheet. */
  before: v.optional(v.pipe(v.string(), v.maxLength(80))),
  after: v.optional(v.pipe(v.string(), v.maxLength(80))),
})
export type Build = v.InferOutput<typeof BuildSchema>
