import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import type { Confusable } from './confusable.ts'
import { lookedAt, LOOKED_OVER, sortMinutes } from './sort-rate.ts'

/** Ways to sort: by type, by colour, by what it is for, or as people do it: whatever tells most at each pile. */
export const SCHOOLS = ['by type', 'by colour', 'by module', 'mixed'] as const
export type School = (typeof SCHOOLS)[number]

/** Pieces that lie unsorted, and how many of them each module takes. */
export type Unsorted = {
  readonly item: ItemKey
  readonly qty: number
  /** By the key of the module in its place; what none takes is for later. */
  readonly uses: readonly { readonly work: string; readonly qty: number }[]
}

/** What tells one pile from another: pieces that are so go there. */
export type Rule =
  | { readonly kind: 'big' }
  | { readonly kind: 'small' }
  | { readonly kind: 'family'; readonly family: Family }
  | { readonly kind: 'part'; readonly part: PartId }
  | { readonly kind: 'colour'; readonly colour: ColourId }
  | { readonly kind: 'only for'; readonly work: string }
  | { readonly kind: 'not needed' }

/** A rule that a piece of the pile meets, or does not. */
export type PileRule = { readonly rule: Rule; readonly is: boolean }

export type Pile = {
  readonly rules: readonly PileRule[]
  readonly items: readonly Unsorted[]
  readonly pieces: number
  /** A tray rather than a heap: small pieces that roll away. */
  readonly tray: boolean
  /** Items in it that are taken for one another: to be told apart by eye. */
  readonly mixUps: readonly Confusable[]
  /** Minutes to search it for all that is needed of it. */
  readonly searchMinutes: number
}

export type SortPlan = {
  readonly school: School
  readonly piles: readonly Pile[]
  readonly pieces: number
  /** Of one person. */
  readonly sortMinutes: number
  readonly searchMinutes: number
}

/** Footprint in studs from which a piece lies apart as a big one, if it is as wide as this; and up to which it is a small one. */
const BIG = 32
const WIDE = 4
const SMALL = 1

/** Minutes that a pair of items that look alike in one pile may cost: an assumption about one mistake in many. */
const MIX_UP_MINUTES = 3

export type SortOptions = {
  /** Piles at most, 2 or more. */
  readonly piles: number
  /** Pieces that one person sorts in an hour. */
  readonly rate: number
}

type Facts = Unsorted & {
  readonly index: number
  readonly part: PartId
  readonly colour: ColourId
  readonly family: Family
  readonly big: boolean
  readonly small: boolean
  /** The one module that takes it; `undefined` when none or several do. */
  readonly only: string | undefined
  readonly needed: number
}
type Heap = { readonly rules: readonly PileRule[]; readonly items: readonly Facts[] }

/** Which questions a school asks. */
const ASKS: Readonly<Record<School, readonly Rule['kind'][]>> = {
  'by type': ['family', 'part'],
  'by colour': ['colour'],
  'by module': ['only for', 'not needed'],
  mixed: ['big', 'small', 'family', 'colour', 'only for', 'not needed', 'part'],
}

/**
 * Piles to sort unsorted pieces into: from one heap on, the pile is divided whose division by one plain question saves most
 * search time, until there are as many as asked or none saves what it costs to sort. Every pile can be said in words, and a piece goes to the first
 * whose words fit it: what a pile is not was sorted before. Look-
 * alikes go apart first where the school's questions tell them apart. Time: the expected pieces looked over for each piece
 * that is needed (`lookedAt`), so many a second. For 400 items and 20 piles some tens of thousands of divisions are weighed.
 */
