import { isSolved, MilpBuilder, type Milp, type SolveMilp } from '../../solver/milp.ts'
import {
  addCovered,
  componentsOf,
  itemOf,
  KIT,
  sizeOf,
  UNCOVERED,
  type Cover,
  type CoverDemand,
  type Least,
  type Pool,
  type Stock,
} from './cover-problem.ts'

/** Seconds for each stage where nothing else is said. */
const PATIENCE_S = 20

/** Proves what a search leaves open. */
export type Prover = {
  readonly milp: SolveMilp
  /** Options of a group that is still worth a try; any number when left out. */
  readonly most?: number | undefined
}

/** What is asked of a solver about a group. */
export type ProofOptions = {
  /** Seconds for each stage. */
  readonly seconds?: number | undefined
  /** So few pieces are short at least, and a cover is known that leaves no more. */
  readonly short?: number | undefined
}

/** What a solver found of a group. */
export type Proof = {
  /** What options of several pieces cover in the best cover it knows of, if any: the rest is a flow. */
  readonly kits?: Cover | undefined
  /** No cover is better than one with those. */
  readonly proven: boolean
  /** No cover has less than this; undefined where nothing is known. */
  readonly least?: Least | undefined
}

/** Objectives up to this are exact in the solver's arithmetic. */
const EXACT_UP_TO = 1e9
/** Programs up to this size are as quickly solved for two things at once as for one after the other. */
const FEW_COLUMNS = 4000
/** How far from a whole number one may be that should be one. */
const WHOLE = 1e-4

type Stage = { readonly short: number; readonly compromise: number; readonly rank: number }

/**
 * The best cover of a group by integer programming, stage by stage, each within `seconds`: fewest short, then least
 * compromise, then least rank (the last two at once where they are few and their weighted sum stays exact), each with the ones before held.
 * Only options of several pieces have to be whole by decree: with those fixed the rest is a flow, whole by itself. What
 * demands have alike in a pool is drawn through one row for each compromise, not option by option. A stage that is not
 * solved in its time ends it: then the kits may not be the best, and how good the best can be is said.
 */
export function proveGroup(
  demands: readonly CoverDemand[],
  stock: Stock,
  milp: SolveMilp,
  { seconds = PATIENCE_S, short }: ProofOptions = {},
): Proof {
  const program = programOf(demands, stock)
  const { total, most, maxCompromise, maxRank } = program
  const weight = 1 + total * most * maxRank
  const stages: Stage[] = short === undefined ? [{ short: 1, compromise: 0, rank: 0 }] : []
  const atOnce = program.columns <= FEW_COLUMNS && weight * (1 + total * maxCompromise) < EXACT_UP_TO
  if (atOnce) stages.push({ short: 0, compromise: weight, rank: 1 })
  else stages.push({ short: 0, compromise: 1, rank: 0 })
  if (!atOnce) stages.push({ short: 0, compromise: 0, rank: 1 })

  let held: Held = { covered: short === undefined ? 0 : total - short, compromise: undefined }
  let kits: Cover | undefined
  let least: Least | undefined = short === undefined ? undefined : { short, compromise: 0 }
  for (const stage of stages) {
    const outcome = milp(program.build(stage, held), { timeLimit: seconds, absGap: 0.5, relGap: 0 })
    // By rounding alone: the stage before it had a solution.
    if (outcome.status === 'infeasible') return { kits, proven: false, least }
    // The bounds are of whole numbers.
    const bound = Math.ceil(outcome.bound - WHOLE)
    if (stage.short > 0) least = { short: Math.max(0, total + bound), compromise: 0 }
    else if (stage.compromise > 0 && least)
      least = { ...least, compromise: Math.max(0, Math.floor(bound / stage.compromise)) }
    const found = isSolved(outcome) ? program.kitsIn(outcome.x) : undefined
    kits = found ?? kits
    if (!found || !isSolved(outcome) || outcome.status !== 'optimal') return { kits, proven: false, least }
    held = { covered: program.coveredIn(outcome.x), compromise: undefined }
    if (stage.compromise > 0) held = { ...held, compromise: program.compromiseIn(outcome.x) }
  }
  return { kits, proven: true, least }
}

/** What later stages may not give up. */
type Held = { readonly covered: number; readonly compromise: number | undefined }

/** Columns with what each covers of the demands and at which compromise. */
type Columns = {
  readonly upper: number[]
  readonly covers: number[]
  readonly compromise: number[]
  readonly rank: number[]
  readonly integer: boolean[]
}

