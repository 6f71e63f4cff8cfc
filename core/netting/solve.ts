import type { SolveMilp } from '../solver/milp.ts'
import { solveGroup } from './group.ts'
import type { Need, Option, Stock } from './numbered.ts'
import { solveWithSchemes } from './schemes.ts'
import type { Accept, Assignment, NettingLine, NettingPlan, NettingProblem, NettingSupply, Peg } from './problem.ts'

const byId = (p: { id: string }, q: { id: string }) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0)

export type NettingOptions = {
  /** Proves what the search leaves open; without it a tangle of options of several pieces may stay unproven. */
  readonly milp?: SolveMilp | undefined
}

/**
 * Covers lines from supplies: fewest pieces short, then least compromise, then preferred sources, proven unless
 * `proven` says otherwise. Lines of a group are covered in one scheme (`solveWithSchemes`). Items that no line can
 * exchange for one another fall into independent groups: a single item needs arithmetic only, the others a flow
 * (`solveGroup`). The result depends on content, never on the order of rows. Fast when lines that accept the same
 * share one array of options, and equal options are one object.
 */
export function solveNetting(problem: NettingProblem, options: NettingOptions = {}): NettingPlan {
  const solve = (p: NettingProblem) => solveLines(p, options)
  return problem.lines.some((l) => l.group !== undefined) ? solveWithSchemes(problem, solve) : solve(problem)
}

/** What lines of one array of options ask for together. */
type Ask = Need & {
  readonly accepts: readonly Accept[]
  readonly first: number
  readonly lines: NettingLine[]
  qty: number
}

function solveLines({ lines, supplies }: NettingProblem, { milp }: NettingOptions): NettingPlan {
  // Items are numbered; those that some line can exchange for one another have one root.
  const numbers = new Map<string, number>()
  const parent: number[] = []
  const root = (item: number): number => {
    let at = item
    while (parent[at] !== at) {
      const up = parent[at] as number
      parent[at] = parent[up] as number
      at = up
    }
    return at
  }
  const optionOf = new Map<Accept, Option>()
  const compile = (accept: Accept): Option => {
    const known = optionOf.get(accept)
    if (known) return known
    const uses = accept.uses.map(({ item, qty }) => {
      let number = numbers.get(item)
      if (number === undefined) {
        number = parent.length
        numbers.set(item, number)
        parent.push(number)
      }
      return { item: number, qty }
    })
    const option = { uses, compromise: accept.compromise }
    optionOf.set(accept, option)
    return option
  }
  let short = 0
  const asks = new Map<readonly Accept[], Ask>()
  for (const line of lines) {
    if (line.qty === 0) continue
    const known = asks.get(line.accepts)
    if (known) {
      known.lines.push(line)
      known.qty += line.qty
      continue
    }
    let first = -1
    const compiled = line.accepts.map(compile)
    for (const { uses } of compiled)
      for (const { item } of uses) {
        if (first < 0) first = root(item)
        else {
          const other = root(item)
          if (other !== first) parent[other] = first
        }
      }
    if (first < 0) short += line.qty
    else asks.set(line.accepts, { accepts: line.accepts, options: compiled, first, lines: [line], qty: line.qty })
  }

  const stock: NettingSupply[][] = parent.map(() => [])
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

  const groups = new Map<number, Ask[]>()
  for (const ask of asks.values()) {
    if (ask.lines.length > 1) ask.lines.sort(byId)
    const top = root(ask.first)
    const group = groups.get(top)
    if (group) group.push(ask)
    else groups.set(top, [ask])
  }

  let compromise = 0
  let rank = 0
  let proven = true
  const assignments: Assignment[] = []
  const cursors = new Int32Array(parent.length)
  const taken = new Float64Array(parent.length)
  /** Draws pieces of an item, preferred supplies first. */
  const draw = (item: number, qty: number, pegs: Peg[]): void => {
    const held = stock[item] as NettingSupply[]
    for (let need = qty; need > 0;) {
      const supply = held[cursors[item] as number]
      if (!supply) throw new Error('netting drew more of an item than there is')
      const take = Math.min(need, supply.qty - (taken[item] as number))
      if (take > 0) pegs.push({ supply: supply.id, qty: take })
      rank += take * supply.rank
      need -= take
      taken[item] = (taken[item] as number) + take
      if (taken[item] === supply.qty) {
        cursors[item] = (cursors[item] as number) + 1
        taken[item] = 0
      }
    }
  }
  const assign = (line: NettingLine, accept: Accept, { uses }: Option, qty: number) => {
    const pegs: Peg[] = []
    for (const use of uses) draw(use.item, use.qty * qty, pegs)
    assignments.push({ line: line.id, accept: accept.id, qty, pegs })
    compromise += qty * accept.compromise
  }
  /** Hands what an ask's options cover to its lines, in the order of their ids. */
  const handOut = ({ accepts, options: ways, lines: askers }: Ask, cover: readonly number[]) => {
    let at = 0
    let left = cover[0] ?? 0
    for (const line of askers) {
      let open = line.qty
      while (open > 0 && at < accepts.length) {
        const qty = Math.min(open, left)
        const [accept, way] = [accepts[at], ways[at]]
        if (qty > 0 && accept && way) assign(line, accept, way, qty)
        open -= qty
        left -= qty
        if (left === 0) left = cover[++at] ?? 0
      }
      short += open
    }
  }

  const scratch = new Int32Array(parent.length).fill(-1)
  const tiersOfItem = (item: number): Stock => ({ tiers: tiersOf(stock[item] ?? []) })
  for (const group of groups.values()) {
    const [first] = group
    // One item and nothing to choose: in the order of the lines' ids.
    if (first && group.every((ask) => isPlain(ask) && (group.length === 1 || ask.options[0]?.compromise === 0))) {
      let left = (stock[first.first] ?? []).reduce((n, s) => n + s.qty, 0)
      if (group.length > 1) group.sort(byFirstLine)
      for (const ask of group) {
        handOut(ask, [Math.min(left, ask.qty)])
        left -= Math.min(left, ask.qty)
      }
      continue
    }
    group.sort(byFirstLine)
    const solved = solveGroup(group, tiersOfItem, scratch, milp)
    proven &&= solved.proven
    for (const [n, ask] of group.entries()) handOut(ask, solved.cover[n] ?? [])
  }
  return { assignments, short, compromise, rank, proven }
}

const byFirstLine = (p: Ask, q: Ask) => byId(p.lines[0] as NettingLine, q.lines[0] as NettingLine)

/** One option of one piece. */
const isPlain = ({ options: [option, other] }: Ask) =>
  option !== undefined && other === undefined && option.uses.length === 1 && option.uses[0]?.qty === 1

function tiersOf(held: readonly NettingSupply[]): { rank: number; qty: number }[] {
  const tiers: { rank: number; qty: number }[] = []
  for (const { rank, qty } of held) {
    const last = tiers.at(-1)
    if (last?.rank === rank) last.qty += qty
    else tiers.push({ rank, qty })
  }
  return tiers
}
