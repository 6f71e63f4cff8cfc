import { componentsOf, piecesCovered, type Components, type Cover, type CoverDemand } from './cover-problem.ts'

/** Demands that compete for items; of each item its slot, and by slot the pieces there are. */
type Competing = {
  readonly demands: readonly CoverDemand[]
  readonly slotOf: Int32Array
  readonly pieces: readonly number[]
}

/** How many required pieces each kit covers at least and at most. */
export type Bounds = { readonly low: Int32Array; readonly high: Int32Array }

/** Options of several pieces of which some can be used, those of a demand side by side; in arrays, as there may be very many. */
export type Kits = {
  /** Of each demand its first; one number more than there are demands. */
  readonly from: Int32Array
  readonly demand: readonly number[]
  readonly option: readonly number[]
  readonly uses: readonly Components[]
  readonly bounds: Bounds
}

/** The kits of demands, as far as there are pieces for them. */
export function kitsOf({ demands, slotOf, pieces }: Competing): Kits {
  const from = new Int32Array(demands.length + 1)
  const demand: number[] = []
  const option: number[] = []
  const uses: Components[] = []
  const highs: number[] = []
  for (let n = 0; n < demands.length; n++) {
    const { qty, options } = demands[n]
    for (const [o, own] of options.kits) {
      let high = qty
      for (const { item, qty: each } of own) high = Math.min(high, Math.floor(pieces[slotOf[item]] / each))
      // Of what is not there none can be used.
      if (high === 0) continue
      demand.push(n)
      option.push(o)
      uses.push(own)
      highs.push(high)
    }
    from[n + 1] = option.length
  }
  return { from, demand, option, uses, bounds: { low: new Int32Array(highs.length), high: Int32Array.from(highs) } }
}

/** The pieces that a kit covers. */
export const coveredBy = ({ demand, option }: Kits, kit: number, cover: Cover): number =>
  piecesCovered(cover[demand[kit]], option[kit])

/** Bounds that leave no choice. */
export const fixedAt = (taken: Int32Array): Bounds => ({ low: taken, high: taken })

/** Options of several pieces as far as a relaxed cover uses them and there are pieces for them all: a plan to begin with. */
export function rounded({ slotOf, pieces }: Competing, kits: Kits, cover: Cover): Bounds {
  const left = [...pieces]
  return fixedAt(
    kits.bounds.low.map((_, k) => {
      let taken = coveredBy(kits, k, cover)
      for (const { item, qty } of kits.uses[k]) taken = Math.min(taken, Math.floor(left[slotOf[item]] / qty))
      if (taken > 0) for (const { item, qty } of kits.uses[k]) left[slotOf[item]] -= taken * qty
      return taken
    }),
  )
}

/**
 * Options of several pieces as a cover uses them, and more of them where it leaves demands short and pieces over, the least
 * compromise first; undefined where there are none to be had.
 */
export function filledUp({ demands, slotOf, pieces }: Competing, kits: Kits, cover: Cover): Bounds | undefined {
  const left = [...pieces]
  const taken = kits.bounds.low.map((_, k) => coveredBy(kits, k, cover))
  const open = demands.map(({ qty, options }, demand) => {
    let short = qty
    const own = cover[demand]
    for (let at = 0; at < own.length; at += 2) {
      short -= own[at + 1]
      for (const { item, qty: each } of componentsOf(options, own[at])) left[slotOf[item]] -= each * own[at + 1]
    }
    return short
  })
  const wanted: number[] = []
  for (let k = 0; k < taken.length; k++) if (open[kits.demand[k]] > 0) wanted.push(k)
  const costs = (k: number) => demands[kits.demand[k]].options.compromises[kits.option[k]]
  wanted.sort((p, q) => costs(p) - costs(q) || p - q)
  let found = false
  for (const k of wanted) {
    let more = open[kits.demand[k]]
    for (const { item, qty } of kits.uses[k]) more = Math.min(more, Math.floor(left[slotOf[item]] / qty))
    if (more <= 0) continue
    found = true
    taken[k] += more
    open[kits.demand[k]] -= more
    for (const { item, qty } of kits.uses[k]) left[slotOf[item]] -= more * qty
  }
  return found ? fixedAt(taken) : undefined
}
