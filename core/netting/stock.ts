import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { splitsOf } from '../catalogue/split.ts'
import { mouldClass } from '../catalogue/mould.ts'
import type { Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import type { Colour } from '../colours/colour.ts'
import { ColourDistances } from '../colours/colour-distances.ts'
import type { Memory } from '../units/memory.ts'
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
  /** The indexes of its undecorated items by the number of their colour, as far as it goes; negative where there is none. */
  plain: Int32Array
  /** Some of its items have stickers on. */
  stickered: boolean
}

/** An item there is. */
export type StockItem = {
  /** Its index among the items of the stock. */
  readonly index: number
  readonly item: ItemKey
  readonly of: StockPart
  readonly colour: ColourId
  /** The number of its colour. */
  readonly colourIndex: number
  readonly decoration: string
  readonly sticker: boolean
}

/** Smaller pieces of one colour that fill a part's place; all of them are there. One object for all who ask. */
export type SplitKit = {
  readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[]
  /** The number of their colour. */
  readonly colourIndex: number
}

/** An item, if there is any of it. */
export function itemIn({ indexes, items }: Pick<Stock, 'indexes' | 'items'>, item: ItemKey): StockItem | undefined {
  const itemIndex = indexes.get(item)
  return itemIndex === undefined ? undefined : items[itemIndex]
}

