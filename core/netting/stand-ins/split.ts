import type { Visibility } from '../../design/design.ts'
import type { Rules } from '../../build/house-rules.ts'
import type { Asked } from './asked.ts'
import type { Split } from '../../catalogue/split.ts'
import type { PartId, ColourId } from '../../units/ids.ts'
import type { Candidate } from './candidate.ts'
import { itemKey } from '../../catalogue/item.ts'

/** Whether smaller pieces may fill the place of one: never where the structure counts on it, unless that is allowed. */
export const maySplit = (visibility: Visibility, { splits }: Rules): boolean =>
  splits === 'structural too' ||
  (splits === 'anywhere' && visibility !== 'structural') ||
  (splits === 'where hidden' && visibility === 'hidden')

/** Visits smaller pieces in its place. */
export function visitSmaller(asked: Asked, splits: readonly Split[], base: number): void {
  const { stock, visit } = asked
  for (const pieces of splits) {
    const [first] = pieces
    for (const one of (first && stock.byPart.get(first.part)?.items) ?? []) {
      const made = one.decoration === '' ? inOne(asked, pieces, one.colour) : undefined
      if (made) visit.kit(made.uses, 'split', base + made.points)
    }
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
