import type { ItemKey } from '../catalogue/item.ts'

export type Pieces = { readonly item: ItemKey; readonly qty: number }

/** Sums pieces by item, in the order they first occur. */
export function sumItems(pieces: Iterable<Pieces>): Map<ItemKey, number> {
  const sums = new Map<ItemKey, number>()
  for (const { item, qty } of pieces) sums.set(item, (sums.get(item) ?? 0) + qty)
  return sums
}
