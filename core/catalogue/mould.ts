import type { Shape } from './shape.ts'

/** Families whose parts look different though their sizes are the same: no mould of them passes for another. */
const PARTICULAR = /^(figure|sticker|accessory|plant|wheel|gear|door|window|unknown)/

/**
 * Equal for moulds of one shape: family, footprint, height, hand and angle. What else a name says (masonry, a hole, a
 * handle) is let pass. Undefined where size is not all there is to a shape.
 */
export function mouldClass({ family, width, length, height, hand, angle }: Shape): string | undefined {
  if (length === 0 || PARTICULAR.test(family)) return undefined
  return [family, width, length, height, hand, angle ?? ''].join(' ')
}
