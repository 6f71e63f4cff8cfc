import type { Place } from '../shelf/place.ts'
import type { PlaceId } from '../units/ids.ts'
import type { Tally } from './tally.ts'

/** Pieces that a build counts on and that are still to come from somewhere on the shelf: a parcel, or someone's promise. */
export type WaitedFor = { readonly place: Place; readonly pieces: number }

/** What a count waits for, what is due first before the rest, places without a day last. */
export function waitedFor({ lines }: Pick<Tally, 'lines'>): WaitedFor[] {
  const byPlace = new Map<PlaceId, { readonly place: Place; pieces: number }>()
  for (const { pegs } of lines)
    for (const { source, qty } of pegs) {
      if (source.kind !== 'shelf' || source.state.kind !== 'post') continue
      const { at } = source.state
      const known = byPlace.get(at.id)
      if (known) known.pieces += qty
      else byPlace.set(at.id, { place: at, pieces: qty })
    }
  const day = ({ place }: WaitedFor) => place.due ?? '9999'
  return [...byPlace.values()].sort((p, q) =>
    day(p) === day(q) ? (p.place.name < q.place.name ? -1 : 1) : day(p) < day(q) ? -1 : 1,
  )
}
