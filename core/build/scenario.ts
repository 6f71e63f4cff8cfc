import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import {
  BuildIdSchema,
  ColourIdSchema,
  DecisionIdSchema,
  LineIdSchema,
  ModuleIdSchema,
  ScenarioIdSchema,
  VersionIdSchema,
} from '../units/ids.ts'
import { UsesSchema } from './decision.ts'
import { StoredRulesSchema } from './house-rules.ts'

/** Scenarios that are compared side by side at most. */
export const MOST_SCENARIOS = 6

const Lines = v.pipe(v.array(LineIdSchema), v.minLength(1), v.maxLength(20_000))

/** Entries of a table that a scenario has at most. */
const MOST_ENTRIES = 2_000

const few = <S extends v.GenericSchema<Record<string, unknown>>>(schema: S) =>
  v.pipe(
    schema,
    v.check(
      (table) => Object.keys(table as object).length <= MOST_ENTRIES,
      `at most ${MOST_ENTRIES} entries are expected`,
    ),
  )

/** Rules that a scenario may set; those on shops have a place of their own. */
const ScenarioRulesSchema = v.partial(
  v.pick(StoredRulesSchema, [
    'sources',
    'aim',
    'condition',
    'colours',
    'hiddenColours',
    'wornHidden',
    'moulds',
    'splits',
    'stickers',
    'altering',
    'thirdParty',
    'estimatePercent',
    'maxShops',
    'deadlineDays',
    'maxPieces',
  ]),
)

/** What would be otherwise than in the build as it is, on the same stock and offers. */
export const ChangesSchema = v.object({
  rules: v.optional(ScenarioRulesSchema),
  /** Shops, by id, to use freely, to avoid, or to insist on. */
  shops: v.optional(few(v.record(v.string(), v.picklist(['free', 'excluded', 'pinned'])))),
  /** Of copies wanted at one price, by the first of them, just so many are bought; more than are wanted cost the same. */
  copies: v.optional(few(v.record(v.string(), v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))))),
  /** Another version of the design. */
  version: v.optional(VersionIdSchema),
  /** Another colourway; `null` as drawn. */
  colourway: v.optional(v.nullable(v.pipe(v.string(), v.minLength(1), v.maxLength(80)))),
  modules: v.optional(
    v.pipe(
      v.array(
        v.object({
          module: ModuleIdSchema,
          /** Put off: it needs nothing now. */
          later: v.optional(v.boolean()),
          repeats: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))),
          mirrored: v.optional(v.boolean()),
        }),
      ),
      v.maxLength(500),
    ),
  ),
  /** Lines whose colour may be near, or any. */
  freed: v.optional(v.object({ which: v.picklist(['all', 'hidden']), freedom: v.picklist(['near', 'free']) })),
  /** Lines in another colour. */
  recoloured: v.optional(v.pipe(v.array(v.object({ lines: Lines, colour: ColourIdSchema })), v.maxLength(200))),
  /** Lines that are left out. */
  leftOut: v.optional(Lines),
  /** What will do for a line as well. */
  accepted: v.optional(
    v.pipe(v.array(v.object({ line: LineIdSchema, item: ItemKeySchema, uses: UsesSchema })), v.maxLength(200)),
  ),
  /** Decisions by hand that are taken back: stand-ins that were forbidden. */
  takenBack: v.optional(v.pipe(v.array(DecisionIdSchema), v.maxLength(500))),
})
export type Changes = v.InferOutput<typeof ChangesSchema>

/** A named set of changes to a build, to be compared with others. */
export const ScenarioSchema = v.object({
  id: ScenarioIdSchema,
  buildId: BuildIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  changes: ChangesSchema,
})
export type Scenario = v.InferOutput<typeof ScenarioSchema>
