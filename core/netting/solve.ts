import { solveGroup, type Need } from './group.ts'
import { solveWithSchemes } from './schemes.ts'
import type { Assignment, NettingLine, NettingPlan, NettingProblem, NettingSupply, Peg } from './problem.ts'

const byId = (p: { id: string }, q: { id: string }) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0)

/** Preferred sources first, then the largest supply, so that few places are visited. */
const inOrder = (p: NettingSupply, q: NettingSupply) => p.rank - q.rank || q.qty - p.qty || byId(p, q)

type Group = { readonly lines: NettingLine[]; readonly items: string[] }

/**
 * Covers lines from supplies: fewest pieces short, then least compromise, then preferred sources, proven unless
 * `proven` says otherwise. Lines of a group are covered in one scheme (`solveWithSchemes`). Items that no line can exchange for one another fall into independent groups: a single item
 * needs arithmetic only, the others a flow (`solveGroup`). The result depends on content, never on the order of rows.
 */
export function solveNetting(problem: NettingProblem): NettingPlan {
  return problem.lines.some((l) => l.group !== undefined) ? solveWithSchemes(problem, solveLines) : solveLines(problem)
}

function solveLines({ lines, supplies }: NettingProblem): NettingPlan {
  const stock = new Map<string, NettingSupply[]>()
  const parent = new Map<string, string>()
  const root = (item: string): string => {
    let at = item
    for (let up = parent.get(at) ?? at; up !== at; up = parent.get(at) ?? at) at = up
    if (at !== item) parent.set(item, at)
    return at
  }
  for (const { accepts } of lines) {
    let joint: string | undefined
    for (const { uses } of accepts)
      for (const { item } of uses) {
        if (!parent.has(item)) {
          parent.set(item, item)
          stock.set(item, [])
        }
        const top = root(item)
        if (joint === undefined) joint = top
        else if (top !== joint) parent.set(top, joint)
      }
  }
  for (const supply of supplies) if (supply.qty > 0) stock.get(supply.item)?.push(supply)
  for (const held of stock.values()) if (held.length > 1) held.sort(inOrder)

  const groups = new Map<string, Group>()
  for (const item of parent.keys()) {
    const top = root(item)
    const group = groups.get(top)
    if (group) group.items.push(item)
    else groups.set(top, { lines: [], items: [item] })
  }
  let short = 0
  for (const line of lines) {
    const first = line.accepts[0]?.uses[0]
    if (first && line.qty > 0) groups.get(root(first.item))?.lines.push(line)
    else short += line.qty
  }

  let compromise = 0
  let rank = 0
  let proven = true
  const assignments: Assignment[] = []
  const cursors = new Map<string, { at: number; left: number }>()
  /** Draws pieces of an item, preferred supplies first. */
  const draw = (item: string, qty: number, pegs: Peg[]): void => {
    const held = stock.get(item) ?? []
    const cursor = cursors.get(item) ?? { at: 0, left: held[0]?.qty ?? 0 }
    cursors.set(item, cursor)
    for (let need = qty; need > 0;) {
      const supply = held[cursor.at]
      if (!supply) throw new Error(`netting drew more of ${item} than there is`)
      const take = Math.min(need, cursor.left)
      if (take > 0) pegs.push({ supply: supply.id, qty: take })
      rank += take * supply.rank
      need -= take
      cursor.left -= take
      if (cursor.left === 0) cursor.left = held[++cursor.at]?.qty ?? 0
    }
  }
  const assign = (line: NettingLine, option: number, qty: number) => {
    const accept = line.accepts[option]
    if (!accept || qty === 0) return
    const pegs: Peg[] = []
    for (const use of accept.uses) draw(use.item, use.qty * qty, pegs)
    assignments.push({ line: line.id, accept: accept.id, qty, pegs })
    compromise += qty * accept.compromise
  }

  for (const group of groups.values()) {
    if (group.lines.length > 1) group.lines.sort(byId)
    const [item] = group.items
    if (group.items.length === 1 && item !== undefined && group.lines.every(isPlain)) {
      let left = (stock.get(item) ?? []).reduce((n, s) => n + s.qty, 0)
      for (const line of group.lines) {
        const qty = Math.min(left, line.qty)
        assign(line, 0, qty)
        left -= qty
        short += line.qty - qty
      }
      continue
    }
    const items = group.items.sort()
    const index = new Map(items.map((name, i) => [name, i]))
    const needs = new Map<string, Need & { readonly lines: NettingLine[]; qty: number }>()
    for (const line of group.lines) {
      const key = JSON.stringify(line.accepts.map((a) => [a.uses, a.compromise]))
      const need = needs.get(key)
      if (need) {
        need.lines.push(line)
        need.qty += line.qty
      } else
        needs.set(key, {
          lines: [line],
          qty: line.qty,
          options: line.accepts.map((a) => ({
            uses: a.uses.map((use) => ({ item: index.get(use.item) ?? 0, qty: use.qty })),
            compromise: a.compromise,
          })),
        })
    }
    const list = [...needs.entries()].sort(([p], [q]) => (p < q ? -1 : 1)).map(([, need]) => need)
    const solved = solveGroup(
      list,
      items.map((name) => ({ tiers: tiersOf(stock.get(name) ?? []) })),
    )
    proven &&= solved.proven
    for (const [n, need] of list.entries()) {
      const left = [...(solved.cover[n] ?? [])]
      for (const line of need.lines) {
        let open = line.qty
        for (const [o, cover] of left.entries()) {
          const qty = Math.min(open, cover)
          assign(line, o, qty)
          left[o] = cover - qty
          open -= qty
        }
        short += open
      }
    }
  }
  return { assignments, short, compromise, rank, proven }
}

/** One option that takes the piece itself, at no compromise that could be avoided. */
const isPlain = ({ accepts }: NettingLine) =>
  accepts.length === 1 && accepts[0]?.uses.length === 1 && accepts[0].uses[0]?.qty === 1 && accepts[0].compromise === 0

function tiersOf(held: readonly NettingSupply[]): { rank: number; qty: number }[] {
  const tiers: { rank: number; qty: number }[] = []
  for (const { rank, qty } of held) {
    const last = tiers.at(-1)
    if (last?.rank === rank) last.qty += qty
    else tiers.push({ rank, qty })
  }
  return tiers
}
