import { ClipboardCopy } from 'lucide-react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { Build } from '../../../core/build/build.ts'
import { printOrderText, printOrders, type PrintOrder } from '../../../core/netting/print-orders.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { WaitedFor } from '../../../core/netting/waited-for.ts'
import { dayOf, daysBetween } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { useAboutCount } from '../../store/about-count.ts'
import type { Count } from '../../store/count-store.ts'
import { nowIso } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'

/** What a build gets beside the orders from shops: prints made for it, and pieces that are on their way or promised. */
export function BesideOrders({ build, result, count }: { build: Build; result: Tally; count: Count }) {
  const orders = printOrders(result.printRuns)
  const expects = result.coverage.onOrder > 0
  const { value } = useAboutCount(expects ? count : undefined, 'waits', null)
  const waits = (expects && value) || []
  return (
    <>
      {orders.length > 0 && <Prints build={build} orders={orders} />}
      {waits.length > 0 && <Waits build={build} waits={waits} />}
    </>
  )
}

function Prints({ build: { currency, rules }, orders }: { build: Build; orders: readonly PrintOrder[] }) {
  const total = orders.reduce((sum, o) => sum + o.total, 0)
  const { deadlineDays } = rules
  return (
    <section aria-label="Printed to order" className="text-sm">
      <h2 className="text-base font-semibold">Printed to order</h2>
      <p>
        {plural(
          orders.reduce((n, o) => n + o.pieces, 0),
          'print',
        )}{' '}
        from {plural(orders.length, 'maker')}: <b>{formatMoney(total, currency)}</b>, beside the orders from shops and
        without what the makers ask for sending.
      </p>
      <div className="mt-2 flex flex-col divide-y divide-rule border-y border-rule">
        {orders.map((order) => (
          <div key={order.vendor} className="flex flex-col gap-2 py-2">
            <div className="flex flex-wrap items-center justify-between gap-3">
              <span>
                <b>{order.vendor}</b>,{' '}
                {order.days === undefined ? 'days not known' : `about ${plural(order.days, 'day')}`}
                {deadlineDays !== null && order.days !== undefined && order.days > deadlineDays && (
                  <b className="text-warn">
                    {' '}
                    – {plural(order.days - deadlineDays, 'day')} more than the {deadlineDays} there are
                  </b>
                )}
              </span>
              <PrintCopy order={order} currency={currency} />
            </div>
            <PrintRuns order={order} currency={currency} />
          </div>
        ))}
      </div>
    </section>
  )
}

function PrintCopy({ order, currency }: { order: PrintOrder; currency: string }) {
  const { nameItem } = useRecords()
  return (
    <Button
      onClick={() => {
        void navigator.clipboard.writeText(printOrderText(order, currency, (item) => nameItem(item).name)).then(
          () => toast.success(`Copied the prints of ${order.vendor}`),
          () => toast.error('The browser does not allow copying here.'),
        )
      }}
    >
      <ClipboardCopy size={14} aria-hidden="true" /> Copy as text
    </Button>
  )
}

function PrintRuns({ order: { runs, vendor }, currency }: { order: PrintOrder; currency: string }) {
  return (
    <table className="w-full" aria-label={`Prints of ${vendor}`}>
      <thead>
        <tr className="border-b border-rule text-left text-xs text-soft">
          <th className="py-1 font-semibold">Piece</th>
          <th className="font-semibold">Version</th>
          <th className="font-semibold">Artwork</th>
          <th className="text-right font-semibold">Needed</th>
          <th className="text-right font-semibold">Printed</th>
          <th className="text-right font-semibold">Each</th>
          <th className="text-right font-semibold">Cost</th>
        </tr>
      </thead>
      <tbody>
        {runs.map((run) => (
          <tr key={`${run.item} ${run.side ?? ''} ${run.price} ${run.minRun}`} className="border-b border-hair">
            <td className="py-1">
              <ItemName item={run.item} size={28} />
            </td>
            <td>{run.side ?? 'one'}</td>
            <td className={run.artwork === undefined ? 'text-soft' : ''}>{run.artwork ?? 'none named'}</td>
            <td className="text-right">{formatNumber(run.qty)}</td>
            <td className="text-right">{formatNumber(Math.max(run.qty, run.minRun))}</td>
            <td className="text-right">{formatMoney(run.price, currency)}</td>
            <td className="text-right">{formatMoney(run.cost, currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Waits({ build: { id: build, rules }, waits }: { build: Build; waits: readonly WaitedFor[] }) {
  const today = dayOf(nowIso())
  return (
    <section aria-label="Still to come" className="text-sm">
      <h2 className="text-base font-semibold">Still to come, at no price here</h2>
      <ul>
        {waits.map(({ place, pieces }) => {
          const days =
            place.due === undefined ? undefined : daysBetween(today, place.due) - daysBetween(place.due, today)
          const late = days !== undefined && (days < 0 || (rules.deadlineDays !== null && days > rules.deadlineDays))
          return (
            <li key={place.id} className="border-b border-hair py-1">
              <b>{plural(pieces, 'piece')}</b> of {place.name}, {place.kind === 'promise' ? 'promised' : 'in the post'}
              {place.due === undefined ? ', no day known' : ` for ${place.due}`}
              {days !== undefined && (
                <span className={late ? 'font-semibold text-warn' : 'text-soft'}>
                  {days < 0
                    ? `: ${plural(-days, 'day')} overdue. Ask, or buy them`
                    : days === 0
                      ? ': today'
                      : `: in ${plural(days, 'day')}${late ? `, later than the ${rules.deadlineDays ?? 0} there are` : ''}`}
                </span>
              )}
            </li>
          )
        })}
      </ul>
      <p className="text-xs text-soft">
        Counted as on order and not bought again. Days are set on the order or the place:{' '}
        <Link className="text-accent underline" to={`/build/${encodeURIComponent(build)}/parcels`}>
          Parcels
        </Link>
        ,{' '}
        <Link className="text-accent underline" to="/shelf">
          Shelf
        </Link>
        .
      </p>
    </section>
  )
}
