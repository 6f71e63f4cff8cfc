import * as v from 'valibot'
import { PlaceIdSchema } from '../units/ids.ts'

/** A model is built and keeps its pieces until released; what is in the post, or promised by someone, is on order. */
export const PLACE_KINDS = ['bin', 'drawer', 'box', 'cabinet', 'room', 'model', 'post', 'promise'] as const
export type PlaceKind = (typeof PLACE_KINDS)[number]

export const PlaceSchema = v.object({
  id: PlaceIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  kind: v.picklist(PLACE_KINDS),
  parent: v.nullable(PlaceIdSchema),
  /** True for a finished model that may be taken apart. */
  released: v.optional(v.boolean()),
  /** The day by which what is in the post, or promised, is to be here. */
  due: v.optional(v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))),
})
export type Place = v.InferOutput<typeof PlaceSchema>
