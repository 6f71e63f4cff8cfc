import { useQuery } from '@tanstack/react-query'
import { dequal } from 'dequal'
import { useMemo } from 'react'
import { planLandedCost, planOrders, type Basket } from '../../core/sourcing/baskets.ts'
import type { Build } from '../../core/build/build.ts'
import { stateOf, type Order } from '../../core/orders/order.ts'
import type { Records } from '../../core/records/registry.ts'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import { problemKey } from '../../core/sourcing/problem-key.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import { guarded } from '../../storage/store-error.ts'
import { tallyWorker } from '../../workers/tally-client.ts'
import type { TaskSummary } from '../../workers/tally.worker.ts'
import { ABOUT_COUNTS } from './about-count.ts'
import { revisionOf } from './revision.ts'
import type { Count } from './count-store.ts'
import { db } from './database.ts'
import { useRecords } from './records.tsx'
import { useStored } from './stored.ts'
import type { BuildTally } from './tallies.ts'

export type Purchase = {
  readonly kept: KeptPlan
  readonly orders: readonly Basket[]
  /** Shops among them whose shipping is not known: what it costs is without that. */
  readonly withoutShipping: number
  /** Whether it is of all shops that might have been ordered from: else nothing is said of other ways to buy. */
  readonly shippingKnown: boolean
  /** What it costs at the door; undefined without a plan, or with one that does not hold. */
  readonly landed: number | undefined
  /** Why the kept plan does not hold by an independent count; undefined when it does, or there is none. */
  readonly fault: string | undefined
  /**
   * This browser found the plan and its bound itself: a bound that came in a file proves nothing. Undefined for the
   * moment until that is looked up.
   */
  readonly ownProof: boolean | undefined
  /** Its orders were made: how many of them are placed, or further, and how many still drafts; undefined while none is placed. */
  readonly ordered: { readonly placed: number; readonly drafts: number } | undefined
}

const PROOF = 'proof:'
const proofs = new WeakMap<KeptPlan, string>()
/** What a plan's proof is known by: the plan as it was found, and the problem it answers. */
function proofOf(kept: KeptPlan): string {
  const known = proofs.get(kept)
  if (known !== undefined) return known
  const { plan, asked, problem, habits, unavailable } = kept
  const { total, bound, status, purchases, sets, assignments, figures } = plan
  const proof = JSON.stringify([
    asked,
    ...[total, bound, status, purchases, sets, assignments],
    // Plans of earlier versions say nothing of them.
    ...(figures ? [figures] : []),
    ...[problemKey(problem), habits, unavailable],
  ])
  proofs.set(kept, proof)
  return proof
}

/** Proofs of plans that this page found; those of earlier visits and other tabs are in the settings. */
const found = new Set<string>()

/**
 * Remembers, beside the user's data, that this browser found a plan: files cannot bring that. To be called before the
 * plan is kept, so that no screen sees it without its proof; what it gives takes the note back.
 */
export async function noteProof(kept: KeptPlan): Promise<() => Promise<unknown>> {
  const id = `${PROOF}${kept.id}`
  found.add(proofOf(kept))
  // Where nothing can be noted the proof is this page's alone.
  const noted = await guarded(async () => {
    const before = await db.settings.get(id)
    await db.settings.put({ id, value: proofOf(kept) })
    return before
  })
  return () =>
    guarded(async () => {
      if (noted.ok) await (noted.value ? db.settings.put(noted.value) : db.settings.delete(id))
    })
}

const faults = new WeakMap<KeptPlan, string>()
/** What an independent count finds wrong with a kept plan; empty when it holds. */
function faultOf(kept: KeptPlan): string {
  const known = faults.get(kept)
  if (known !== undefined) return known
  const verdict = kept.plan.total === null ? undefined : verifyPlan(kept.problem, kept.plan)
  const fault = !verdict
    ? ''
    : !verdict.ok
      ? (verdict.faults[0] ?? 'a rule is broken')
      : verdict.total !== kept.plan.total || !dequal(verdict.cost, { levies: 0, ...kept.plan.cost })
        ? 'its costs do not add up to what it says'
        : ''
  faults.set(kept, fault)
  return fault
}

/** Whether it is known what each of some shops asks for shipping. */
export const isShippingKnown = (shops: Records['shops'], of: { has(shop: string): boolean }): boolean =>
  !shops.some((s) => s.shippingUnknown === true && of.has(s.id))

