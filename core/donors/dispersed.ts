import type { ItemKey } from '../catalogue/item.ts'
import type { Holding } from '../shelf/holding.ts'
import { takePieces, withReserved } from '../shelf/lot.ts'
import type { BuildId, CopyId } from '../units/ids.ts'
import type { Copy, DonorSet } from './donor-set.ts'

export type DispersedLine = {
  readonly item: ItemKey
  readonly need: number
  /** Pieces found, holding by holding. */
  readonly found: readonly { readonly holding: Holding; readonly qty: number }[]
  readonly missing: number
}

export type Dispersed = {
  readonly lines: readonly DispersedLine[]
  readonly need: number
  readonly found: number
  /** Pieces found that rest on estimated holdings. */
  readonly estimated: number
}

/**
 * Matches a set's inventory, spares left out, against the shelf: counted holdings before estimated ones, small remains
 * first, so that gathering empties places. An estimated holding gives at most what it says; pieces reserved for another
 * build than `build` stay where they are.
 */
export function matchDispersed(set: DonorSet, holdings: readonly Holding[], build: BuildId | null): Dispersed {
  const need = new Map<ItemKey, number>()
  for (const line of set.lines) if (!line.spare) need.set(line.item, (need.get(line.item) ?? 0) + line.qty)
  const byItem = new Map<ItemKey, Holding[]>()
  for (const holding of holdings)
    if (need.has(holding.item)) byItem.set(holding.item, [...(byItem.get(holding.item) ?? []), holding])
  let total = 0
  let found = 0
  let estimated = 0
  const lines = [...need].map(([item, qty]): DispersedLine => {
    const sources = (byItem.get(item) ?? []).sort(
      (p, q) => Number(p.estimate) - Number(q.estimate) || p.qty - q.qty || (p.id < q.id ? -1 : 1),
    )
    let left = qty
    const taken: { holding: Holding; qty: number }[] = []
    for (const holding of sources) {
      const promised = (holding.reserved ?? []).reduce((n, r) => n + (r.build === build ? 0 : r.qty), 0)
      const take = Math.min(left, Math.max(0, holding.qty - promised))
      if (take === 0) continue
      taken.push({ holding, qty: take })
      left -= take
      if (holding.estimate) estimated += take
    }
    total += qty
    found += qty - left
    return { item, need: qty, found: taken, missing: left }
  })
  return { lines, need: total, found, estimated }
}

/**
 * Gathers what was found into a copy: its pieces leave the shelf, what was not found is marked missing. Pieces reserved
 * for the copy's build are gathered first and are then no longer reserved for it; others' reservations stay.
 */
export function gather(
  set: DonorSet,
  match: Dispersed,
  copy: { readonly id: CopyId; readonly label: string; readonly buildId: BuildId | null },
): { readonly copy: Copy; readonly kept: readonly Holding[]; readonly emptied: readonly string[] } {
  const left = new Map<string, Holding | undefined>()
  for (const { found } of match.lines)
    for (const { holding, qty } of found) {
      const now = left.has(holding.id) ? left.get(holding.id) : holding
      if (!now) continue
      const others = (now.reserved ?? []).filter((r) => r.build !== copy.buildId)
      left.set(holding.id, takePieces(withReserved(now, others), qty).left)
    }
  return {
    copy: {
      ...copy,
      setId: set.id,
      state: 'owned',
      stages: 'all',
      spares: false,
      missing: match.lines.filter((l) => l.missing > 0).map((l) => ({ item: l.item, qty: l.missing })),
    },
    kept: [...left.values()].filter((h) => h !== undefined),
    emptied: [...left].flatMap(([id, h]) => (h ? [] : [id])),
  }
}