export function sortPlan(
  school: School,
  unsorted: readonly Unsorted[],
  parts: ReadonlyMap<PartId, Part>,
  alike: readonly Confusable[],
  { piles: most, rate }: SortOptions,
): SortPlan {
  const facts = unsorted.map((u, index) => factsOf(u, index, parts))
  const pieces = unsorted.reduce((n, u) => n + u.qty, 0)
  const index = new Map(facts.map((f) => [f.item, f.index]))
  const pairs = alike.flatMap((c): Pair[] => {
    const [one, other] = [index.get(c.one), index.get(c.other)]
    return one === undefined || other === undefined ? [] : [{ one, other, of: c }]
  })
  let heaps: Heap[] = facts.length > 0 ? [{ rules: [], items: facts }] : []
  if (school === 'mixed')
    for (const kind of ['big', 'small'] as const) {
      const last = heaps.at(-1)
      const division = last && divided(last, { kind })
      if (division && heaps.length < most) heaps = [...heaps.slice(0, -1), ...division]
    }
  const best = new Map<Heap, Division | undefined>()
  const bestOf = (heap: Heap): Division | undefined => {
    if (!best.has(heap)) best.set(heap, bestDivision(heap, ASKS[school], pairs))
    return best.get(heap)
  }
  while (heaps.length < most && heaps.length > 0) {
    let chosen: { readonly at: number; readonly division: Division } | undefined
    for (const [at, heap] of heaps.entries()) {
      const division = bestOf(heap)
      if (division && (!chosen || division.saves > chosen.division.saves)) chosen = { at, division }
    }
    const costs = sortMinutes(pieces, heaps.length + 1, rate) - sortMinutes(pieces, heaps.length, rate)
    if (!chosen || chosen.division.saves <= costs) break
    heaps.splice(chosen.at, 1, ...chosen.division.into)
  }
  const told = heaps.map((heap) => pileOf(heap, pairs))
  return {
    school,
    piles: told,
    pieces,
    sortMinutes: sortMinutes(pieces, Math.max(1, told.length), rate),
    searchMinutes: told.reduce((n, p) => n + p.searchMinutes, 0),
  }
}

type Pair = { readonly one: number; readonly other: number; readonly of: Confusable }
type Division = { readonly into: readonly [Heap, Heap]; readonly saves: number }

function factsOf(unsorted: Unsorted, index: number, parts: ReadonlyMap<PartId, Part>): Facts {
  const { part, colour } = splitItemKey(unsorted.item)
  const shape = parts.get(part)?.shape
  const area = (shape?.width ?? 0) * (shape?.length ?? 0)
  const used = unsorted.uses.filter((u) => u.qty > 0)
  return {
    ...unsorted,
    index,
    part,
    colour,
    family: shape?.family ?? 'unknown',
    big: area >= BIG && (shape?.width ?? 0) >= WIDE,
    small: area > 0 && area <= SMALL,
    only: used.length === 1 ? used[0]?.work : undefined,
    needed: Math.min(
      unsorted.qty,
      used.reduce((n, u) => n + u.qty, 0),
    ),
  }
}

const meets = (facts: Facts, rule: Rule): boolean => {
  switch (rule.kind) {
    case 'big':
      return facts.big
    case 'small':
      return facts.small
    case 'family':
      return facts.family === rule.family
    case 'part':
      return facts.part === rule.part
    case 'colour':
      return facts.colour === rule.colour
    case 'only for':
      return facts.only === rule.work
    case 'not needed':
      return facts.needed === 0
  }
}

/** A heap in two, those that meet the rule first; undefined where all or none do. */
function divided(heap: Heap, rule: Rule): readonly [Heap, Heap] | undefined {
  const [yes, no] = [[] as Facts[], [] as Facts[]]
  for (const item of heap.items) (meets(item, rule) ? yes : no).push(item)
  if (yes.length === 0 || no.length === 0) return undefined
  return [
    { rules: [...heap.rules, { rule, is: true }], items: yes },
    { rules: [...heap.rules, { rule, is: false }], items: no },
  ]
}

