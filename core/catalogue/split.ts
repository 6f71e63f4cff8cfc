import { isPlain } from './mould.ts'
import { partFromName, type Part } from './part.ts'
import type { PartId } from '../units/ids.ts'

/** Pieces that fill one piece's place. */
export type Split = readonly { readonly part: PartId; readonly qty: number }[]

/**
 * Ways to fill a rectangular piece's place with plain smaller ones of the same height: two that lie side by side along
 * its length or its width; and a brick's with three plates of its footprint (a brick is three plates high: common
 * practice). Only plain bricks, plates and tiles of whole studs (`isPlain`); none for a piece that is one stud long. The
 * two halves are not joined to each other: what lies above or below must hold them.
 */
export function splitsOf(whole: Pick<Part, 'name' | 'shape'>): readonly Split[] {
  const { family, width, length, height } = whole.shape
  const standard = family === 'brick' ? height === 3 : (family === 'plate' || family === 'tile') && height === 1
  if (!standard || !Number.isInteger(width) || !Number.isInteger(length) || width < 1) return []
  if (!isPlain(whole)) return []
  const found: Split[] = []
  const part = (a: number, b: number, of: string = family) =>
    partFromName(`${of} ${Math.min(a, b)}x${Math.max(a, b)}`).id
  const two = (p: PartId, q: PartId) => {
    found.push(
      p === q
        ? [{ part: p, qty: 2 }]
        : [
            { part: p, qty: 1 },
            { part: q, qty: 1 },
          ],
    )
  }
  for (let a = Math.floor(length / 2); a >= 1; a--) two(part(width, a), part(width, length - a))
  if (width !== length) for (let a = Math.floor(width / 2); a >= 1; a--) two(part(a, length), part(width - a, length))
  if (family === 'brick') found.push([{ part: part(width, length, 'plate'), qty: 3 }])
  return found
}
