import { billTotal, shortOfMinimum } from '../costs/order-cost.ts'
import { exchanged } from '../units/exchange.ts'
import { Coverer, roundToPlan } from './greedy-cover.ts'
import { presolve, type PresolvedProblem } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'

/** One change to what was bought by hand, and what it would have saved, minor units. */
export type Mistake = {
  /** An order that was not worth its fees, one that was, or a donor copy that was. */
  readonly kind: 'needless order' | 'missed order' | 'missed copy'
  /** The shop, or the donor set. */
  readonly of: string
  readonly saves: number
}

/** Mistakes that are told. */
const TOLD = 3

export type Baseline =
  | {
      readonly kind: 'plan'
      /** With points of compromise, as a plan's total has them. */
      readonly total: number
      readonly shops: number
      /** What of the total are points of compromise, which nobody is paid for. */
      readonly penalties: number
      /** Single changes that would have saved most, the costliest first. */
      readonly mistakes: readonly Mistake[]
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
  return withMistakes(problem, net, new Uint8Array(net.shops.length).fill(1))
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
  return withMistakes(problem, net, open)
}

type Outcome = {
  readonly total: number
  readonly penalties: number
  /** Numbers of the shops ordered from. */
  readonly shops: ReadonlySet<number>
}

/** What buying in some shops by hand ends in, with the single changes that would have saved most: each tried by itself. */
function withMistakes(problem: SourcingProblem, net: PresolvedProblem, open: Uint8Array): Baseline {
  const none = new Int32Array(net.sets.length)
  const outcome = byPrice(net, open, none)
  if (typeof outcome === 'string') return { kind: 'fails', why: outcome }
  const mistakes: Mistake[] = []
  const note = (kind: Mistake['kind'], of: string, other: Outcome | string) => {
    if (typeof other !== 'string' && other.total < outcome.total)
      mistakes.push({ kind, of, saves: outcome.total - other.total })
  }
  // Only shops that were ordered from are open to those who would have left one out or added one.
  const used = Uint8Array.from(open, (_, s) => (outcome.shops.has(s) ? 1 : 0))
  for (const [s, { id, status }] of net.shops.entries()) {
    if (status === 'pinned') continue
    const other = used.slice()
    other[s] = used[s] === 1 ? 0 : 1
    note(used[s] === 1 ? 'needless order' : 'missed order', id, byPrice(net, other, none))
  }
  const donors = presolve({ ...problem, maxShops: null, maxPieces: null, sets: problem.sets.map(freely) })
  for (const [k, { id }] of donors.sets.entries())
    note(
      'missed copy',
      id,
      byPrice(
        donors,
        used,
        Int32Array.from(donors.sets, (_, i) => (i === k ? 1 : 0)),
      ),
    )
  mistakes.sort((p, q) => q.saves - p.saves || (p.of < q.of ? -1 : 1))
  return {
    kind: 'plan',
    total: outcome.total,
    shops: outcome.shops.size,
    penalties: outcome.penalties,
    mistakes: mistakes.slice(0, TOLD),
  }
}

const freely = (set: SourcingProblem['sets'][number]) => ({ ...set, minCopies: 0 })

/**
 * Every line at its cheapest open offer. Below a minimum order people fill the basket up: the plan is settled without
 * minimums, the filler added to its total. Why not, where that breaks a rule or leaves pieces out.
 */
function byPrice(net: PresolvedProblem, open: Uint8Array, copies: Int32Array): Outcome | string {
  const problem = { ...net.problem, shops: net.problem.shops.map((s) => ({ ...s, minOrder: 0 })) }
  const free = presolve(problem)
  const cover = new Coverer(free).evaluate(open, copies, true)
  const decisions = roundToPlan(free, cover, copies)
  if (!decisions) return `${cover.uncovered} pieces are left uncovered`
  const verdict = verifyPlan(problem, decisions)
  if (!verdict.ok) return verdict.faults[0] ?? 'a rule is broken'
  const filler = net.problem.shops.reduce((sum, s) => {
    const order = verdict.orders.get(s.id)
    if (!order) return sum
    const filled = billTotal(order.billed) + shortOfMinimum(s, order.billed.goods)
    return sum + (s.rate === undefined ? filled : exchanged(filled, s.rate)) - billTotal(order)
  }, 0)
  return {
    total: verdict.total + filler,
    penalties: verdict.cost.penalties,
    shops: new Set(net.shops.flatMap((s, i) => (verdict.orders.has(s.id) ? [i] : []))),
  }
}
