import { colourKey, type Colour } from '../colours/colour.ts'
import type { ColourId } from '../units/ids.ts'
import { renamingOf, takenOverBy, type Kinds, type Lists, type TakenOver } from './merge-parts.ts'

/** What a merge of colours writes and deletes, kind by kind. */
export type ColourMerge<R> = {
  readonly colour: Colour
  readonly removed: ColourId
  readonly changes: { readonly [K in keyof R]: TakenOver<R[K]> }
}

/** Other names of a colour at most, as its schema has it. */
const LONGEST_NAME = 80

/**
 * Merges a colour into another: every record that names the one names the other from now on (items, palettes, exchanges,
 * colourways, rules), and its names lead there. Linear in the records.
 */
export const mergeColours = <R extends object>(
  from: Colour,
  into: Colour,
  records: Lists<R>,
  kinds: Kinds<R>,
): ColourMerge<R> => ({
  colour: withNames(into, [from.name, ...from.aliases]),
  removed: from.id,
  changes: takenOverBy(
    renamingOf(
      (id) => id,
      (id) => (id === from.id ? into.id : id),
    ),
    records,
    kinds,
  ),
})

/** A colour that is known by more names; its own name is none of them. */
export function withNames(colour: Colour, names: readonly string[]): Colour {
  const keys = names.map((name) => colourKey(name).slice(0, LONGEST_NAME)).filter((key) => key !== '')
  return {
    ...colour,
    aliases: [...new Set([...colour.aliases, ...keys])].filter((key) => key !== colourKey(colour.name)),
  }
}

/** A colour under a new name; lists that write the old one still mean it. */
export const renameColour = (colour: Colour, name: string): Colour =>
  withNames({ ...colour, name: name.replace(/\s+/g, ' ').trim().slice(0, LONGEST_NAME) }, [colour.name])
