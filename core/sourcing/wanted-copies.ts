import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { SourcingProblem } from './problem.ts'

/** Wanted copies as donor sets, those with the same contents and price as one, and what they hold in all. */
export function wantedCopies({ build, sets: known, copies }: Pick<Snapshot, 'build' | 'sets' | 'copies'>): {
  readonly sets: readonly SourcingProblem['sets'][number][]
  readonly contained: ReadonlyMap<ItemKey, number>
  /** Of every copy among them the set that it is one of, by its id. */
  readonly setOf: ReadonlyMap<Copy['id'], string>
  /** Copies left out because their price is in another currency. */
  readonly otherPrices: number
} {
  const setById = new Map(known.map((s) => [s.id, s]))
  const sets = new Map<string, SourcingProblem['sets'][number]>()
  const contained = new Map<ItemKey, number>()
  const setOf = new Map<Copy['id'], string>()
  let otherPrices = 0
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    if (!set || copy.state !== 'to-buy' || !copy.askingPrice) continue
    if (copy.askingPrice.currency !== build.currency) {
      otherPrices++
      continue
    }
    const contents = new Map<ItemKey, number>()
    for (const { item, qty } of copyContents(set, copy)) contents.set(item, (contents.get(item) ?? 0) + qty)
    for (const [item, qty] of contents) contained.set(item, (contained.get(item) ?? 0) + qty)
    const { minor: price } = copy.askingPrice
    const key = JSON.stringify([set.id, price, [...contents].sort()])
    const maxCopies = (sets.get(key)?.maxCopies ?? 0) + 1
    const first = sets.get(key) ?? { id: copy.id, price, contents: [...contents].map(([item, qty]) => ({ item, qty })) }
    sets.set(key, { ...first, maxCopies })
    setOf.set(copy.id, first.id)
  }
  return { sets: [...sets.values()], contained, setOf, otherPrices }
}
