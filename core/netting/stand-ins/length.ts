import type { Part } from '../../catalogue/part.ts'
import { lengthOf, mayCut } from '../stock.ts'
import type { Asked } from './asked.ts'
import { POINTS } from './points.ts'

/** Visits longer hose or string of the same colour, to be cut to what is needed, where the rules let one cut it. */
export function visitLonger({ rules, stock, visit, part, colour }: Asked, known: Part | undefined, needed: number) {
  if (!mayCut(known, rules.altering)) return
  for (const { id, part: other, items } of stock.byPart.values()) {
    if (id === part || other?.shape.family !== known?.shape.family) continue
    if ((lengthOf(other) ?? 0) <= needed) continue
    for (const it of items) if (it.colour === colour) visit.one(it.index, 'length', POINTS.length)
  }
}
