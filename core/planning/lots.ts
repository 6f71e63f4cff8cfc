import type { ItemKey } from '../catalogue/item.ts'
import type { Holding } from '../shelf/holding.ts'
import { supplyOf, type RawSupply, type Spot, type Supply, type Traits } from './supplies.ts'

/** So few are sorted by insertion, without a copy. */
const FEW = 24

/** Supplies as they come, told apart by numbers: of most, nobody ever asks for more than that they are there. */
export class SupplyTable {
  readonly #holdings: (Holding | undefined)[] = []
  readonly #spots: Spot[] = []
  readonly #pieces: number[] = []
  /** The supply of the same lot that came before; −1 for its first. */
  readonly #before: number[] = []

  /** Adds a supply to those of a lot, of which `before` came last, and gives its number. */
  add({ holding, spot, qty }: RawSupply, before: number): number {
    this.#holdings.push(holding)
    this.#spots.push(spot)
    this.#pieces.push(qty)
    return this.#before.push(before) - 1
  }

  /**
   * The supplies of a lot, of which `last` came last, in the order in which they are drawn: few places are visited when
   * those that hold most come first.
   */
  inOrder(last: number, size: number): number[] {
    const rows = new Array<number>(size)
    for (let at = last, i = 0; at >= 0; at = this.#before[at] ?? -1) rows[i++] = at
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
    return (
      (this.#spots[q]?.supplies ?? 0) - (this.#spots[p]?.supplies ?? 0) ||
      (this.#pieces[q] ?? 0) - (this.#pieces[p] ?? 0) ||
      (this.#idOf(p) < this.#idOf(q) ? -1 : 1)
    )
  }

  of(row: number, { variant: { item, traits }, rank }: Lot): Supply {
    const [spot, qty, holding] = [this.#spots[row], this.#pieces[row], this.#holdings[row]]
    if (!spot || qty === undefined) throw new Error(`there is no supply ${row}`)
    return supplyOf({ item, traits, rank, spot, qty, holding })
  }

  /** Tells apart what the supplies of one lot are. */
  #idOf(row: number): string {
    const at = this.#spots[row]?.at
    return this.#holdings[row]?.id ?? (at?.kind === 'copy' ? `${at.copy}\n${at.stage}` : '')
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

  add(supply: RawSupply): void {
    this.#last = this.#table.add(supply, this.#last)
    this.#size++
    this.qty += supply.qty
  }

  /** The supply that is drawn after so many others. */
  supplyAt(place: number): Supply | undefined {
    const known = this.#looked?.[place]
    if (known) return known
    if (place >= this.#size) return undefined
    if (this.#size > 1) this.#rows ??= this.#table.inOrder(this.#last, this.#size)
    const row = this.#rows?.[place] ?? this.#last
    const supply = this.#table.of(row, this)
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
