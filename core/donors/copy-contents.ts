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
  const order = new Map(set.stages.map((s, i) => [s.id, i]))
  const lines = set.lines
    .filter((line) => (stages?.has(line.stage) ?? true) && (copy.spares || !line.spare))
    .sort((p, q) => (order.get(p.stage) ?? 0) - (order.get(q.stage) ?? 0) || Number(q.spare) - Number(p.spare))
  const contents = new Map<string, { stage: string; item: ItemKey; qty: number }>()
  for (const line of lines) {
    const gone = Math.min(missing.get(line.item) ?? 0, line.qty)
    if (gone > 0) missing.set(line.item, (missing.get(line.item) ?? 0) - gone)
    if (line.qty === gone) continue
    const key = `${line.stage}\n${line.item}`
    const held = contents.get(key)
    if (held) held.qty += line.qty - gone
    else contents.set(key, { stage: line.stage, item: line.item, qty: line.qty - gone })
  }
  return [...contents.values()]
}

/** Pieces in a complete copy, spares left out. */
export const piecesOf = (set: DonorSet): number => set.lines.reduce((sum, line) => sum + (line.spare ? 0 : line.qty), 0)
