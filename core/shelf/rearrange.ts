import type { HoldingId, PlaceId } from '../units/ids.ts'
import type { Holding } from './holding.ts'
import { exchangeLots, NO_CHANGE, type ShelfChange } from './lot.ts'

/**
 * Moves `qty` pieces of a holding (clamped to what it has) to a place: all of it moves as it is, a part is split off,
 * and pieces of the same kind already there take them in (`addLots`).
 */
export function move(
  holding: Holding,
  qty: number,
  to: PlaceId,
  shelf: readonly Holding[],
  fresh: () => string,
): ShelfChange {
  const moved = Math.min(Math.max(0, qty), holding.qty)
  if (moved === 0 || to === holding.place) return NO_CHANGE
  if (moved === holding.qty) return moveAll([holding], to, shelf)
  return exchangeLots(shelf, [{ holding, qty: moved }], (taken) => [{ ...taken, place: to }], fresh)
}

/** Moves whole holdings to a place, as one change; equal kinds are joined. Time: linear in both lists. */
export function moveAll(moved: readonly Holding[], to: PlaceId, shelf: readonly Holding[]): ShelfChange {
  const takes = moved.filter((h) => h.place !== to).map((holding) => ({ holding, qty: holding.qty }))
  return exchangeLots(
    shelf,
    takes,
    (taken) => [{ ...taken, place: to }],
    () => '',
  )
}

export type CountDifference = { readonly holding: Holding; readonly now: number }

/**
 * Settles a count: counted holdings become exact, those counted as none go, the rest stays. Differences are the counted
 * holdings whose number changed or that were an estimate.
 */
export function settleCount(
  shelf: readonly Holding[],
  counts: ReadonlyMap<HoldingId, number>,
): ShelfChange & { readonly differences: readonly CountDifference[] } {
  const differences: CountDifference[] = []
  for (const holding of shelf) {
    const now = counts.get(holding.id)
    if (now !== undefined && (now !== holding.qty || holding.estimate)) differences.push({ holding, now })
  }
  return {
    differences,
    put: differences.flatMap(({ holding, now }) => (now > 0 ? [{ ...holding, qty: now, estimate: false }] : [])),
    remove: differences.flatMap(({ holding, now }) => (now === 0 ? [holding.id] : [])),
  }
}
