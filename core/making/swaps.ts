import type { ItemKey } from '../catalogue/item.ts'
import type { Confusable } from './confusable.ts'

/** What is built one after the other: a repeat of a module with what it takes. */
export type Stage = {
  readonly id: string
  readonly done: boolean
  readonly needs: ReadonlyMap<ItemKey, number>
}

/** So many pieces of one item were built in where another was due. */
export type Swap = {
  /** What should be in the model and lies on the table. */
  readonly due: ItemKey
  /** What is in the model instead. */
  readonly used: ItemKey
  readonly qty: number
  /** How alike the two are, 1 the same to the eye. */
  readonly alike: number
  /** Stages that are done and take `due`, the likeliest first; shares add up to 1. */
  readonly where: readonly { readonly stage: string; readonly share: number }[]
  /** The first stage that will lack `used`, and how many; undefined when there is enough. */
  readonly starves: { readonly stage: string; readonly short: number } | undefined
}

/** One way in which what lies on the table came about. */
export type Explanation = {
  readonly swaps: readonly Swap[]
  /** Left over and due in no other piece's place: forgotten, or never built in. */
  readonly forgotten: readonly { readonly item: ItemKey; readonly qty: number }[]
  /** Gone and in no other piece's place: lost. */
  readonly lost: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly cost: number
}

/** A piece that was forgotten or lost is as unlikely as so many swaps. */
export const APART = 2
/** Swaps that may hang together: one for another for a third for a fourth. */
const LONGEST = 3
const MOST_EXPLANATIONS = 24
const MOST_STEPS = 60_000
/** Amounts that are divided in every way; larger ones go whole. */
const DIVIDED = 6

/**
 * What explains that other pieces are left over than should be: the smallest sets of swaps of pieces that are taken for one
 * another (a swap counts 1, a piece forgotten or lost `APART`), the likeliest first. `expected` and `counted` say what
 * should lie on the table by now and what does, of the items that were counted. All sets of the least cost are found while
 * amounts are at most `DIVIDED` and steps at most `MOST_STEPS`; else some of them.
 */
export function explainLeftovers(
  stages: readonly Stage[],
  expected: ReadonlyMap<ItemKey, number>,
  counted: ReadonlyMap<ItemKey, number>,
  alike: readonly Confusable[],
): Explanation[] {
  const built = new Map<ItemKey, number>()
  for (const { done, needs } of stages)
    if (done) for (const [item, qty] of needs) built.set(item, (built.get(item) ?? 0) + qty)
  const over: { item: ItemKey; qty: number }[] = []
  const under = new Map<ItemKey, number>()
  for (const [item, qty] of counted) {
    const more = qty - (expected.get(item) ?? 0)
    if (more > 0) over.push({ item, qty: more })
    if (more < 0) under.set(item, -more)
  }
  if (over.length + under.size === 0) return []
  const ways = new Map(over.map(({ item }) => [item, chainsFrom(item, under, built, alike)]))
  return smallest(over, under, ways, built)
    .map((found) => told(found, stages, counted))
    .sort((p, q) => likelihood(q) - likelihood(p))
}

/** One item for the next for the next: all swaps of one chain. */
type Chain = { readonly to: ItemKey; readonly hops: readonly Hop[] }
type Hop = { readonly due: ItemKey; readonly used: ItemKey; readonly alike: number }
type Found = {
  readonly moves: readonly { readonly chain: Chain; readonly qty: number }[]
  readonly forgotten: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly lost: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly cost: number
}

/** The shortest chains from what is left over to what is gone; all of that length. Each swap needs a place where it was due. */
function chainsFrom(
  from: ItemKey,
  under: ReadonlyMap<ItemKey, number>,
  built: ReadonlyMap<ItemKey, number>,
  alike: readonly Confusable[],
): Chain[] {
  const beside = new Map<ItemKey, { item: ItemKey; alike: number }[]>()
  for (const { one, other, alike: a } of alike) {
    beside.set(one, [...(beside.get(one) ?? []), { item: other, alike: a }])
    beside.set(other, [...(beside.get(other) ?? []), { item: one, alike: a }])
  }
  const shortest = new Map<ItemKey, number>()
  const chains: Chain[] = []
  let front: (readonly Hop[])[] = [[]]
  for (let length = 1; length <= LONGEST; length++) {
    const next: (readonly Hop[])[] = []
    for (const hops of front) {
      const due = hops.at(-1)?.used ?? from
      if ((built.get(due) ?? 0) === 0) continue
      for (const { item: used, alike: a } of beside.get(due) ?? []) {
        if (used === from || hops.some((h) => h.used === used)) continue
        const longer = [...hops, { due, used, alike: a }]
        if (under.has(used) && (shortest.get(used) ?? length) === length) {
          shortest.set(used, length)
          chains.push({ to: used, hops: longer })
        }
        next.push(longer)
      }
    }
    front = next
  }
  return chains
}

