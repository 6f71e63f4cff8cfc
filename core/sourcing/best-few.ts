import type { ItemKey } from '../catalogue/item.ts'
import type { FrontierPoint } from './frontier.ts'
import { piecesChanged } from './repair.ts'

/** A few loose pieces that improve a purchase most; money in minor units. */
export type BestFew = {
  /** Loose pieces more than without them, of which and how many: those that are bought instead of others as well. */
  readonly pieces: number
  readonly from: number
  readonly saves: number
  readonly items: readonly { readonly item: ItemKey; readonly pieces: number }[]
}

/**
 * Of the steps between points of the limit on loose pieces, tighter to looser, the one that saves most for each piece more.
 * Undefined where there is no step, or none that saves anything.
 */
export function bestFew(points: readonly FrontierPoint[]): BestFew | undefined {
  let best: BestFew | undefined
  const sorted = [...points].sort((p, q) => p.limit - q.limit)
  for (const [i, looser] of sorted.entries()) {
    const tighter = sorted[i - 1]
    if (!tighter || tighter.plan.total === null || looser.plan.total === null) continue
    const [pieces, saves] = [looser.limit - tighter.limit, tighter.plan.total - looser.plan.total]
    if (pieces <= 0 || saves <= 0) continue
    if (best && best.saves * pieces >= saves * best.pieces) continue
    const more = new Map<ItemKey, number>()
    for (const { item, pieces: n } of piecesChanged(tighter, looser)) more.set(item, (more.get(item) ?? 0) + n)
    const items = [...more].flatMap(([item, n]) => (n > 0 ? [{ item, pieces: n }] : []))
    best = { pieces, saves, from: tighter.limit, items: items.sort((p, q) => q.pieces - p.pieces) }
  }
  return best
}
