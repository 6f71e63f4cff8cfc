import type { LotPieces } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import type { PlaceId } from '../units/ids.ts'
import { refuse, ok, type Fault, type Result } from '../units/result.ts'
import { piecesIn, type Unit } from './unit.ts'

/** What finishing writes: a model among the places, its pieces in it, and units that say where they stand. */
export type Finished = {
  readonly place: Place
  readonly lots: readonly LotPieces[]
  readonly units: readonly Unit[]
}

/**
 * Units that are built become a finished model: a place of its own that holds their pieces, released as a source for other
 * builds or not. The units stay as what was built, and say where that stands. Refused where nothing is built.
 */
export function finish(units: readonly Unit[], place: Place): Result<Finished, Fault<'nothing built'>> {
  const built = units.filter((u) => u.standsIn === undefined && piecesIn(u) > 0)
  if (built.length === 0) return refuse('nothing built', 'Nothing is in the model yet.')
  return ok({
    place,
    lots: built.flatMap((u) =>
      u.put.map(({ item, qty, condition, length, uncounted }): LotPieces => ({
        place: place.id,
        item,
        qty,
        estimate: false,
        condition,
        ...(length !== undefined && { length }),
        ...(uncounted !== undefined && { uncounted }),
      })),
    ),
    units: built.map((u) => ({ ...u, standsIn: place.id })),
  })
}

/** Units whose finished model was taken apart: nothing is in them any more. */
export const apart = (units: readonly Unit[], model: PlaceId): Unit[] =>
  units
    .filter((u) => u.standsIn === model)
    .map((u) => {
      const { standsIn: _, ...bare } = u
      return { ...bare, put: [], leftOut: [] }
    })
