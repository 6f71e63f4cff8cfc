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
    let stage = order.get(line.stage)
    if (stage === undefined) order.set(line.stage, (stage = order.size))
    const at = stage * 2 + (line.spare ? 0 : 1)
    const list = inOrder[at]
    if (list) list.push(line)
    else inOrder[at] = [line]
  }
  const contents: StageContent[] = []
  /** Of each item where it is among the contents, the last time. */
  const places = new Map<ItemKey, number>()
  for (const lines of inOrder)
    for (const { stage, item, qty } of lines ?? []) {
      const gone = missing.size === 0 ? 0 : Math.min(missing.get(item) ?? 0, qty)
      if (gone > 0) missing.set(item, (missing.get(item) ?? 0) - gone)
      if (qty === gone) continue
      const at = places.get(item)
      const known = at === undefined ? undefined : contents[at]
      // Those of a stage follow one another.
      if (at === undefined || known?.stage !== stage)
        places.set(item, contents.push({ stage, item, qty: qty - gone }) - 1)
      else contents[at] = { stage, item, qty: known.qty + qty - gone }
    }
  return contents
}

/** Pieces in a complete copy, spares left out. */
export const piecesOf = (set: DonorSet): number => set.lines.reduce((sum, line) => sum + (line.spare ? 0 : line.qty), 0)
