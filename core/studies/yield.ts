import { newPlanner, type Planner } from '../netting/planner.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { Design, Module } from '../design/design.ts'
import type { ModuleId } from '../units/ids.ts'
import { goodsFor, type PriceOf } from '../offers/goods-cost.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'
import { type Tally } from '../netting/tally.ts'

/** What is repeated: modules in the order they follow one another, between a head and a tail that occur once. */
export type Pattern = {
  readonly modules: readonly ModuleId[]
  readonly head?: ModuleId | undefined
  readonly tail?: ModuleId | undefined
}

export type YieldStop = { readonly item: ItemKey; readonly short: number }

export type YieldStep = {
  readonly repeats: number
  /** Pieces to buy for that many, their goods at the cheapest offers (minor units), and what nobody offers. */
  readonly short: number
  readonly cost: number
  readonly unavailable: number
  /** What is to be bought. */
  readonly items: readonly ItemKey[]
}

export type YieldResult = {
  /** Elements of the pattern that can be built; a whole pattern has as many as it has modules. */
  readonly elements: number
  /** Whole patterns among them. */
  readonly repeats: number
  /** False when the pieces do not even reach for the head and tail. */
  readonly possible: boolean
  /** More repeats were not tried. */
  readonly capped: boolean
  /** What keeps the next element from being built, and how many more of each would allow it. */
  readonly stops: readonly YieldStop[]
  /** Length reached in studs, as far as the modules' footprints are entered. */
  readonly length: number | undefined
  readonly proven: boolean
}

export type YieldOptions = {
  /** The rest of the design keeps what it can have; otherwise all supplies are for the pattern. */
  readonly keepRest: boolean
  /** Called after every design netted on the way. */
  readonly onStep?: () => void
  /** Who nets the designs; one that remembers nothing when left out. */
  readonly planner?: Planner
}

/** Repeats beyond which nobody looks. */
export const MOST_REPEATS = 10_000

/**
 * The largest number of elements of a pattern that the allowed supplies build without anything of it short, and without
 * the rest of the design losing a piece when it is to keep its share. Exact: that many more pieces never need fewer, so
 * the largest number is found by doubling and halving, each step netted optimally (stand-ins as the rules allow).
 */
export function yieldOf(
  snapshot: Snapshot,
  pattern: Pattern,
  options: YieldOptions & { readonly most?: number },
): YieldResult {
  const most = Math.min(options.most ?? MOST_REPEATS, MOST_REPEATS)
  const at = yieldTallies(snapshot, pattern, options)
  const base = options.keepRest ? at(-1) : undefined
  const floor = base?.coverage.short ?? 0
  const fits = (n: number) => at(n).coverage.short <= floor
  if (pattern.modules.length === 0 || !fits(0))
    return {
      elements: 0,
      repeats: 0,
      possible: pattern.modules.length > 0 && fits(0),
      capped: false,
      stops: pattern.modules.length === 0 ? [] : stopsAt(at(0), base),
      length: undefined,
      proven: at(0).proven,
    }
  let good = 0
  let bad = 1
  while (bad <= most && fits(bad)) {
    good = bad
    bad *= 2
  }
  bad = Math.min(bad, most + 1)
  while (bad - good > 1) {
    const middle = Math.floor((good + bad) / 2)
    if (fits(middle)) good = middle
    else bad = middle
  }
  const capped = good >= most
  return {
    elements: good,
    repeats: Math.floor(good / pattern.modules.length),
    possible: true,
    capped,
    stops: capped ? [] : stopsAt(at(good + 1), base),
    length: lengthReached(snapshot.design, pattern, good),
    proven: at(good).proven && (capped || at(good + 1).proven),
  }
}

/** The cost of building so many elements when what is short is bought loose: goods alone, for each number given. */
export function yieldCurve(
  snapshot: Snapshot,
  pattern: Pattern,
  options: YieldOptions,
  numbers: readonly number[],
  priceOf: PriceOf,
): YieldStep[] {
  const at = yieldTallies(snapshot, pattern, options)
  const base = options.keepRest ? at(-1) : undefined
  return numbers.map((repeats) => {
    const stops = stopsAt(at(repeats), base)
    return {
      repeats,
      short: stops.reduce((n, s) => n + s.short, 0),
      ...goodsFor(
        stops.map((s) => [s.item, s.short] as const),
        priceOf,
      ),
      items: stops.map((s) => s.item),
    }
  })
}

/**
 * Modules that compete for the same pieces: every combination of repeats that cannot be bettered in one module without
 * taking from another, the most repeats in all first. Exact; the work grows with the product of all but the last yield.
 */
