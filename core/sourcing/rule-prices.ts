import { stepCost, type StepCost } from './frontier.ts'
import type { SourcingPlan } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { solveSourcing, type SolveOptions } from './solve.ts'

/** One rule on shops and orders, loosened one step. */
export type Loosening =
  /** Orders, days or loose pieces: so many at most, or any number. */
  | { readonly rule: 'maxShops' | 'deadlineDays' | 'maxPieces'; readonly to: number | null }
  /** A shop that was excluded may be used, or one that was insisted on need not be. */
  | { readonly rule: 'excluded' | 'pinned'; readonly shop: string }

/**
 * The rules of a problem that may cost something, each loosened one step: one order more, the next slower shops, loose pieces without a limit, each shop that is excluded or insisted on. What cannot change a plan is
 * left out.
 */
export function loosenings(problem: SourcingProblem): Loosening[] {
  const { maxShops, deadlineDays, maxPieces = null, shops, offers } = problem
  const found: Loosening[] = []
  // More shops may pay together where one more does not: a plan that uses fewer than it may says nothing of that.
  if (maxShops !== null && maxShops < shops.filter((s) => s.status !== 'excluded').length)
    found.push({ rule: 'maxShops', to: maxShops + 1 })
  if (deadlineDays !== null) {
    const slower = shops.filter((s) => s.status !== 'excluded' && s.leadDays > deadlineDays).map((s) => s.leadDays)
    if (slower.length > 0) found.push({ rule: 'deadlineDays', to: Math.min(...slower) })
  }
  if (maxPieces !== null) found.push({ rule: 'maxPieces', to: null })
  const used = new Set(problem.lines.flatMap((l) => l.accepts.flatMap((a) => a.uses.map((u) => u.item))))
  const selling = new Set(offers.flatMap((o) => (used.has(o.item) && o.stock >= o.pack ? [o.shop] : [])))
  for (const { id, status } of shops)
    if (status === 'pinned' || (status === 'excluded' && selling.has(id))) found.push({ rule: status, shop: id })
  return found
}

/** The problem with a rule loosened. */
export const loosened = (problem: SourcingProblem, loosening: Loosening): SourcingProblem =>
  'shop' in loosening
    ? {
        ...problem,
        shops: problem.shops.map((s) => (s.id === loosening.shop ? { ...s, status: 'free' } : s)),
      }
    : { ...problem, [loosening.rule]: loosening.to }

/** What loosening one rule one step saves at the optimum, with the plan that does. */
export type RulePrice = {
  readonly loosening: Loosening
  /** Checked by `verifyPlan`; never dearer than the plan it is compared with. */
  readonly plan: SourcingPlan
}

/** What is proven of a saving: between these, minor units; undefined where nothing is. */
export const savingOf = (base: SourcingPlan, { plan }: RulePrice): StepCost | undefined =>
  stepCost({ plan }, { plan: base })

export type RulePriceOptions = Omit<SolveOptions, 'onProgress' | 'starts'> & {
  readonly onAsk?: (loosening: Loosening) => void
  readonly onFound?: (price: RulePrice) => void
}

/**
 * Prices every rule that may cost something, from a checked plan of the problem as it is: each a solve of its own that
 * starts from that plan, as a looser rule never costs more. `timeLimit` is seconds for all of them together. What saves
 * most comes first.
 */
export function priceRules(
  problem: SourcingProblem,
  base: SourcingPlan,
  { onAsk, onFound, ...options }: RulePriceOptions,
): RulePrice[] {
  const started = options.now()
  const all = loosenings(problem)
  const found: RulePrice[] = []
  for (const [i, loosening] of all.entries()) {
    const left = options.timeLimit - (options.now() - started)
    if (left <= 0 || options.shouldStop?.()) break
    onAsk?.(loosening)
    const plan = solveSourcing(loosened(problem, loosening), {
      ...options,
      timeLimit: Math.max(1, left / (all.length - i)),
      starts: [base],
    })
    if (plan.total === null) continue
    const price = { loosening, plan }
    found.push(price)
    onFound?.(price)
  }
  return found.sort((p, q) => (p.plan.total ?? 0) - (q.plan.total ?? 0))
}
