import { MilpBuilder, type SolveMilp } from '../../solver/milp.ts'
import {
  addCovered,
  piecesCovered,
  UNCOVERED,
  componentsOf,
  withoutPool,
  type Cover,
  type GroupPlan,
  type CoverDemand,
  type Stock,
} from './cover-problem.ts'

/** Seconds for each stage. */
const PATIENCE_S = 20

/** Proves what a search leaves open. */
export type Prover = {
  readonly milp: SolveMilp
  /** Options of a group that is still worth a try; any number when left out. */
  readonly most?: number | undefined
}

/** Objectives up to this are exact in the solver's arithmetic. */
const EXACT_UP_TO = 1e9

type Stage = { readonly short: number; readonly compromise: number; readonly rank: number }

/**
 * The best cover of a group by integer programming, stage by stage, each within `patience` seconds: fewest short, then least compromise, then least
 * rank (the last two at once where their weighted sum stays exact), each with the ones before held. Only options of
 * several pieces have to be whole by decree: with those fixed the rest is a flow, whole by itself. Undefined when the
 * solver could not prove it in time.
 */
export function proveGroup(
  pooled: readonly CoverDemand[],
  stock: Stock,
  milp: SolveMilp,
  patience = PATIENCE_S,
): GroupPlan | undefined {
  const demands = pooled.map((demand) => ({ ...demand, options: withoutPool(demand.options) }))
  let [total, most, maxCompromise, maxRank] = [0, 0, 0, 0]
  for (const { qty, options } of demands) {
    total += qty
    for (const compromise of options.compromises) maxCompromise = Math.max(maxCompromise, compromise)
    for (const o of options.items.keys())
      most = Math.max(
        most,
        componentsOf(options, o).reduce((n, use) => n + use.qty, 0),
      )
  }
  for (let tier = 0; tier < stock.rank.length; tier++) maxRank = Math.max(maxRank, stock.rank[tier])
  const weight = 1 + total * most * maxRank
  const stages: Stage[] = [{ short: 1, compromise: 0, rank: 0 }]
  if (weight * (1 + total * maxCompromise) < EXACT_UP_TO) stages.push({ short: 0, compromise: weight, rank: 1 })
  else stages.push({ short: 0, compromise: 1, rank: 0 }, { short: 0, compromise: 0, rank: 1 })

  let held: { covered: number; compromise: number | undefined } = { covered: 0, compromise: undefined }
  let cover: Cover | undefined
  for (const stage of stages) {
    // The solver may hand back a fractional mixture of equally good flows: then all has to be whole by decree.
    const found =
      solveStage(demands, stock, milp, stage, held, patience, false) ??
      solveStage(demands, stock, milp, stage, held, patience, true)
    if (!found) return undefined
    cover = found
    let [covered, compromise] = [0, 0]
    for (const [n, { options }] of demands.entries())
      for (const [o, each] of options.compromises.entries()) {
        const pieces = piecesCovered(found[n], o)
        covered += pieces
        compromise += pieces * each
      }
    held = { covered, compromise: stage.compromise > 0 ? compromise : undefined }
  }
  return cover && { cover, proven: true }
}

function solveStage(
  demands: readonly CoverDemand[],
  stock: Stock,
  milp: SolveMilp,
  stage: Stage,
  held: { readonly covered: number; readonly compromise: number | undefined },
  timeLimit: number,
  allWhole: boolean,
): Cover | undefined {
  const builder = new MilpBuilder()
  const byItem = new Map<number, [number, number][]>()
  const covered: [number, number][] = []
  const weighed: [number, number][] = []
  const columns = demands.map(({ qty, options }) => {
    const own = options.compromises.map((compromise, o) => {
      const uses = componentsOf(options, o)
      const several = allWhole || uses.length > 1 || (uses[0]?.qty ?? 1) > 1
      const column = builder.column(stage.compromise * compromise - stage.short, 0, qty, several)
      covered.push([column, 1])
      weighed.push([column, compromise])
      for (const use of uses) {
        const drawing = byItem.get(use.item)
        if (drawing) drawing.push([column, use.qty])
        else byItem.set(use.item, [[column, use.qty]])
      }
      return column
    })
    builder.row(
      -Infinity,
      qty,
      own.map((column) => [column, 1]),
    )
    return own
  })
  for (const [item, drawing] of byItem) {
    const drawn: [number, number][] = []
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++)
      drawn.push([builder.column(stage.rank * stock.rank[tier], 0, stock.qty[tier], false), -1])
    builder.row(-Infinity, 0, [...drawing, ...drawn])
  }
  if (held.covered > 0) builder.row(held.covered, Infinity, covered)
  if (held.compromise !== undefined) builder.row(-Infinity, held.compromise, weighed)
  const outcome = milp(builder.build(), { timeLimit, absGap: 0.5, relGap: 0 })
  if (outcome.status !== 'optimal') return undefined
  const { x } = outcome
  const whole = columns.every((own) => own.every((c) => Math.abs((x[c] ?? 0) - Math.round(x[c] ?? 0)) < 1e-4))
  if (!whole) return undefined
  return columns.map((own) => {
    let covered = UNCOVERED
    for (const [o, c] of own.entries()) covered = addCovered(covered, o, Math.round(x[c] ?? 0))
    return covered
  })
}
