import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Tally } from './tally.ts'

/** What a copy holds and the tallied design does not use, item by item. */
export function leftovers(set: DonorSet, copy: Copy, result: Tally): { item: ItemKey; qty: number }[] {
  const left = new Map<ItemKey, number>()
  for (const { item, qty } of copyContents(set, copy)) left.set(item, (left.get(item) ?? 0) + qty)
  for (const line of result.lines)
    for (const { source, item, qty } of line.pegs)
      if (source.kind === 'copy' && source.copy === copy.id) left.set(item, (left.get(item) ?? 0) - qty)
  return [...left].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ item, qty }))
}
