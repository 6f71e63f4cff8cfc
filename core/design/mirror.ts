import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { PartId } from '../units/ids.ts'

const HANDS = /\b(left|right)\b(?:[\s-]*hand(?:ed)?\b)?/g

/** The counterpart of every handed part that has exactly one: a left one and a right one of the same name else. */
export function mirrorPairs(parts: Iterable<Part>): Map<PartId, PartId> {
  const byName = new Map<string, { left: PartId[]; right: PartId[] }>()
  for (const { id, name, shape } of parts) {
    if (shape.hand === 'none') continue
    const { family, width, length, height, angle } = shape
    const words = name.toLowerCase().replace(HANDS, '').replace(/\s+/g, ' ').trim().split(' ').sort().join(' ')
    const key = JSON.stringify([family, width, length, height, angle ?? 0, words])
    const pair = byName.get(key) ?? { left: [], right: [] }
    pair[shape.hand].push(id)
    byName.set(key, pair)
  }
  const pairs = new Map<PartId, PartId>()
  for (const { left, right } of byName.values()) {
    const [l, r] = [left[0], right[0]]
    if (left.length !== 1 || right.length !== 1 || l === undefined || r === undefined) continue
    pairs.set(l, r)
    pairs.set(r, l)
  }
  return pairs
}

/** The item's mirror image: handed parts swap, all else stays; mirroring twice gives the item itself. */
export function mirrorItem(item: ItemKey, pairs: ReadonlyMap<PartId, PartId>): ItemKey {
  const { part, colour, decoration } = splitItemKey(item)
  const other = pairs.get(part)
  return other === undefined ? item : itemKey(other, colour, decoration)
}

/** Whether an item is handed and nothing is known that mirrors it. */
export const lacksMirror = (
  item: ItemKey,
  parts: ReadonlyMap<PartId, Part>,
  pairs: ReadonlyMap<PartId, PartId>,
): boolean => {
  const { part } = splitItemKey(item)
  return (parts.get(part)?.shape.hand ?? 'none') !== 'none' && !pairs.has(part)
}

/** An item of which one of two symmetric modules has more than the mirrored other. */
export type Asymmetry = {
  readonly item: ItemKey
  readonly here: number
  readonly mirrored: ItemKey
  readonly there: number
}

/** Where two modules meant to be symmetric are not: counts of the one against the other in the mirror. */
export function compareSymmetry(
  here: ReadonlyMap<ItemKey, number>,
  there: ReadonlyMap<ItemKey, number>,
  pairs: ReadonlyMap<PartId, PartId>,
): Asymmetry[] {
  const found: Asymmetry[] = []
  const seen = new Set<ItemKey>()
  for (const [item, qty] of here) {
    const mirrored = mirrorItem(item, pairs)
    seen.add(mirrored)
    const other = there.get(mirrored) ?? 0
    if (other !== qty) found.push({ item, here: qty, mirrored, there: other })
  }
  for (const [mirrored, qty] of there)
    if (!seen.has(mirrored)) found.push({ item: mirrorItem(mirrored, pairs), here: 0, mirrored, there: qty })
  return found
}
