import { Coverer, settleCover } from './greedy.ts'
import { buildNetwork, type Network } from './network.ts'
import type { Decisions } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'

export type NaiveResult =
  | { readonly kind: 'plan'; readonly total: number; readonly shops: number; readonly decisions: Decisions }
  /** The habit ends in a plan that breaks a rule, or leaves pieces out. */
  | { readonly kind: 'fails'; readonly why: string }

/**
 * What people do by hand, to compare with: every line at its cheapest offer, wherever that is. No donor copies are
 * bought. The result is verified like any plan.
 */
export function cheapestLineByLine(problem: SourcingProblem): NaiveResult {
  const net = buildNetwork(problem)
  return settleWith(net, new Uint8Array(net.shops.length).fill(1))
}

/**
 * One big shop first: the shop that covers most pieces, everything it has bought there; then the next for what is left,
 * until all is covered.
 */
export function biggestShopFirst(problem: SourcingProblem): NaiveResult {
  const net = buildNetwork(problem)
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
  return settleWith(net, open)
}

function settleWith(net: Network, open: Uint8Array): NaiveResult {
  const none = new Int32Array(net.sets.length)
  const cover = new Coverer(net).evaluate(open, none, true)
  const decisions = settleCover(net, cover, none)
  if (!decisions) return { kind: 'fails', why: `${cover.uncovered} pieces are left uncovered` }
  const verdict = verifyPlan(net.problem, decisions)
  if (!verdict.ok) return { kind: 'fails', why: verdict.faults[0] ?? 'a rule is broken' }
  const shopOf = new Map(net.problem.offers.map((o) => [o.id, o.shop]))
  const shops = new Set(decisions.purchases.map((p) => shopOf.get(p.offer))).size
  return { kind: 'plan', total: verdict.total, shops, decisions }
}
