import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'

const Int = v.pipe(v.number(), v.safeInteger())
const Whole = v.pipe(v.number(), v.safeInteger(), v.minValue(0))

export const CostSchema = v.object({
  goods: Int,
  shipping: Int,
  handling: Int,
  lineFees: Int,
  service: Int,
  sets: Int,
  penalties: Int,
  credit: Int,
  /** Duty and tax; older plans, which have none, do not say so. */
  levies: v.optional(Int),
})

/** The cost of a plan by component, in minor units; `credit` is what surplus earns and is subtracted. */
export type PlanCost = v.InferOutput<typeof CostSchema>

export const totalOf = (cost: PlanCost): number =>
  cost.goods +
  cost.shipping +
  cost.handling +
  cost.lineFees +
  cost.service +
  (cost.levies ?? 0) +
  cost.sets +
  cost.penalties -
  cost.credit

/** What to buy and which option covers which piece. Lines with a single option may be left out of `assignments`. */
export const DecisionsSchema = v.object({
  purchases: v.array(v.object({ offer: v.string(), packs: Whole })),
  sets: v.array(v.object({ set: v.string(), copies: Whole })),
  assignments: v.array(v.object({ line: v.string(), accept: v.string(), qty: Whole })),
  /** Figures sold whole, of what is left over; none where left out. */
  figures: v.optional(v.array(v.object({ set: v.string(), figure: v.string(), qty: Whole }))),
})
export type Decisions = v.InferOutput<typeof DecisionsSchema>

export const PLAN_STATUSES = ['optimal', 'feasible', 'infeasible', 'cancelled'] as const

/** Why a line cannot be covered, and by how many pieces. */
export const UnreachableSchema = v.object({
  line: v.string(),
  /** The piece that the line asks for, where it is known. */
  piece: v.optional(ItemKeySchema),
  short: Whole,
  reason: v.picklist(['not-offered', 'stock', 'rules', 'joint']),
  detail: v.string(),
})
export type Unreachable = v.InferOutput<typeof UnreachableSchema>

export const SourcingPlanSchema = v.object({
  format: v.literal('sourcing-plan'),
  version: v.picklist([1, 2]),
  problem: v.string(),
  status: v.picklist(PLAN_STATUSES),
  ...DecisionsSchema.entries,
  total: v.nullable(Int),
  cost: v.nullable(CostSchema),
  /** Proven lower bound on any plan's total, minor units; null when nothing is proven. */
  bound: v.nullable(Int),
  /** (total − bound) / total; 0 when optimal, null without a plan or a bound. */
  gap: v.nullable(v.pipe(v.number(), v.finite())),
  seconds: v.pipe(v.number(), v.finite(), v.minValue(0)),
  unreachable: v.array(UnreachableSchema),
})
export type SourcingPlan = v.InferOutput<typeof SourcingPlanSchema>

/** (total − bound) / total; 0 when the bound reaches the total, null without either. */
export const gapOf = (total: number | null, bound: number | null): number | null =>
  total === null || bound === null ? null : total <= bound ? 0 : (total - bound) / Math.max(1, Math.abs(total))

/**
 * What a relaxation proves of totals, which are whole: rounded up, as far as the solver's tolerances do not push it over a whole
 * number; never −0. Undefined where that is nothing.
 */
export function wholeBound(value: number): number | undefined {
  const whole = Math.ceil(value - 1e-3 - 1e-8 * Math.abs(value)) + 0
  return Number.isSafeInteger(whole) ? whole : undefined
}

/** A plan with a bound that is known from elsewhere, never above its total: with what that proves of it. */
export function withBound(plan: SourcingPlan, known: number | null): SourcingPlan {
  if (plan.total === null || known === null) return plan
  const bound = Math.min(plan.total, Math.max(known, plan.bound ?? known))
  return { ...plan, bound, gap: gapOf(plan.total, bound), status: bound >= plan.total ? 'optimal' : plan.status }
}
