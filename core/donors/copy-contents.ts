import type { ItemKey } from '../catalogue/item.ts'
import type { Copy, DonorSet } from './donor-set.ts'

export type StageContent = { readonly stage: string; readonly item: ItemKey; readonly qty: number }

/**
 * What one copy holds, stage by stage: the chosen stages, spares in or out, less its missing pieces (taken from the
 * stages in order, spares first). Never negative; items with nothing left are absent.
 */
export function copyContents(set: DonorSet, copy: Pick<Copy, 'stages' | 'spares' | 'missing'>): StageContent[] {
  const stages = copy.stages === 'all' ? null : new Set(copy.stages)
  const missing = new Map<ItemKey, number>()
  for (const { item, qty } of copy.missing) missing.set(item, (missing.get(item) ?? 0) + qty)
  // Stage by stage, the spares of each first.
  const order = new Map(set.stages.map((s, i) => [s.id, i]))
  const inOrder: DonorSet['lines'][number][][] = []
  for (const line of set.lines) {
    if (!(stages?.has(line.stage) ?? true) || (line.spare && !copy.spares)) continue
    const at = (order.get(line.stage) ?? 0) * 2 + (line.spare ? 0 : 1)
    const list = inOrder[at]
    if (list) list.push(line)
    else inOrder[at] = [line]
  }
  const contents: StageContent[] = []
  /** By stage, of each item where it is among the contents. */
  const places = new Map<string, Map<ItemKey, number>>()
  for (const lines of inOrder)
    for (const { stage, item, qty } of lines ?? []) {
      const gone = missing.size === 0 ? 0 : Math.min(missing.get(item) ?? 0, qty)
      if (gone > 0) missing.set(item, (missing.get(item) ?? 0) - gone)
      if (qty === gone) continue
      let own = places.get(stage)
      if (!own) places.set(stage, (own = new Map()))
      const at = own.get(item)
      if (at === undefined) own.set(item, contents.push({ stage, item, qty: qty - gone }) - 1)
      else contents[at] = { stage, item, qty: (contents[at]?.qty ?? 0) + qty - gone }
    }
  return contents
}

/** Pieces in a complete copy, spares left out. */
export const piecesOf = (set: DonorSet): number => set.lines.reduce((sum, line) => sum + (line.spare ? 0 : line.qty), 0)