export function jointYields(
  snapshot: Snapshot,
  modules: readonly ModuleId[],
  options: YieldOptions & { readonly most: number },
): number[][] {
  const fits = jointFits(snapshot, modules, options)
  const found: number[][] = []
  const visit = (chosen: readonly number[]): void => {
    const last = chosen.length === modules.length - 1
    const rest = modules.slice(chosen.length + 1).map(() => 0)
    let good = -1
    let bad = options.most + 1
    while (bad - good > 1) {
      const middle = Math.floor((good + bad) / 2)
      if (fits([...chosen, middle, ...rest])) good = middle
      else bad = middle
    }
    if (last) {
      if (good >= 0) found.push([...chosen, good])
      return
    }
    for (let n = good; n >= 0; n--) visit([...chosen, n])
  }
  if (modules.length > 0) visit([])
  const beaten = (p: readonly number[]) =>
    found.some((q) => q !== p && q.every((n, i) => n >= (p[i] ?? 0)) && q.some((n, i) => n > (p[i] ?? 0)))
  const sum = (p: readonly number[]) => p.reduce((a, b) => a + b, 0)
  return found.filter((p) => !beaten(p)).sort((p, q) => sum(q) - sum(p) || Math.min(...q) - Math.min(...p))
}

function jointFits(snapshot: Snapshot, modules: readonly ModuleId[], options: YieldOptions) {
  const { keepRest, onStep, planner = newPlanner() } = options
  const { rest, isolate } = setUp(snapshot, modules, keepRest)
  const floor = rest ? tally({ ...snapshot, design: rest }, planner).coverage.short : 0
  const kept = new Map<string, boolean>()
  return (counts: readonly number[]): boolean => {
    const key = counts.join(' ')
    const known = kept.get(key)
    if (known !== undefined) return known
    const answer = tally({ ...snapshot, design: isolate(counts) }, planner).coverage.short <= floor
    kept.set(key, answer)
    onStep?.()
    return answer
  }
}

/** Tallies of a design with so many elements of a pattern, each made once; -1 without any of it, head and tail neither. */
function yieldTallies(snapshot: Snapshot, { modules, head, tail }: Pattern, options: YieldOptions) {
  const { keepRest, onStep, planner = newPlanner() } = options
  const all = [...new Set([...modules, ...[head, tail].flatMap((id) => (id === undefined ? [] : [id]))])]
  const { rest, isolate } = setUp(snapshot, all, keepRest)
  const made = new Map<number, Tally>()
  return (elements: number): Tally => {
    const known = made.get(elements)
    if (known) return known
    const counts = all.map((id) => {
      const ends = Number(id === head) + Number(id === tail)
      const places = modules.reduce<number[]>((list, m, i) => (m === id ? [...list, i] : list), [])
      const rounds = Math.floor(elements / Math.max(1, modules.length))
      const left = elements - rounds * modules.length
      return ends + places.length * rounds + places.filter((i) => i < left).length
    })
    const design = elements < 0 ? (rest ?? { ...snapshot.design, modules: [] }) : isolate(counts)
    const result = tally({ ...snapshot, design }, planner)
    made.set(elements, result)
    onStep?.()
    return result
  }
}

/** The design without some modules, and with them repeated so often at its end; alone when the rest has no share. */
function setUp({ design }: Snapshot, chosen: readonly ModuleId[], keepRest: boolean) {
  const picked = new Set(chosen)
  const tops = new Map(design.modules.map((m) => [m.id, m]))
  // A chosen module leaves its place; what is the same as one, or within one, keeps its content through it.
  const idle = (m: Module): Module => (picked.has(m.id) ? { ...m, later: false, repeats: 0 } : m)
  const rest: Design | undefined = keepRest ? { ...design, modules: design.modules.map(idle) } : undefined
  const isolate = (counts: readonly number[]): Design => {
    const repeats = new Map(chosen.map((id, i) => [id, counts[i] ?? 0]))
    return {
      ...design,
      modules: design.modules.map((m): Module => {
        const own = repeats.get(m.id)
        if (own !== undefined) {
          const { within: _, later: __, ...bare } = m
          return { ...bare, repeats: own }
        }
        return keepRest || (m.within !== undefined && tops.has(m.within)) ? m : { ...m, repeats: 0 }
      }),
    }
  }
  return { rest, isolate }
}

/** Items short beyond what the rest of the design is short of anyway. */
function stopsAt(result: Tally, base: Tally | undefined): YieldStop[] {
  return [...result.shortfall]
    .map(([item, qty]) => ({ item, short: qty - (base?.shortfall.get(item) ?? 0) }))
    .filter((stop) => stop.short > 0)
    .sort((p, q) => q.short - p.short || (p.item < q.item ? -1 : 1))
}

function lengthReached(design: Design, { modules, head, tail }: Pattern, elements: number): number | undefined {
  const sideOf = (id: ModuleId | undefined) => {
    if (id === undefined) return 0
    const form = design.modules.find((m) => m.id === id)?.form
    return form?.width
  }
  let length = 0
  for (const id of [head, tail, ...Array.from({ length: elements }, (_, i) => modules[i % modules.length])]) {
    const side = sideOf(id)
    if (side === undefined) return undefined
    length += side
  }
  return length
}
