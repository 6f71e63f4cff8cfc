import type { Part } from './part.ts'
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

/** Parts by their mould class; those in no class are left out. */
export function byMouldClass(parts: Iterable<Part>): Map<string, Part[]> {
  const classes = new Map<string, Part[]>()
  for (const part of parts) {
    const key = mouldClass(part.shape)
    if (key === undefined) continue
    const list = classes.get(key)
    if (list) list.push(part)
    else classes.set(key, [part])
  }
  return classes
}
