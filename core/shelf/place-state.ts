import type { PlaceId } from '../units/ids.ts'
import type { Place } from './place.ts'

/** What pieces in a place are to a build: loose, in a model that may or may not be taken apart, or on the way. */
export type PlaceState =
  | { readonly kind: 'loose' }
  | { readonly kind: 'model'; readonly model: Place; readonly released: boolean }
  | { readonly kind: 'post' }

export const LOOSE: PlaceState = { kind: 'loose' }

/** The state of every place: its own, or that of the nearest place around it that is a model or the post. */
export function placeStates(places: readonly Place[]): Map<PlaceId, PlaceState> {
  const byId = new Map(places.map((p) => [p.id, p]))
  const stateOf = (place: Place): PlaceState => {
    const seen = new Set<PlaceId>()
    for (
      let p: Place | undefined = place;
      p && !seen.has(p.id);
      p = p.parent === null ? undefined : byId.get(p.parent)
    ) {
      seen.add(p.id)
      if (p.kind === 'model') return { kind: 'model', model: p, released: p.released ?? false }
      if (p.kind === 'post') return { kind: 'post' }
    }
    return LOOSE
  }
  return new Map(places.map((p) => [p.id, stateOf(p)]))
}

/** Whether a place may stand in another: not in itself nor in what stands in it. Circles in bad data end the walk. */
export function mayStandIn(place: PlaceId, target: PlaceId | null, places: readonly Place[]): boolean {
  const parentOf = new Map(places.map((p) => [p.id, p.parent]))
  const seen = new Set<PlaceId>()
  for (let at = target; at !== null && !seen.has(at); at = parentOf.get(at) ?? null) {
    if (at === place) return false
    seen.add(at)
  }
  return true
}
