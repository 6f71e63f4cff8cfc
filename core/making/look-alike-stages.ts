import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import { freeFor } from '../shelf/holding.ts'
import { isThere } from '../shelf/leftovers.ts'
import { LOOSE, placeStates } from '../shelf/place-state.ts'
import type { BuildId } from '../units/ids.ts'
import type { Confusable } from './confusable.ts'
import type { Stock } from './takes.ts'
import type { Stage } from './swaps.ts'
import type { Unit } from './unit.ts'
import { needOf, stateOfUnit, type Work } from './works.ts'

/** Repeats of one module that are stages of their own; what is beyond is one stage. */
const MOST_REPEATS = 200

/** What is built in order, repeat by repeat, with what each takes and whether it is done. */
export function stagesOf(
  works: readonly Work[],
  unitsOf: ReadonlyMap<string, ReadonlyMap<number, Unit>>,
): (Stage & { readonly work: Work; readonly repeat: number })[] {
  return works.flatMap((work) => {
    const own = unitsOf.get(work.key)
    return Array.from({ length: Math.min(work.repeats, MOST_REPEATS) }, (_, i) => {
      const repeat = i + 1
      const needs = new Map<ItemKey, number>()
      for (const line of work.lines) {
        const qty = needOf(work, line, repeat)
        if (qty > 0) needs.set(line.item, (needs.get(line.item) ?? 0) + qty)
      }
      const unit = own?.get(repeat)
      const { done } = stateOfUnit(work, repeat, unit)
      return { id: `${work.key} ${repeat}`, work, repeat, needs, done: done || (unit?.put.length ?? 0) > 0 }
    })
  })
}

/** Pieces that should lie at hand for a build: in its copies that are here and, where the house rules allow that, loose on the shelf. Linear. */
export function atHandOf(build: BuildId, { copies, sets, holdings, places, donorsOnly }: Stock): Map<ItemKey, number> {
  const sums = new Map<ItemKey, number>()
  const count = (item: ItemKey, qty: number) => sums.set(item, (sums.get(item) ?? 0) + qty)
  for (const copy of copies) {
    const set = sets.find((s) => s.id === copy.setId)
    if (set && copy.buildId === build && isThere(copy)) for (const c of copyContents(set, copy)) count(c.item, c.qty)
  }
  if (donorsOnly === true) return sums
  const states = placeStates(places)
  for (const h of holdings) if ((states.get(h.place) ?? LOOSE).kind === 'loose') count(h.item, freeFor(h, build, 100))
  return sums
}

/** Items that are taken for one another, in groups: each to the next; only those of which something is built in. */
export function lookAlikeGroups(alike: readonly Confusable[], built: ReadonlySet<ItemKey>): ItemKey[][] {
  const groupOf = new Map<ItemKey, ItemKey[]>()
  for (const { one, other } of alike) {
    const [p, q] = [groupOf.get(one) ?? [one], groupOf.get(other) ?? [other]]
    if (p === q) continue
    const joined = [...p, ...q]
    for (const item of joined) groupOf.set(item, joined)
  }
  return [...new Set(groupOf.values())].filter((g) => g.some((item) => built.has(item)))
}
