import { newPlanner } from '../netting/planner.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { explode } from '../design/explode.ts'
import { goodsFor, type PriceOf } from '../offers/goods-cost.ts'
import type { KnownItems } from '../catalogue/availability.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'

/** One colour scheme of a design beside the others. */
export type ColourwayResult = {
  /** `null` as drawn. */
  readonly id: string | null
  readonly name: string
  /** Pieces in another colour than drawn. */
  readonly changed: number
  /** Items that are known nowhere, with their pieces. */
  readonly neverSeen: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly short: number
  readonly shortItems: readonly ItemKey[]
  /** Goods at the cheapest offers for what is short, minor units, and the pieces nobody offers. */
  readonly cost: number
  readonly unavailable: number
}

/** Every colourway of a design, as drawn first: netted each, priced by loose offers. One tally per colourway. */
export function compareColourways(
  snapshot: Snapshot,
  known: Pick<KnownItems, 'standingOf'>,
  priceOf: PriceOf,
  planner = newPlanner(),
): ColourwayResult[] {
  const { design, parts } = snapshot
  const drawn = new Map(explode(design, { parts, colourway: null }).map((r) => [r.id, r.item]))
  const schemes = [{ id: null, name: 'As drawn' }, ...(design.colourways ?? [])]
  return schemes.map(({ id, name }) => {
    const result = tally({ ...snapshot, explosion: { ...snapshot.explosion, colourway: id } }, planner)
    let changed = 0
    const needs = new Map<ItemKey, number>()
    for (const line of result.lines) {
      if (drawn.get(line.id) !== line.item) changed += line.need
      needs.set(line.item, (needs.get(line.item) ?? 0) + line.need)
    }
    return {
      id,
      name,
      changed,
      neverSeen: [...needs]
        .filter(([item]) => known.standingOf(item).kind === 'never seen')
        .map(([item, qty]) => ({ item, qty })),
      short: result.coverage.short,
      shortItems: [...result.shortfall.keys()],
      ...goodsFor(result.shortfall, priceOf),
    }
  })
}
