import * as v from 'valibot'
import { PlaceIdSchema } from '../units/ids.ts'

export const PlaceSchema = v.object({
  id: PlaceIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  kind: v.picklist(['bin', 'drawer', 'box', 'cabinet', 'room']),
  parent: v.nullable(PlaceIdSchema),
})
export type Place = v.InferOutput<typeof PlaceSchema>
