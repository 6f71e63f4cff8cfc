import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { mouldClass } from '../catalogue/mould.ts'
import type { Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import type { Colour } from '../colours/colour.ts'
import { hexToLab, type Lab } from '../colours/distance.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { studsToMm } from '../units/length.ts'
import type { Rules } from '../build/house-rules.ts'

/** A part there is, in some colours. */
export type StockPart = {
  readonly id: PartId
  /** Undefined when the catalogue does not know it. */
  readonly part: Part | undefined
  /** It comes by the length. */
  readonly byLength: boolean
  readonly items: StockItem[]
  /** The places of its undecorated items by the number of their colour, as far as it goes; negative where there is none. */
  plain: Int32Array
  /** Some of its items have stickers on. */
  stickered: boolean
}

/** An item there is. */
export type StockItem = {
  /** Its place among the items of the stock. */
  readonly index: number
  readonly item: ItemKey
  readonly of: StockPart
  readonly colour: ColourId
  /** The number of its colour. */
  readonly colourIndex: number
  readonly decoration: string
  readonly sticker: boolean
}

/** An item, if there is any of it. */
export function itemIn(
  { indexes: places, items }: Pick<Stock, 'indexes' | 'items'>,
  item: ItemKey,
): StockItem | undefined {
  const place = places.get(item)
  return place === undefined ? undefined : items[place]
}

export type Labs = ReadonlyMap<ColourId, Lab & { readonly finish: string }>

/** What stand-ins are looked for in: the items there are, and what is known of parts and colours. */
export type Stock = {
  readonly items: readonly StockItem[]
  /** Of each item its place among them. */
  readonly indexes: ReadonlyMap<ItemKey, number>
  readonly byPart: ReadonlyMap<PartId, StockPart>
  readonly parts: ReadonlyMap<PartId, Part>
  readonly labs: Labs
  /** The colours there are, by their numbers. */
  readonly colours: readonly ColourId[]
  colourIndexOf(colour: ColourId): number | undefined
  /** Pieces of each colour, for the most plentiful first. */
  readonly plenty: ReadonlyMap<ColourId, number>
  /** Parts there are of the same mould class as a part, itself left out. */
  matesOf(part: PartId): readonly StockPart[]
}

/** Families that come by the length; stiff ones are cut only where any altering is allowed. */
const SOFT: ReadonlySet<Family> = new Set(['hose', 'string'])
const STIFF: ReadonlySet<Family> = new Set(['bar', 'rod'])

/** A part's length in mm by its name, for parts that come by the length. */
export const lengthOf = (part: Part | undefined): number | undefined =>
  part && part.shape.length > 0 && (SOFT.has(part.shape.family) || STIFF.has(part.shape.family))
    ? studsToMm(part.shape.length)
    : undefined

/** Whether the rules let a part be cut to length. */
export const mayCut = (part: Part | undefined, altering: Rules['altering']): boolean =>
  part !== undefined &&
  altering !== 'never' &&
  (SOFT.has(part.shape.family) || (altering === 'allowed' && STIFF.has(part.shape.family)))

const labsOf = new WeakMap<ReadonlyMap<ColourId, Colour>, Labs>()
const NO_LABS: Labs = new Map()

export function labsFrom(colours: ReadonlyMap<ColourId, Colour> | undefined): Labs {
  if (!colours) return NO_LABS
  const known = labsOf.get(colours)
  if (known) return known
  const labs = new Map([...colours].map(([id, c]) => [id, { ...hexToLab(c.hex), finish: c.finish }]))
  labsOf.set(colours, labs)
  return labs
}

/** Sorts items by part and colour as they come. */
export class StockBuilder {
  readonly #places = new Map<ItemKey, number>()
  readonly #items: StockItem[] = []
  readonly #byPart = new Map<PartId, StockPart>()
  readonly #colourIndexOf = new Map<ColourId, number>()
  readonly #colours: ColourId[] = []
  readonly #plenty: number[] = []

  readonly #parts: ReadonlyMap<PartId, Part>
  readonly #labs: Labs

  constructor(parts: ReadonlyMap<PartId, Part>, colours: ReadonlyMap<ColourId, Colour> | undefined) {
    this.#parts = parts
    this.#labs = labsFrom(colours)
  }

  /** The place of an item. */
  at(item: ItemKey): number {
    const known = this.#places.get(item)
    if (known !== undefined) return known
    const { part, colour, decoration } = splitItemKey(item)
    const of = this.#part(part)
    const sticker = decoration !== '' && isSticker(decoration)
    const colourIndex = this.#colourIndex(colour)
    const index = this.#items.length
    const one: StockItem = { index, item, of, colour, colourIndex, decoration, sticker }
    this.#places.set(item, index)
    this.#items.push(one)
    of.items.push(one)
    if (decoration === '') {
      if (colourIndex >= of.plain.length) of.plain = noPlaces(2 * colourIndex + 8, of.plain)
      of.plain[colourIndex] = index
    }
    if (sticker) of.stickered = true
    return index
  }

  count(place: number, qty: number): void {
    const { colourIndex } = this.#items[place] as StockItem
    this.#plenty[colourIndex] = (this.#plenty[colourIndex] ?? 0) + qty
  }

  build(): Stock {
    const byMould = new Map<string, StockPart[]>()
    for (const of of this.#byPart.values()) {
      const mould = of.part && mouldClass(of.part)
      if (mould === undefined) continue
      const same = byMould.get(mould)
      if (same) same.push(of)
      else byMould.set(mould, [of])
    }
    const mates = new Map<PartId, readonly StockPart[]>()
    return {
      indexes: this.#places,
      items: this.#items,
      byPart: this.#byPart,
      parts: this.#parts,
      labs: this.#labs,
      colours: this.#colours,
      colourIndexOf: (colour) => this.#colourIndexOf.get(colour),
      plenty: new Map(this.#colours.map((colour, colourIndex) => [colour, this.#plenty[colourIndex] ?? 0])),
      matesOf: (id) => {
        const known = mates.get(id)
        if (known) return known
        const own = this.#parts.get(id)
        const mould = own && mouldClass(own)
        const found = mould === undefined ? [] : (byMould.get(mould) ?? []).filter((of) => of.id !== id)
        mates.set(id, found)
        return found
      },
    }
  }

  #part(id: PartId): StockPart {
    const known = this.#byPart.get(id)
    if (known) return known
    const part = this.#parts.get(id)
    const byLength = lengthOf(part) !== undefined
    const of = { id, part, byLength, items: [], plain: noPlaces(this.#labs.size), stickered: false }
    this.#byPart.set(id, of)
    return of
  }

  #colourIndex(colour: ColourId): number {
    const known = this.#colourIndexOf.get(colour)
    if (known !== undefined) return known
    this.#colourIndexOf.set(colour, this.#colours.length)
    return this.#colours.push(colour) - 1
  }
}

/** Negative numbers, so many; some that are known come first. */
function noPlaces(size: number, known?: Int32Array): Int32Array {
  const places = new Int32Array(size).fill(-1)
  if (known) places.set(known)
  return places
}

/** The stock of some items, with how many pieces there are of each. */
export function stockOf(
  items: Iterable<readonly [ItemKey, number]>,
  parts: ReadonlyMap<PartId, Part>,
  colours: ReadonlyMap<ColourId, Colour> | undefined,
): Stock {
  const builder = new StockBuilder(parts, colours)
  for (const [item, qty] of items) builder.count(builder.at(item), qty)
  return builder.build()
}
