import type { PlaceId } from '../units/ids.ts'
import type { Place } from './place.ts'

/** What pieces in a place are to a build: loose, in a model that may or may not be taken apart, or on the way. */
export type PlaceState =
  | { readonly kind: 'loose' }
  | { readonly kind: 'model'; readonly model: Place; readonly released: boolean }
  | { readonly kind: 'post'; readonly at: Place }

export const LOOSE: PlaceState = { kind: 'loose' }

/** The state of every place: its own, or that of the nearest place around it that is a model, the post or a promise. Linear. */
export function placeStates(places: readonly Place[]): Map<PlaceId, PlaceState> {
  const byId = new Map(places.map((p) => [p.id, p]))
  const states = new Map<PlaceId, PlaceState>()
  for (const place of places) {
    // Up to the first place whose state is known or is its own; all on the way have that state. Circles end the walk.
    const way: Place[] = []
    const seen = new Set<PlaceId>()
    let found: PlaceState | undefined
    for (
      let p: Place | undefined = place;
      p && !found && !seen.has(p.id);
      p = p.parent === null ? undefined : byId.get(p.parent)
    ) {
      seen.add(p.id)
      way.push(p)
      found = states.get(p.id) ?? ownState(p)
    }
    for (const p of way) if (!states.has(p.id)) states.set(p.id, found ?? LOOSE)
  }
  return states
}

const ownState = (place: Place): PlaceState | undefined =>
  place.kind === 'model'
    ? { kind: 'model', model: place, released: place.released ?? false }
    : place.kind === 'post' || place.kind === 'promise'
      ? { kind: 'post', at: place }
      : undefined

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