/** Questions that a heap's items give rise to. */
function questions({ items }: Heap, kinds: readonly Rule['kind'][]): Rule[] {
  const rules = new Map<string, Rule>()
  const add = (key: string, rule: Rule) => {
    if (kinds.includes(rule.kind)) rules.set(key, rule)
  }
  for (const { family, part, colour, only } of items) {
    add(`f ${family}`, { kind: 'family', family })
    add(`p ${part}`, { kind: 'part', part })
    add(`c ${colour}`, { kind: 'colour', colour })
    if (only !== undefined) add(`o ${only}`, { kind: 'only for', work: only })
  }
  for (const kind of ['big', 'small', 'not needed'] as const) add(kind, { kind })
  return [...rules.values()]
}

/** Minutes to search a heap, where its items weigh so much (`weightOf`): as if each piece that is found were put back. */
function searchOf(pieces: number, weight: number): number {
  return ((pieces + 1) * weight) / LOOKED_OVER / 60
}

/** What an item adds to a heap's search: pieces needed, each found among those alike; times the heap's pieces + 1. */
const weightOf = ({ qty, needed }: Facts): number => needed * lookedAt(0, qty)

function bestDivision(heap: Heap, kinds: readonly Rule['kind'][], pairs: readonly Pair[]): Division | undefined {
  const inside = new Map(heap.items.map((f) => [f.index, f]))
  const own = pairs.filter((p) => inside.has(p.one) && inside.has(p.other))
  const pieces = heap.items.reduce((n, f) => n + f.qty, 0)
  const weight = heap.items.reduce((n, f) => n + weightOf(f), 0)
  const now = searchOf(pieces, weight)
  let best: { readonly rule: Rule; readonly saves: number } | undefined
  for (const rule of questions(heap, kinds)) {
    let [yes, yesWeight, count] = [0, 0, 0]
    for (const item of heap.items)
      if (meets(item, rule)) {
        yes += item.qty
        yesWeight += weightOf(item)
        count++
      }
    if (count === 0 || count === heap.items.length) continue
    let apart = 0
    for (const { one, other, of } of own) {
      const [p, q] = [inside.get(one), inside.get(other)]
      if (p && q && meets(p, rule) !== meets(q, rule)) apart += of.alike
    }
    const saves = now - searchOf(yes, yesWeight) - searchOf(pieces - yes, weight - yesWeight) + apart * MIX_UP_MINUTES
    if (saves > (best?.saves ?? 0)) best = { rule, saves }
  }
  const into = best && divided(heap, best.rule)
  return best && into && { into, saves: best.saves }
}

function pileOf({ rules, items }: Heap, pairs: readonly Pair[]): Pile {
  const inside = new Set(items.map((f) => f.index))
  const pieces = items.reduce((n, f) => n + f.qty, 0)
  return {
    rules: toldRules(rules),
    items: [...items].sort((p, q) => q.qty - p.qty),
    pieces,
    tray: items.every((f) => f.small),
    mixUps: pairs.filter((p) => inside.has(p.one) && inside.has(p.other)).map((p) => p.of),
    searchMinutes: searchOf(
      pieces,
      items.reduce((n, f) => n + weightOf(f), 0),
    ),
  }
}

/** Rules as a pile is told by them: what it is makes needless what it is not of the same kind. */
function toldRules(rules: readonly PileRule[]): PileRule[] {
  const is = new Set(rules.filter((r) => r.is).map((r) => r.rule.kind))
  return rules.filter((r) => r.is || !is.has(r.rule.kind))
}

/**
 * Shares jobs out among people so that the longest share is short: the longest job first, each to whoever has least (R. L.
 * Graham 1969: at most 4/3 − 1/(3m) of the best possible). Gives each person's jobs, in the order they were given.
 */
export function shareOutWork<T>(
  jobs: readonly T[],
  minutesOf: (job: T) => number,
  people: number,
): { jobs: T[]; minutes: number }[] {
  const shares = Array.from({ length: Math.max(1, people) }, () => ({ jobs: [] as T[], minutes: 0 }))
  for (const job of [...jobs].sort((p, q) => minutesOf(q) - minutesOf(p))) {
    const least = shares.reduce((p, q) => (q.minutes < p.minutes ? q : p))
    least.jobs.push(job)
    least.minutes += minutesOf(job)
  }
  return shares
}
