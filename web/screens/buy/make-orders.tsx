import { PackagePlus } from 'lucide-react'
import { Link } from 'react-router'
import type { Build } from '../../../core/build/build.ts'
import type { Copy } from '../../../core/donors/donor-set.ts'
import { printOrders } from '../../../core/netting/print-orders.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import { ordersOfPlan } from '../../../core/orders/make-orders.ts'
import { stateOf } from '../../../core/orders/order.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { CopyId } from '../../../core/units/ids.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { copiesToBuy, orderMaking, useOrders } from '../../store/orders.ts'
import { perform } from '../../store/perform.ts'
import type { Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { useToday } from '../../store/today.ts'
import { Button } from '../../ui/button.tsx'

/** The copies that a plan buys, as records: those that are wanted first; of more than are wanted new ones are made. */
function copiesBought({ kept }: Purchase, copies: readonly Copy[]) {
  const made: Copy[] = []
  const bought = kept.plan.sets.flatMap(({ set, copies: n }) => {
    const known = copiesToBuy(copies, set, n)
    const [first] = known
    const further = Array.from({ length: first ? n - known.length : 0 }, (_, i): Copy[] =>
      first
        ? [{ ...first, id: `y-${fresh()}` as CopyId, label: `${first.label}, ${known.length + i + 1}`.slice(0, 200) }]
        : [],
    ).flat()
    made.push(...further)
    return [...known, ...further].map((copy) => ({ set, copy }))
  })
  return { bought, made }
}

/** A kept plan becomes orders in one act: one for each shop, each donor copy, each maker of prints. */
export function MakeOrders({
  purchase,
  build,
  result,
  old,
}: {
  purchase: Purchase
  build: Build
  result: Tally
  old: boolean
}) {
  const { orders, copies } = useRecords()
  const own = useOrders(build.id)
  const today = useToday()
  const { kept, orders: baskets } = purchase
  const made = own.filter((o) => o.planOf === kept.madeAt && stateOf(o) !== 'cancelled')
  const parcels = `/build/${encodeURIComponent(build.id)}/parcels`
  if (made.length > 0)
    return (
      <p className="border-l-4 border-accent bg-mark px-3 py-2 text-sm">
        This plan became {plural(made.length, 'order')}
        {made.some((o) => stateOf(o) === 'drafted') && ', some of them still drafts'}:{' '}
        <Link className="text-accent underline" to={parcels}>
          see Parcels
        </Link>
        .
      </p>
    )
  if (old) return null
  const make = () => {
    const { bought, made: further } = copiesBought(purchase, copies)
    const drafts = ordersOfPlan(
      kept,
      baskets,
      printOrders(result.printRuns),
      bought,
      build,
      orderMaking(orders, build.currency, today),
    )
    void perform(`Made ${plural(drafts.length, 'order')} of the plan`, [
      ...(further.length > 0 ? [add('copies', further)] : []),
      add('orders', drafts),
    ])
  }
  return (
    <p className="flex flex-wrap items-center gap-3 text-sm">
      <Button look="primary" onClick={make}>
        <PackagePlus size={16} aria-hidden="true" /> Make the orders
      </Button>
      <span className="text-soft">One for each shop, donor copy and maker of prints; drafts until you place them.</span>
    </p>
  )
}
