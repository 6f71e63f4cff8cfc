import type { ItemKey } from '../catalogue/item.ts'
import { AMOUNTS, type Amount } from '../design/explode.ts'
import type { Snapshot } from './snapshot.ts'
import { tally, type Tally } from './tally.ts'

/** A build's tallies for its low, likely and high quantities. */
export type Range = Readonly<Record<Amount, Tally>>

/** Nets the low, the likely and the high of uncertain quantities; undefined when nothing is uncertain. */
export function rangeOf(snapshot: Snapshot, likely: Tally): Range | undefined {
  const uncertain = snapshot.design.modules.some((m) =>
    m.lines.some((l) => (l.low ?? l.qty) !== l.qty || (l.high ?? l.qty) !== l.qty),
  )
  if (!uncertain) return undefined
  const [low, , high] = AMOUNTS.map((amount) =>
    amount === 'likely' ? likely : tally({ ...snapshot, explosion: { ...snapshot.explosion, amount } }),
  )
  return { low: low ?? likely, likely, high: high ?? likely }
}

/** What the high is short of beyond the likely: what a second order would have to bring. */
export function secondOrder(likely: Tally, high: Tally): Tally['shortLines'] {
  const ordered = new Map(likely.shortLines.map((l) => [l.key, l.qty]))
  return high.shortLines
    .map((line) => ({ ...line, qty: line.qty - (ordered.get(line.key) ?? 0) }))
    .filter((line) => line.qty > 0)
}

/** Ordering the likely now, the high now, or the difference later; landed costs in minor units. */
export type OrderChoice = {
  readonly likely: number
  readonly high: number
  readonly second: number
  /** What the high costs more now, and what waiting costs more if it turns out high. */
  readonly extraNow: number
  readonly extraLater: number
  /** Percent of chance of the high above which ordering it now is the cheaper bet; 100 when it never is. */
  readonly breakEven: number
}

/**
 * Compares the orders. Expected costs of ordering the high now (H) and the likely now with a second order (S) at chance
 * p are H and L + p·S: they meet at p = (H − L) / S, the classical newsvendor's ratio of overage to the sum of both.
 */
export function compareOrders(likely: number, high: number, second: number): OrderChoice {
  const extraNow = high - likely
  const breakEven = second <= 0 ? 100 : Math.min(100, Math.max(0, Math.ceil((extraNow * 100) / second)))
  return { likely, high, second, extraNow, extraLater: likely + second - high, breakEven }
}

/** Short items of short lines. */
export const shortfallOf = (lines: Tally['shortLines']): Map<ItemKey, number> => {
  const sums = new Map<ItemKey, number>()
  for (const { wish, qty } of lines) sums.set(wish.item, (sums.get(wish.item) ?? 0) + qty)
  return sums
}
