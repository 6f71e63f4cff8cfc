import { shortOfMinimum } from '../costs/order-cost.ts'
import { Coverer, roundToPlan } from './greedy-cover.ts'
import { presolve, type PresolvedProblem } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'

export type Baseline =
  | {
      readonly kind: 'plan'
      /** With points of compromise, as a plan's total has them. */
      readonly total: number
      readonly shops: number
      /** What of the total are points of compromise, which nobody is paid for. */
      readonly penalties: number
    }
  /** The habit ends in a plan that breaks a rule, or leaves pieces out. */
  | { readonly kind: 'fails'; readonly why: string }

/** What people who buy by hand have in mind: any number of shops and pieces, no donor copies. */
const byHand = (problem: SourcingProblem): SourcingProblem => ({
  ...problem,
  maxShops: null,
  maxPieces: null,
  sets: [],
})

/**
 * What people do by hand, to compare with: every line at its cheapest offer, wherever that is, in as many shops as it
 * takes (a cap on shops is not kept). No donor copies are bought.
 */
export function cheapestLineByLine(problem: SourcingProblem): Baseline {
  const net = presolve(byHand(problem))
  return roundToBaseline(net, new Uint8Array(net.shops.length).fill(1))
}

/**
 * One big shop first: the shop that covers most pieces, everything it has bought there; then the next for what is left,
 * until all is covered, in as many shops as it takes.
 */
export function biggestShopFirst(problem: SourcingProblem): Baseline {
  const net = presolve(byHand(problem))
  const coverer = new Coverer(net)
  const open = Uint8Array.from(net.shops.map((s) => (s.status === 'pinned' ? 1 : 0)))
  const none = new Int32Array(net.sets.length)
  let uncovered = coverer.evaluate(open, none).uncovered
  while (uncovered > 0) {
    let best = -1
    let fewest = uncovered
    for (let s = 0; s < net.shops.length; s++) {
      if (open[s] === 1) continue
      open[s] = 1
      const next = coverer.evaluate(open, none).uncovered
      open[s] = 0
      if (next < fewest) [best, fewest] = [s, next]
    }
    if (best < 0) break
    open[best] = 1
    uncovered = fewest
  }
  return roundToBaseline(net, open)
}

/** Below a minimum order people fill the basket up: the plan is settled without minimums, the filler added to its total. */
function roundToBaseline(net: PresolvedProblem, open: Uint8Array): Baseline {
  const problem = { ...net.problem, shops: net.problem.shops.map((s) => ({ ...s, minOrder: 0 })) }
  const free = presolve(problem)
  const none = new Int32Array(net.sets.length)
  const cover = new Coverer(free).evaluate(open, none, true)
  const decisions = roundToPlan(free, cover, none)
  if (!decisions) return { kind: 'fails', why: `${cover.uncovered} pieces are left uncovered` }
  const verdict = verifyPlan(problem, decisions)
  if (!verdict.ok) return { kind: 'fails', why: verdict.faults[0] ?? 'a rule is broken' }
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  const goods = new Map<string, number>()
  for (const { offer: id, packs } of decisions.purchases) {
    const offer = offerById.get(id)
    if (offer) goods.set(offer.shop, (goods.get(offer.shop) ?? 0) + packs * offer.pack * offer.price)
  }
  const filler = net.problem.shops.reduce(
    (sum, s) => sum + (goods.has(s.id) ? shortOfMinimum(s, goods.get(s.id) ?? 0) : 0),
    0,
  )
  return { kind: 'plan', total: verdict.total + filler, shops: goods.size, penalties: verdict.cost.penalties }
}
