import type { HoldingId, PlaceId } from '../units/ids.ts'
import type { Holding } from './holding.ts'
import { exchangeLots, type ShelfChange } from './lot.ts'

/**
 * Moves pieces of holdings (each clamped to what it has) to a place, as one change: all of a holding moves as it is, a part
 * is split off, and pieces of the same kind already there take them in (`addLots`). Time: linear in both lists.
 */
export const move = (
  shelf: readonly Holding[],
  takes: readonly { readonly holding: Holding; readonly qty: number }[],
  to: PlaceId,
  fresh: () => string,
): ShelfChange =>
  exchangeLots(
    shelf,
    takes
      .filter(({ holding, qty }) => holding.place !== to && qty > 0)
      .map(({ holding, qty }) => ({ holding, qty: Math.min(qty, holding.qty) })),
    (taken) => [{ ...taken, place: to }],
    fresh,
  )

export type CountDifference = { readonly holding: Holding; readonly now: number }

/** The counted holdings whose number changed or that were an estimate; all others stay as they are. */
export function countDifferences(
  shelf: readonly Holding[],
  counts: ReadonlyMap<HoldingId, number>,
): readonly CountDifference[] {
  return shelf.flatMap((holding) => {
    const now = counts.get(holding.id)
    return now !== undefined && (now !== holding.qty || holding.estimate) ? [{ holding, now }] : []
  })
}
