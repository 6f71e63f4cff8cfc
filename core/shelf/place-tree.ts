import type { Holding } from './holding.ts'
import type { Place } from './place.ts'

/** A place with its depth, the pieces in it and below it, and how many places that is: the rows from its own on. */
export type PlaceRow = {
  readonly place: Place
  readonly depth: number
  readonly count: number
  readonly places: number
}

/** The ids of a place and of all it contains; undefined when it is not among the rows. */
export function placesInside(rows: readonly PlaceRow[], place: string): ReadonlySet<string> | undefined {
  const at = rows.findIndex((row) => row.place.id === place)
  const row = rows[at]
  return row && new Set(rows.slice(at, at + row.places).map((inner) => inner.place.id))
}

/** Places in reading order, each with the pieces in it and in what it contains. */
export function placeTree(places: readonly Place[], holdings: readonly Holding[]): PlaceRow[] {
  const indexOf = new Map<string, number>(places.map((p, i) => [p.id, i]))
  const own = new Float64Array(places.length)
  for (const { place, qty } of holdings) {
    const at = indexOf.get(place)
    if (at !== undefined) own[at] = (own[at] ?? 0) + qty
  }
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
      const at = rows.push({ place, depth, count: own[indexOf.get(place.id) ?? -1] ?? 0, places: 1 }) - 1
      const inner = (children.get(place.id) ?? []).filter((child) => !visited.has(child.id))
      stack.push(...inner.map((child) => ({ place: child, depth: depth + 1, parent: at })).reverse())
    }
    for (let at = rows.length - 1; at >= first; at--) {
      const row = rows[at]
      const around = rows[parents[at - first] ?? -1]
      if (!row || !around) continue
      rows[parents[at - first] as number] = {
        ...around,
        count: around.count + row.count,
        places: around.places + row.places,
      }
    }
  }
  const known = new Set(places.map((p) => p.id))
  for (const p of places) if (p.parent === null || !known.has(p.parent)) visit(p, 0)
  // Places of a bad file that stand in each other in a circle are shown all the same, the first as the outermost.
  for (const p of places) if (!visited.has(p.id)) visit(p, 0)
  return rows
}
