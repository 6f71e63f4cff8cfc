import type { Visibility } from '../../design/design.ts'
import type { Rules } from '../../build/house-rules.ts'
import type { Asked } from './asked.ts'
import type { PartId, ColourId } from '../../units/ids.ts'
import type { Candidate } from './candidate.ts'
import type { SplitKit } from '../stock.ts'
import { itemKey } from '../../catalogue/item.ts'

/** Whether smaller pieces may fill the place of one: never where the structure counts on it, unless that is allowed. */
export const maySplit = (visibility: Visibility, { splits }: Rules): boolean =>
  splits === 'structural too' ||
  (splits === 'anywhere' && visibility !== 'structural') ||
  (splits === 'where hidden' && visibility === 'hidden')

/**
 * The smaller pieces that a line may need in the place of its own: none, those of its colour, or of any it may have. A line
 * that needs those of its colour finds the piece itself in some colour for certain.
 */
export const SPLITS = { none: 0, own: 1, any: 2 } as const

/** Visits smaller pieces in its place, of its own colour `only` where that is enough. */
export function visitSmaller(asked: Asked, kits: readonly SplitKit[], base: number, only: boolean): void {
  const { scores, colourIndex, visit } = asked
  for (const { uses, colourIndex: other } of kits) {
    const points = other === colourIndex ? 0 : only ? -1 : (scores.points[other] ?? -1)
    if (points >= 0) visit.kit(uses, 'split', base + points)
  }
}

/** Pieces all in one colour, if there are any and it may be. */
export function inOne(
  { stock, scores, colourIndex }: Asked,
  pieces: readonly { readonly part: PartId; readonly qty: number }[],
  colour: ColourId,
): { readonly uses: Candidate['uses']; readonly points: number } | undefined {
  const uses = pieces.map((p) => ({ item: itemKey(p.part, colour), qty: p.qty }))
  const number = stock.colourIndexOf(colour)
  if (number === undefined) return undefined
  const points = number === colourIndex ? 0 : (scores.points[number] ?? -1)
  return points >= 0 && uses.every((u) => stock.indexes.has(u.item)) ? { uses, points } : undefined
}
