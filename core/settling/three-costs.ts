import type { ItemKey } from '../catalogue/item.ts'
import type { LoosePrices } from '../offers/loose-prices.ts'
import { isIncome } from './entry.ts'
import { costOf, type Posting } from './postings.ts'
import type { ModuleUse } from './used.ts'

/** Pieces of the user's own shelf, and what they would cost at the median of the offers known, goods alone. */
export type ShelfWorth = { readonly pieces: number; readonly minor: number; readonly unpriced: number }

/** What a build takes of the shelf beyond what its own orders brought. */
export function shelfWorth(
  uses: readonly ModuleUse[],
  ordered: ReadonlyMap<ItemKey, number>,
  prices: LoosePrices,
): ShelfWorth {
  const taken = new Map<ItemKey, number>()
  for (const { others } of uses) for (const [item, qty] of others) taken.set(item, (taken.get(item) ?? 0) + qty)
  let [pieces, minor, unpriced] = [0, 0, 0]
  for (const [item, qty] of taken) {
    const own = Math.max(0, qty - (ordered.get(item) ?? 0))
    const price = prices.get(item)
    pieces += own
    if (price) minor += own * price.median
    else unpriced += own
  }
  return { pieces, minor, unpriced }
}

/** The same build at completion for three people; minor units. */
export type ThreeCosts = {
  /** With gifts and what was owned before at what was paid for it, and what came in taken off. */
  readonly mine: number
  /** For who owns the donors: no donor copies, and no shelf either; nothing resold. */
  readonly owner: number
  /** For who has nothing: the donors too, at what they cost today. */
  readonly nothing: number
  readonly shelf: ShelfWorth
  /** Donor copies whose price nobody knows: in no sum. */
  readonly unknownDonors: number
}

/** Three costs kept apart. `rest` is what is still to be bought, `restCopies` what of it are donor copies. */
export function threeCosts(
  counted: readonly Posting[],
  { rest, restCopies }: { readonly rest: number; readonly restCopies: number },
  shelf: ShelfWorth,
  donors: { readonly cost: number; readonly unknown: number },
): ThreeCosts {
  const mine = counted.reduce((sum, p) => sum + costOf(p), rest)
  const without = counted.reduce(
    (sum, p) => sum + (p.category === 'donor copies' || isIncome(p.category) ? 0 : costOf(p)),
    rest - restCopies,
  )
  const owner = without + shelf.minor
  return { mine, owner, nothing: owner + restCopies + donors.cost, shelf, unknownDonors: donors.unknown }
}
