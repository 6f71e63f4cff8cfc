import type { StockPart } from '../stock.ts'
import type { Asked } from './asked.ts'
import { POINTS } from './points.ts'

/** Visits stickered pieces of a plain part's own colour, where the rules let their stickers go or nobody sees them. */
export function visitStickered({ demand, rules, visit, colour }: Omit<Asked, 'scores'>, own: StockPart): void {
  const hidden = demand.visibility === 'hidden'
  if (!own.stickered || !(hidden || rules.stickers === 'left off' || rules.stickers === 'reused')) return
  for (const other of own.items)
    if (other.sticker && other.colour === colour) visit.one(other.index, 'peel', hidden ? POINTS.peel : POINTS.peel + 1)
}
