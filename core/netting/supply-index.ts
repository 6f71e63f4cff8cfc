import type { ItemKey } from '../catalogue/item.ts'
import type { ColourId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import { inventoryOf, type Inventory } from './inventory.ts'
import { purpose, type Memory } from '../units/memory.ts'
import type { Snapshot } from './snapshot.ts'
import type { Stock, StockItem } from './stock.ts'
import { eachSupply, type Traits } from './supplies.ts'
import { supplyAt, type Supply } from './supply-rows.ts'

/** Rules are tried and taken back: so many indexes of an inventory are kept. */
const MOST_KEPT = 3
const INDEXES = purpose<Inventory, Map<string, SupplyIndex>>('supply indexes, by inventory')

/** The stock a build may draw from; made anew only when something it rests on has changed. */
export function supplyIndex(snapshot: Snapshot, memory: Memory): SupplyIndex {
  const inventory = inventoryOf(snapshot, memory)
  const kept = memory.for(INDEXES)
  const built = snapshot.design.modules.flatMap((m) => m.built ?? [])
  const key = `${countingRules(snapshot.build.rules)} ${built.join()}`
  const known = kept.get(inventory) ?? new Map<string, SupplyIndex>()
  kept.set(inventory, known)
  const index = known.get(key) ?? new SupplyIndex(inventory, snapshot)
  // The one asked for last is the last to go.
  known.delete(key)
  known.set(key, index)
  for (const old of known.keys()) if (known.size > MOST_KEPT) known.delete(old)
  return index
}

/** What of the rules says which supplies count, and in which order they are drawn. */
const countingRules = ({ sources, condition, unstated, wornHidden, estimatePercent, aim }: Rules): string =>
  [sources === 'donors', condition, unstated, wornHidden, estimatePercent, aim].join()

/** So few are sorted by insertion, without a copy. */
const FEW = 24

/**
 * Everything a build may draw from: rows of its inventory that count, sorted by item, by variant (supplies of one item
 * that the rules tell apart) and by lot (supplies of one variant of the same rank: they are netted as one). All are
 * numbered in that order; those of a kind lie side by side, in arrays, as there may be very many.
 */
export class SupplyIndex {
  /** All there is, also what does not count. */
  readonly stock: Stock
  readonly variants: number
  readonly lots: number
  /** Of each item, by its index in the stock: its first variant; that of the next follows its last. */
  readonly variantsFrom: Int32Array
  /** The only variant of an item, where it is a plain one and does not come by the length; negative else. */
  readonly soleAt: Int32Array
  /** Pieces there are of an item. */
  readonly piecesAt: Float64Array
  /** Of each variant the index of its item, and its first lot, lowest rank first. */
  readonly indexOf: Int32Array
  readonly lotsFrom: Int32Array
  /** Of each lot its rank and its pieces. */
  readonly rankOf: Int32Array
  readonly piecesOf: Float64Array
  readonly #inventory: Inventory
  readonly #traits: readonly Traits[]
  readonly #traitsOf: Int32Array
  /** The rows that count, by lot; of each lot its first. To be had in the order in which they are drawn (`inOrder`). */
  readonly rows: Int32Array
  readonly rowsFrom: Int32Array
  /** Of each lot, whether its rows are in the order in which they are drawn. */
  readonly #sorted: Uint8Array
  /** Of each row the pieces that count; of each source the supplies there. */
  readonly #rowPieces: Int32Array
  readonly #popular: Int32Array

  constructor(inventory: Inventory, snapshot: Snapshot) {
    const { stock, itemOf, sourceOf: sourceOf, sources } = inventory
    const size = itemOf.length
    const items = stock.items.length
    const rowPieces = new Int32Array(size)
    const kinds = new Int32Array(size)
    const popular = new Int32Array(sources.length)
    const rowsFrom = new Int32Array(items + 1)
    const piecesAt = new Float64Array(items)
    const traitsList: Traits[] = []
    let [last, number]: [Traits | undefined, number] = [undefined, -1]
    eachSupply(inventory, snapshot, (row, qty, rank, traits) => {
      if (traits !== last) {
        last = traits
        number = traitsList.indexOf(traits)
        if (number < 0) number = traitsList.push(traits) - 1
      }
      const itemIndex = itemOf[row] as number
      const source = sourceOf[row] as number
      rowPieces[row] = qty
      // What tells the lots of an item apart: traits, then rank.
      kinds[row] = number * RANKS + rank
      popular[source] = (popular[source] as number) + 1
      rowsFrom[itemIndex + 1] = (rowsFrom[itemIndex + 1] as number) + 1
      piecesAt[itemIndex] = (piecesAt[itemIndex] as number) + qty
    })
    for (let itemIndex = 0; itemIndex < items; itemIndex++) {
      rowsFrom[itemIndex + 1] = (rowsFrom[itemIndex + 1] as number) + (rowsFrom[itemIndex] as number)
    }
    const count = rowsFrom[items] as number
    const rows = new Int32Array(count)
    const next = rowsFrom.slice()
    for (let row = 0; row < size; row++) {
      if (rowPieces[row] === 0) continue
      const itemIndex = itemOf[row] as number
      const at = next[itemIndex] as number
      next[itemIndex] = at + 1
      rows[at] = row
    }
    const variantsFrom = new Int32Array(items + 1)
    const soleAt = new Int32Array(items).fill(-1)
    const itemIndexOf = new Int32Array(count)
    const traitsOf = new Int32Array(count)
    const lotsFrom = new Int32Array(count + 1)
    const lotRows = new Int32Array(count + 1)
    const rankOf = new Int32Array(count)
    const piecesOf = new Float64Array(count)
    let [variants, lots] = [0, 0]
    for (let itemIndex = 0; itemIndex < items; itemIndex++) {
      const [from, to] = [rowsFrom[itemIndex] as number, rowsFrom[itemIndex + 1] as number]
      if (to - from > FEW) rows.subarray(from, to).sort((p, q) => (kinds[p] as number) - (kinds[q] as number) || p - q)
      else if (to - from > 1) {
        for (let at = from; at < to; at++) keys[at - from] = kinds[rows[at] as number] as number
        sortByKeys(rows, from, to)
      }
      const first = variants
      let [kind, traits] = [-1, -1]
      for (let at = from; at < to; at++) {
        const row = rows[at] as number
        if (kinds[row] !== kind) {
          kind = kinds[row] as number
          const own = Math.floor(kind / RANKS)
          if (own !== traits) {
            traits = own
            itemIndexOf[variants] = itemIndex
            traitsOf[variants] = traits
            lotsFrom[variants++] = lots
          }
          rankOf[lots] = kind % RANKS
          lotRows[lots++] = at
        }
        piecesOf[lots - 1] = (piecesOf[lots - 1] as number) + (rowPieces[row] as number)
      }
      variantsFrom[itemIndex + 1] = variants
      if (variants === first + 1 && traitsList[traits]?.plain) soleAt[itemIndex] = first
    }
    lotsFrom[variants] = lots
    lotRows[lots] = count
    for (const { byLength, items: own } of stock.byPart.values())
      if (byLength) for (const { index } of own) soleAt[index] = -1
    let plenty: Stock['plenty'] | undefined
    this.stock = {
      ...stock,
      get plenty() {
        return (plenty ??= plentyOf(stock, piecesAt))
      },
    }
    this.variants = variants
    this.lots = lots
    this.variantsFrom = variantsFrom
    this.soleAt = soleAt
    this.piecesAt = piecesAt
    this.indexOf = itemIndexOf
    this.lotsFrom = lotsFrom.subarray(0, variants + 1)
    this.rankOf = rankOf.subarray(0, lots)
    this.piecesOf = piecesOf.subarray(0, lots)
    this.#inventory = inventory
    this.#traits = traitsList
    this.#traitsOf = traitsOf
    this.rows = rows
    this.rowsFrom = lotRows
    this.#sorted = new Uint8Array(lots)
    this.#rowPieces = rowPieces
    this.#popular = popular
  }

  /** The variants of an item by their numbers; none for what does not count. */
  variantsOf(item: ItemKey): number[] {
    const itemIndex = this.stock.indexes.get(item)
    if (itemIndex === undefined) return []
    const [from, to] = [this.variantsFrom[itemIndex] as number, this.variantsFrom[itemIndex + 1] as number]
    return Array.from({ length: to - from }, (_, i) => from + i)
  }

  itemOf(variant: number): ItemKey {
    return (this.stock.items[this.indexOf[variant] as number] as StockItem).item
  }

  traitsOf(variant: number): Traits {
    return this.#traits[this.#traitsOf[variant] as number] as Traits
  }

  /** A name for a variant. */
  nameOf(variant: number): string {
    const { flags } = this.traitsOf(variant)
    return flags === '' ? this.itemOf(variant) : `${this.itemOf(variant)}\n${flags}`
  }

  /** Puts the rows of a lot in the order in which they are drawn: few places are visited when those with most come first. */
  inOrder(lot: number): void {
    if (this.#sorted[lot] === 1) return
    this.#sorted[lot] = 1
    const [from, to] = [this.rowsFrom[lot] as number, this.rowsFrom[lot + 1] as number]
    if (to - from < 2) return
    const { rows } = this
    if (to - from > FEW) this.#sortMany(rows.subarray(from, to))
    else {
      for (let at = from; at < to; at++) keys[at - from] = this.#turn(rows[at] as number)
      sortByKeys(rows, from, to)
    }
  }

  /** What is known of the supply of a row: `FACT`s. */
  factsOf(row: number): number {
    return this.#inventory.facts[row] as number
  }

  /** The pieces of a row that count. */
  piecesIn(row: number): number {
    return this.#rowPieces[row] as number
  }

  supplyOf(row: number): Supply {
    return supplyAt(this.#inventory.rows, row, this.#rowPieces[row] as number)
  }

  /** The rows of a variant, in the order in which they are drawn. */
  rowsOf(variant: number): number[] {
    const rows: number[] = []
    for (let lot = this.lotsFrom[variant] as number; lot < (this.lotsFrom[variant + 1] as number); lot++) {
      this.inOrder(lot)
      for (let at = this.rowsFrom[lot] as number; at < (this.rowsFrom[lot + 1] as number); at++)
        rows.push(this.rows[at] as number)
    }
    return rows
  }

  #sortMany(rows: Int32Array): void {
    rows.sort((p, q) => this.#turn(p) - this.#turn(q) || p - q)
  }

  /** Less for rows that are drawn earlier: much is in their place, then they have many pieces. */
  #turn(row: number): number {
    const here = this.#popular[this.#inventory.sourceOf[row] as number] as number
    return -here * MOST_PIECES - (this.#rowPieces[row] as number)
  }
}

/** Pieces of each colour. */
function plentyOf({ colours, items }: Stock, pieces: Float64Array): ReadonlyMap<ColourId, number> {
  const sums = new Float64Array(colours.length)
  for (const { index, colourIndex } of items)
    sums[colourIndex] = (sums[colourIndex] as number) + (pieces[index] as number)
  return new Map(colours.map((colour, colourIndex) => [colour, sums[colourIndex] as number]))
}

/** More pieces than any row has. */
const MOST_PIECES = 2 ** 31
/** More than any rank of a source. */
const RANKS = 1000

/** Of a few rows what they are sorted by. */
const keys = new Float64Array(FEW)

/** Sorts a few rows by their keys, lowest first; equal ones stay in their order. */
function sortByKeys(rows: Int32Array, from: number, to: number): void {
  for (let i = from + 1; i < to; i++) {
    const row = rows[i] as number
    const key = keys[i - from] as number
    let at = i
    for (; at > from && key < (keys[at - 1 - from] as number); at--) {
      rows[at] = rows[at - 1] as number
      keys[at - from] = keys[at - 1 - from] as number
    }
    rows[at] = row
    keys[at - from] = key
  }
}
