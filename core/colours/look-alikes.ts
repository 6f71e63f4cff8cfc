import type { ColourId } from '../units/ids.ts'
import type { Colour } from './colour.ts'
import { ciede2000, hexToLab } from './distance.ts'

/**
 * The known colours that are nearest to one, of its finish first, by CIEDE2000; itself and guessed values left out. At most
 * `most` of them.
 */
export function nearestColours(
  colour: Pick<Colour, 'id' | 'hex' | 'finish'>,
  known: readonly Colour[],
  most: number,
): { readonly id: ColourId; readonly distance: number }[] {
  const lab = hexToLab(colour.hex)
  return known
    .filter((c) => c.id !== colour.id && c.guessed !== true)
    .map((c) => ({ id: c.id, distance: ciede2000(lab, hexToLab(c.hex)), other: c.finish !== colour.finish }))
    .sort((p, q) => Number(p.other) - Number(q.other) || p.distance - q.distance)
    .slice(0, most)
    .map(({ id, distance }) => ({ id, distance }))
}
