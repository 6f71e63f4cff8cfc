import type { ItemKey } from '../catalogue/item.ts'
import type { Tally } from '../netting/tally.ts'
import type { Planner } from '../netting/planner.ts'
import { gatherSupplies, isOnOrder } from '../netting/supplies.ts'
import type { SupplySource } from '../netting/supply-rows.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { CopyId, PlaceId } from '../units/ids.ts'

/** Where pieces are that nothing in the build uses. */
export type StillAt =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly qty: number }
  | { readonly kind: 'place'; readonly place: PlaceId; readonly qty: number }

/** What donors and shelf can still give of an item, in pieces; `coming` of them have yet to arrive. */
export type StillThere = {
  readonly item: ItemKey
  readonly qty: number
  readonly coming: number
  /** The richest first. */
  readonly at: readonly StillAt[]
}

const keyOf = (source: SupplySource): string | undefined =>
  source.kind === 'copy' ? `copy ${source.copy}` : source.kind === 'shelf' ? `place ${source.place}` : undefined

const placeOf = (source: SupplySource, qty: number): StillAt | undefined =>
  source.kind === 'copy'
    ? { kind: 'copy', copy: source.copy, qty }
    : source.kind === 'shelf'
      ? { kind: 'place', place: source.place, qty }
      : undefined

/**
 * What a build's donors and the shelf can still give, by item: all that its rules let it draw on (estimates at their
 * share, pieces promised to other builds left out), less what its tally uses. Items of which nothing is left are left
 * out. Linear in supplies and pegs.
 */
export function stillThere(snapshot: Snapshot, result: Tally, { memory }: Planner): StillThere[] {
  const items = new Map<ItemKey, Map<string, { readonly source: SupplySource; qty: number }>>()
  const count = (item: ItemKey, source: SupplySource, qty: number) => {
    const key = keyOf(source)
    if (key === undefined) return
    let at = items.get(item)
    if (!at) items.set(item, (at = new Map()))
    const known = at.get(key)
    if (known) known.qty += qty
    else at.set(key, { source, qty })
  }
  for (const { item, source, qty } of gatherSupplies(snapshot, memory)) count(item, source, qty)
  for (const line of result.lines) for (const { item, source, qty } of line.pegs) count(item, source, -qty)
  const found: StillThere[] = []
  for (const [item, places] of items) {
    const left = [...places.values()].filter((p) => p.qty > 0).sort((p, q) => q.qty - p.qty)
    const qty = left.reduce((n, p) => n + p.qty, 0)
    if (qty === 0) continue
    const coming = left.reduce((n, p) => n + (isOnOrder(p.source) ? p.qty : 0), 0)
    found.push({ item, qty, coming, at: left.flatMap((p) => placeOf(p.source, p.qty) ?? []) })
  }
  return found
}

/** A piece looked out for, and how many of it are there or still missing. */
export type Sighting = {
  readonly item: ItemKey
  readonly target: number
  /** Free now, and not on their way; at most the target. */
  readonly there: number
  readonly at: readonly StillAt[]
}

/** What of the pieces that are looked out for has come free. */
export function sightings(
  lookout: readonly { readonly item: ItemKey; readonly qty: number }[],
  still: readonly StillThere[],
): Sighting[] {
  const byItem = new Map(still.map((s) => [s.item, s]))
  return lookout.map(({ item, qty }) => {
    const found = byItem.get(item)
    return { item, target: qty, there: Math.min(qty, (found?.qty ?? 0) - (found?.coming ?? 0)), at: found?.at ?? [] }
  })
}

/** Sightings of which more is there than before; a piece that was not looked out for then, or in other numbers, is none. */
export function freed(before: readonly Sighting[], now: readonly Sighting[]): Sighting[] {
  const known = new Map(before.map((s) => [s.item, s]))
  return now.filter(({ item, target, there }) => {
    const then = known.get(item)
    return then?.target === target && there > then.there
  })
}
