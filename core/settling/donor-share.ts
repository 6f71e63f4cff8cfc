import type { CopyId } from '../units/ids.ts'
import { sharesOf } from '../units/share-out.ts'
import type { Posting } from './postings.ts'

/** What of a posting each donor copy cost; none where it is of no copies. Adds up to the posting. */
export function copyAmounts({ of, category, minor }: Posting): [copy: CopyId, minor: number][] {
  if (category !== 'donor copies') return []
  if (of.kind === 'copy') return [[of.copy, minor]]
  if (of.kind !== 'order') return []
  const { copies } = of.order
  const shares = sharesOf(
    minor,
    copies.map((c) => c.price),
  )
  return copies.map((c, i) => [c.id, shares[i] ?? 0])
}

/** Of a copy the pieces that the build uses, and those it held when it was bought. */
export type CopyUse = { readonly label: string; readonly used: number; readonly held: number }

/**
 * Postings that take off what donors cost for pieces the build does not use: a joint cost shared by a physical measure, the
 * pieces (the physical-measure method of cost accounting, as in C. Horngren, Cost Accounting, the chapter on joint products;
 * from memory). To the minor unit, with the shares of pieces used and left over adding up to the price. A copy of which
 * nothing is known stays the build's as a whole. What sellers paid back is shared like what they were paid.
 */
export function sharedDonors(postings: readonly Posting[], uses: ReadonlyMap<CopyId, CopyUse>): Posting[] {
  return postings.flatMap((posting) =>
    copyAmounts(posting).flatMap(([copy, minor]): Posting[] => {
      const use = uses.get(copy)
      if (!use || use.held === 0) return []
      const used = Math.min(use.used, use.held)
      const [, over = 0] = sharesOf(minor, [used, use.held - used])
      if (over === 0) return []
      return [
        {
          ...posting,
          key: `${posting.key} share ${copy}`,
          minor: -over,
          text: `${use.label}: the share of ${use.held - used} of ${use.held} pieces that are left over`,
        },
      ]
    }),
  )
}
