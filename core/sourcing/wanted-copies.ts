import type { ItemKey } from '../catalogue/item.ts'
import { changingInto } from '../build/exchange-rates.ts'
import { figurePrice, figuresSoldAtMost, type Resale } from '../build/resale.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { CONDITIONS } from '../units/condition.ts'
import { exchanged } from '../units/exchange.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { SourcingProblem } from './problem.ts'

/**
 * Figures of a set for which the user expects a price when they are whole, as far as the copy holds any of their pieces:
 * what is missing may be bought to complete them.
 */
function figuresIn(
  set: DonorSet,
  contents: ReadonlyMap<ItemKey, number>,
  rules: Resale,
): NonNullable<SourcingProblem['sets'][number]['figures']> {
  const pieces = new Map<string, Map<ItemKey, number>>()
  for (const { figure, item, qty, spare } of set.lines) {
    if (figure === undefined || spare) continue
    const own = pieces.get(figure) ?? new Map<ItemKey, number>()
    pieces.set(figure, own.set(item, (own.get(item) ?? 0) + qty))
  }
  return [...pieces].flatMap(([name, own]) => {
    const credit = figurePrice(name, rules) ?? 0
    if (credit === 0 || ![...own.keys()].some((item) => contents.has(item))) return []
    const max = figuresSoldAtMost(name, rules)
    const named = { id: name, credit, ...(max !== undefined && { max }) }
    return [{ ...named, pieces: [...own].map(([item, qty]) => ({ item, qty })) }]
  })
}

/** Wanted copies as donor sets, those with the same contents and price as one, and what they hold in all. */
export function wantedCopies({ build, sets: known, copies }: Pick<Snapshot, 'build' | 'sets' | 'copies'>): {
  readonly sets: readonly SourcingProblem['sets'][number][]
  readonly contained: ReadonlyMap<ItemKey, number>
  /** Of every copy among them the set that it is one of, by its id. */
  readonly setOf: ReadonlyMap<Copy['id'], string>
  /** Currencies without a rate of copies that are left out, copy by copy. */
  readonly otherPrices: readonly string[]
} {
  const setById = new Map(known.map((s) => [s.id, s]))
  const sets = new Map<string, SourcingProblem['sets'][number]>()
  const contained = new Map<ItemKey, number>()
  const setOf = new Map<Copy['id'], string>()
  const changing = changingInto(build.currency, build.rules.rates)
  const otherPrices: string[] = []
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    if (!set || copy.state !== 'to-buy' || !copy.askingPrice) continue
    // Pieces in a condition that the rules refuse are of no use.
    if (copy.condition && CONDITIONS.indexOf(copy.condition) > CONDITIONS.indexOf(build.rules.condition)) continue
    const rate = changing(copy.askingPrice.currency)
    if (rate === undefined) {
      otherPrices.push(copy.askingPrice.currency)
      continue
    }
    const contents = new Map<ItemKey, number>()
    for (const { item, qty } of copyContents(set, copy)) contents.set(item, (contents.get(item) ?? 0) + qty)
    for (const [item, qty] of contents) contained.set(item, (contained.get(item) ?? 0) + qty)
    // Each copy is paid by itself: its price is changed at the rate and rounded once.
    const price = exchanged(copy.askingPrice.minor, rate)
    const key = JSON.stringify([set.id, price, [...contents].sort()])
    const maxCopies = (sets.get(key)?.maxCopies ?? 0) + 1
    const figures = figuresIn(set, contents, build.rules)
    const first = sets.get(key) ?? {
      id: copy.id,
      price,
      contents: [...contents].map(([item, qty]) => ({ item, qty })),
      ...(figures.length > 0 && { figures }),
    }
    sets.set(key, { ...first, maxCopies })
    setOf.set(copy.id, first.id)
  }
  return { sets: [...sets.values()], contained, setOf, otherPrices }
}

/**
 * The problem with just so many copies of some sets, and as many leftovers that may be sold as these hold. Copies beyond
 * those wanted are taken to cost and to hold the same, and their leftovers to earn the same.
 */
export function withJustCopies(problem: SourcingProblem, copies: ReadonlyMap<string, number>): SourcingProblem {
  if (copies.size === 0) return problem
  /** Pieces more, or fewer, than in the copies wanted. */
  const further = new Map<string, number>()
  for (const { id, maxCopies, contents } of problem.sets) {
    const more = (copies.get(id) ?? maxCopies) - maxCopies
    for (const { item, qty } of contents) further.set(item, (further.get(item) ?? 0) + qty * more)
  }
  return {
    ...problem,
    version: 2,
    items: problem.items.map((item) =>
      item.resale
        ? { ...item, resale: { ...item.resale, max: Math.max(0, item.resale.max + (further.get(item.id) ?? 0)) } }
        : item,
    ),
    sets: problem.sets.map((set) => {
      const just = copies.get(set.id)
      return just === undefined ? set : { ...set, minCopies: just, maxCopies: just }
    }),
  }
}
