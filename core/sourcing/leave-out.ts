import { coverDemands, independent } from '../netting/kernel/cover.ts'
import { itemsIn, optionsFrom, type CoverDemand, type Stock } from '../netting/kernel/cover-problem.ts'
import { leftOutPieces } from './explain.ts'
import { namedLine, presolve, findUnreachable, type PresolvedProblem } from './presolve.ts'
import { gapOf, totalOf, type SourcingPlan, type Unreachable } from './plan.ts'
import type { ProofTask } from './prove-apart.ts'
import { dearestPiece, type SourcingProblem } from './problem.ts'
import { solveSourcing, type SolveOptions, type SolveProgress } from './solve.ts'

/** Lines that compete for what there is, and how many of their pieces no purchase can bring. */
export type Scarcity = {
  readonly lines: readonly number[]
  readonly short: number
  /** One way to leave that many out: pieces by line. */
  readonly shortOf: ReadonlyMap<number, number>
}

/** Largest quantity the flows of the netting count exactly. */
const MOST_PIECES = 1_000_000_000

/**
 * What all allowed supplies together (stocks in whole packs, owned pieces, every copy that may be bought) leave out,
 * whatever is paid: fewest pieces, found jointly for lines that compete, each such group by itself. Exact where
 * `proven`; shops' own rules (caps, minimums, parcels) may leave out more.
 */
export function scarcities(net: PresolvedProblem): { readonly groups: readonly Scarcity[]; readonly proven: boolean } {
  const supply = net.items.map((item) => item.free)
  const bring = (item: number, pieces: number) => {
    supply[item] = Math.min(MOST_PIECES, (supply[item] ?? 0) + pieces)
  }
  for (const offer of net.offers) bring(offer.item, offer.packs * offer.pack)
  for (const set of net.sets) for (const { item, qty } of set.contents) bring(item, qty * set.maxCopies)
  const stock: Stock = {
    from: Int32Array.from({ length: supply.length + 1 }, (_, i) => i),
    rank: supply.map(() => 0),
    qty: supply,
  }
  const demands = net.lines.map(({ qty, accepts }): CoverDemand => ({
    qty,
    options: optionsFrom(accepts.map(({ uses }) => ({ uses, compromise: 0 }))),
  }))
  let proven = true
  const groups = independent(demands, itemsIn(stock)).flatMap((lines): Scarcity[] => {
    const own = lines.map((l) => demands[l] as CoverDemand)
    const plan = coverDemands(own, stock)
    proven &&= plan.proven
    let short = 0
    const shortOf = new Map<number, number>()
    for (const [n, { qty }] of own.entries()) {
      const covered = plan.cover[n] ?? []
      let open = qty
      for (let at = 1; at < covered.length; at += 2) open -= covered[at] as number
      if (open > 0) shortOf.set(lines[n] as number, open)
      short += open
    }
    return short > 0 ? [{ lines, short, shortOf }] : []
  })
  return { groups, proven }
}

/** The option that leaves a piece out, and what it takes. No line of a problem that is solved here has such names. */
const LEFT_OUT = '\u0000left out'

/**
 * The problem with so many pieces of each group left out: an option for its lines that takes a piece of nothing, of which
 * there are just so many. It costs more than any piece, so that a search takes it last; as every plan leaves out that
 * many, this adds the same to all (`toll`).
 */
function allowLeavingOut(
  problem: SourcingProblem,
  groups: readonly { readonly lines: ReadonlySet<string>; readonly short: number }[],
): { readonly problem: SourcingProblem; readonly toll: number } {
  const dearest = dearestPiece(problem)
  let worst = 0
  for (const line of problem.lines)
    for (const { penalty, uses } of line.accepts)
      worst = Math.max(worst, penalty + dearest * uses.reduce((n, u) => n + u.qty, 0))
  const penalty = worst + 1
  const groupOf = new Map(groups.flatMap(({ lines }, g) => [...lines].map((id) => [id, g] as const)))
  return {
    toll: penalty * groups.reduce((n, g) => n + g.short, 0),
    problem: {
      ...problem,
      items: [
        ...problem.items,
        ...groups.map(({ short }, g) => ({
          id: `${LEFT_OUT} ${g}`,
          part: '',
          colour: '',
          mass: 0,
          owned: short,
          resale: null,
        })),
      ],
      lines: problem.lines.map((line) => {
        const g = groupOf.get(line.id)
        if (g === undefined) return line
        const none = { id: LEFT_OUT, uses: [{ item: `${LEFT_OUT} ${g}`, qty: 1 }], penalty }
        return { ...line, accepts: [...line.accepts, none] }
      }),
    },
  }
}

/** A plan without the pieces it leaves out: as a plan of the problem that asks for the others alone. */
function withoutLeftOut(plan: SourcingPlan, toll: number): { plan: SourcingPlan; leftOut: Map<string, number> } {
  const leftOut = new Map<string, number>()
  for (const { line, accept, qty } of plan.assignments)
    if (accept === LEFT_OUT) leftOut.set(line, (leftOut.get(line) ?? 0) + qty)
  const cost = plan.cost && { ...plan.cost, penalties: plan.cost.penalties - toll }
  const total = cost && totalOf(cost)
  const bound = plan.bound === null ? null : plan.bound - toll
  return {
    leftOut,
    plan: {
      ...plan,
      assignments: plan.assignments.filter((a) => a.accept !== LEFT_OUT),
      cost,
      total,
      bound,
      gap: gapOf(total, bound),
    },
  }
}

