import type { ItemKey } from '../catalogue/item.ts'
import type { Pieces } from '../design/sum-items.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Tally } from '../netting/tally.ts'
import type { CopyId, PlaceId } from '../units/ids.ts'
import type { Unsorted } from './sort-plan.ts'
import { pathKey } from './unit.ts'

/** What is poured out together: copies, and places with what stands in them. */
export type Poured = {
  readonly copies: readonly CopyId[]
  readonly places: readonly PlaceId[]
  /** What lies on the table of copies that stand: taken off and not built in yet. */
  readonly heap: readonly Pieces[]
}

/**
 * The pieces that lie in one heap when copies and places are poured out, and what of them each module takes by the count:
 * copies of one set are pooled, and so is everything else. Stages that still stand built are left out. Linear.
 */
export function unsortedOf(
  { copies, sets, holdings, places }: Snapshot,
  { lines }: Pick<Tally, 'lines'>,
  poured: Poured,
): Unsorted[] {
  const heap = new Map<ItemKey, { qty: number; uses: Map<string, number> }>()
  const of = (item: ItemKey) => {
    const known = heap.get(item) ?? { qty: 0, uses: new Map<string, number>() }
    heap.set(item, known)
    return known
  }
  const chosen = new Set(poured.copies)
  const setOf = new Map(sets.map((s) => [s.id, s]))
  for (const copy of copies) {
    const set = setOf.get(copy.setId)
    if (!set || !chosen.has(copy.id)) continue
    const stands = new Set(copy.stands?.map((s) => s.stage))
    for (const { stage, item, qty } of copyContents(set, copy)) if (!stands.has(stage)) of(item).qty += qty
  }
  for (const { item, qty } of poured.heap) of(item).qty += qty
  const inside = placesIn(poured.places, places)
  for (const { place, item, qty } of holdings) if (inside.has(place)) of(item).qty += qty
  for (const { path, pegs } of lines)
    for (const { source, item, qty } of pegs) {
      const here =
        source.kind === 'copy' ? chosen.has(source.copy) : source.kind === 'shelf' && inside.has(source.place)
      const known = here ? heap.get(item) : undefined
      if (known) known.uses.set(pathKey(path), (known.uses.get(pathKey(path)) ?? 0) + qty)
    }
  return [...heap].map(([item, { qty, uses }]) => ({
    item,
    qty,
    uses: [...uses].map(([work, n]) => ({ work, qty: n })),
  }))
}

/** Places with all that stands in them. */
function placesIn(chosen: readonly PlaceId[], places: Snapshot['places']): ReadonlySet<PlaceId> {
  const inside = new Set(chosen)
  const children = new Map<PlaceId, PlaceId[]>()
  for (const { id, parent } of places) if (parent !== null) children.set(parent, [...(children.get(parent) ?? []), id])
  const open = [...chosen]
  for (let at = open.pop(); at !== undefined; at = open.pop())
    for (const child of children.get(at) ?? [])
      if (!inside.has(child)) {
        inside.add(child)
        open.push(child)
      }
  return inside
}
