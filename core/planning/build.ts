import * as v from 'valibot'
import { CONDITIONS } from '../units/condition.ts'
import { BuildIdSchema } from '../units/ids.ts'
import { CurrencySchema } from '../units/money.ts'
import { ProvenanceSchema, PURPOSES } from './provenance.ts'

const Percent = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))

/** The house rules of a build; every step obeys them. */
export const RulesSchema = v.object({
  /** Where pieces may come from. */
  sources: v.picklist(['donors', 'donors and shelf', 'donors, shelf and shops']),
  /** The worst condition that may be used, from the shelf or from shops. */
  condition: v.picklist(CONDITIONS),
  /** What an estimated holding counts for, percent. */
  estimatePercent: Percent,
  maxShops: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(200))),
  deadlineDays: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000))),
  /** Shops to avoid or to insist on, by shop id; all others are free. */
  shops: v.record(v.string(), v.picklist(['excluded', 'pinned'])),
  /** Surplus from a bought donor copy earns this share of the item's median price, percent. */
  resalePercent: Percent,
  /** The user's own rate of duty and tax on parcels from other countries, percent of goods and shipping. */
  importPercent: Percent,
  shipTo: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/, 'a two-letter country code of ISO 3166 is expected')),
})
export type Rules = v.InferOutput<typeof RulesSchema>

export const BuildSchema = v.object({
  id: BuildIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  note: v.pipe(v.string(), v.maxLength(4000)),
  currency: CurrencySchema,
  rules: RulesSchema,
  /** Left out for an own design. */
  provenance: v.optional(ProvenanceSchema),
  purpose: v.optional(v.picklist(PURPOSES)),
})
export type Build = v.InferOutput<typeof BuildSchema>

export const defaultRules: Rules = {
  sources: 'donors, shelf and shops',
  condition: 'used',
  estimatePercent: 75,
  maxShops: null,
  deadlineDays: null,
  shops: {},
  resalePercent: 0,
  importPercent: 0,
  shipTo: 'AT',
}
