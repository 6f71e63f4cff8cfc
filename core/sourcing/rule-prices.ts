import type { Build } from '../build/build.ts'
import type { Decision } from '../build/decision.ts'
import { looserSteps, tighterSteps } from '../build/rule-steps.ts'
import type { Changes } from '../build/scenario.ts'
import type { KeptPlan } from './kept-plan.ts'
import type { SourcingProblem } from './problem.ts'
import { verifyPlan } from './verify-plan.ts'
import type { WhatIf } from './what-if.ts'

/** One rule changed by one step, and what it is then. */
export type RuleChange =
  /** Orders, days or loose pieces: so many at most, or any number. */
  | { readonly kind: 'limit'; readonly rule: 'maxShops' | 'deadlineDays' | 'maxPieces'; readonly to: number | null }
  /** A shop that was excluded may be used, one that was insisted on need not be, one that is ordered from is excluded. */
  | { readonly kind: 'shop'; readonly was: 'excluded' | 'pinned' | 'free'; readonly shop: string }
  /** A house rule, in words. */
  | { readonly kind: 'rule'; readonly label: string }
  /** A stand-in that was forbidden by hand is allowed. */
  | { readonly kind: 'stand-in'; readonly decision: Extract<Decision['what'], { kind: 'forbid' }> }

/** A what-if about one rule. */
export type RuleWhatIf = WhatIf & { readonly change: RuleChange; readonly looser: boolean }

/** Forbidden stand-ins that are asked about at most. */
const MOST_FORBIDDEN = 12

/**
 * The rules of a build that may cost something, each loosened one step: one order more, the next slower shops, loose
 * pieces without a limit, each shop that is excluded or insisted on, each house rule on what counts, each stand-in that
 * is forbidden by hand. `problem` is what is to be bought as it is; what cannot change a plan of it is left out.
 */
export function loosenings(
  { id: build, rules }: Build,
  decisions: readonly Decision[],
  problem: SourcingProblem,
): RuleWhatIf[] {
  const { maxShops, deadlineDays, maxPieces = null, shops, offers } = problem
  const found: RuleWhatIf[] = []
  const add = (change: RuleChange, changes: Changes) =>
    found.push({ id: JSON.stringify(changes), changes, change, looser: true })
  const limit = (rule: 'maxShops' | 'deadlineDays' | 'maxPieces', to: number | null) =>
    add({ kind: 'limit', rule, to }, { rules: { [rule]: to } })
  // More shops may pay together where one more does not: a plan that uses fewer than it may says nothing of that.
  if (maxShops !== null && maxShops < shops.filter((s) => s.status !== 'excluded').length)
    limit('maxShops', maxShops + 1)
  if (deadlineDays !== null) {
    const slower = shops.filter((s) => s.status !== 'excluded' && s.leadDays > deadlineDays).map((s) => s.leadDays)
    if (slower.length > 0) limit('deadlineDays', Math.min(...slower))
  }
  if (maxPieces !== null) limit('maxPieces', null)
  const used = new Set(problem.lines.flatMap((l) => l.accepts.flatMap((a) => a.uses.map((u) => u.item))))
  const selling = new Set(offers.flatMap((o) => (used.has(o.item) && o.stock >= o.pack ? [o.shop] : [])))
  for (const { id, status } of shops)
    if (status === 'pinned' || (status === 'excluded' && selling.has(id)))
      add({ kind: 'shop', was: status, shop: id }, { shops: { [id]: 'free' } })
  for (const { label, change } of looserSteps(rules)) add({ kind: 'rule', label }, { rules: change })
  for (const { id, build: of, what } of decisions
    .filter((d) => d.what.kind === 'forbid' && (d.build === build || d.build === null))
    .slice(0, MOST_FORBIDDEN))
    if (what.kind === 'forbid' && (of === build || of === null))
      add({ kind: 'stand-in', decision: what }, { takenBack: [id] })
  return found
}

/** Shops of a plan of which it is asked what doing without them costs, at most: those with the smallest orders first. */
const MOST_WITHOUT = 8

/** The house rules on what counts, each made stricter by one step, and each shop that a plan orders from done without. */
export function tightenings({ rules }: Build, { problem, plan }: Pick<KeptPlan, 'problem' | 'plan'>): RuleWhatIf[] {
  const stricter = (change: RuleChange, changes: Changes): RuleWhatIf => ({
    id: JSON.stringify(changes),
    changes,
    change,
    looser: false,
  })
  const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
  const orders = verdict?.ok ? [...verdict.orders] : []
  const free = new Set(problem.shops.filter((s) => s.status === 'free').map((s) => s.id))
  const without = orders
    .filter(([shop]) => free.has(shop))
    .sort(([, p], [, q]) => p.goods - q.goods)
    .slice(0, MOST_WITHOUT)
  return [
    ...tighterSteps(rules).map(({ label, change }) => stricter({ kind: 'rule', label }, { rules: change })),
    ...without.map(([shop]) => stricter({ kind: 'shop', was: 'free', shop }, { shops: { [shop]: 'excluded' } })),
  ]
}
