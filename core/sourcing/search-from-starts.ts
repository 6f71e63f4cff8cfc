import { isSolved, type LoadedLp, type Milp, type SolveMilp } from '../solver/milp.ts'
import { NO_CUTS, withCuts, type Cuts, type Relaxation, type StepTime } from './cuts.ts'
import type { ModelOptions, SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'
import { searchStandings, type Found } from './standing-search.ts'
import { dive, heldTo, sameWay, standingOf, type Standing } from './standings.ts'

/*
 * Where local search has ended, others that began elsewhere end elsewhere. What two of them agree on is held, and all that
 * they differ in is decided anew, at once: paths between good solutions lead past better ones (path relinking: Glover, 1997;
 * solved as a program: Danna, Rothberg and Le Pape, 2005). From what that finds local search goes on.
 */

/**
 * Shares of the cuts with which relaxations are dived from, as they round to other shops; each is tried where the best is further
 * above the relaxation than such a share of it, a third of it in a thorough search.
 */
const STARTS = [
  { share: 0.3, above: 3e-3 },
  { share: 0.5, above: 4e-3 },
  { share: 0, above: 6e-3 },
] as const
/** Seconds for what two standings differ in: at most, and as a share of the time there is. */
const [MOST_SECONDS, SHARE] = [5, 0.25]
/** What is gained must be worth this many minor units. */
const WORTH = 0.5

type Tools = StepTime & {
  readonly milp: SolveMilp
  readonly load: (program: Milp) => LoadedLp
  /** Whether there is time for starts that are less likely to bring something. */
  readonly thorough?: boolean
  /** Told of the first that is found and of each better one, with the model that its solution is of. */
  readonly onBetter?: (tight: SourcingModel, found: Found) => void
}

/**
 * The best standing that is found among the shops of a relaxation: by a dive from it and local search, and then, until one is near
 * the relaxation or time is over, from other starts, each combined with the best so far. Gives the standing that the
 * first dive ended in where local search had no time; undefined where that did not end either.
 */
export function searchFromStarts(
  net: PresolvedProblem,
  few: Relaxation,
  tools: Tools,
): { readonly dived: Standing; readonly best: Found | undefined; readonly tight: SourcingModel } | undefined {
  const { model, cuts } = few
  const dived = dive(net, model, few.lp, few.solution, tools.left)
  if (!dived) return undefined
  // Held, a shop's parcel is in one state, and its cuts say nothing more.
  const tight = withCuts(net, model, RELAXED, { ...cuts, parcels: [] })
  const from = (start: Standing | undefined) => start && searchStandings(net, tight, start, tools.load, tools)
  const first = from(dived)
  if (!first) return { dived, best: first, tight }
  let best: Found = first
  tools.onBetter?.(tight, best)
  const whole = withCuts(net, model, RELAXED, cuts)
  for (const { share, above } of STARTS) {
    const { objective } = few.solution
    const near = Math.abs(objective) * (tools.thorough === true ? above / 3 : above)
    if (best.standing.cost <= objective + near || tools.over()) break
    const other = from(diveWith(net, model, someOf(cuts, share), tools))
    if (!other) continue
    const [one, two]: readonly [Found, Found] = isBetter(other, best) ? [other, best] : [best, other]
    // Another start without this brings little, so it has its time even where no other begins.
    const between = from(combined(whole, one.standing, two.standing, tools))
    const before = best
    best = between && isBetter(between, one) ? between : one
    if (best !== before) tools.onBetter?.(tight, best)
  }
  return { dived, best, tight }
}

const RELAXED: ModelOptions = { whole: new Set() }

const isBetter = (found: Found, than: Found): boolean => found.standing.cost < than.standing.cost - WORTH

/** The first cuts that were found, so large a share of them. */
const someOf = ({ packs, parcels }: Cuts, share: number): Cuts =>
  share === 0
    ? NO_CUTS
    : { packs: packs.slice(0, packs.length * share), parcels: parcels.slice(0, parcels.length * share) }

/** The standing that a dive from a relaxation with these cuts ends in. */
function diveWith(
  net: PresolvedProblem,
  model: SourcingModel,
  cuts: Cuts,
  { load, left }: Tools,
): Standing | undefined {
  const lp = load(withCuts(net, model, RELAXED, cuts).milp)
  try {
    const solution = lp.solve({ timeLimit: left() })
    return solution && dive(net, model, lp, solution, left)
  } finally {
    lp.close()
  }
}

/**
 * The best standing that uses every shop as both of two do, where they agree; undefined where none is found that is better than the
 * first. Packs may be broken.
 */
function combined(model: SourcingModel, one: Standing, two: Standing, { milp, left }: Tools): Standing | undefined {
  const shops = [...new Set([...one.shops.keys(), ...two.shops.keys()])]
  const free = new Set(shops.filter((s) => !sameWay(one.shops.get(s), two.shops.get(s))))
  if (free.size === 0) return undefined
  const integer = new Uint8Array(model.milp.integer.length)
  for (const columns of [model.used, ...model.bands.values(), model.services.values()])
    for (const column of columns) if (column >= 0) integer[column] = 1
  const outcome = milp(
    { ...heldTo(one, model, free), integer },
    {
      ...{ timeLimit: Math.min(MOST_SECONDS, left() * SHARE), absGap: WORTH, relGap: 1e-4, cutoff: one.cost - WORTH },
      // There is little to decide: to look for solutions beside that takes three times as long.
      proving: true,
    },
  )
  return isSolved(outcome) ? standingOf(model, outcome.x, outcome.objective) : undefined
}
