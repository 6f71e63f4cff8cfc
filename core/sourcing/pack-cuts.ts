import type { LoadedLp, Milp, Row } from '../solver/milp.ts'
import type { SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'

/*
 * Cuts that say what whole packs mean. A line's pieces come from the offers of the items it accepts: so many packs of each,
 * at most what is in stock, from shops that are used, at a line fee in some. The convex hull of all ways to cover that need
 * is cut out exactly, where a relaxed solution violates it: a cut's weights are found by a linear program whose rows are
 * covers, a dynamic program gives the cover that costs least under the weights (separation by optimisation: Grötschel,
 * Lovász and Schrijver, 1981), and offers that the solution does not touch are lifted in one after the other (Padberg, 1975).
 */

/** Pieces that some lines need at least, and the offers they can come from. */
export type Need = { readonly pieces: number; readonly offers: readonly number[] }

/** Σ weight · packs + Σ weight, once, of offers that are bought from ≥ least, for every plan; weights are whole. */
export type PackCut = {
  /** By offer, by index. */
  readonly packs: readonly (readonly [number, number])[]
  readonly once: readonly (readonly [number, number])[]
  readonly least: number
}

/** Needs of more pieces are left alone: to look at them takes long, and rounding matters little there. */
const MOST_PIECES = 400
/** Covers that are looked for at most, one after the other: by then it is the tolerances of numbers that go on. */
const MOST_STEPS = 300
/** Needs of which one look at all covers takes more steps are left alone. */
const MOST_EFFORT = 3e6
/** What weights that are whole are scaled to, for a cover that is just enough. */
const SCALE = 10_000
/** How far a solution must be beyond a cut to be worth a row. */
const WORTH = 2e-3
/** Lets the linear program prefer small weights where the solution has nothing. */
const HINT = 1e-4
const NOTHING = 1e-7

/**
 * What lines need of items that come from shops alone: for each set of items that a line accepts, the pieces of all lines
 * that accept nothing else, less what is owned.
 */
export function needsOf(net: PresolvedProblem): Need[] {
  const inSets = new Set(net.sets.flatMap((set) => set.contents.map(({ item }) => item)))
  const accepted = net.lines.map((line) => [...new Set(line.accepts.flatMap((a) => a.uses.map((u) => u.item)))])
  const linesOf = new Map<number, number[]>()
  for (const [l, items] of accepted.entries())
    for (const item of items) linesOf.set(item, [...(linesOf.get(item) ?? []), l])
  const seen = new Set<string>()
  return accepted.flatMap((items) => {
    const key = [...items].sort((p, q) => p - q).join()
    if (seen.has(key) || items.some((item) => inSets.has(item))) return []
    seen.add(key)
    const among = new Set(items)
    const lines = new Set(items.flatMap((item) => linesOf.get(item) ?? []))
    const inside = [...lines].filter((l) => accepted[l]?.every((item) => among.has(item)))
    const asked = inside.reduce((sum, l) => {
      const { qty = 0, accepts = [] } = net.lines[l] ?? {}
      return sum + qty * Math.min(...accepts.map(({ uses }) => uses.reduce((n, use) => n + use.qty, 0)))
    }, 0)
    const pieces = asked - items.reduce((sum, item) => sum + (net.items[item]?.free ?? 0), 0)
    if (pieces <= 0 || pieces > MOST_PIECES) return []
    return [{ pieces, offers: items.flatMap((item) => net.items[item]?.offers ?? []) }]
  })
}

/** Least sums of weights that cover so many pieces or more, offer by offer, and what is taken for them. */
class Covers {
  readonly #steps: { readonly from: Int32Array; readonly packs: Int32Array }[] = []
  /** By pieces, from 0 to the need. */
  #least: Float64Array

  constructor(need: number) {
    this.#least = new Float64Array(need + 1).fill(Infinity)
    this.#least[0] = 0
  }

  /** The least that covers so many pieces; nothing is needed to cover none. */
  least(pieces: number): number {
    return this.#least[Math.max(0, pieces)] ?? Infinity
  }

  /** Allows up to `most` packs of an offer at `weight` each, and `once` if there is any. */
  add(pack: number, most: number, weight: number, once: number): void {
    const before = this.#least
    const need = before.length - 1
    const after = before.slice()
    const [from, packs] = [Int32Array.from(after.keys()), new Int32Array(need + 1)]
    for (let start = 0; start < need; start++) {
      let sum = (before[start] ?? 0) + once
      for (let n = 1, at = start; n <= most && at < need && sum < Infinity; n++) {
        at = Math.min(need, start + n * pack)
        sum += weight
        if (sum >= (after[at] ?? 0)) continue
        after[at] = sum
        from[at] = start
        packs[at] = n
      }
    }
    // What covers more covers less as well.
    for (let at = need - 1; at >= 0; at--) {
      if ((after[at + 1] ?? 0) >= (after[at] ?? 0)) continue
      after[at] = after[at + 1] ?? 0
      from[at] = from[at + 1] ?? 0
      packs[at] = packs[at + 1] ?? 0
    }
    this.#least = after
    this.#steps.push({ from, packs })
  }

  /** Packs of each offer, in the order in which they were added, of what covers the need at the least. */
  cover(): number[] {
    let at = this.#least.length - 1
    const taken: number[] = []
    for (const { from, packs } of this.#steps.toReversed()) {
      taken.push(packs[at] ?? 0)
      at = from[at] ?? 0
    }
    return taken.reverse()
  }
}

/** An offer as a need sees it. */
type Way = { readonly offer: number; readonly pack: number; readonly most: number }

const waysOf = (net: PresolvedProblem, { pieces, offers }: Need): Way[] =>
  offers.flatMap((offer) => {
    const { pack = 1, packs = 0 } = net.offers[offer] ?? {}
    const most = Math.min(packs, Math.ceil(pieces / pack))
    return most > 0 ? [{ offer, pack, most }] : []
  })

/**
 * Finds cuts that a relaxed solution violates. It keeps the covers it has seen, so the same one serves solution after
 * solution of a problem.
 */
export class PackCuts {
  readonly #load: (program: Milp) => LoadedLp
  readonly #needs: readonly { readonly need: Need; readonly ways: readonly Way[]; readonly covers: number[][] }[]

  constructor(net: PresolvedProblem, load: (program: Milp) => LoadedLp) {
    this.#load = load
    this.#needs = needsOf(net).flatMap((need) => {
      const ways = waysOf(net, need)
      // One look at all covers takes so many steps.
      const steps = ways.reduce((sum, { most }) => sum + most * need.pieces, 0)
      return steps > MOST_EFFORT ? [] : [{ need, ways, covers: [] }]
    })
  }

  /** Cuts that a solution of a model violates, at most one for each need; `over` tells when there is no time for more. */
  violated(model: SourcingModel, x: Float64Array, over: () => boolean): PackCut[] {
    const valueOf = (column: number | undefined) => Math.max(0, x[column ?? -1] ?? 0)
    const found: PackCut[] = []
    for (const { need, ways, covers } of this.#needs) {
      if (over()) break
      const packs = ways.map(({ offer }) => valueOf(model.packs[offer]))
      const use = ways.map(({ offer }) => valueOf(model.bought[offer]))
      // Whole packs from shops that are wholly used, at whole line fees, cover what is needed as they are.
      if (packs.every((n, w) => Math.abs(n - Math.round(n)) < NOTHING && (n < NOTHING || (use[w] ?? 0) > 1 - NOTHING)))
        continue
      const cut = this.#separate(need, ways, covers, packs, use)
      if (cut) found.push(cut)
    }
    return found
  }

  /** The cut of a need that a solution violates most, if it does. */
  #separate(
    { pieces }: Need,
    ways: readonly Way[],
    covers: number[][],
    packs: readonly number[],
    use: readonly number[],
  ): PackCut | undefined {
    const touched = [...ways.keys()].filter((w) => (use[w] ?? 0) > NOTHING)
    const k = touched.length
    const at = new Map(touched.map((w, i) => [w, i]))
    const rowOf = (cover: readonly number[]): [number, number][] =>
      cover.flatMap((n, w): [number, number][] => {
        const i = at.get(w)
        return i === undefined || n === 0 ? [] : [[i, n], [k + i, 1]] // prettier-ignore
      })
    const cost = Float64Array.from([...touched.map((w) => packs[w] ?? 0), ...touched.map((w) => use[w] ?? 0)])
    const known = covers.filter((cover) => cover.every((n, w) => n === 0 || at.has(w)))
    const weighed = (weights: Float64Array, scale: (value: number) => number): Covers => {
      const sums = new Covers(pieces)
      for (const [i, w] of touched.entries()) {
        const { pack = 1, most = 0 } = ways[w] ?? {}
        sums.add(pack, most, scale(weights[i] ?? 0), scale(weights[k + i] ?? 0))
      }
      return sums
    }
    const weights = this.#weights(
      cost,
      known.map((cover) => ({ least: 1, terms: rowOf(cover) })),
      (tried) => {
        const sums = weighed(tried, (value) => Math.max(0, value))
        if (sums.least(pieces) > 1 - 1e-6) return undefined
        const taken = sums.cover()
        const cover = ways.map((_, w) => taken[at.get(w) ?? -1] ?? 0)
        covers.push(cover)
        return { least: 1, terms: rowOf(cover) }
      },
    )
    if (!weights) return undefined
    const whole = (value: number) => Math.max(0, Math.ceil(value * SCALE - 1e-3))
    const sums = weighed(weights, whole)
    const least = sums.least(pieces)
    const activity = cost.reduce((sum, value, i) => sum + value * whole(weights[i] ?? 0), 0)
    if (least === Infinity || activity > least * (1 - WORTH / 2)) return undefined
    const terms = touched.map((w, i) => ({ w, weight: whole(weights[i] ?? 0), once: whole(weights[k + i] ?? 0) }))
    // Others take part at the least weight that leaves the cut true.
    for (const [w, { pack, most }] of ways.entries()) {
      if (at.has(w)) continue
      let weight = 0
      for (let n = 1; n <= most; n++) weight = Math.max(weight, Math.ceil((least - sums.least(pieces - n * pack)) / n))
      sums.add(pack, most, weight, 0)
      terms.push({ w, weight, once: 0 })
    }
    const weighted = (of: (term: (typeof terms)[number]) => number) =>
      terms.flatMap((term) => (of(term) > 0 ? [[ways[term.w]?.offer ?? -1, of(term)] as const] : []))
    return { packs: weighted(({ weight }) => weight), once: weighted(({ once }) => once), least }
  }

  /**
   * Weights of packs and of buying any under which all covers weigh 1 or more and a solution, whose values are the costs, the least;
   * undefined where that violates nothing. `lighter` gives the row of a cover that weighs less, if there is one.
   */
  #weights(
    cost: Float64Array,
    known: readonly Row[],
    lighter: (weights: Float64Array) => Row | undefined,
  ): Float64Array | undefined {
    const lp = this.#load({
      cost: cost.map((value) => value + HINT),
      lower: new Float64Array(cost.length),
      upper: new Float64Array(cost.length).fill(1),
      integer: new Uint8Array(cost.length),
      rowLower: new Float64Array(0),
      rowUpper: new Float64Array(0),
      starts: new Int32Array(1),
      indices: new Int32Array(0),
      values: new Float64Array(0),
    })
    try {
      let more: readonly Row[] = known
      for (let step = 0; step < MOST_STEPS; step++) {
        lp.add(more)
        const weights = lp.solve({ timeLimit: 5 })?.x
        // Weights that the solution does not violate by now will not be violated with more rows.
        if (!weights || cost.reduce((sum, value, i) => sum + value * (weights[i] ?? 0), 0) > 1 - WORTH) return undefined
        const row = lighter(weights)
        if (!row) return weights
        more = [row]
      }
      return undefined
    } finally {
      lp.close()
    }
  }
}

/** What weighs how much in a cut, by the columns of a model; offers that it leaves out are not bought. */
function weightsOf({ packs, once }: PackCut, model: SourcingModel): Map<number, number> {
  const weights = new Map<number, number>()
  const add = (column: number | undefined, weight: number) => {
    if (column !== undefined && column >= 0) weights.set(column, (weights.get(column) ?? 0) + weight)
  }
  for (const [offer, weight] of packs) add(model.packs[offer], weight)
  for (const [offer, weight] of once) add(model.bought[offer], weight)
  return weights
}

/** Cuts as rows of a model. */
export const packRows = (model: SourcingModel, cuts: readonly PackCut[]): Row[] =>
  cuts.map((cut) => ({
    least: 1,
    terms: [...weightsOf(cut, model)].map(([column, weight]) => [column, weight / cut.least] as const),
  }))

/** By how much a solution is beyond what a cut asks for, as a share of that. */
export function slackOf(cut: PackCut, model: SourcingModel, x: Float64Array): number {
  let sum = 0
  for (const [column, weight] of weightsOf(cut, model)) sum += weight * (x[column] ?? 0)
  return sum / cut.least - 1
}
