import type { SolveMilp } from '../solver/milp.ts'
import { buildModel } from './model.ts'
import { namedLine, presolve, type PresolvedProblem } from './presolve.ts'
import type { Unreachable } from './plan.ts'
import type { SourcingProblem } from './problem.ts'

/** Seconds a question about a problem may still take. */
export type Patience = () => number

/** A rule that a plan has to keep, and the problem without it. */
type Lifted = { readonly name: string; readonly lift: (problem: SourcingProblem) => SourcingProblem }

const withShops = (
  problem: SourcingProblem,
  change: (shop: SourcingProblem['shops'][number]) => Partial<SourcingProblem['shops'][number]>,
): SourcingProblem => ({ ...problem, shops: problem.shops.map((s) => ({ ...s, ...change(s) })) })

const capOf = (n: number) => `at most ${n} ${n === 1 ? 'shop' : 'shops'} may be used`

/** The rules a problem has that may stand in the way of every plan. */
function rulesOf({ maxShops, deadlineDays, maxPieces = null, shops }: SourcingProblem): Lifted[] {
  const rules: Lifted[] = []
  if (maxShops !== null) rules.push({ name: capOf(maxShops), lift: (p) => ({ ...p, maxShops: null }) })
  if (maxPieces !== null)
    rules.push({ name: `the limit of ${maxPieces} loose pieces`, lift: (p) => ({ ...p, maxPieces: null }) })
  if (shops.some((s) => s.minOrder > 0))
    rules.push({ name: 'the minimum orders', lift: (p) => withShops(p, () => ({ minOrder: 0 })) })
  if (shops.some((s) => s.status === 'pinned'))
    rules.push({
      name: 'the shops that must be used',
      lift: (p) => withShops(p, (s) => (s.status === 'pinned' ? { status: 'free' } : {})),
    })
  if (shops.some((s) => s.bands.length > 0))
    rules.push({ name: 'the heaviest parcels shops send', lift: (p) => withShops(p, () => ({ bands: [] })) })
  if (shops.some((s) => s.status === 'excluded'))
    rules.push({
      name: 'the excluded shops',
      lift: (p) => withShops(p, (s) => (s.status === 'excluded' ? { status: 'free' } : {})),
    })
  if (deadlineDays !== null && shops.some((s) => s.leadDays > deadlineDays))
    rules.push({ name: `the deadline of ${deadlineDays} days`, lift: (p) => ({ ...p, deadlineDays: null }) })
  return rules
}

/** Whether a problem has any plan; undefined when that is not known in time. */
function hasPlan(problem: SourcingProblem, milp: SolveMilp, patience: Patience): boolean | undefined {
  const seconds = patience()
  if (seconds <= 0) return undefined
  const { milp: program } = buildModel(presolve(problem), { whole: 'all' })
  const outcome = milp({ ...program, cost: program.cost.map(() => 0) }, { timeLimit: seconds })
  return outcome.status === 'none' ? undefined : outcome.status !== 'infeasible'
}

/** The fewest shops that have everything, whatever that costs; undefined when not even all do, or no time. */
function fewestShops(problem: SourcingProblem, milp: SolveMilp, patience: Patience): number | undefined {
  const { milp: program, used } = buildModel(presolve({ ...problem, maxShops: null }), { whole: 'all' })
  const cost = new Float64Array(program.cost.length)
  for (const z of used) if (z >= 0) cost[z] = 1
  const outcome = milp({ ...program, cost }, { timeLimit: Math.max(0.1, patience()), absGap: 0.5 })
  return outcome.status === 'optimal' ? Math.round(outcome.objective) : undefined
}

/**
 * Why a problem has no plan although every line by itself can be had. Each rule is lifted by itself and the problem
 * asked for any plan: those without which there is one are to blame. Where no single rule is, the smallest set found by
 * putting rules back one after the other; where not even all are, the stock: lines that cannot be had together.
 */
export function explainNone(net: PresolvedProblem, milp: SolveMilp, patience: Patience): Unreachable[] {
  const { problem } = net
  const rule = (detail: string): Unreachable => ({ line: '', short: 0, reason: 'joint', detail })
  const rules = rulesOf(problem)
  const each = (): number => Math.min(5, patience())
  const guilty = rules.filter(({ lift }) => hasPlan(lift(problem), milp, each) === true)
  if (guilty.length > 0)
    return guilty.map(({ name }) => {
      if (problem.maxShops === null || name !== capOf(problem.maxShops))
        return rule(
          `${name} stand in the way: without them there is a plan`.replace(
            /^(the (?:deadline|limit).*) stand in the way: without them/,
            '$1 stands in the way: without it',
          ),
        )
      const least = fewestShops(problem, milp, each)
      return rule(
        least === undefined
          ? `${name}, which do not have everything`
          : `${name}, but no fewer than ${least} together have everything`,
      )
    })
  const all = rules.reduce((p, { lift }) => lift(p), problem)
  if (rules.length > 0 && hasPlan(all, milp, each) === true) {
    let kept = rules
    for (const one of rules) {
      const fewer = kept.filter((r) => r !== one)
      if (
        fewer.length > 0 &&
        hasPlan(
          fewer.reduce((p, { lift }) => lift(p), problem),
          milp,
          each,
        ) === true
      )
        kept = fewer
    }
    return [rule(`${kept.map((r) => r.name).join(', ')}: only together they stand in the way of every plan`)]
  }
  const short = leftOutPieces(net, milp, each)
  if (short === undefined) return [rule('which lines conflict was not found in time')]
  return net.lines.flatMap((line, l): Unreachable[] => {
    const missing = short[l] ?? 0
    if (missing === 0) return []
    const detail = `${missing} of ${line.qty} cannot be had together with the other lines`
    return [{ ...namedLine(line), short: missing, reason: 'joint', detail }]
  })
}

/** Of each line the pieces left out by a plan that leaves fewest out, all rules kept; undefined when that is not proven in time or no plan keeps them. */
export function leftOutPieces(net: PresolvedProblem, milp: SolveMilp, patience: Patience): number[] | undefined {
  const { milp: program, slacks } = buildModel(net, { whole: 'all', elasticCost: 1 })
  const cost = new Float64Array(program.cost.length)
  for (const slack of slacks) cost[slack] = 1
  const outcome = milp({ ...program, cost }, { timeLimit: Math.max(0.1, patience()), absGap: 0.5 })
  if (outcome.status !== 'optimal') return undefined
  return slacks.map((slack) => Math.round(outcome.x[slack] ?? 0))
}
