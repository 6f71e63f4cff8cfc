import { PackageCheck } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { benchSums, goodsDifference } from '../../../core/orders/check-in.ts'
import { orderName, stateOf, type Order } from '../../../core/orders/order.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { OrderId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { bookBench, saveOrder } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { useToday } from '../../store/today.ts'
import { Button } from '../../ui/button.tsx'
import { Field, MoneyInput, Tick } from '../../ui/fields.tsx'
import { Figure, Screen } from '../../ui/screen.tsx'
import { BenchCounter } from './bench-counter.tsx'
import { CopyBench } from './copy-bench.tsx'
import { useBench } from './use-bench.ts'

/** A parcel on the table: what came of it, piece by piece. */
export function BenchScreen() {
  const id = useParams()['order'] as OrderId
  const { orders } = useRecords()
  const order = orders.find((o) => o.id === id)
  if (!order)
    return (
      <div className="p-8">
        <h1 className="font-display text-xl">There is no such order</h1>
        <p className="mt-2 text-sm">
          It may have been undone.{' '}
          <Link className="text-accent underline" to="/parcels">
            All parcels
          </Link>
        </p>
      </div>
    )
  return <CheckIn key={id} stored={order} />
}

/** The parcels of an order's first build, or of all. */
const parcelsOf = (order: Order): string => {
  const [build] = order.builds
  const of = build === undefined ? '/parcels' : `/build/${encodeURIComponent(build)}/parcels`
  return `${of}?order=${encodeURIComponent(order.id)}`
}

function CheckIn({ stored }: { stored: Order }) {
  const records = useRecords()
  const today = useToday()
  const navigate = useNavigate()
  const bench = useBench(stored)
  const { order } = bench
  const [claiming, setClaiming] = useState(true)
  const massOf = (item: ItemKey) => records.nameItem(item).part.shape.mass
  const sums = benchSums(order, massOf)
  const state = stateOf(order)
  const others = records.orders.filter((o) => o.id !== order.id && stateOf(o) === 'arrived')
  const open = order.copies.filter((c) => c.checked !== true)
  const done = async () => {
    bench.forget()
    if (await bookBench(order, records, today, claiming, stored)) void navigate(parcelsOf(order))
  }
  return (
    <Screen
      title="Check-in"
      headline={
        state === 'arrived' && order.lines.length === 0 ? (
          `${orderName(order)}: ${plural(open.length, 'donor copy', 'donor copies')} to check in.`
        ) : state === 'arrived' ? (
          <>
            {orderName(order)}: <Figure>{formatNumber(sums.counted)}</Figure> of{' '}
            <Figure>{plural(sums.counted + sums.open, 'piece')}</Figure> counted
            {sums.missing > 0 && (
              <>
                , <Figure>{formatNumber(sums.missing)} amiss</Figure>
              </>
            )}
            {sums.extra > 0 && `, ${formatNumber(sums.extra)} extra`}; {(sums.mass / 1000).toFixed(0)} g of right pieces
            by estimate.
          </>
        ) : (
          <>
            {orderName(order)} is {state}: it is checked in once it has arrived.
          </>
        )
      }
      actions={
        <>
          <Link className="text-sm text-accent underline" to={parcelsOf(order)}>
            Back to the parcels
          </Link>
          {order.lines.length > 0 && state === 'arrived' && (
            <>
              {sums.missing > 0 && (
                <Tick checked={claiming} onChange={setClaiming}>
                  Claim what is amiss
                </Tick>
              )}
              <Button look="primary" disabled={sums.counted + sums.extra === 0} onClick={() => void done()}>
                <PackageCheck size={16} aria-hidden="true" /> Book {plural(sums.right + sums.extra, 'piece')}
              </Button>
            </>
          )}
        </>
      }
    >
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2 text-sm">
        {others.length > 0 && (
          <span>
            Also on the table:{' '}
            {others.map((o, i) => (
              <span key={o.id}>
                {i > 0 && ', '}
                <Link className="text-accent underline" to={`/parcels/bench/${encodeURIComponent(o.id)}`}>
                  {orderName(o)}
                </Link>
              </span>
            ))}
          </span>
        )}
        <span className="text-xs text-soft">
          Mind the knife when you open a parcel, and keep small parts away from children under three.
        </span>
      </div>
      {state === 'arrived' && (
        <>
          <Bill order={order} stored={stored} />
          {open.map((copy) => (
            <CopyBench key={copy.id} order={stored} ordered={copy} today={today} />
          ))}
          {order.lines.length > 0 && <BenchCounter bench={bench} onDone={() => void done()} />}
        </>
      )}
    </Screen>
  )
}

/** The seller's sum of goods against the lines, before anything is counted. */
function Bill({ order, stored }: { order: Order; stored: Order }) {
  const difference = goodsDifference(order)
  const { charged, planned, currency } = order
  const bill = charged ?? planned
  return (
    <div className="flex flex-wrap items-end gap-4 text-sm">
      <Field label={`Goods by the seller’s bill, ${currency}`}>
        {(id) => (
          <MoneyInput
            id={id}
            className="w-28"
            value={charged?.goods ?? null}
            currency={currency}
            empty="not noted"
            onCommit={(goods) => {
              if (goods === null) return
              const rest = bill ?? { shipping: 0, handling: 0, lineFees: 0, service: 0, levies: 0 }
              void saveOrder(stored, { ...stored, charged: { ...rest, goods } }, 'Noted what was charged', true)
            }}
          />
        )}
      </Field>
      {charged !== undefined && (
        <p role="status" className={difference === 0 ? 'text-soft' : 'border-l-4 border-warn bg-raised px-3 py-2'}>
          {difference === 0
            ? 'The lines come to the same.'
            : `The bill is ${formatMoney(Math.abs(difference), currency)} ${difference > 0 ? 'more' : 'less'} than the lines come to: a line may be missing or doubled, or a price is another. Look before you count.`}
        </p>
      )}
    </div>
  )
}
