import * as v from 'valibot'
import { colourKey } from '../colours/colour.ts'
import { olderPartId, PartIdSchema, partId, type PartId } from '../units/ids.ts'
import { readPartName } from './name-grammar.ts'
import { ShapeSchema } from './shape.ts'

/**
 * A mould: a shape with a name. The shape is read from the name unless the user corrected it. Aliases are the ids of
 * parts merged into it or of its other names, and the codes foreign lists know it by (`codeAlias`).
 */
export const PartSchema = v.object({
  id: PartIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  shape: ShapeSchema,
  aliases: v.optional(v.array(v.pipe(v.string(), v.minLength(1), v.maxLength(200)))),
})
export type Part = v.InferOutput<typeof PartSchema>

/** A part made from its name alone; two spellings of the same shape ("plate 2x8", "2 by 8 plate") give the same id. */
export function partFromName(name: string): Part {
  const reading = readPartName(name)
  return { id: partId(reading.canonical), name: reading.name, shape: reading.shape }
}

/** A part under the name it was written with, which stays what is shown; what it is matched by is as in `partFromName`. */
export const partAsWritten = (name: string): Part => ({
  ...partFromName(name),
  name: name.replace(/\s+/g, ' ').trim().slice(0, 200),
})

/** A foreign code as an alias: codes of lists with the same heading over them are of one source. */
export const codeAlias = (heading: string, code: string): string => `${colourKey(heading) || 'code'}=${colourKey(code)}`

/** Names that may be told apart by more than a slug tells. */
const TOLD_LESS = /[^a-z0-9 ()°×x-]/i

/** Every id and alias that leads to a part; a part's own id wins over another's alias. */
export function partIndex(parts: readonly Part[]): Map<string, PartId> {
  const index = new Map<string, PartId>()
  for (const part of parts) for (const alias of part.aliases ?? []) if (!index.has(alias)) index.set(alias, part.id)
  // Parts that an earlier version named by a slug that did not tell all of the name are found by it still.
  for (const part of parts)
    if (TOLD_LESS.test(part.name) || part.name.length > 100) {
      const id = partFromName(part.name).id
      if (id !== part.id && part.id === olderPartId(readPartName(part.name).canonical) && !index.has(id))
        index.set(id, part.id)
    }
  for (const part of parts) index.set(part.id, part.id)
  return index
}
