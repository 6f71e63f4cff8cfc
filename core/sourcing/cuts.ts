import { withRows, type LoadedLp, type LpSolution, type Milp, type Row, type SolveMilp } from '../solver/milp.ts'
import type { ModelOptions, SourcingModel } from './model.ts'
import { PackCuts, packRows, slackOf, type PackCut } from './pack-cuts.ts'
import { parcelRows, violatedParcels, type ParcelCut } from './parcel-cuts.ts'
import type { PresolvedProblem } from './presolve.ts'

/** What is true of every plan and not of every relaxed solution. */
export type Cuts = { readonly packs: readonly PackCut[]; readonly parcels: readonly ParcelCut[] }

export const NO_CUTS: Cuts = { packs: [], parcels: [] }

/** What a round of cuts must bring, as a share of the bound, for another; how slack a cut may be that is kept. */
const [LEAST_GAIN, MOST_SLACK] = [3e-4, 0.05]

/** The time that a step of the search has. */
export type StepTime = {
  /** Seconds left. */
  readonly left: () => number
  /** Whether the time to look for more is over. */
  readonly over: () => boolean
}

export type CutOptions = StepTime & { readonly milp: SolveMilp; readonly load: (program: Milp) => LoadedLp }

/**
 * Solves the relaxation of a wholly relaxed model, which `lp` holds, adds cuts that its solution violates, and so on until they
 * bring little; gives the last solution and the cuts that matter there. Undefined where it has no solution or no time for one.
 */
export function findCuts(
  net: PresolvedProblem,
  model: SourcingModel,
  lp: LoadedLp,
  { milp, load, left, over }: CutOptions,
): { readonly solution: LpSolution; readonly cuts: Cuts } | undefined {
  const finder = new PackCuts(net, load)
  const packs: PackCut[] = []
  const parcels: ParcelCut[] = []
  const solve = () => lp.solve({ timeLimit: left() })
  let solution = solve()
  let last: number | undefined
  for (let next = solution; next; next = solve()) {
    solution = next
    const { x, objective } = next
    if (over() || (last !== undefined && objective < last + Math.abs(last) * LEAST_GAIN)) break
    last = objective
    const found = { packs: finder.violated(model, x, over), parcels: violatedParcels(net, model, x, milp, over) }
    packs.push(...found.packs)
    parcels.push(...found.parcels)
    const rows = rowsOf(net, model, { whole: new Set() }, found)
    if (rows.length === 0) break
    lp.add(rows)
  }
  if (!solution) return undefined
  const { x } = solution
  return { solution, cuts: { packs: packs.filter((cut) => slackOf(cut, model, x) < MOST_SLACK), parcels } }
}

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
