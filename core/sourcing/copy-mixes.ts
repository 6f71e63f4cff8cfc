import type { Tally } from '../netting/tally.ts'
import type { ModuleId } from '../units/ids.ts'
import { pieceWanted } from './plan-pieces.ts'
import type { SourcingPlan, Unreachable } from './plan.ts'
import { problemKey } from './problem-key.ts'
import type { SourcingProblem } from './problem.ts'
import { netOf, purchaseSums, type PurchaseSums, type ResaleView } from './purchase-sums.ts'
import { solveWithinReach } from './leave-out.ts'
import { withJustCopies } from './wanted-copies.ts'
import type { SolveOptions } from './solve.ts'

/** Just so many copies of each donor set, in the order of the problem's sets. */
export type CopyMix = readonly number[]

/** Mixes that are asked about at most. */
export const MOST_MIXES = 12

/** The best purchase with just so many copies; money in minor units. */
export type MixOutcome = {
  readonly mix: CopyMix
  /** What it answers: what cannot be had with these copies is left out. */
  readonly problem: SourcingProblem
  readonly plan: SourcingPlan
  readonly leftOut: readonly Unreachable[]
}

/** One with the sums of its plan, which holds. */
export type SummedMix = MixOutcome & { readonly sums: PurchaseSums }

/**
 * Mixes of copies worth asking about: every number of every set from none to `more` of it beyond those wanted, as long as these
 * are `MOST_MIXES` at most; else every number up to those wanted, if these are as few, and each set by itself with none of
 * the others, as far as there is room. Fewest copies first.
 */
export function mixesOf({ sets }: Pick<SourcingProblem, 'sets'>, more: (set: string) => number): CopyMix[] {
  const most = sets.map((s) => s.maxCopies + more(s.id))
  const all = most.reduce((n, m) => n * (m + 1), 1)
  const copies = (mix: CopyMix) => mix.reduce((n, k) => n + k, 0)
  const everyNumber = (upTo: readonly number[]) =>
    upTo.reduce<CopyMix[]>(
      (mixes, m) => mixes.flatMap((mix) => Array.from({ length: m + 1 }, (_, k) => [...mix, k])),
      [[]],
    )
  const fewestFirst = (mixes: CopyMix[]) => mixes.sort((p, q) => copies(p) - copies(q))
  if (all <= MOST_MIXES) return fewestFirst(everyNumber(most))
  const wanted = sets.map((s) => s.maxCopies)
  const few = wanted.reduce((n, m) => n * (m + 1), 1) <= MOST_MIXES
  const none = sets.map(() => 0)
  const first = few ? everyNumber(wanted) : [none]
  const known = new Set(first.map((mix) => mix.join()))
  const alone = most
    .flatMap((m, s) => Array.from({ length: m }, (_, k) => none.map((n, i) => (i === s ? k + 1 : n))))
    .filter((mix) => !known.has(mix.join()))
  return fewestFirst([...first, ...fewestFirst(alone).slice(0, MOST_MIXES - first.length)])
}

/**
 * The problem with just so many copies of each set, and as many leftovers that may be sold as these hold. Copies beyond
 * those wanted are taken to cost and to hold the same, and their leftovers to earn the same.
 */
export const withCopies = (problem: SourcingProblem, mix: CopyMix): SourcingProblem =>
  withJustCopies(problem, new Map(problem.sets.map(({ id }, s) => [id, mix[s] ?? 0])))

/** What tells problems apart of which mixes are asked, however many copies are wanted. */
export const copiesKey = (anyCopies: SourcingProblem): string =>
  problemKey(
    withCopies(
      anyCopies,
      anyCopies.sets.map(() => 0),
    ),
  )

/** An outcome with its sums (`purchaseSums`); undefined where the plan does not hold. */
export function summed(outcome: MixOutcome, printPrice: number): SummedMix | undefined {
  const sums = purchaseSums(outcome, printPrice)
  return sums && { ...outcome, sums }
}

/** Modules that are short of something, by what a purchase does for them. */
export type ModulesDone = {
  /** Something that they want is not to be had. */
  readonly unfinished: readonly ModuleId[]
  /** What they want comes without loose pieces. */
  readonly withoutLoose: readonly ModuleId[]
}

/** What an outcome does for the modules of a count. */
export function modulesDone({ lines }: Pick<Tally, 'lines'>, { leftOut, sums }: SummedMix): ModulesDone {
  const gone = new Set(leftOut.map(pieceWanted))
  const short = lines.filter((l) => l.coverage.short > 0)
  const all = [...new Set(short.map((l) => l.module))]
  const unfinished = new Set(short.flatMap((l) => (gone.has(l.wanted) ? [l.module] : [])))
  const loose = new Set(short.flatMap((l) => (sums.withLoose.has(l.wanted) ? [l.module] : [])))
  return { unfinished: [...unfinished], withoutLoose: all.filter((m) => !unfinished.has(m) && !loose.has(m)) }
}

export type MixOptions = Omit<SolveOptions, 'onProgress'> & {
  /** Told of each mix before it is asked about, and of what came of it. */
  readonly onAsk?: (mix: CopyMix) => void
  readonly onFound?: (outcome: MixOutcome) => void
}

/**
 * The best purchase for each mix of copies, each a solve of its own. `asked` is all that is to be bought
 * (`SourcingTask.asked`): with fewer copies some of it may not be to be had. `timeLimit` is seconds for all of them
 * together; what one leaves over goes to those after it.
 */
export function traceMixes(
  asked: SourcingProblem,
  mixes: readonly CopyMix[],
  { onAsk, onFound, ...options }: MixOptions,
): MixOutcome[] {
  const started = options.now()
  const found: MixOutcome[] = []
  for (const [i, mix] of mixes.entries()) {
    const left = options.timeLimit - (options.now() - started)
    if (left <= 0 || options.shouldStop?.()) break
    onAsk?.(mix)
    const { problem, plan, leftOut } = solveWithinReach(withCopies(asked, mix), {
      ...options,
      timeLimit: Math.max(1, left / (mixes.length - i)),
    })
    const outcome = { mix, problem, plan, leftOut }
    found.push(outcome)
    onFound?.(outcome)
  }
  return found
}

/**
 * The outcome that costs least when leftovers bring what they are taken to, among those that leave the fewest pieces out;
 * the one with fewer copies where two cost the same. Undefined of none.
 */
export function bestMix(outcomes: readonly SummedMix[], view: ResaleView): SummedMix | undefined {
  const keyOf = ({ mix, leftOut, sums }: SummedMix) => [
    leftOut.reduce((n, u) => n + u.short, 0),
    netOf(sums, view),
    mix.reduce((n, k) => n + k, 0),
  ]
  const compared = (p: readonly number[], q: readonly number[]): number => {
    const i = p.findIndex((k, at) => k !== q[at])
    return i < 0 ? 0 : (p[i] ?? 0) - (q[i] ?? 0)
  }
  return [...outcomes].sort((p, q) => compared(keyOf(p), keyOf(q)))[0]
}
