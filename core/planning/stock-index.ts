import type { ItemKey } from '../catalogue/item.ts'
import type { Rules } from './build.ts'
import { inventoryOf, type Inventory } from './inventory.ts'
import { Lot, SupplyTable, type Variant } from './lots.ts'
import type { Snapshot } from './snapshot.ts'
import type { Stock, StockItem } from './stock.ts'
import { eachSupply, type Traits } from './supplies.ts'

/** Everything a build may draw from, sorted by item, variant and rank. */
export type StockIndex = {
  /** All there is, also what does not count. */
  readonly stock: Stock
  /** By their numbers. */
  readonly variants: readonly Variant[]
  readonly lots: readonly Lot[]
  /** By the place of the item in the stock; none for what does not count. */
  readonly variantsAt: readonly (readonly Variant[])[]
  /** The number of the only variant of an item, where it is a plain one; negative else. */
  readonly soleAt: Int32Array
  /** Pieces there are of an item. */
  readonly piecesAt: Int32Array
  /** The place of the item of a variant. */
  readonly placeOf: Int32Array
  variantsOf(item: ItemKey): readonly Variant[]
}

/** Rules are tried and taken back: so many indexes of an inventory are kept. */
const MOST_KEPT = 3
const kept = new WeakMap<Inventory, Map<string, StockIndex>>()

/** The stock a build may draw from; made anew only when something it rests on has changed. */
export function stockIndex(snapshot: Snapshot): StockIndex {
  const inventory = inventoryOf(snapshot)
  const built = snapshot.design.modules.flatMap((m) => m.built ?? [])
  const key = `${countingRules(snapshot.build.rules)} ${built.join()}`
  const known = kept.get(inventory) ?? new Map<string, StockIndex>()
  kept.set(inventory, known)
  const index = known.get(key) ?? indexOf(inventory, snapshot)
  // The one asked for last is the last to go.
  known.delete(key)
  known.set(key, index)
  for (const old of known.keys()) if (known.size > MOST_KEPT) known.delete(old)
  return index
}

/** What of the rules says which supplies count, and in which order they are drawn. */
const countingRules = ({ sources, condition, wornHidden, estimatePercent, aim }: Rules): string =>
  [sources === 'donors', condition, wornHidden, estimatePercent, aim].join()

function indexOf(inventory: Inventory, snapshot: Snapshot): StockIndex {
  const { stock, itemOf } = inventory
  const table = new SupplyTable(inventory)
  const variants: Variant[] = []
  const lots: Lot[] = []
  const variantsAt = new Array<readonly Variant[]>(stock.items.length).fill(NO_VARIANTS)
  const soleAt = new Int32Array(stock.items.length).fill(-1)
  const variantFor = (index: number, traits: Traits): Variant => {
    const own = variantsAt[index] as readonly Variant[]
    for (const variant of own) if (variant.traits === traits) return variant
    const { item } = stock.items[index] as StockItem
    const variant = { item, number: variants.length, index, traits, lots: NO_LOTS }
    variants.push(variant)
    soleAt[index] = own.length === 0 && traits.plain ? variant.number : -1
    variantsAt[index] = own.length === 0 ? [variant] : [...own, variant]
    return variant
  }
  const lotFor = (variant: Variant, rank: number): Lot => {
    for (const lot of variant.lots) if (lot.rank === rank) return lot
    const lot = new Lot(variant, lots.length, rank, table)
    lots.push(lot)
    const at = variant.lots.findIndex((other) => other.rank > rank)
    if (variant.lots.length === 0) variant.lots = [lot]
    else variant.lots = at < 0 ? [...variant.lots, lot] : [...variant.lots.slice(0, at), lot, ...variant.lots.slice(at)]
    return lot
  }
  const piecesAt = new Int32Array(stock.items.length)
  const plenty = new Float64Array(stock.hues.length)
  eachSupply(inventory, snapshot, (row, qty, rank, traits) => {
    const index = itemOf[row] as number
    const { hue } = stock.items[index] as StockItem
    lotFor(variantFor(index, traits), rank).add(row, qty)
    plenty[hue] = (plenty[hue] as number) + qty
    piecesAt[index] = (piecesAt[index] as number) + qty
  })
  return {
    stock: { ...stock, plenty: new Map(stock.hues.map((colour, hue) => [colour, plenty[hue] ?? 0])) },
    variants,
    lots,
    variantsAt,
    soleAt,
    piecesAt,
    placeOf: Int32Array.from(variants, (v) => v.index),
    variantsOf: (item) => {
      const one = stock.byItem.get(item)
      return (one && variantsAt[one.index]) ?? NO_VARIANTS
    },
  }
}

const NO_LOTS: readonly Lot[] = []
const NO_VARIANTS: readonly Variant[] = []
