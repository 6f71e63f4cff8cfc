import type { ItemKey } from '../catalogue/item.ts'
import type { BuildId } from '../units/ids.ts'
import type { Rules } from './build.ts'
import { stockOf, type Stock, type StockItem } from './stand-ins.ts'
import type { Snapshot } from './snapshot.ts'
import { gatherSupplies, type Lot, type Supply, type Variant } from './supplies.ts'

/** Everything a build may draw from, sorted by item, variant and rank. */
export type StockIndex = { readonly stock: Stock; readonly variants: ReadonlyMap<ItemKey, readonly Variant[]> }

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
  const index = indexOf(gatherSupplies(snapshot), snapshot)
  byBuild.set(build.id, { on, index })
  return index
}

/** What of the rules says which supplies count, and in which order they are drawn. */
const countingRules = ({ sources, condition, wornHidden, estimatePercent, aim }: Rules): string =>
  [sources === 'donors', condition, wornHidden, estimatePercent, aim].join()

function indexOf(supplies: readonly Supply[], { parts, colourById }: Snapshot): StockIndex {
  const variants = new Map<ItemKey, Variant[]>()
  const totals = new Map<ItemKey, number>()
  for (const supply of supplies) {
    const { item, hiddenOnly, donor, length, applied, rank, qty } = supply
    let own = variants.get(item)
    if (!own) variants.set(item, (own = []))
    let variant: Variant | undefined
    for (const v of own)
      if (v.hiddenOnly === hiddenOnly && v.donor === donor && v.length === length && v.applied === applied) {
        variant = v
        break
      }
    if (!variant) {
      const flags = `${hiddenOnly ? 'h' : ''}${donor ? 'd' : ''}${applied ? 'a' : ''}${length ?? ''}`
      variant = {
        plain: flags === '' || flags === 'd',
        index: own.length > 0 ? (own[0]?.index ?? 0) : variants.size - 1,
        item,
        key: flags === '' ? item : `${item}\n${flags}`,
        hiddenOnly,
        donor,
        length,
        ...(applied && { applied }),
        lots: [],
      }
      own.push(variant)
    }
    let lot: Lot | undefined
    for (const l of variant.lots)
      if (l.rank === rank) {
        lot = l
        break
      }
    if (lot) {
      lot.supplies.push(supply)
      lot.qty += qty
    } else variant.lots.push({ id: `${variant.key}\n#${rank}`, variant, rank, qty, supplies: [supply] })
  }
  // Few places are visited when those that hold most come first.
  for (const [item, own] of variants) {
    let total = 0
    for (const { lots } of own)
      for (const { qty, supplies: drawn } of lots) {
        total += qty
        if (drawn.length > 1)
          drawn.sort((p, q) => q.spot.supplies - p.spot.supplies || q.qty - p.qty || (p.id < q.id ? -1 : 1))
      }
    totals.set(item, total)
  }
  const stock = stockOf(totals, parts, colourById)
  for (const [item, own] of variants) (stock.byItem.get(item) as StockItem).variants = own
  return { stock, variants }
}
