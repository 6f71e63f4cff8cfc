import type { Holding } from './holding.ts'
import type { Place } from './place.ts'

/** A place with its depth, the pieces in it and below it, and the ids of all it contains (itself included). */
export type PlaceRow = {
  readonly place: Place
  readonly depth: number
  readonly count: number
  readonly inside: ReadonlySet<string>
}

/** Places in reading order, each with the pieces in it and in what it contains. */
export function placeTree(places: readonly Place[], holdings: readonly Holding[]): PlaceRow[] {
  const own = new Map<string, number>()
  for (const h of holdings) own.set(h.place, (own.get(h.place) ?? 0) + h.qty)
  const children = new Map<string | null, Place[]>()
  for (const p of places) children.set(p.parent, [...(children.get(p.parent) ?? []), p])
  const rows: PlaceRow[] = []
  const visited = new Set<string>()
  const visit = (place: Place, depth: number): { inside: Set<string>; count: number } => {
    visited.add(place.id)
    const at = rows.length
    const inside = new Set<string>([place.id])
    let count = own.get(place.id) ?? 0
    rows.push({ place, depth, count, inside })
    for (const child of children.get(place.id) ?? []) {
      if (visited.has(child.id)) continue
      const below = visit(child, depth + 1)
      for (const id of below.inside) inside.add(id)
      count += below.count
    }
    rows[at] = { place, depth, count, inside }
    return { inside, count }
  }
  const known = new Set(places.map((p) => p.id))
  for (const p of places) if (p.parent === null || !known.has(p.parent)) visit(p, 0)
  // Places of a bad file that stand in each other in a circle are shown all the same, the first as the outermost.
  for (const p of places) if (!visited.has(p.id)) visit(p, 0)
  return rows
}
