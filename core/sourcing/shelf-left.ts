import type { ItemKey } from '../catalogue/item.ts'
import type { Tally } from '../netting/tally.ts'
import type { Holding } from '../shelf/holding.ts'
import { pieceOf } from './plan-pieces.ts'
import type { SourcingProblem } from './problem.ts'

/**
 * The shelf as it is left when a build takes what it counts on: what its lines are covered with, and all there is of pieces
 * that its purchase may yet decide to use. What another build counts from it is there for both.
 */
export function shelfLeft(
  holdings: readonly Holding[],
  { lines }: Pick<Tally, 'lines'>,
  { items }: Pick<SourcingProblem, 'items'>,
): Holding[] {
  const taken = new Map<string, number>()
  for (const { pegs } of lines)
    for (const { source, qty } of pegs)
      if (source.kind === 'shelf') taken.set(source.holding, (taken.get(source.holding) ?? 0) + qty)
  const contested = new Set<ItemKey>(items.filter((i) => i.owned > 0).map(pieceOf))
  return holdings.flatMap((holding) => {
    const qty = taken.get(holding.id) ?? 0
    if (contested.has(holding.item)) return []
    if (qty === 0) return [holding]
    // Of an estimate nobody knows what would be left.
    return holding.estimate || qty >= holding.qty ? [] : [{ ...holding, qty: holding.qty - qty }]
  })
}
