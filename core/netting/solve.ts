import type { SolveMilp } from '../solver/milp.ts'
import { addUp } from '../units/quantity.ts'
import { coverDemands } from './kernel/cover.ts'
import {
  NO_KITS,
  optionsFrom,
  componentsOf,
  type CoverDemand,
  type Options,
  type Stock,
} from './kernel/cover-problem.ts'
import type { Accept, Assignment, NettingLine, NettingPlan, NettingProblem, NettingSupply, Peg } from './problem.ts'

const byId = (p: { id: string }, q: { id: string }) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0)

export type NettingOptions = {
  /** Proves what the search leaves open; without it a tangle of options of several pieces may stay unproven. */
  readonly milp?: SolveMilp | undefined
}

/** Lines that accept the same and belong to the same group. */
type LineDemand = CoverDemand & { readonly accepts: readonly Accept[]; readonly lines: NettingLine[]; qty: number }

/**
 * Solves a problem of the exchange format (`coverDemands`) and draws the pieces from its supplies: preferred sources
 * first, and few places, as far as the objective leaves a choice. The result depends on content, never on the order of
 * rows. Fast when lines that accept the same share one array of options.
 */
export function solveNetting({ lines, supplies }: NettingProblem, { milp }: NettingOptions = {}): NettingPlan {
  const numbers = new Map<string, number>()
  const numberOf = (item: string): number => {
    const known = numbers.get(item)
    if (known !== undefined) return known
    numbers.set(item, numbers.size)
    return numbers.size - 1
  }
  const demands: LineDemand[] = []
  const known = new Map<readonly Accept[], LineDemand[]>()
  for (const line of lines.filter((l) => l.qty > 0).sort(byId)) {
    const alike = known.get(line.accepts)
    const same = alike?.find((demand) => demand.group === line.group)
    if (same) {
      same.lines.push(line)
      same.qty += line.qty
      continue
    }
    const options = alike?.[0]?.options ?? optionsOf(line.accepts, numberOf)
    const demand = { accepts: line.accepts, options, lines: [line], qty: line.qty, group: line.group }
    demands.push(demand)
    if (alike) alike.push(demand)
    else known.set(line.accepts, [demand])
  }
  const stock = stockFor(numbers, supplies)
  const { cover, proven, schemes } = coverDemands(demands, tiersOf(stock), milp && { milp })

  let short = 0
  let compromise = 0
  let rank = 0
  const assignments: Assignment[] = []
  const cursors = new Int32Array(numbers.size)
  const taken = new Float64Array(numbers.size)
  /** Draws pieces of an item, preferred supplies first. */
  const draw = (item: number, qty: number, pegs: Peg[]): void => {
    const held = stock[item] ?? []
    for (let demand = qty; demand > 0;) {
      const supply = held[cursors[item] as number]
      if (!supply) throw new Error('netting drew more of an item than there is')
      const take = Math.min(demand, supply.qty - (taken[item] as number))
      if (take > 0) pegs.push({ supply: supply.id, qty: take })
      rank += take * supply.rank
      demand -= take
      taken[item] = (taken[item] as number) + take
      if (taken[item] === supply.qty) {
        cursors[item] = (cursors[item] as number) + 1
        taken[item] = 0
      }
    }
  }
  // What a demand's options cover is handed to its lines, in the order of their ids.
  for (const [n, { accepts, options, lines: askers }] of demands.entries()) {
    const own = cover[n] ?? []
    let at = 0
    let left = own[1] ?? 0
    for (const line of askers) {
      let open = line.qty
      while (open > 0 && at < own.length) {
        const qty = Math.min(open, left)
        const option = own[at] as number
        const accept = accepts[option]
        if (qty > 0 && accept) {
          const pegs: Peg[] = []
          for (const use of componentsOf(options, option)) draw(use.item, use.qty * qty, pegs)
          assignments.push({ line: line.id, accept: accept.id, qty, pegs })
          compromise += qty * accept.compromise
        }
        open -= qty
        left -= qty
        if (left > 0) continue
        at += 2
        left = own[at + 1] ?? 0
      }
      short += open
    }
  }
  const plan = { assignments, short, compromise, rank, proven }
  if (!lines.some((l) => l.group !== undefined)) return plan
  const chosen = [...schemes].map(([group, scheme]) => ({ group, scheme }))
  return { schemes: chosen.sort((p, q) => (p.group < q.group ? -1 : 1)), ...plan }
}

function optionsOf(accepts: readonly Accept[], numberOf: (item: string) => number): Options {
  const [only, more] = accepts
  const [use, other] = only?.uses ?? []
  if (only && use?.qty === 1 && !other && !more && only.scheme === undefined)
    return { items: [numberOf(use.item)], compromises: [only.compromise], kits: NO_KITS }
  return optionsFrom(
    accepts.map(({ uses, ...rest }) => ({
      ...rest,
      uses: addUp(uses.map((u) => ({ item: numberOf(u.item), qty: u.qty }))),
    })),
  )
}

/** The supplies of each item in the order in which they are drawn from. */
function stockFor(numbers: ReadonlyMap<string, number>, supplies: readonly NettingSupply[]): NettingSupply[][] {
  const stock = Array.from({ length: numbers.size }, (): NettingSupply[] => [])
  const popular = new Map<string, number>()
  for (const supply of supplies) {
    if (supply.qty === 0) continue
    const item = numbers.get(supply.item)
    if (item === undefined) continue
    stock[item]?.push(supply)
    if (supply.place !== undefined) popular.set(supply.place, (popular.get(supply.place) ?? 0) + 1)
  }
  // Preferred sources first; then places that hold much of what is needed and large supplies, so that few are visited.
  const inOrder = (p: NettingSupply, q: NettingSupply) =>
    p.rank - q.rank ||
    (popular.get(q.place ?? '') ?? 0) - (popular.get(p.place ?? '') ?? 0) ||
    q.qty - p.qty ||
    byId(p, q)
  for (const held of stock) if (held.length > 1) held.sort(inOrder)
  return stock
}

/** The supplies of items, each item's in order, as tiers of one rank. */
function tiersOf(held: readonly (readonly NettingSupply[])[]): Stock {
  const from = new Int32Array(held.length + 1)
  const rank: number[] = []
  const qty: number[] = []
  for (const [item, own] of held.entries()) {
    let last = -1
    for (const supply of own) {
      if (supply.rank !== last) {
        last = supply.rank
        rank.push(last)
        qty.push(0)
      }
      qty[qty.length - 1] = (qty.at(-1) ?? 0) + supply.qty
    }
    from[item + 1] = qty.length
  }
  return { from, rank, qty }
}
