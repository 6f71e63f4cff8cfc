import type { ItemKey } from '../catalogue/item.ts'
import type { Inventory } from './inventory.ts'
import { supplyId, supplyOf, type Supply, type Traits } from './supplies.ts'

/** So few are sorted by insertion, without a copy. */
const FEW = 24

/** The rows of an inventory that count, sorted into lots: of most, nobody ever asks for more than that they are there. */
export class SupplyTable {
  readonly #inventory: Inventory
  /** By row: the pieces that count, and the row of the same lot that came before; −1 for its first. */
  readonly #pieces: Int32Array
  readonly #before: Int32Array
  /** By spot: the supplies there. */
  readonly #popular: Int32Array

  constructor(inventory: Inventory) {
    this.#inventory = inventory
    this.#pieces = new Int32Array(inventory.itemOf.length)
    this.#before = new Int32Array(inventory.itemOf.length)
    this.#popular = new Int32Array(inventory.spots.length)
  }

  /** Adds a row to those of a lot, of which `before` came last. */
  add(row: number, qty: number, before: number): void {
    const spot = this.#inventory.placeOf[row] as number
    this.#pieces[row] = qty
    this.#before[row] = before
    this.#popular[spot] = (this.#popular[spot] as number) + 1
  }

  /**
   * The rows of a lot of so many, of which `last` came last, in the order in which they are drawn: few places are
   * visited when those that hold most come first.
   */
  inOrder(last: number, size: number): number[] {
    const rows = new Array<number>(size)
    for (let at = last, i = 0; at >= 0; at = this.#before[at] as number) rows[i++] = at
    if (rows.length > FEW) return rows.sort((p, q) => this.#compare(p, q))
    for (let i = 1; i < rows.length; i++) {
      const row = rows[i] as number
      let at = i
      for (; at > 0 && this.#compare(row, rows[at - 1] as number) < 0; at--) rows[at] = rows[at - 1] as number
      rows[at] = row
    }
    return rows
  }

  #compare(p: number, q: number): number {
    const { placeOf } = this.#inventory
    const [there, here] = [this.#popular[placeOf[q] as number] as number, this.#popular[placeOf[p] as number] as number]
    if (there !== here) return there - here
    const more = (this.#pieces[q] as number) - (this.#pieces[p] as number)
    return more !== 0 ? more : (supplyId(this.of(p, 0)) ?? '') < (supplyId(this.of(q, 0)) ?? '') ? -1 : 1
  }

  of(row: number, rank: number): Supply {
    return supplyOf(this.#inventory, row, this.#pieces[row] as number, rank)
  }
}

/** Supplies of one item that neither the rules nor the order of sources tell apart: they are netted as one. */
export class Lot {
  readonly variant: Variant
  /** Among all lots. */
  readonly number: number
  readonly rank: number
  qty = 0
  readonly #table: SupplyTable
  #last = -1
  #size = 0
  #rows: readonly number[] | undefined
  #looked: Supply[] | undefined

  constructor(variant: Variant, number: number, rank: number, table: SupplyTable) {
    this.variant = variant
    this.number = number
    this.rank = rank
    this.#table = table
  }

  add(row: number, qty: number): void {
    this.#table.add(row, qty, this.#last)
    this.#last = row
    this.#size++
    this.qty += qty
  }

  /** The supply that is drawn after so many others. */
  supplyAt(place: number): Supply | undefined {
    const known = this.#looked?.[place]
    if (known) return known
    if (place >= this.#size) return undefined
    if (this.#size > 1) this.#rows ??= this.#table.inOrder(this.#last, this.#size)
    const supply = this.#table.of(this.#rows?.[place] ?? this.#last, this.rank)
    if (this.#looked) this.#looked[place] = supply
    else if (place === 0) this.#looked = [supply]
    else throw new Error('supplies are looked at one after the other')
    return supply
  }

  /** In the order in which they are drawn. */
  get supplies(): readonly Supply[] {
    for (let place = 0; this.supplyAt(place); place++);
    return this.#looked ?? []
  }
}

/** Supplies of one item that the rules tell apart from its others. */
export type Variant = {
  readonly item: ItemKey
  /** The number under which it is netted. */
  readonly number: number
  /** The place of its item in the stock. */
  readonly index: number
  readonly traits: Traits
  /** By rank, lowest first. */
  lots: readonly Lot[]
}

/** A name for a variant. */
export const variantKey = ({ item, traits: { flags } }: Variant): string => (flags === '' ? item : `${item}\n${flags}`)