/** A problem that asks for so many pieces fewer, by line. */
export const withLess = (problem: SourcingProblem, leftOut: ReadonlyMap<string, number>): SourcingProblem => ({
  ...problem,
  lines: problem.lines
    .map((line) => ({ ...line, qty: line.qty - (leftOut.get(line.id) ?? 0) }))
    .filter((line) => line.qty > 0),
})

/** Why pieces are left out, line by line. */
function reasonsFor(net: PresolvedProblem, leftOut: ReadonlyMap<string, number>, byRules: boolean): Unreachable[] {
  const alone = new Map(findUnreachable(net).map((u) => [u.line, u]))
  const lineOf = new Map(net.lines.map((l) => [l.id, l]))
  return [...leftOut].map(([line, short]): Unreachable => {
    const own = alone.get(line)
    const asked = lineOf.get(line)
    if (own && own.short >= short) return { ...own, short }
    const detail = byRules
      ? `${short} of ${asked?.qty ?? short} cannot be had with the others under the rules for shops`
      : `${short} of ${asked?.qty ?? short} cannot be had beside the other lines that demand the same pieces`
    return { ...namedLine({ id: line, piece: asked?.piece }), short, reason: 'joint', detail }
  })
}

/** What stocks leave out, line by line, with the reason: one way to leave the fewest pieces out. */
export function leftOutByStock(net: PresolvedProblem): Unreachable[] {
  const short = new Map<string, number>()
  for (const { shortOf } of scarcities(net).groups)
    for (const [l, qty] of shortOf) short.set(net.lines[l]?.id ?? '', qty)
  return reasonsFor(net, short, false)
}

export type ReachOptions = SolveOptions & {
  /** Sees every better plan, as the answer that it would be. */
  readonly onFound?: (found: WithinReach) => void
}

/** What can be bought: a plan for all that can be had at once, the problem that it answers, and what had to be left out. */
export type WithinReach = {
  readonly problem: SourcingProblem
  readonly plan: SourcingPlan
  readonly leftOut: readonly Unreachable[]
}

/**
 * Buys everything that can be had: the fewest pieces are left out that any plan leaves out, and among those plans the
 * cheapest is sought (`solveSourcing`). First what stocks leave out, group by group; where shops' rules leave out more,
 * that number is found by integer programming. A plan without any way to keep the rules stays `infeasible`, with the
 * rule at fault. The problem returned asks for no piece that is left out: the plan and its bound hold for it as they do
 * for all plans that leave out as few.
 */
export function solveWithinReach(problem: SourcingProblem, options: ReachOptions): WithinReach {
  const started = options.now()
  const left = () => options.timeLimit - (options.now() - started)
  const net = presolve(problem)
  const { groups, proven } = scarcities(net)
  const byId = groups.map(({ lines, short }) => ({ lines: new Set(lines.map((l) => net.lines[l]?.id ?? '')), short }))
  const first = attempt(problem, net, proven ? byId : [], false, options)
  if (first.plan.status !== 'infeasible') return first
  if (findUnreachable(net).some((u) => u.line === '')) return first
  const pieces = leftOutPieces(net, options.milp, () => Math.max(1, left() * 0.4))
  const short = pieces?.reduce((n, p) => n + p, 0) ?? 0
  if (short === 0) return first
  const all = new Set(net.lines.map((l) => l.id))
  return attempt(problem, net, [{ lines: all, short }], true, { ...options, timeLimit: Math.max(1, left()) })
}

function attempt(
  problem: SourcingProblem,
  net: PresolvedProblem,
  groups: readonly { readonly lines: ReadonlySet<string>; readonly short: number }[],
  byRules: boolean,
  { onFound, onProgress, onProof, ...options }: ReachOptions,
): WithinReach {
  const { problem: asked, toll } = groups.length > 0 ? allowLeavingOut(problem, groups) : { problem, toll: 0 }
  const without = (found: SourcingPlan): WithinReach => {
    if (groups.length === 0 || found.total === null) return { problem, plan: found, leftOut: [] }
    const { plan, leftOut } = withoutLeftOut(found, toll)
    return { plan, problem: withLess(problem, leftOut), leftOut: reasonsFor(net, leftOut, byRules) }
  }
  return without(
    solveSourcing(asked, {
      ...options,
      ...(onProof && {
        onProof: (task: ProofTask) => {
          onProof({ ...task, toll: task.toll + toll })
        },
      }),
      onProgress: ({ plan, best, bound, ...progress }: SolveProgress) => {
        const found = plan && without(plan)
        if (found) onFound?.(found)
        onProgress?.({
          ...progress,
          best: best === null ? null : best - toll,
          bound: bound === null ? null : bound - toll,
          ...(found && { plan: found.plan }),
        })
      },
    }),
  )
}
