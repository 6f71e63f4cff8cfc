import type { Place } from '../shelf/place.ts'
import type { BuildId, PlaceId } from '../units/ids.ts'

/** Where pieces that came for a build lie until they are built in. */
export const pileOf = ({ id, name }: { readonly id: BuildId; readonly name: string }): Place => ({
  id: pileIdOf(id),
  name: `Pile of ${name}`.slice(0, 120),
  kind: 'box',
  parent: null,
})
export const pileIdOf = (build: BuildId): PlaceId => `l-pile-${build}` as PlaceId

/** Where pieces of parcels lie that are for no build. */
export const PARCEL_SURPLUS: Place = {
  id: 'l-parcel-surplus' as PlaceId,
  name: 'Surplus of parcels',
  kind: 'box',
  parent: null,
}
