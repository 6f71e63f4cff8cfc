import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { BuildIdSchema, LineIdSchema, ModuleIdSchema } from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'

/** Hidden pieces may differ from what is drawn as far as the rules allow; structural ones must not be split. */
export const VISIBILITIES = ['seen', 'hidden', 'structural'] as const
export type Visibility = (typeof VISIBILITIES)[number]

export const DesignLineSchema = v.object({
  id: LineIdSchema,
  item: ItemKeySchema,
  qty: QtySchema,
  /** Seen when left out. */
  visibility: v.optional(v.picklist(VISIBILITIES)),
  note: v.optional(v.pipe(v.string(), v.maxLength(500))),
})
export type DesignLine = v.InferOutput<typeof DesignLineSchema>

export const ModuleSchema = v.object({
  id: ModuleIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  repeats: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(10_000)),
  lines: v.array(DesignLineSchema),
})
export type Module = v.InferOutput<typeof ModuleSchema>

/** What a build will be: one design per build. */
export const DesignSchema = v.object({ id: BuildIdSchema, modules: v.array(ModuleSchema) })
export type Design = v.InferOutput<typeof DesignSchema>