/** The covers of a group as a program; its stages differ in what they go for. */
function programOf(demands: readonly CoverDemand[], stock: Stock) {
  const columns: Columns = { upper: [], covers: [], compromise: [], rank: [], integer: [] }
  const rows: { readonly upper: number; readonly lower: number; readonly terms: [number, number][] }[] = []
  const column = (upper: number, covers: number, compromise: number, rank = 0, integer = false): number => {
    columns.covers.push(covers)
    columns.compromise.push(compromise)
    columns.rank.push(rank)
    columns.integer.push(integer)
    return columns.upper.push(upper) - 1
  }
  const byItem = new Map<number, [number, number][]>()
  const draw = (item: number, column: number, qty: number) => {
    const drawing = byItem.get(item)
    if (drawing) drawing.push([column, qty])
    else byItem.set(item, [[column, qty]])
  }
  let [total, most, maxCompromise, maxRank] = [0, 1, 0, 0]
  /** Of each pool what comes in, by compromise. */
  const pools = new Map<Pool, Map<number, [number, number][]>>()
  const kits: { readonly demand: number; readonly option: number; readonly column: number }[] = []
  for (const [n, { qty, options }] of demands.entries()) {
    total += qty
    const own: [number, number][] = []
    for (let o = 0; o < options.items.length; o++) {
      const compromise = options.compromises[o]
      maxCompromise = Math.max(maxCompromise, compromise)
      const uses = componentsOf(options, o)
      const several = itemOf(options, o) === KIT
      const taken = column(qty, 1, compromise, 0, several)
      own.push([taken, 1])
      for (const use of uses) draw(use.item, taken, use.qty)
      if (!several) continue
      kits.push({ demand: n, option: o, column: taken })
      most = Math.max(
        most,
        uses.reduce((pieces, use) => pieces + use.qty, 0),
      )
    }
    const { pool } = options
    if (pool) {
      let incoming = pools.get(pool)
      if (!incoming) pools.set(pool, (incoming = new Map(pool.compromises.map((compromise) => [compromise, []]))))
      for (const [compromise, terms] of incoming) {
        maxCompromise = Math.max(maxCompromise, compromise)
        const taken = column(qty, 1, compromise)
        own.push([taken, 1])
        terms.push([taken, 1])
      }
    }
    if (sizeOf(options) > 0) rows.push({ lower: -Infinity, upper: qty, terms: own })
  }
  for (const [pool, incoming] of pools)
    for (const [compromise, terms] of incoming) {
      const through = [...terms]
      for (const [o, item] of pool.items.entries()) {
        if (pool.compromises[o] !== compromise) continue
        const given = column(total, 0, 0)
        through.push([given, -1])
        draw(item, given, 1)
      }
      rows.push({ lower: 0, upper: 0, terms: through })
    }
  for (const [item, drawing] of byItem) {
    const drawn: [number, number][] = []
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++) {
      maxRank = Math.max(maxRank, stock.rank[tier])
      drawn.push([column(stock.qty[tier], 0, 0, stock.rank[tier]), -1])
    }
    rows.push({ lower: -Infinity, upper: 0, terms: [...drawing, ...drawn] })
  }
  const sum = (weights: readonly number[], x: Float64Array) =>
    Math.round(weights.reduce((n, weight, c) => n + weight * x[c], 0))
  const weighed = (weights: readonly number[]) =>
    weights.flatMap((weight, c): [number, number][] => (weight === 0 ? [] : [[c, weight]]))
  return {
    columns: columns.upper.length,
    total,
    most,
    maxCompromise,
    maxRank,
    coveredIn: (x: Float64Array): number => sum(columns.covers, x),
    compromiseIn: (x: Float64Array): number => sum(columns.compromise, x),
    /** What the kits cover; undefined where that is not whole. */
    kitsIn(x: Float64Array): Cover | undefined {
      if (kits.some((kit) => Math.abs(x[kit.column] - Math.round(x[kit.column])) > WHOLE)) return undefined
      const cover = demands.map(() => UNCOVERED)
      for (const { demand, option, column: c } of kits)
        cover[demand] = addCovered(cover[demand], option, Math.round(x[c]))
      return cover
    },
    build(stage: Stage, { covered, compromise }: Held): Milp {
      const builder = new MilpBuilder()
      for (const [c, upper] of columns.upper.entries()) {
        const cost =
          stage.compromise * columns.compromise[c] - stage.short * columns.covers[c] + stage.rank * columns.rank[c]
        builder.column(cost, 0, upper, columns.integer[c])
      }
      for (const { lower, upper, terms } of rows) builder.row(lower, upper, terms)
      if (covered > 0) builder.row(covered, Infinity, weighed(columns.covers))
      if (compromise !== undefined) builder.row(-Infinity, compromise, weighed(columns.compromise))
      return builder.build()
    },
  }
}
