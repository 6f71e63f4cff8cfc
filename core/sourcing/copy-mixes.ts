import type { ItemKey } from '../catalogue/item.ts'
import { coveredBy, pieceOf } from './plan-pieces.ts'
import type { SourcingPlan, Unreachable } from './plan.ts'
import { problemKey } from './problem-key.ts'
import type { SourcingProblem } from './problem.ts'
import { solveWithinReach } from './leave-out.ts'
import type { SolveOptions } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

/** Just so many copies of each donor set, in the order of the problem's sets. */
export type CopyMix = readonly number[]

/** Mixes that are asked about at most. */
export const MOST_MIXES = 12

/** What leftovers are taken to bring: nothing, what is weighed, or what is hoped for. */
export const RESALE_VIEWS = ['nothing', 'likely', 'hoped'] as const
export type ResaleView = (typeof RESALE_VIEWS)[number]

/** The best purchase with just so many copies; money in minor units. */
export type MixOutcome = {
  readonly mix: CopyMix
  /** What it answers: what cannot be had with these copies is left out. */
  readonly problem: SourcingProblem
  readonly plan: SourcingPlan
  readonly leftOut: readonly Unreachable[]
  /** Sums of a plan that holds; undefined without one. */
  readonly sums: MixSums | undefined
}

export type MixSums = {
  /** What is paid up front: goods, fees, levies and copies, before anything is sold. */
  readonly outlay: number
  /** What leftovers bring, by what is taken of them. */
  readonly resale: Readonly<Record<ResaleView, number>>
  /** Pieces bought loose. */
  readonly loose: number
  readonly orders: number
  /** Wanted pieces that are covered, at least in part, by what is bought loose as well. */
  readonly withLoose: ReadonlySet<ItemKey>
  /** Pieces of orders and copies that the build does not use. */
  readonly surplus: number
}

/**
 * Mixes of copies worth asking about: every number of every set from none to `more` beyond those wanted, as long as these
 * are `MOST_MIXES` at most; else each set by itself with none of the others, as far as there is room. Fewest copies first.
 */
export function mixesOf({ sets }: Pick<SourcingProblem, 'sets'>, more: number): CopyMix[] {
  const most = sets.map((s) => s.maxCopies + more)
  const all = most.reduce((n, m) => n * (m + 1), 1)
  const copies = (mix: CopyMix) => mix.reduce((n, k) => n + k, 0)
  if (all <= MOST_MIXES)
    return most
      .reduce<CopyMix[]>(
        (mixes, m) => mixes.flatMap((mix) => Array.from({ length: m + 1 }, (_, k) => [...mix, k])),
        [[]],
      )
      .sort((p, q) => copies(p) - copies(q))
  const none = sets.map(() => 0)
  const alone = most.flatMap((m, s) => Array.from({ length: m }, (_, k) => none.map((n, i) => (i === s ? k + 1 : n))))
  return [none, ...alone.sort((p, q) => copies(p) - copies(q)).slice(0, MOST_MIXES - 1)]
}

/**
 * The problem with just so many copies of each set, and as many leftovers that may be sold as these hold. Copies beyond
 * those wanted are taken to cost and to hold the same, and their leftovers to earn the same.
 */
export function withCopies(problem: SourcingProblem, mix: CopyMix): SourcingProblem {
  /** Pieces more, or fewer, than in the copies wanted. */
  const further = new Map<string, number>()
  for (const [s, { maxCopies, contents }] of problem.sets.entries())
    for (const { item, qty } of contents)
      further.set(item, (further.get(item) ?? 0) + qty * ((mix[s] ?? 0) - maxCopies))
  return {
    ...problem,
    version: 2,
    items: problem.items.map((item) =>
      item.resale
        ? { ...item, resale: { ...item.resale, max: Math.max(0, item.resale.max + (further.get(item.id) ?? 0)) } }
        : item,
    ),
    sets: problem.sets.map((set, s) => ({ ...set, minCopies: mix[s] ?? 0, maxCopies: mix[s] ?? 0 })),
  }
}

/** Wanted pieces covered by items that are bought loose, be it only some of them. */
function coveredLoose(problem: SourcingProblem, plan: SourcingPlan): Set<ItemKey> {
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  const loose = new Set(
    plan.purchases.flatMap(({ offer, packs }) => (packs > 0 ? (offerById.get(offer)?.item ?? []) : [])),
  )
  const wanted = new Set<ItemKey>()
  for (const { line, accept } of coveredBy(problem, plan))
    if (accept.uses.some((u) => loose.has(u.item))) wanted.add(pieceOf(line))
  return wanted
}

/** What tells problems apart of which mixes are asked, however many copies are wanted. */
export const copiesKey = (anyCopies: SourcingProblem): string =>
  problemKey(
    withCopies(
      anyCopies,
      anyCopies.sets.map(() => 0),
    ),
  )

/** What a plan pays and leaves over, by an independent count; undefined where it does not hold. */
export function sumsOf(problem: SourcingProblem, plan: SourcingPlan): MixSums | undefined {
  const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
  if (!verdict?.ok || verdict.total !== plan.total) return undefined
  const { cost, total, surplus, orders } = verdict
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  let hoped = 0
  for (const { id, resale } of problem.items)
    if (resale) hoped += Math.max(resale.credit, resale.hoped ?? 0) * Math.min(surplus.get(id) ?? 0, resale.max)
  return {
    outlay: total + cost.credit - cost.penalties,
    resale: { nothing: 0, likely: cost.credit, hoped },
    loose: plan.purchases.reduce((n, { offer, packs }) => n + packs * (offerById.get(offer)?.pack ?? 1), 0),
    orders: orders.size,
    withLoose: coveredLoose(problem, plan),
    surplus: [...surplus.values()].reduce((n, left) => n + left, 0),
  }
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
    const outcome = { mix, problem, plan, leftOut, sums: sumsOf(problem, plan) }
    found.push(outcome)
    onFound?.(outcome)
  }
  return found
}

/** What a purchase costs when its leftovers bring what they are taken to; minor units. */
export const netOf = ({ outlay, resale }: MixSums, view: ResaleView): number => outlay - resale[view]

/**
 * The outcome that costs least when leftovers bring what they are taken to, among those that leave the fewest pieces out;
 * the one with fewer copies where two cost the same. Undefined where none holds.
 */
export function bestMix(outcomes: readonly MixOutcome[], view: ResaleView): MixOutcome | undefined {
  const out = ({ leftOut }: MixOutcome) => leftOut.reduce((n, u) => n + u.short, 0)
  const copies = ({ mix }: MixOutcome) => mix.reduce((n, k) => n + k, 0)
  let best: { readonly outcome: MixOutcome; readonly key: readonly number[] } | undefined
  for (const outcome of outcomes) {
    if (!outcome.sums) continue
    const key = [out(outcome), netOf(outcome.sums, view), copies(outcome)]
    const first = key.findIndex((k, i) => k !== best?.key[i])
    if (!best || (first >= 0 && (key[first] ?? 0) < (best.key[first] ?? 0))) best = { outcome, key }
  }
  return best?.outcome
}
