import type { ItemKey } from './item.ts'
import { searchKey } from '../colours/colour.ts'

/** Everything known of one item: where it lies, which sets hold it, which designs need it. */
export type ItemEntry = {
  readonly item: ItemKey
  readonly name: string
  /** Pieces on the shelf, in so many places. */
  readonly shelf: number
  readonly places: number
  readonly sets: number
  readonly designs: number
  /** What a search compares with: part, colour and places, in the normalised form of names. */
  readonly key: string
}

type ListOfItems = { readonly lines: readonly { readonly item: ItemKey }[] }

/** Where items are looked for: what of shelf, sets and designs names them. */
export type Searched = {
  readonly holdings: readonly { readonly item: ItemKey; readonly qty: number; readonly place: string }[]
  readonly places: readonly { readonly id: string; readonly name: string }[]
  readonly sets: readonly (ListOfItems & { readonly name: string })[]
  readonly designs: readonly { readonly id: string; readonly modules: readonly ListOfItems[] }[]
}

/** Gathers shelf, sets and designs by item, in the order of names. Linear in all records. */
export function indexItems(records: Searched, nameOf: (item: ItemKey) => string): ItemEntry[] {
  const placeName = new Map(records.places.map((p) => [p.id, p.name]))
  const rows = new Map<ItemKey, { shelf: number; places: Set<string>; sets: Set<string>; designs: Set<string> }>()
  const row = (item: ItemKey) => {
    const known = rows.get(item)
    if (known) return known
    const made = { shelf: 0, places: new Set<string>(), sets: new Set<string>(), designs: new Set<string>() }
    rows.set(item, made)
    return made
  }
  for (const h of records.holdings) {
    const r = row(h.item)
    r.shelf += h.qty
    r.places.add(placeName.get(h.place) ?? '')
  }
  for (const set of records.sets) for (const line of set.lines) row(line.item).sets.add(set.name)
  for (const design of records.designs)
    for (const module of design.modules) for (const line of module.lines) row(line.item).designs.add(design.id)
  return [...rows]
    .map(([item, r]): ItemEntry => {
      const name = nameOf(item)
      return {
        item,
        name,
        shelf: r.shelf,
        places: r.places.size,
        sets: r.sets.size,
        designs: r.designs.size,
        key: searchKey([name, ...r.places, ...r.sets].join(' ')),
      }
    })
    .sort((p, q) => (p.name < q.name ? -1 : p.name > q.name ? 1 : 0))
}

/**
 * Entries that hold every word of the query somewhere, those whose name begins with it first; a size may be typed `2x4`
 * or `4x2`. At most `limit`.
 */
export function findItems(index: readonly ItemEntry[], query: string, limit: number): ItemEntry[] {
  const words = searchKey(query)
    .split(' ')
    .filter((w) => w !== '')
    .map((w) => {
      const [, a, b] = /^(\d+)x(\d+)$/.exec(w) ?? []
      return a !== undefined && b !== undefined && Number(a) > Number(b) ? `${b}x${a}` : w
    })
  if (words.length === 0) return []
  const whole = words.join(' ')
  const first: ItemEntry[] = []
  const rest: ItemEntry[] = []
  for (const entry of index) {
    if (!words.every((w) => entry.key.includes(w))) continue
    if (entry.key.startsWith(whole)) first.push(entry)
    else rest.push(entry)
    if (first.length >= limit) break
  }
  return [...first, ...rest].slice(0, limit)
}
