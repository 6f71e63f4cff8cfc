import { withRows, type LoadedLp, type LpSolution, type Milp, type Row, type SolveMilp } from '../solver/milp.ts'
import { buildModel, type ModelOptions, type SourcingModel } from './model.ts'
import { packRows, slackOf, type PackCut, type PackCuts } from './pack-cuts.ts'
import { parcelRows, violatedParcels, type ParcelCut } from './parcel-cuts.ts'
import type { PresolvedProblem } from './presolve.ts'

/** What is true of every plan and not of every relaxed solution. */
export type Cuts = { readonly packs: readonly PackCut[]; readonly parcels: readonly ParcelCut[] }

export const NO_CUTS: Cuts = { packs: [], parcels: [] }

/** What a round of cuts must bring, as a share of the bound, for another; how slack a cut may be that is kept. */
const [LEAST_GAIN, MOST_SLACK] = [1e-4, 0.05]
/** The same among the shops that are looked at first: they are not all that matter, and what is gained is in part gone with others. */
const LEAST_GAIN_FIRST = 2e-3
/** How far from the middle of the solutions so far to the last one cuts are looked for. */
const STEP = 0.5

/** The time that a step of the search has. */
export type StepTime = {
  /** Seconds left. */
  readonly left: () => number
  /** Whether the time to look for more is over. */
  readonly over: () => boolean
}

export type CutOptions = StepTime & {
  readonly milp: SolveMilp
  /** Finds cuts for whole packs; it remembers what it has seen of the problem. */
  readonly finder: PackCuts
  /** Cuts that are known; the program does not have them yet. */
  readonly known?: Cuts
  /** What a round must bring, as a share of the bound, for another. */
  readonly least?: number
  /** What the relaxation comes to, each time it is solved. */
  readonly onBound?: (bound: number) => void
}

/**
 * Solves the relaxation of a wholly relaxed model, which `lp` holds, adds cuts that are not true of its solution, and so on until
 * they bring little; gives the last solution and the cuts that matter there. Cuts are looked for between that solution and the
 * middle of those before it, which takes half the rounds (in-out separation: Ben-Ameur and Neto, 2007). Undefined where there is
 * no solution or no time for one.
 */
export function findCuts(
  net: PresolvedProblem,
  model: SourcingModel,
  lp: LoadedLp,
  { milp, finder, left, over, known = NO_CUTS, least = LEAST_GAIN, onBound }: CutOptions,
): { readonly solution: LpSolution; readonly cuts: Cuts } | undefined {
  const packs: PackCut[] = [...known.packs]
  const parcels: ParcelCut[] = [...known.parcels]
  const add = (cuts: Cuts): boolean => {
    const rows = rowsOf(net, model, { whole: new Set() }, cuts)
    lp.add(rows)
    return rows.length > 0
  }
  const violated = (x: Float64Array): Cuts => ({
    packs: finder.violated(model, x, over),
    parcels: violatedParcels(net, model, x, milp, over),
  })
  const solve = () => lp.solve({ timeLimit: left() })
  add(known)
  let solution: LpSolution | undefined
  let middle: Float64Array | undefined
  for (let next = solve(); next; next = solve()) {
    const gain = next.objective - (solution?.objective ?? -Infinity)
    solution = next
    const { x, objective } = next
    onBound?.(objective)
    if (over() || gain < Math.abs(objective) * least) break
    const before = middle
    middle = before ? x.map((value, c) => STEP * value + (1 - STEP) * (before[c] ?? 0)) : x
    let found = violated(middle)
    if (!add(found)) {
      found = violated(x)
      if (middle === x || !add(found)) break
      middle = x
    }
    packs.push(...found.packs)
    parcels.push(...found.parcels)
  }
  if (!solution) return undefined
  const { x } = solution
  return { solution, cuts: { packs: packs.filter((cut) => slackOf(cut, model, x) < MOST_SLACK), parcels } }
}

/** The relaxation among some shops: its model, the program that holds it, its last solution and its cuts. Its owner closes the program. */
export type Relaxation = {
  readonly model: SourcingModel
  readonly lp: LoadedLp
  readonly solution: LpSolution
  readonly cuts: Cuts
}

/** A relaxation of all shops: its program with all rows, and its solution. */
export type Solved = { readonly program: Milp; readonly solution: LpSolution }

/**
 * Tightens the relaxation of all shops, which `lp` holds and `first` solves, with cuts that are found among the few shops it
 * uses, where a round takes a fraction of the time. With those cuts the relaxation of all shops uses others too; cuts are looked
 * for among them as well, and so on until it comes to what the few come to (generation of columns: Gilmore and Gomory, 1961).
 * Gives the relaxation of the few, and that of all as it was last solved; undefined where there is no time for one.
 */
export function tightenAmongFew(
  net: PresolvedProblem,
  whole: SourcingModel,
  lp: LoadedLp,
  first: LpSolution,
  {
    load,
    onBound,
    least = LEAST_GAIN,
    ...cutting
  }: Omit<CutOptions, 'known'> & { readonly load: (program: Milp) => LoadedLp },
): { readonly few: Relaxation; readonly all: Solved } | undefined {
  const few = new Set(shopsIn(whole, first))
  const added = new Set<PackCut | ParcelCut>()
  let last: Relaxation | undefined
  let all: Solved = { program: whole.milp, solution: first }
  const rows: Row[] = []
  const ended = () => last && { few: last, all }
  for (;;) {
    const model = buildModel(net, { whole: new Set(), only: new Set(few) })
    const part = load(model.milp)
    const found = findCuts(net, model, part, {
      ...cutting,
      ...(last ? { least, known: last.cuts } : { least: LEAST_GAIN_FIRST }),
    })
    if (!found) {
      part.close()
      return ended()
    }
    last?.lp.close()
    last = { model, lp: part, ...found }
    const { packs, parcels } = found.cuts
    const isNew = (cut: PackCut | ParcelCut) => !added.has(cut)
    const fresh = { packs: packs.filter(isNew), parcels: parcels.filter(isNew) }
    const more = rowsOf(net, whole, { whole: new Set() }, fresh)
    lp.add(more)
    rows.push(...more)
    for (const cut of [...packs, ...parcels]) added.add(cut)
    const solution = lp.solve({ timeLimit: cutting.left() })
    if (!solution) return ended()
    all = { program: withRows(whole.milp, rows), solution }
    // What the few come to bounds nothing.
    onBound?.(solution.objective)
    const before = few.size
    const worth = found.solution.objective - solution.objective > Math.abs(solution.objective) * least
    for (const shop of shopsIn(whole, solution)) few.add(shop)
    if (!worth || few.size === before || cutting.over()) return ended()
  }
}

/** The shops that a solution uses at all. */
const shopsIn = ({ used }: SourcingModel, { x }: LpSolution): number[] =>
  [...used].flatMap((z, s) => (z >= 0 && (x[z] ?? 0) > 0 ? [s] : []))

const rowsOf = (
  net: PresolvedProblem,
  model: SourcingModel,
  options: ModelOptions,
  { packs, parcels }: Cuts,
): Row[] => [...packRows(model, packs), ...parcelRows(net, model, parcels, options)]

/** A model, built with these options, whose program has the cuts as rows. */
export const withCuts = (
  net: PresolvedProblem,
  model: SourcingModel,
  options: ModelOptions,
  cuts: Cuts,
): SourcingModel => ({ ...model, milp: withRows(model.milp, rowsOf(net, model, options, cuts)) })
