import type { ItemKey } from '../catalogue/item.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import { NO_ITEM, type Module } from './design.ts'
import { sumItems, type Pieces } from './sum-items.ts'

/** Lines of a module at most that is made of a surplus: the richest items. */
const MOST_LINES = 2000

/** A module of what a build leaves over, the most plentiful first, to be thinned out and built from; undefined for nothing. */
export function surplusModule(from: string, pieces: Iterable<Pieces>, fresh: () => string): Module | undefined {
  const left = [...sumItems(pieces)]
    .filter(([item, qty]: readonly [ItemKey, number]) => item !== NO_ITEM && qty > 0)
    .sort(([, p], [, q]) => q - p)
    .slice(0, MOST_LINES)
  if (left.length === 0) return undefined
  return {
    id: `m-${fresh()}` as ModuleId,
    name: `Left over of ${from}`.slice(0, 120),
    repeats: 1,
    origin: { kind: 'list', name: `what ${from} leaves over` },
    lines: left.map(([item, qty]) => ({ id: `n-${fresh()}` as LineId, item, qty })),
  }
}
