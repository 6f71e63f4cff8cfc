import type { ItemKey } from '../catalogue/item.ts'
import type { BuildId } from '../units/ids.ts'
import type { Rules } from './build.ts'
import { Lot, SupplyTable, type Variant } from './lots.ts'
import type { Snapshot } from './snapshot.ts'
import { StockBuilder, type Stock, type StockItem } from './stock.ts'
import { eachSupply, type RawSupply } from './supplies.ts'

/** Everything a build may draw from, sorted by item, variant and rank. */
export type StockIndex = {
  readonly stock: Stock
  /** By their numbers. */
  readonly variants: readonly Variant[]
  readonly lots: readonly Lot[]
  variantsOf(item: ItemKey): readonly Variant[]
}

type Kept = { readonly on: readonly unknown[]; readonly index: StockIndex }
const kept = new WeakMap<Snapshot['holdings'], Map<BuildId, Kept>>()

/** The stock a build may draw from; made anew only when something it rests on has changed. */
export function stockIndex(snapshot: Snapshot): StockIndex {
  const { build, sets, copies, holdings, places, parts, colourById, design } = snapshot
  const built = design.modules.flatMap((m) => m.built ?? [])
  const on = [countingRules(build.rules), sets, places, parts, colourById, built.join(), ...copies]
  const byBuild = kept.get(holdings) ?? new Map<BuildId, Kept>()
  kept.set(holdings, byBuild)
  const before = byBuild.get(build.id)
  if (before?.on.length === on.length && before.on.every((value, i) => value === on[i])) return before.index
  const index = indexOf(snapshot)
  byBuild.set(build.id, { on, index })
  return index
}

/** What of the rules says which supplies count, and in which order they are drawn. */
const countingRules = ({ sources, condition, wornHidden, estimatePercent, aim }: Rules): string =>
  [sources === 'donors', condition, wornHidden, estimatePercent, aim].join()

function indexOf(snapshot: Snapshot): StockIndex {
  const builder = new StockBuilder(snapshot.parts, snapshot.colourById)
  const table = new SupplyTable()
  const variants: Variant[] = []
  const lots: Lot[] = []
  const variantFor = (one: StockItem, { item, traits }: RawSupply): Variant => {
    for (const variant of one.variants) if (variant.traits === traits) return variant
    const variant = { item, number: variants.length, index: one.index, traits, lots: NO_LOTS }
    variants.push(variant)
    one.variants = one.variants.length === 0 ? [variant] : [...one.variants, variant]
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
  eachSupply(snapshot, (raw) => {
    const one = builder.at(raw.item)
    lotFor(variantFor(one, raw), raw.rank).add(raw)
    builder.count(one, raw.qty)
  })
  const stock = builder.build()
  return { stock, variants, lots, variantsOf: (item) => stock.byItem.get(item)?.variants ?? NO_VARIANTS }
}

const NO_LOTS: readonly Lot[] = []
const NO_VARIANTS: readonly Variant[] = []