/** What stand-ins are looked for in: the items there are, and what is known of parts and colours. */
export type Stock = {
  readonly items: readonly StockItem[]
  /** Of each item its index among them. */
  readonly indexes: ReadonlyMap<ItemKey, number>
  readonly byPart: ReadonlyMap<PartId, StockPart>
  readonly parts: ReadonlyMap<PartId, Part>
  readonly distances: ColourDistances
  /** The indexes of what demands ask for; negative for what there is none of. Those of the last demands are kept. */
  indexesOf(demands: readonly { readonly item: ItemKey }[]): Int32Array
  /** The colours there are, by their numbers. */
  readonly colours: readonly ColourId[]
  colourIndexOf(colour: ColourId): number | undefined
  /** Pieces of each colour, for the most plentiful first. */
  readonly plenty: ReadonlyMap<ColourId, number>
  /** Parts there are of the same mould class as a part, itself left out. */
  matesOf(part: PartId): readonly StockPart[]
  /** What of that which a part may be split into (`splitsOf`) there is, in each colour. */
  splitKitsOf(part: Part): readonly SplitKit[]
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

const NO_COLOURS = new ColourDistances(new Map())

const distancesOf = (colours: ReadonlyMap<ColourId, Colour>): ColourDistances => new ColourDistances(colours)

/** The distances of known colours, those of one map found once. */
export const colourDistances = (colours: ReadonlyMap<ColourId, Colour> | undefined, memory: Memory): ColourDistances =>
  colours ? memory.of(distancesOf, colours) : NO_COLOURS

/** Sorts items by part and colour as they come. */
export class StockBuilder {
  readonly #indexes = new Map<ItemKey, number>()
  readonly #items: StockItem[] = []
  readonly #byPart = new Map<PartId, StockPart>()
  readonly #colourIndexOf = new Map<ColourId, number>()
  readonly #colours: ColourId[] = []
  readonly #plenty: number[] = []

  readonly #parts: ReadonlyMap<PartId, Part>
  readonly #distances: ColourDistances
  readonly #memory: Memory

  constructor(parts: ReadonlyMap<PartId, Part>, colours: ReadonlyMap<ColourId, Colour> | undefined, memory: Memory) {
    this.#parts = parts
    this.#memory = memory
    this.#distances = colourDistances(colours, memory)
  }

  /** The index of an item. */
  at(item: ItemKey): number {
    const known = this.#indexes.get(item)
    if (known !== undefined) return known
    const { part, colour, decoration } = splitItemKey(item)
    const of = this.#part(part)
    const sticker = decoration !== '' && isSticker(decoration)
    const colourIndex = this.#colourIndex(colour)
    const index = this.#items.length
    const one: StockItem = { index, item, of, colour, colourIndex, decoration, sticker }
    this.#indexes.set(item, index)
    this.#items.push(one)
    of.items.push(one)
    if (decoration === '') {
      if (colourIndex >= of.plain.length) of.plain = noIndexes(2 * colourIndex + 8, of.plain)
      of.plain[colourIndex] = index
    }
    if (sticker) of.stickered = true
    return index
  }

  count(itemIndex: number, qty: number): void {
    const { colourIndex } = this.#items[itemIndex] as StockItem
    this.#plenty[colourIndex] = (this.#plenty[colourIndex] ?? 0) + qty
  }

  build(): Stock {
    const byMould = new Map<string, StockPart[]>()
    for (const of of this.#byPart.values()) {
      const mould = of.part && this.#memory.of(mouldClass, of.part)
      if (mould === undefined) continue
      const same = byMould.get(mould)
      if (same) same.push(of)
      else byMould.set(mould, [of])
    }
    const mates = new Map<PartId, readonly StockPart[]>()
    const kits = new Map<PartId, readonly SplitKit[]>()
    return {
      indexes: this.#indexes,
      items: this.#items,
      byPart: this.#byPart,
      parts: this.#parts,
      distances: this.#distances,
      colours: this.#colours,
      colourIndexOf: (colour) => this.#colourIndexOf.get(colour),
      plenty: new Map(this.#colours.map((colour, colourIndex) => [colour, this.#plenty[colourIndex] ?? 0])),
      splitKitsOf: (part) => {
        const known = kits.get(part.id)
        if (known) return known
        const found = this.#splitKits(part)
        kits.set(part.id, found)
        return found
      },
      indexesOf: keptIndexes(this.#indexes),
      matesOf: (id) => {
        const known = mates.get(id)
        if (known) return known
        const own = this.#parts.get(id)
        const mould = own && this.#memory.of(mouldClass, own)
        const found = mould === undefined ? [] : (byMould.get(mould) ?? []).filter((of) => of.id !== id)
        mates.set(id, found)
        return found
      },
    }
  }

  #splitKits(whole: Part): readonly SplitKit[] {
    const found: SplitKit[] = []
    for (const pieces of this.#memory.of(splitsOf, whole)) {
      const parts = pieces.map(({ part }) => this.#byPart.get(part))
      for (const { colourIndex, decoration } of parts[0]?.items ?? []) {
        if (decoration !== '') continue
        const uses: { item: ItemKey; qty: number }[] = []
        for (const [i, { qty }] of pieces.entries()) {
          const one = this.#items[parts[i]?.plain[colourIndex] ?? -1]
          if (one) uses.push({ item: one.item, qty })
        }
        if (uses.length === pieces.length) found.push({ uses, colourIndex })
      }
    }
    return found
  }

  #part(id: PartId): StockPart {
    const known = this.#byPart.get(id)
    if (known) return known
    const part = this.#parts.get(id)
    const byLength = lengthOf(part) !== undefined
    const of = { id, part, byLength, items: [], plain: noIndexes(this.#distances.size), stickered: false }
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

/** Finds the indexes of what demands ask for, and keeps those of the last. */
function keptIndexes(indexes: ReadonlyMap<ItemKey, number>): Stock['indexesOf'] {
  let last: { readonly demands: readonly unknown[]; readonly indexes: Int32Array } | undefined
  return (demands) => {
    if (last?.demands !== demands)
      last = { demands, indexes: Int32Array.from(demands, ({ item }) => indexes.get(item) ?? -1) }
    return last.indexes
  }
}

/** Negative numbers, so many; some that are known come first. */
function noIndexes(size: number, known?: Int32Array): Int32Array {
  const indexes = new Int32Array(size).fill(-1)
  if (known) indexes.set(known)
  return indexes
}

/** The stock of some items, with how many pieces there are of each. */
export function stockOf(
  items: Iterable<readonly [ItemKey, number]>,
  parts: ReadonlyMap<PartId, Part>,
  colours: ReadonlyMap<ColourId, Colour> | undefined,
  memory: Memory,
): Stock {
  const builder = new StockBuilder(parts, colours, memory)
  for (const [item, qty] of items) builder.count(builder.at(item), qty)
  return builder.build()
}