/** A plan's orders, and what they cost at the door. */
export function atTheDoor(
  build: Build,
  kept: KeptPlan,
  { shops, offers }: Pick<Records, 'shops' | 'offers'>,
): { readonly orders: readonly Basket[]; readonly landed: number | undefined } {
  const bought = new Set(kept.plan.purchases.map((p) => p.offer))
  const current = new Map(offers.filter((o) => bought.has(o.id)).map((o) => [o.id, o]))
  const orders = planOrders(kept, shops, current)
  return { orders, landed: planLandedCost(build, kept) }
}

/** The build's kept plan with its orders and what they cost at the door; `undefined` when none is kept. */
export function usePurchase(build: Build | undefined): Purchase | undefined {
  const { plans, shops, offers, orders: known } = useRecords()
  const id = build?.id
  const proof = useStored(
    async () => (id ? ((await db.settings.get(`${PROOF}${id}`))?.value ?? '') : ''),
    [id],
    undefined,
  )
  return useMemo(() => {
    const kept = build && plans.find((p) => p.id === build.id)
    if (!kept) return undefined
    const fault = faultOf(kept)
    const { orders, landed } =
      fault === '' ? atTheDoor(build, kept, { shops, offers }) : { orders: [], landed: undefined }
    return {
      kept,
      orders,
      withoutShipping: orders.filter((o) => o.shop.shippingUnknown).length,
      shippingKnown: isShippingKnown(shops, new Set(kept.problem.shops.map((s) => s.id))),
      landed,
      fault: fault === '' ? undefined : fault,
      ordered: orderedOf(known, kept),
      ownProof: found.has(proofOf(kept)) || (proof === undefined ? undefined : proof === proofOf(kept)),
    }
  }, [build, plans, shops, offers, known, proof])
}

/** How far the orders of a plan are; undefined while none of them is placed. What was cancelled is out of it. */
function orderedOf(orders: readonly Order[], kept: KeptPlan): Purchase['ordered'] {
  const own = orders.filter((o) => o.planOf === kept.madeAt && o.builds.includes(kept.id) && stateOf(o) !== 'cancelled')
  const drafts = own.filter((o) => stateOf(o) === 'drafted').length
  return own.length > drafts ? { placed: own.length - drafts, drafts } : undefined
}

export type PurchaseTask = {
  /** Of an earlier count while `pending`. */
  readonly task: TaskSummary | undefined
  readonly pending: boolean
  readonly problem: string | undefined
  readonly retry: () => void
}

/** Before the task is known. */
export const NO_TASK: TaskSummary = {
  key: '',
  anyCopiesKey: '',
  copies: [],
  wanted: [],
  unavailable: [],
  otherCurrency: 0,
  currencies: [],
  loose: { cost: 0, unavailable: 0 },
  lines: 0,
  offers: 0,
  itemsOf: new Map(),
}

/** What a purchase for a counted build would have to bring; a worker works it out. Not asked while `wanted` is false. */
export function usePurchaseTask(tally: BuildTally | undefined, wanted = true): PurchaseTask {
  const count = tally?.count
  const query = useQuery({
    ...ABOUT_COUNTS,
    queryKey: ['purchase task', count?.build.id, count && revisionOf(count)],
    queryFn: () => (count ? tallyWorker().task(count.build, count.records) : undefined) ?? null,
    enabled: wanted && count !== undefined,
  })
  return {
    task: query.data ?? undefined,
    pending: query.isPlaceholderData || query.isPending || (tally?.stale ?? false),
    problem: query.error?.message,
    retry: () => void query.refetch(),
  }
}

/**
 * How a kept plan stands to the build as it is: fitting, ordered meanwhile, older than it, found elsewhere (what a file says it answers is
 * not believed), or not known yet.
 */
export type PlanAge = 'fits' | 'ordered' | 'old' | 'elsewhere' | 'unknown'

export function planAge(purchase: Purchase | undefined, { task, pending }: PurchaseTask): PlanAge {
  if (!purchase || !task) return 'unknown'
  if (purchase.kept.asked !== task.key) return purchase.ordered ? 'ordered' : 'old'
  if (purchase.ownProof === false) return 'elsewhere'
  return pending || purchase.ownProof === undefined ? 'unknown' : 'fits'
}

/** A build's kept plan and how it stands to the build as it is now. */
export function usePlan(tally: BuildTally | undefined): { purchase: Purchase | undefined; age: PlanAge } {
  const purchase = usePurchase(tally?.now.build)
  const task = usePurchaseTask(tally, purchase !== undefined)
  return { purchase, age: planAge(purchase, task) }
}

/** The purchase problem of a count, as it is solved. */
export const problemOf = ({ build, records }: Count) => tallyWorker().problem(build, records)
