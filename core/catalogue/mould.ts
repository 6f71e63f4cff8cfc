import { readPartName } from './name-grammar.ts'
import type { Part } from './part.ts'

/** Families whose parts look different though their sizes are the same: no mould of them passes for another. */
const PARTICULAR = /^(figure|sticker|accessory|plant|wheel|gear|door|window|unknown)/

/**
 * Words that tell moulds of one shape apart without changing where a piece fits: surface, bottom, age. Every other word
 * of a name (corner, inverted, curved, studs on a side, a handle) makes it another shape.
 */
const LET_PASS =
  /^(?:with|without|masonry|grooved?|grooves|holes?|hollow|solid|smooth|ribbed|textured|rough|waffle|old|new|early|late|thick|thin|type|style|version|mould|mold|pins?|bottom|underside|tubes?|printed|print|plain|standard|normal|grille|grilled)$/

type Named = Pick<Part, 'name' | 'shape'>

/** What a part's name says beyond family, size, height, angle and hand. */
const wordsOf = (part: Named): readonly string[] => readPartName(part.name).words

/**
 * Equal for moulds of one shape: family, footprint, height, hand, angle and whatever else the name says that changes the
 * shape. Undefined where size is not all there is to a shape.
 */
export function mouldClass(part: Named): string | undefined {
  const { family, width, length, height, hand, angle } = part.shape
  if (length === 0 || PARTICULAR.test(family)) return undefined
  const words = wordsOf(part).filter((w) => !LET_PASS.test(w))
  return [family, width, length, height, hand, angle ?? '', ...words.sort()].join(' ')
}

/** Whether a part is nothing but what its family and size say: no hole, no studs on a side, no corner. */
export const isPlain = (part: Named): boolean => wordsOf(part).length === 0
