import * as v from 'valibot'
import { PartIdSchema } from '../units/ids.ts'
import { readPartName } from './name-grammar.ts'
import { ShapeSchema } from './shape.ts'
import { partId } from '../units/ids.ts'

/** A mould: a shape with a name. The shape is read from the name unless the user corrected it. */
export const PartSchema = v.object({
  id: PartIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  shape: ShapeSchema,
})
export type Part = v.InferOutput<typeof PartSchema>

/** A part made from its name alone; two spellings of the same shape ("plate 2x8", "2 by 8 plate") give the same id. */
export function partFromName(name: string): Part {
  const reading = readPartName(name)
  return { id: partId(reading.canonical), name: reading.name, shape: reading.shape }
}
