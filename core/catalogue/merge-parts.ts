import type { ColourId, PartId } from '../units/ids.ts'
import { itemKey, splitItemKey, type ItemKey } from './item.ts'
import { partFromName, type Part } from './part.ts'

/** Other names for the parts that records speak of. */
export type Renaming = {
  readonly part: (id: PartId) => PartId
  readonly colour: (id: ColourId) => ColourId
  /** The item in its part's and its colour's other names. */
  readonly item: (item: ItemKey) => ItemKey
}

/** A renaming of parts, and of colours where any are called otherwise; decorations of items stay. */
export function renamingOf(part: (id: PartId) => PartId, colour: (id: ColourId) => ColourId = (id) => id): Renaming {
  return {
    part,
    colour,
    item: (item) => {
      const key = splitItemKey(item)
      const [to, tint] = [part(key.part), colour(key.colour)]
      return to === key.part && tint === key.colour ? item : itemKey(to, tint, key.decoration)
    },
  }
}

/** What a merge writes of records of one kind, and which of them it deletes, by id. */
export type TakenOver<R> = { readonly put: readonly R[]; readonly remove: readonly string[] }

/** How records of a kind name parts. */
export type NamesParts<R> = {
  /** The record with parts by their other names; the same record when it names none of them. */
  readonly renamed: (record: R, naming: Renaming) => R
  /** Whether a record names a part that is called otherwise; by default, whether renaming changes it. */
  readonly names?: (record: R, naming: Renaming) => boolean
  /** What becomes of records that name the merged part, of all there are; by default they are renamed. */
  readonly takenOver?: (touched: readonly R[], naming: Renaming, all: readonly R[]) => TakenOver<R>
}

export type Kinds<R> = { readonly [K in keyof R]: NamesParts<R[K]> }
export type Lists<R> = { readonly [K in keyof R]?: readonly R[K][] }

/** What a merge writes and deletes, kind by kind. */
export type PartMerge<R> = {
  readonly part: Part
  readonly removed: PartId
  readonly changes: { readonly [K in keyof R]: TakenOver<R[K]> }
}

/**
 * Merges a part into another: every record that names the one names the other from now on, each kind in its own way
 * (`NamesParts`), and its names and codes become aliases. Linear in the records.
 */
export const mergeParts = <R extends object>(
  from: Part,
  into: Part,
  records: Lists<R>,
  kinds: Kinds<R>,
): PartMerge<R> => ({
  part: { ...into, aliases: [...new Set([...(into.aliases ?? []), from.id, ...(from.aliases ?? [])])] },
  removed: from.id,
  changes: takenOverBy(
    renamingOf((id) => (id === from.id ? into.id : id)),
    records,
    kinds,
  ),
})

/** What becomes of records under other names, kind by kind. */
export function takenOverBy<R extends object>(
  naming: Renaming,
  records: Lists<R>,
  kinds: Kinds<R>,
): { readonly [K in keyof R]: TakenOver<R[K]> } {
  const takenOver = <K extends keyof R>(kind: K): TakenOver<R[K]> => {
    const all = records[kind] ?? []
    const own = kinds[kind]
    const names = own.names ?? ((record, n) => own.renamed(record, n) !== record)
    const touched = all.filter((record) => names(record, naming))
    if (touched.length === 0) return { put: [], remove: [] }
    return own.takenOver?.(touched, naming, all) ?? { put: touched.map((r) => own.renamed(r, naming)), remove: [] }
  }
  const names = Object.keys(kinds) as (keyof R)[]
  return Object.fromEntries(names.map((kind) => [kind, takenOver(kind)])) as {
    readonly [K in keyof R]: TakenOver<R[K]>
  }
}

/**
 * Records from elsewhere in the words of a catalogue: parts that it knows by another id (merged, or renamed) are called
 * by that, and are not among the parts any more. `knownAs` gives a part's own id by any of its ids.
 */
export function inTermsOf<R extends { parts: Part }>(
  knownAs: ReadonlyMap<string, PartId>,
  records: Lists<R>,
  kinds: Kinds<R>,
): Lists<R> {
  const naming = renamingOf((id) => knownAs.get(id) ?? id)
  const names = (Object.keys(kinds) as (keyof R)[]).filter((kind) => records[kind])
  const renamed = <K extends keyof R>(kind: K): readonly R[K][] => {
    const list = (records[kind] ?? []).map((record) => kinds[kind].renamed(record, naming))
    return kind === 'parts' ? list.filter((p) => naming.part((p as Part).id) === (p as Part).id) : list
  }
  return Object.fromEntries(names.map((kind) => [kind, renamed(kind)])) as Lists<R>
}

/** A part under a new name, its shape read from it anew; lists that write either name still meet in it. */
export function renamePart(part: Part, name: string): Part {
  const read = partFromName(name)
  const aliases = [...new Set([...(part.aliases ?? []), ...(read.id === part.id ? [] : [read.id])])]
  return { id: part.id, name: read.name, shape: read.shape, ...(aliases.length > 0 ? { aliases } : {}) }
}
