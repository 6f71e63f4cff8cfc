import type { NettingLine, NettingPlan, NettingProblem } from './problem.ts'

/** Solved choices after which the best one found is taken unproven. */
const MAX_NODES = 2000

const better = (p: NettingPlan, q: NettingPlan): boolean =>
  p.short !== q.short
    ? p.short < q.short
    : p.compromise !== q.compromise
      ? p.compromise < q.compromise
      : p.rank < q.rank

/**
 * The best cover where lines of a group must all use options of one scheme: schemes are fixed group by group, depth
 * first, the best-looking first. What is still open is solved as if each line could choose for itself, which is a bound.
 * Lines that share no item with any group, however indirectly, are solved once and for all.
 */
export function solveWithSchemes(
  { lines, supplies }: NettingProblem,
  solveLines: (problem: NettingProblem) => NettingPlan,
): NettingPlan {
  const { near, far } = split(lines)
  const rest = solveLines({ lines: far, supplies })
  const groups = new Map<string, string[]>()
  for (const line of near) {
    if (line.group === undefined) continue
    const schemes = groups.get(line.group) ?? []
    for (const { scheme } of line.accepts) if (scheme !== undefined && !schemes.includes(scheme)) schemes.push(scheme)
    groups.set(line.group, schemes)
  }
  // Groups with the fewest schemes first: they decide most for least work.
  const order = [...groups].sort((p, q) => p[1].length - q[1].length || (p[0] < q[0] ? -1 : 1))

  const solve = (chosen: ReadonlyMap<string, string>) =>
    solveLines({
      lines: near.map((line) => {
        const scheme = line.group === undefined ? undefined : chosen.get(line.group)
        if (scheme === undefined) return line
        return { ...line, accepts: line.accepts.filter((a) => a.scheme === undefined || a.scheme === scheme) }
      }),
      supplies,
    })
  let best: { plan: NettingPlan; chosen: ReadonlyMap<string, string> } | undefined
  let nodes = 0
  let cutShort = false
  let proven = true
  const descend = (depth: number, chosen: ReadonlyMap<string, string>, bound: NettingPlan): void => {
    const next = order[depth]
    if (!next) {
      if (!best || better(bound, best.plan)) best = { plan: bound, chosen }
      return
    }
    const [group, schemes] = next
    if (schemes.length === 0) {
      descend(depth + 1, chosen, bound)
      return
    }
    const options = schemes.map((scheme) => {
      const fixed = new Map([...chosen, [group, scheme]])
      nodes++
      const plan = solve(fixed)
      proven &&= plan.proven
      return { fixed, plan, scheme }
    })
    options.sort((p, q) => (better(p.plan, q.plan) ? -1 : better(q.plan, p.plan) ? 1 : p.scheme < q.scheme ? -1 : 1))
    for (const { fixed, plan } of options) {
      if (best && !better(plan, best.plan)) return
      if (best && nodes > MAX_NODES) {
        cutShort = true
        return
      }
      descend(depth + 1, fixed, plan)
    }
  }
  descend(0, new Map(), solve(new Map()))
  if (!best) throw new Error('a choice of schemes always exists')
  const { plan, chosen } = best
  return {
    schemes: [...chosen].map(([group, scheme]) => ({ group, scheme })).sort((p, q) => (p.group < q.group ? -1 : 1)),
    assignments: [...plan.assignments, ...rest.assignments],
    short: plan.short + rest.short,
    compromise: plan.compromise + rest.compromise,
    rank: plan.rank + rest.rank,
    proven: proven && rest.proven && !cutShort,
  }
}

/** Lines that compete with a group's lines for an item, however indirectly, and those that do not. */
function split(lines: readonly NettingLine[]): { near: NettingLine[]; far: NettingLine[] } {
  const users = new Map<string, NettingLine[]>()
  const itemsOf = (line: NettingLine) => line.accepts.flatMap((a) => a.uses.map((u) => u.item))
  for (const line of lines)
    for (const item of itemsOf(line)) {
      const list = users.get(item)
      if (list) list.push(line)
      else users.set(item, [line])
    }
  const near = new Set(lines.filter((l) => l.group !== undefined))
  const seen = new Set<string>()
  for (const line of near)
    for (const item of itemsOf(line)) {
      if (seen.has(item)) continue
      seen.add(item)
      for (const other of users.get(item) ?? []) near.add(other)
    }
  return { near: [...near], far: lines.filter((l) => !near.has(l)) }
}
