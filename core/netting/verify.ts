import type { CoverPlan, CoverDemand, Stock } from './kernel/cover-problem.ts'
import type { NettingPlan, NettingProblem } from './problem.ts'

const add = (sums: Map<string, number>, key: string, by: number) => sums.set(key, (sums.get(key) ?? 0) + by)

/**
 * Checks a plan from the problem alone: options are the line's own, a group's all of one scheme, pegs add up to what they use item by item, no
 * supply is overdrawn, no line covered beyond its demand, the totals are right, and no piece is short for which a single
 * piece is left. Returns the faults in words; it shares no code with the solver.
 */
export function verifyNetting({ lines, supplies }: NettingProblem, plan: NettingPlan): string[] {
  const faults: string[] = []
  const lineById = new Map(lines.map((l) => [l.id, l]))
  const left = new Map(supplies.map((s) => [s.id, s.qty]))
  const supplyById = new Map(supplies.map((s) => [s.id, s]))
  const open = new Map(lines.map((l) => [l.id, l.qty]))
  const schemeOf = new Map(plan.schemes?.map((s) => [s.group, s.scheme]))
  let compromise = 0
  let rank = 0
  for (const { line: id, accept: option, qty, pegs } of plan.assignments) {
    const accept = lineById.get(id)?.accepts.find((a) => a.id === option)
    if (!accept || !Number.isInteger(qty) || qty < 1) {
      faults.push(`line ${id} is covered ${qty} times by "${option}", which it does not accept so`)
      continue
    }
    const group = lineById.get(id)?.group
    if (group !== undefined && accept.scheme !== undefined && accept.scheme !== schemeOf.get(group))
      faults.push(
        `line ${id} is covered in scheme ${accept.scheme}, group ${group} in ${schemeOf.get(group) ?? 'none'}`,
      )
    const due = new Map<string, number>()
    for (const use of accept.uses) add(due, use.item, use.qty * qty)
    for (const peg of pegs) {
      const supply = supplyById.get(peg.supply)
      if (!supply || !Number.isInteger(peg.qty) || peg.qty < 1) {
        faults.push(`line ${id} draws ${peg.qty} from ${peg.supply}`)
        continue
      }
      add(due, supply.item, -peg.qty)
      add(left, supply.id, -peg.qty)
      rank += peg.qty * supply.rank
    }
    if ([...due.values()].some((n) => n !== 0)) faults.push(`the pegs of line ${id} do not add up`)
    add(open, id, -qty)
    compromise += qty * accept.compromise
  }
  const spare = new Map<string, number>()
  for (const { id, item } of supplies) {
    const n = left.get(id) ?? 0
    if (n < 0) faults.push(`supply ${id} is overdrawn by ${-n}`)
    add(spare, item, n)
  }
  let short = 0
  for (const [id, n] of open) {
    if (n < 0) faults.push(`line ${id} is covered ${-n} times too often`)
    short += n
    const line = lineById.get(id)
    if (n > 0 && line && isMissed(line, schemeOf.get(line.group ?? ''), spare))
      faults.push(`line ${id} is short while supply is left`)
  }
  const sums = { short, compromise, rank }
  for (const sum of ['short', 'compromise', 'rank'] as const)
    if (sums[sum] !== plan[sum]) faults.push(`the sum of ${sum} is ${sums[sum]}, not ${plan[sum]}`)
  return faults
}

/** Whether a single piece is left that a line would have taken, in the scheme of its group. */
const isMissed = (
  { group, accepts }: NettingProblem['lines'][number],
  scheme: string | undefined,
  spare: ReadonlyMap<string, number>,
): boolean =>
  accepts.some(
    ({ uses: [use, more], scheme: own }) =>
      (group === undefined || own === undefined || own === scheme) &&
      use?.qty === 1 &&
      !more &&
      (spare.get(use.item) ?? 0) > 0,
  )

/**
 * Checks a cover of numbered demands from the demands and the stock alone: whole pieces, no demand covered beyond what it
 * asks for, a group's all of one scheme, no item overdrawn, and no piece short for which a single piece is left. Returns
 * the faults in words; it shares no code with the solver.
 */
export function verifyCover(
  demands: readonly CoverDemand[],
  stock: Stock,
  { cover, schemes }: Pick<CoverPlan, 'cover' | 'schemes'>,
): string[] {
  const faults: string[] = []
  const items = stock.from.length - 1
  const drawn = new Float64Array(items)
  const short: number[] = []
  const outside = (scheme: string | undefined, group: string | undefined) =>
    group !== undefined && scheme !== undefined && scheme !== schemes.get(group)
  for (let n = 0; n < demands.length; n++) {
    const { qty, options, group } = demands[n] as CoverDemand
    let open = qty
    const own = cover[n] ?? []
    for (let at = 0; at < own.length; at += 2) {
      const o = own[at] ?? -1
      const covered = own[at + 1]
      const item = o < options.items.length ? options.items[o] : options.pool?.items[o - options.items.length]
      if (item === undefined || covered === undefined || !Number.isInteger(covered) || covered < 1) {
        faults.push(`demand ${n} is covered ${covered} times by option ${o}`)
        continue
      }
      if (outside(options.schemes?.[o], group))
        faults.push(`demand ${n} is covered outside the scheme of group ${group}`)
      open -= covered
      if (item >= 0) drawn[item] = (drawn[item] ?? 0) + covered
      else for (const u of options.kits.get(o) ?? []) drawn[u.item] = (drawn[u.item] ?? 0) + u.qty * covered
    }
    if (open < 0) faults.push(`demand ${n} is covered ${-open} times too often`)
    if (open > 0) short.push(n)
  }
  const left = (item: number): number => {
    let pieces = -(drawn[item] ?? 0)
    for (let tier = stock.from[item] ?? 0; tier < (stock.from[item + 1] ?? 0); tier++) pieces += stock.qty[tier] ?? 0
    return pieces
  }
  for (let item = 0; item < items; item++)
    if (drawn[item] !== 0 && left(item) < 0) faults.push(`item ${item} is overdrawn by ${-left(item)}`)
  for (const n of short) {
    const { options, group } = demands[n] as CoverDemand
    const isLeft = (item: number) => item >= 0 && left(item) > 0
    const missed =
      options.items.some((item, o) => isLeft(item) && !outside(options.schemes?.[o], group)) ||
      (options.pool?.items ?? []).some(isLeft)
    if (missed) faults.push(`demand ${n} is short while supply is left`)
  }
  return faults
}
