import type { HoldingId, PlaceId } from '../units/ids.ts'
import type { Holding } from './holding.ts'

/** What a rearrangement writes and deletes. */
export type ShelfChange = { readonly put: readonly Holding[]; readonly remove: readonly HoldingId[] }

const alike = (p: Holding, q: Holding) =>
  p.item === q.item && p.condition === q.condition && p.estimate === q.estimate && p.length === q.length

/**
 * Moves `qty` pieces of a holding (clamped to what it has) to a place: all of it moves as it is, a part is split off,
 * and pieces of the same kind already there take them in. Reservations go with a whole move and stay with a split.
 */
export function move(
  holding: Holding,
  qty: number,
  to: PlaceId,
  shelf: readonly Holding[],
  fresh: () => string,
): ShelfChange {
  const moved = Math.min(Math.max(0, qty), holding.qty)
  if (moved === 0 || to === holding.place) return { put: [], remove: [] }
  const there = shelf.find((h) => h.place === to && h.id !== holding.id && alike(h, holding))
  const all = moved === holding.qty
  if (!there)
    return all
      ? { put: [{ ...holding, place: to }], remove: [] }
      : {
          put: [
            { ...holding, qty: holding.qty - moved },
            { ...bare(holding), id: `h-${fresh()}` as HoldingId, place: to, qty: moved },
          ],
          remove: [],
        }
  const reserved = [...(there.reserved ?? [])]
  if (all)
    for (const { build, qty: promised } of holding.reserved ?? []) {
      const at = reserved.findIndex((r) => r.build === build)
      const held = reserved[at]
      if (held) reserved[at] = { build, qty: held.qty + promised }
      else reserved.push({ build, qty: promised })
    }
  const joined = { ...bare(there), qty: there.qty + moved, ...(reserved.length > 0 ? { reserved } : {}) }
  return all
    ? { put: [joined], remove: [holding.id] }
    : { put: [{ ...holding, qty: holding.qty - moved }, joined], remove: [] }
}

/** Moves whole holdings to a place, as one change; equal kinds are joined. Time: linear in both lists. */
export function moveAll(moved: readonly Holding[], to: PlaceId, shelf: readonly Holding[]): ShelfChange {
  const keyOf = (h: Holding) => JSON.stringify([h.item, h.condition, h.estimate, h.length])
  const there = new Map<string, Holding>()
  for (const h of shelf) if (h.place === to && !there.has(keyOf(h))) there.set(keyOf(h), h)
  const put = new Map<HoldingId, Holding>()
  const remove: HoldingId[] = []
  for (const holding of moved) {
    if (holding.place === to) continue
    const key = keyOf(holding)
    const held = there.get(key)
    const change = move(holding, holding.qty, to, held ? [held] : [], () => '')
    for (const next of change.put) {
      there.set(key, next)
      put.set(next.id, next)
    }
    remove.push(...change.remove)
  }
  return { put: [...put.values()], remove }
}

function bare(holding: Holding): Holding {
  const { reserved: _, ...rest } = holding
  return rest
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
