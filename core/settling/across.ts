import type { ItemKey } from '../catalogue/item.ts'
import type { BuildId } from '../units/ids.ts'

type Pieces = { readonly item: ItemKey; readonly qty: number }

/** What a build leaves over and what it is short of, or looks out for. */
export type GivesAndWants = {
  readonly build: BuildId
  readonly left: readonly Pieces[]
  readonly shortfall: ReadonlyMap<ItemKey, number>
  readonly lookout: readonly Pieces[]
}

/** Pieces that one build leaves over and another would use. */
export type Serves = {
  readonly from: BuildId
  readonly to: BuildId
  readonly looksOut: boolean
  readonly pieces: readonly Pieces[]
}

/**
 * Which surplus would serve which build: each left-over piece and each wanted one once. Builds that are short come before
 * those that look out for something, in the order of the list; the most pieces first in what comes out. Linear in what is
 * wanted times the builds that leave something over.
 */
export function whoServesWhom(builds: readonly GivesAndWants[]): Serves[] {
  const open = builds.map(({ build, left }) => {
    const pool = new Map<ItemKey, number>()
    for (const { item, qty } of left) pool.set(item, (pool.get(item) ?? 0) + qty)
    return { build, pool }
  })
  const found: Serves[] = []
  for (const looksOut of [false, true])
    for (const { build: to, shortfall, lookout } of builds) {
      const wanted = looksOut ? lookout.map((l) => [l.item, l.qty] as const) : [...shortfall]
      const given = new Map<BuildId, Pieces[]>()
      for (const [item, qty] of wanted) {
        let want = qty
        for (const { build: from, pool } of open) {
          const there = from === to ? 0 : Math.min(want, pool.get(item) ?? 0)
          if (there <= 0) continue
          pool.set(item, (pool.get(item) ?? 0) - there)
          want -= there
          given.set(from, [...(given.get(from) ?? []), { item, qty: there }])
        }
      }
      for (const [from, pieces] of given)
        found.push({ from, to, looksOut, pieces: pieces.sort((p, q) => q.qty - p.qty) })
    }
  const sum = ({ pieces }: Serves) => pieces.reduce((n, p) => n + p.qty, 0)
  return found.sort((p, q) => sum(q) - sum(p))
}
