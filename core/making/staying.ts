import { changeSheet, changesDonor } from '../design/change-sheet.ts'
import type { Design } from '../design/design.ts'
import { conversionOf } from './conversion.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { AtWork } from './at-work.ts'

/** Pieces of each module, by its key, that stay in a donor that stands and are not booked as built yet. */
export function stayingOf(
  { build, works, units, stock }: AtWork,
  design: Design,
  parts: Snapshot['parts'],
): ReadonlyMap<string, number> {
  const staying = new Map<string, number>()
  const standing = stock.copies.filter((c) => c.buildId === build && c.stands !== undefined)
  if (standing.length === 0 || !changesDonor(design)) return staying
  for (const copy of standing) {
    const set = stock.sets.find((s) => s.id === copy.setId)
    if (!set) continue
    for (const { change, kept, keptDone } of conversionOf(copy, set, changeSheet(design, [set], parts), works, units)) {
      const work = works.find((w) => w.module.id === change.module?.id)
      if (work) staying.set(work.key, kept - keptDone)
    }
  }
  return staying
}
