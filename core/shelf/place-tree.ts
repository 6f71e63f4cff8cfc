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
  /** Rows of a place and of all it contains; counts and contents are filled in from the innermost outwards. */
  const visit = (outer: Place, from: number): void => {
    const first = rows.length
    const parents: number[] = []
    const stack = [{ place: outer, depth: from, parent: -1 }]
    for (let next = stack.pop(); next; next = stack.pop()) {
      const { place, depth, parent } = next
      if (visited.has(place.id)) continue
      visited.add(place.id)
      parents.push(parent)
      const at = rows.push({ place, depth, count: own.get(place.id) ?? 0, inside: new Set([place.id]) }) - 1
      const inner = (children.get(place.id) ?? []).filter((child) => !visited.has(child.id))
      stack.push(...inner.map((child) => ({ place: child, depth: depth + 1, parent: at })).reverse())
    }
    for (let at = rows.length - 1; at >= first; at--) {
      const row = rows[at]
      const around = rows[parents[at - first] ?? -1]
      if (!row || !around) continue
      const inside = around.inside as Set<string>
      for (const id of row.inside) inside.add(id)
      rows[parents[at - first] as number] = { ...around, count: around.count + row.count }
    }
  }
  const known = new Set(places.map((p) => p.id))
  for (const p of places) if (p.parent === null || !known.has(p.parent)) visit(p, 0)
  // Places of a bad file that stand in each other in a circle are shown all the same, the first as the outermost.
  for (const p of places) if (!visited.has(p.id)) visit(p, 0)
  return rows
}
