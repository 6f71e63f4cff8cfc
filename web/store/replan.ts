import * as v from 'valibot'
import { toast } from 'sonner'
import { expectedOf } from '../../core/orders/expected-supply.ts'
import type { Order } from '../../core/orders/order.ts'
import { moveOrder } from '../../core/orders/order-states.ts'
import type { Copy } from '../../core/donors/donor-set.ts'
import { copiesWith } from '../../core/orders/copy-check-in.ts'
import { KeptPlanSchema, type KeptPlan } from '../../core/sourcing/kept-plan.ts'
import type { SolveProgress } from '../../core/sourcing/solve.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { SnapshotRecords } from '../../core/netting/snapshot.ts'
import { plural } from '../../core/units/numbers.ts'
import { edit, editAll, put } from '../../storage/journal.ts'
import { startPurchase, type SourcingRun } from '../../workers/sourcing-client.ts'
import type { Patience } from '../../workers/sourcing.worker.ts'
import { tallyWorker } from '../../workers/tally-client.ts'
import { question } from './answers.ts'
import type { Count } from './count-store.ts'
import { nowIso } from './database.ts'
import { perform, wordsOf } from './perform.ts'
import { noteProof } from './purchases.ts'

/** Plans for what is short with the orders as they are, and with some thrown in; null where nothing is to be bought. */
const ReplanSchema = v.object({ fixed: v.nullable(KeptPlanSchema), open: v.nullable(KeptPlanSchema) })
type Answer = v.InferOutput<typeof ReplanSchema>

export const REPLAN = question<Answer, { readonly of: 'fixed' | 'open'; readonly progress?: SolveProgress }>(
  'replan',
  ReplanSchema,
)

/** What tells questions apart: what is to be bought, and which orders are thrown in as they are. */
export const replanKey = (taskKey: string, thrown: readonly Order[]): string =>
  JSON.stringify([taskKey, thrown.map((o) => [o.id, o.history.length, o.lines.length])])

/** The records as they would be without some orders. */
function withoutOrders(records: SnapshotRecords, thrown: readonly Order[]): SnapshotRecords {
  const gone = new Set<string>(thrown.flatMap((o) => expectedOf(o).holdings.map((h) => h.id)))
  const copies = new Set<string>(thrown.flatMap((o) => o.copies.map((c) => c.id)))
  return {
    ...records,
    holdings: records.holdings.filter((h) => !gone.has(h.id)),
    copies: records.copies.map((c) => (copies.has(c.id) && c.state === 'promised' ? { ...c, state: 'to-buy' } : c)),
  }
}

/** Finds what is to be bought now, and what would be were some unpaid orders thrown in. */
export const runReplan = (count: Count, taskKey: string, thrown: readonly Order[], patience: Patience): Promise<void> =>
  REPLAN.ask(count.build.id, (onNews) => {
    let cancel: () => void = () => undefined
    let stopped = false
    const buy = async (of: 'fixed' | 'open', records: SnapshotRecords): Promise<KeptPlan | null> => {
      onNews({ of })
      const { asked, key } = await tallyWorker().problem(count.build, records)
      if (asked.lines.length === 0) return null
      const run = startPurchase(asked, patience, (progress) => {
        onNews({ of, progress })
      })
      cancel = run.cancel
      if (stopped) run.cancel()
      const found = await run.result
      if (!found) throw new Error('it was stopped before a plan was found')
      const { plan, problem, leftOut, habits } = found
      if (plan.total !== null) {
        const verdict = verifyPlan(problem, plan)
        if (!verdict.ok || verdict.total !== plan.total) throw new Error('the plan does not hold')
      }
      return { id: count.build.id, problem, plan, unavailable: [...leftOut], habits, asked: key, madeAt: nowIso() }
    }
    const result = (async (): Promise<Answer> => {
      const fixed = await buy('fixed', count.records)
      const open = thrown.length > 0 ? await buy('open', withoutOrders(count.records, thrown)) : null
      return { fixed, open }
    })()
    const run: SourcingRun<Answer> = {
      result,
      cancel: () => {
        stopped = true
        cancel()
      },
    }
    return Promise.resolve({ key: replanKey(taskKey, thrown), run })
  })

/** Makes a plan the kept one; orders that were thrown into it are cancelled in the same act. */
export async function keepReplan(
  count: Count,
  kept: KeptPlan,
  thrown: readonly Order[],
  copies: readonly Copy[],
  today: string,
): Promise<boolean> {
  try {
    const { key } = await tallyWorker().problem(count.build, withoutOrders(count.records, thrown))
    if (key !== kept.asked) throw new Error('the build, its orders or the offers have changed meanwhile')
    const cancelled = thrown.flatMap((order) => {
      const next = moveOrder(order, 'cancelled', today, 'thrown into a new plan')
      return next.ok ? [{ order, next: next.value }] : []
    })
    const takeBack = await noteProof(kept)
    const done = await perform(
      thrown.length > 0 ? `Planned anew with ${plural(thrown.length, 'order')} thrown in` : 'Kept a purchase plan',
      [
        ...cancelled.map(({ order, next }) => edit('orders', order, next)),
        ...cancelled.flatMap(({ next }) => editAll('copies', copies, copiesWith(next, copies))),
        put('plans', [kept]),
      ],
    )
    if (!done) await takeBack()
    return done
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; plan again.`, { duration: 15_000 })
    return false
  }
}
