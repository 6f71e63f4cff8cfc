import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { ColourId } from '../units/ids.ts'
import type { DonorSet } from './donor-set.ts'

export type SetComparison = {
  /** Items both hold, with the quantity in each, most in common first. */
  readonly shared: readonly { readonly item: ItemKey; readonly first: number; readonly second: number }[]
  readonly onlyFirst: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly onlySecond: readonly { readonly item: ItemKey; readonly qty: number }[]
  /** Pieces per colour in each, strongest first. */
  readonly colours: readonly { readonly colour: ColourId; readonly first: number; readonly second: number }[]
}

/** What two donor sets share, what only one has and the colours each is strong in; spares left out. */
export function compareSets(first: DonorSet, second: DonorSet): SetComparison {
  const [p, q] = [quantities(first), quantities(second)]
  const colours = new Map<ColourId, { first: number; second: number }>()
  const addColours = (items: ReadonlyMap<ItemKey, number>, side: 'first' | 'second') => {
    for (const [item, qty] of items) {
      const { colour } = splitItemKey(item)
      const row = colours.get(colour) ?? { first: 0, second: 0 }
      colours.set(colour, { ...row, [side]: row[side] + qty })
    }
  }
  addColours(p, 'first')
  addColours(q, 'second')
  const only = (here: ReadonlyMap<ItemKey, number>, there: ReadonlyMap<ItemKey, number>) =>
    [...here]
      .filter(([item]) => !there.has(item))
      .map(([item, qty]) => ({ item, qty }))
      .sort((a, b) => b.qty - a.qty)
  return {
    shared: [...p]
      .flatMap(([item, qty]) => (q.has(item) ? [{ item, first: qty, second: q.get(item) ?? 0 }] : []))
      .sort((a, b) => Math.min(b.first, b.second) - Math.min(a.first, a.second)),
    onlyFirst: only(p, q),
    onlySecond: only(q, p),
    colours: [...colours]
      .map(([colour, row]) => ({ colour, ...row }))
      .sort((a, b) => b.first + b.second - a.first - a.second),
  }
}

function quantities(set: DonorSet): Map<ItemKey, number> {
  const result = new Map<ItemKey, number>()
  for (const line of set.lines) if (!line.spare) result.set(line.item, (result.get(line.item) ?? 0) + line.qty)
  return result
}
