import type { ItemKey } from '../catalogue/item.ts'
import { type Pieces, sumItems } from './sum-items.ts'

/** A design counted after it was built, or why it cannot be what was counted. */
export type AsBuilt =
  | { readonly ok: true; readonly pieces: ReadonlyMap<ItemKey, number> }
  /** More left over than the donors held. */
  | {
      readonly ok: false
      readonly excess: readonly { readonly item: ItemKey; readonly held: number; readonly left: number }[]
    }

/**
 * What was built: what the donors held, less what was counted as left over, plus what was added from elsewhere. Leftovers
 * beyond what the donors held are refused item by item: either the count or the donors are not what was said.
 */
export function asBuilt(held: Iterable<Pieces>, leftOver: Iterable<Pieces>, added: Iterable<Pieces>): AsBuilt {
  const pieces = sumItems(held)
  const excess: { item: ItemKey; held: number; left: number }[] = []
  for (const [item, left] of sumItems(leftOver)) {
    const had = pieces.get(item) ?? 0
    if (left > had) excess.push({ item, held: had, left })
    else if (left === had) pieces.delete(item)
    else pieces.set(item, had - left)
  }
  if (excess.length > 0) return { ok: false, excess }
  for (const [item, qty] of sumItems(added)) pieces.set(item, (pieces.get(item) ?? 0) + qty)
  return { ok: true, pieces }
}

/** The other side: what must be left over of the donors when it was the built pieces that were counted. */
export function leftOverOf(held: Iterable<Pieces>, built: Iterable<Pieces>): { left: Pieces[]; added: Pieces[] } {
  const counts = sumItems(built)
  const left: Pieces[] = []
  for (const [item, qty] of sumItems(held)) {
    const used = Math.min(qty, counts.get(item) ?? 0)
    counts.set(item, (counts.get(item) ?? 0) - used)
    if (qty > used) left.push({ item, qty: qty - used })
  }
  return { left, added: [...counts].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ item, qty })) }
}
