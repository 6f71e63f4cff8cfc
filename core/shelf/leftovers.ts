import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { LotPieces } from './lot.ts'
import { NOT_STATED } from '../units/condition.ts'
import type { PlaceId } from '../units/ids.ts'
import type { Drawn } from './drawn.ts'

/** What a copy holds and the tallied design does not use, item by item. The copy must be as it was when its pieces were counted. */
export function leftovers(set: DonorSet, copy: Copy, result: Drawn): { item: ItemKey; qty: number }[] {
  const left = new Map<ItemKey, number>()
  for (const { item, qty } of copyContents(set, copy)) left.set(item, (left.get(item) ?? 0) + qty)
  for (const line of result.lines)
    for (const { source, item, qty } of line.pegs)
      if (source.kind === 'copy' && source.copy === copy.id) left.set(item, (left.get(item) ?? 0) - qty)
  return [...left].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ item, qty }))
}

/** Whether a copy is there, so that its pieces can be put anywhere. */
export const isThere = ({ state }: Pick<Copy, 'state'>): boolean => state === 'owned' || state === 'gift'

/**
 * A copy's leftovers as pieces for a place, in the copy's condition (not stated where none is noted), and the copy without
 * them: what lies on the shelf is missing in the box. None for a copy that is not there yet or has nothing left over.
 */
export function putAway(
  set: DonorSet,
  copy: Copy,
  result: Drawn,
  place: PlaceId,
): { readonly lots: readonly LotPieces[]; readonly copy: Copy; readonly pieces: number } | undefined {
  const left = isThere(copy) ? leftovers(set, copy, result) : []
  if (left.length === 0) return undefined
  // A box may miss an item in several notes.
  const gone = new Map<ItemKey, number>()
  for (const { item, qty } of [...copy.missing, ...left]) gone.set(item, (gone.get(item) ?? 0) + qty)
  return {
    lots: left.map(({ item, qty }) => ({ place, item, qty, estimate: false, condition: copy.condition ?? NOT_STATED })),
    copy: { ...copy, missing: [...gone].map(([item, qty]) => ({ item, qty })) },
    pieces: left.reduce((n, l) => n + l.qty, 0),
  }
}