/** All ways of the least cost to account for what is left over and what is gone. */
function smallest(
  over: readonly { readonly item: ItemKey; readonly qty: number }[],
  under: ReadonlyMap<ItemKey, number>,
  ways: ReadonlyMap<ItemKey, readonly Chain[]>,
  built: ReadonlyMap<ItemKey, number>,
): Found[] {
  let best = Infinity
  let found = new Map<string, Found>()
  let steps = 0
  const gone = new Map(under)
  const room = new Map(built)
  const moves: { chain: Chain; qty: number }[] = []
  const forgotten: { item: ItemKey; qty: number }[] = []
  const visit = (at: number, way: number, qty: number, cost: number): void => {
    if (cost > best || ++steps > MOST_STEPS) return
    const next = over[at]
    if (!next) {
      const lost = [...gone].flatMap(([item, n]) => (n > 0 ? [{ item, qty: n }] : []))
      const all = cost + APART * lost.reduce((n, l) => n + l.qty, 0)
      if (all > best) return
      if (all < best) found = new Map()
      best = all
      const one: Found = { moves: [...moves], forgotten: [...forgotten], lost, cost: all }
      if (found.size < MOST_EXPLANATIONS) found.set(keyOf(one), one)
      return
    }
    const chain = ways.get(next.item)?.[way]
    if (!chain || qty === 0) {
      if (qty > 0) forgotten.push({ item: next.item, qty })
      visit(at + 1, 0, over[at + 1]?.qty ?? 0, cost + APART * qty)
      if (qty > 0) forgotten.pop()
      return
    }
    const most = Math.min(qty, gone.get(chain.to) ?? 0, ...chain.hops.map((h) => room.get(h.due) ?? 0))
    for (let n = most; n >= 0; n = n > DIVIDED ? 0 : n - 1) {
      shift(chain, n, -1)
      if (n > 0) moves.push({ chain, qty: n })
      visit(at, way + 1, qty - n, cost + n * chain.hops.length)
      if (n > 0) moves.pop()
      shift(chain, n, 1)
      if (n === 0) break
    }
  }
  const shift = (chain: Chain, n: number, sign: 1 | -1) => {
    gone.set(chain.to, (gone.get(chain.to) ?? 0) + sign * n)
    for (const { due } of chain.hops) room.set(due, (room.get(due) ?? 0) + sign * n)
  }
  visit(0, 0, over[0]?.qty ?? 0, 0)
  return [...found.values()]
}

/** Swaps of an explanation, added up: chains that share a swap are one. */
function hopsOf({ moves }: Pick<Found, 'moves'>): Map<string, Hop & { readonly qty: number }> {
  const hops = new Map<string, Hop & { readonly qty: number }>()
  for (const { chain, qty } of moves)
    for (const hop of chain.hops) {
      const key = `${hop.due}\n${hop.used}`
      hops.set(key, { ...hop, qty: qty + (hops.get(key)?.qty ?? 0) })
    }
  return hops
}

const keyOf = (found: Found): string =>
  JSON.stringify([
    [...hopsOf(found)].map(([key, { qty }]) => `${key} ${qty}`).sort(),
    found.forgotten.map((f) => `${f.item} ${f.qty}`),
  ])

function told(found: Found, stages: readonly Stage[], counted: ReadonlyMap<ItemKey, number>): Explanation {
  return {
    swaps: [...hopsOf(found).values()].map((hop) => ({
      ...hop,
      where: stagesOf(hop, stages),
      starves: starved(hop.used, counted.get(hop.used) ?? 0, stages),
    })),
    forgotten: found.forgotten,
    lost: found.lost,
    cost: found.cost,
  }
}

/** Stages where a swap may have been made: by the pieces that were due there, twice where both lay at hand. */
function stagesOf({ due, used }: Hop, stages: readonly Stage[]): Swap['where'] {
  const weights = stages.flatMap(({ id, done, needs }) => {
    const qty = done ? (needs.get(due) ?? 0) : 0
    return qty > 0 ? [{ stage: id, weight: qty * (needs.has(used) ? 2 : 1) }] : []
  })
  const all = weights.reduce((n, w) => n + w.weight, 0)
  return weights.map(({ stage, weight }) => ({ stage, share: weight / all })).sort((p, q) => q.share - p.share)
}

/** The first stage to come that lacks an item, when so many are left. */
function starved(item: ItemKey, left: number, stages: readonly Stage[]): Swap['starves'] {
  let need = 0
  let first: string | undefined
  for (const { id, done, needs } of stages) {
    if (done) continue
    need += needs.get(item) ?? 0
    if (need > left) first ??= id
  }
  return first === undefined ? undefined : { stage: first, short: need - left }
}

/** How likely an explanation is beside others of the same cost: by how alike what was swapped is. */
const likelihood = ({ swaps }: Explanation): number => swaps.reduce((n, s) => n + s.qty * Math.log(s.alike), 0)
