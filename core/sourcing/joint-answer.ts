import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { jointProblem, type JointFault, type Party } from './joint-purchase.ts'
import { sharedPurchase, wantedTwice, type ShareBasis, type SharedPurchase } from './joint-shares.ts'
import { withLess } from './leave-out.ts'
import type { SourcingPlan, Unreachable } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { purchaseSums } from './purchase-sums.ts'
import { verifyPlan } from './verify-plan.ts'

type Found = { readonly plan: SourcingPlan; readonly leftOut: readonly Unreachable[] }

/** What was found for several builds, each by itself and all together. */
export type JointAnswer = { readonly alone: readonly Found[]; readonly together: Found }

/** How what was found is to be told: what a custom print costs each build, minor units, and by what fees are shared. */
export type JointTerms = {
  readonly maxShops: number | null
  readonly printPrices: readonly number[]
  readonly basis: ShareBasis
}

/** What a purchase for several builds comes to beside what each costs by itself; money in minor units. */
export type JointAccount = {
  /** Undefined where there is no plan for all. */
  readonly shared: SharedPurchase | undefined
  /** Each build by itself, with what its leftovers likely bring; undefined where it has no plan. */
  readonly apart: readonly ({ readonly total: number; readonly orders: number } | undefined)[]
  /** Offers that several plans made apart want beyond their stock. */
  readonly twice: number
  /** Shops that were weighed. */
  readonly shops: readonly string[]
  /** What is left out of the purchase for all, and of which build, by its place. */
  readonly leftOut: readonly { readonly line: Unreachable; readonly build: number }[]
}

/**
 * What was found for several builds, put to the problems that it answers and counted by an independent count (`verifyPlan`):
 * refused where a plan does not hold, or where the builds cannot be bought for together.
 */
export function jointAccount(
  parties: readonly Party[],
  { alone, together }: JointAnswer,
  { maxShops, printPrices, basis }: JointTerms,
): Result<JointAccount, Fault<JointFault | 'plan'>> {
  const joint = jointProblem(parties, maxShops)
  if (!joint.ok) return joint
  const less = (problem: SourcingProblem, found: Found | undefined) =>
    withLess(problem, new Map((found?.leftOut ?? []).map((u) => [u.line, u.short])))
  const problem = less(joint.value.problem, together)
  const problems = parties.map(({ asked }, p) => less(asked, alone[p]))
  const holds = (of: SourcingProblem, { plan }: Found) => {
    const verdict = plan.total === null ? undefined : verifyPlan(of, plan)
    return verdict === undefined || (verdict.ok && verdict.total === plan.total)
  }
  if (!holds(problem, together) || alone.some((found, p) => !holds(problems[p] ?? problem, found)))
    return refuse('plan', 'The plan does not hold by an independent count.')
  return ok({
    shared: sharedPurchase(joint.value, problem, together.plan, printPrices, basis),
    apart: problems.map((of, p) => {
      const plan = alone[p]?.plan
      const sums = plan && purchaseSums({ problem: of, plan }, printPrices[p] ?? 0)
      return sums && { total: sums.outlay - sums.resale.likely, orders: sums.orders }
    }),
    twice: wantedTwice(
      alone.map((a) => a.plan),
      problems,
    ),
    shops: problem.shops.map((s) => s.id),
    leftOut: together.leftOut.map((line) => ({ line, build: joint.value.partyOf.get(line.line) ?? -1 })),
  })
}
