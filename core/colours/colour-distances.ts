import type { ColourId } from '../units/ids.ts'
import type { Colour } from './colour.ts'
import { ciede2000, hexToLab, type Lab } from './distance.ts'

/** How far apart colours are; each distance is worked out when first asked for. */
export class ColourDistances {
  readonly #colours: ReadonlyMap<ColourId, Colour>
  readonly #labs = new Map<ColourId, Lab>()
  readonly #known = new Map<ColourId, Map<ColourId, number | undefined>>()

  constructor(colours: ReadonlyMap<ColourId, Colour>) {
    this.#colours = colours
  }

  /** The colours that are known. */
  get ids(): Iterable<ColourId> {
    return this.#colours.keys()
  }

  get size(): number {
    return this.#colours.size
  }

  /** CIEDE2000; undefined when one is unknown, its value a guess, or their finishes differ. */
  apart(from: ColourId, to: ColourId): number | undefined {
    let row = this.#known.get(from)
    if (!row) this.#known.set(from, (row = new Map()))
    if (row.has(to)) return row.get(to)
    const distance = this.#measure(from, to)
    row.set(to, distance)
    return distance
  }

  #measure(from: ColourId, to: ColourId): number | undefined {
    const [a, b] = [this.#colours.get(from), this.#colours.get(to)]
    return a && b && !a.guessed && !b.guessed && a.finish === b.finish
      ? ciede2000(this.#labOf(a), this.#labOf(b))
      : undefined
  }

  #labOf({ id, hex }: Colour): Lab {
    const known = this.#labs.get(id)
    if (known) return known
    const lab = hexToLab(hex)
    this.#labs.set(id, lab)
    return lab
  }
}
