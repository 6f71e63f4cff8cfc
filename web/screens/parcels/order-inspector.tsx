import { ClipboardCopy, Download, PackageOpen, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { orderCsv, orderRows, orderText } from '../../../core/formats/order-lists.ts'
import { goodsDifference } from '../../../core/orders/check-in.ts'
import { lostLines } from '../../../core/orders/claims.ts'
import { orderName, stateOf, type Order, type OrderState } from '../../../core/orders/order.ts'
import { isOpenToChange, movesOf, turnedUp } from '../../../core/orders/order-states.ts'
import { uncountedOf } from '../../../core/orders/found-later.ts'
import { readPostalNumber, trackingKey } from '../../../core/orders/postal-number.ts'
import type { Trouble } from '../../../core/orders/trouble.ts'
import { isDay } from '../../../core/units/instants.ts'
import { slug } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { downloadBlob, download } from '../../store/download.ts'
import { moveTo, openClaim, saveOrder, takeStepBack } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { CommitInput, Field } from '../../ui/fields.tsx'
import { OrderBill } from './order-bill.tsx'
import { OrderLines } from './order-lines.tsx'
import { STEP_WORDS, troubleWords } from './order-words.ts'

/** One order: how far it is and what may become of it, what the seller gets, what it costs, its lines. */
export function OrderInspector({
  order,
  trouble,
  today,
}: {
  order: Order
  trouble: Trouble | undefined
  today: string
}) {
  const records = useRecords()
  const state = stateOf(order)
  const replaced = records.orders.find((o) => o.id === order.replaces)
  const replacing = records.orders.filter((o) => o.replaces === order.id)
  const shop = records.shops.find((s) => s.id === order.seller.shop)
  const uncounted = uncountedOf(order, records.holdings).reduce((n, h) => n + h.qty, 0)
  return (
    <aside
      aria-label="Order"
      className="print-area flex min-h-0 flex-col gap-4 overflow-auto border-l border-rule pl-5 text-sm max-[1100px]:overflow-visible max-[1100px]:border-l-0 max-[1100px]:pl-0"
    >
      <div>
        <h2 className="text-base font-semibold">{orderName(order)}</h2>
        <p className="text-soft">
          {order.builds
            .map((id) => records.builds.find((b) => b.id === id)?.name ?? 'a build that is gone')
            .join(', ') || 'For no build'}
          {order.seller.shop !== undefined && !shop && ' · its shop is no longer known'}
        </p>
        {replaced && <p className="text-soft">Sent in place of pieces of {orderName(replaced)}.</p>}
        {replacing.map((o) => (
          <p key={o.id} className="text-soft">
            {orderName(o)} was sent in its place.
          </p>
        ))}
        {uncounted > 0 && (
          <p className="text-warn">
            {plural(uncounted, 'piece')} of it {uncounted === 1 ? 'lies' : 'lie'} on the shelf as taken, not counted.
            What turns out otherwise is claimed on its line.
          </p>
        )}
        {turnedUp(order) && (
          <p className="text-warn">
            It turned up after it had been given up: whatever replaced it is on its way, so its pieces are surplus.
          </p>
        )}
      </div>
      {trouble && (
        <p
          className={`first-letter:uppercase ${trouble.act === 'wait' ? 'text-soft' : 'border-l-4 border-warn bg-raised px-3 py-2'}`}
        >
          {troubleWords(trouble)}.
        </p>
      )}
      <Steps order={order} today={today} />
      {state === 'arrived' && (
        <Link
          to={`/parcels/bench/${encodeURIComponent(order.id)}`}
          className="no-print inline-flex items-center gap-2 self-start rounded-sm bg-accent px-4 py-1.5 font-semibold text-accent-ink hover:brightness-110"
        >
          <PackageOpen size={16} aria-hidden="true" /> Check it in
        </Link>
      )}
      {state === 'lost' && order.claims.length === 0 && (
        <Button className="self-start" onClick={() => void openClaim(order, lostLines(order), today)}>
          Claim all of it
        </Button>
      )}
      <OnTheWay order={order} />
      <OrderBill order={order} />
      <DifferenceNote order={order} />
      <ForSeller order={order} />
      <OrderLines order={order} today={today} />
    </aside>
  )
}

/** Sellers' lists that do not add up are common: it is said before anything is counted. */
function DifferenceNote({ order }: { order: Order }) {
  const difference = goodsDifference(order)
  if (difference === 0) return null
  return (
    <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2">
      The seller charges {formatMoney(Math.abs(difference), order.currency)} {difference > 0 ? 'more' : 'less'} for
      goods than the lines come to: a line may be missing or doubled, or a price is another. Compare the bill with the
      lines.
    </p>
  )
}

/** Steps of the usual way: the next of them is the one to take. */
const USUAL: readonly OrderState[] = ['placed', 'paid', 'dispatched', 'arrived', 'checked in']

/** What may become of it next, dated. */
function Steps({ order, today }: { order: Order; today: string }) {
  const records = useRecords()
  const [day, setDay] = useState(today)
  const sound = isDay(day)
  const moves = movesOf(order)
  return (
    <section aria-label="Steps" className="flex flex-col gap-2">
      <ol className="flex flex-wrap gap-x-3 gap-y-0.5 text-xs text-soft">
        {order.history.map(({ state, on, note }, i) => (
          <li key={i} className={i === order.history.length - 1 ? 'font-semibold text-ink' : ''}>
            {state} {on}
            {note && ` (${note})`}
          </li>
        ))}
      </ol>
      <div className="no-print flex flex-wrap items-center gap-2">
        {moves.length > 0 && (
          <input
            type="date"
            aria-label="Day of the next step"
            value={day}
            onChange={(e) => {
              setDay(e.target.value)
            }}
            className="min-h-8 rounded-sm border border-rule bg-sheet px-2 py-1"
          />
        )}
        {moves.map((to, i) => (
          <Button
            key={to}
            look={i === 0 && USUAL.includes(to) ? 'primary' : 'plain'}
            disabled={!sound}
            onClick={() => void moveTo(order, records, to, day)}
          >
            {STEP_WORDS[to]}
          </Button>
        ))}
        {order.history.length > 1 && (
          <Button look="bare" onClick={() => void takeStepBack(order, records)}>
            <Undo2 size={14} aria-hidden="true" /> One step back
          </Button>
        )}
      </div>
      {stateOf(order) === 'drafted' && (
        <p className="text-xs text-soft">Its pieces count as on order once it is placed.</p>
      )}
    </section>
  )
}

/** Numbers and days that seller and carrier give. */
function OnTheWay({ order }: { order: Order }) {
  const { tracking, reference, due, news = [] } = order
  const read = tracking === undefined ? undefined : readPostalNumber(tracking)
  const set = (label: string, next: Partial<Order>, drop: keyof Order, text: string) => {
    const { [drop]: _, ...bare } = order
    return void saveOrder(order, (text === '' ? bare : { ...order, ...next }) as Order, label, true)
  }
  return (
    <section aria-label="On the way" className="grid grid-cols-2 gap-3">
      <Field label="Seller’s number">
        {(id) => (
          <CommitInput
            id={id}
            value={reference ?? ''}
            maxLength={80}
            onCommit={(text) => {
              set('Noted the seller’s number', { reference: text.trim() }, 'reference', text.trim())
            }}
          />
        )}
      </Field>
      <Field label="Comes on">
        {(id) => (
          <CommitInput
            id={id}
            value={due ?? ''}
            placeholder="2026-12-24"
            onCommit={(text) => {
              const day = text.trim()
              if (day !== '' && !isDay(day)) return { problem: 'A day such as 2026-12-24.' }
              set('Noted when it comes', { due: day }, 'due', day)
              return undefined
            }}
          />
        )}
      </Field>
      <div className="col-span-2">
        <Field label="Tracking number">
          {(id) => (
            <CommitInput
              id={id}
              value={tracking ?? ''}
              maxLength={60}
              onCommit={(text) => {
                const number = trackingKey(text)
                set('Noted the tracking number', { tracking: number }, 'tracking', number)
              }}
            />
          )}
        </Field>
        {read?.kind === 'postal' && (
          <p className="text-xs text-soft">
            An international postal item from {read.country}: its check digit is right (UPU S10).
          </p>
        )}
        {read?.kind === 'wrong digit' && (
          <p role="alert" className="text-xs text-bad">
            It looks like an international postal item, whose last digit would be {read.expected}: a digit is likely
            mistyped. Compare it with the seller’s message.
          </p>
        )}
      </div>
      {news.length > 0 && (
        <ol aria-label="The carrier’s news" className="col-span-2 text-xs text-soft">
          {news.map(({ kind, on, where }, i) => (
            <li key={i} className={kind === 'at customs' ? 'text-warn' : ''}>
              {on}: {kind}, {where}
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}

/** The order as the seller gets it. */
function ForSeller({ order }: { order: Order }) {
  const { nameItem } = useRecords()
  const name = `order-${order.number}-${slug(order.seller.name)}`
  const workbook = async () => {
    try {
      const { default: writeWorkbook } = await import('write-excel-file/browser')
      const rows = orderRows(order, nameItem).map((row) => row.map((value) => ({ value })))
      downloadBlob(`${name}.xlsx`, await writeWorkbook(rows).toBlob())
    } catch {
      toast.error('The workbook could not be made. The CSV holds the same.')
    }
  }
  return (
    <section aria-label="For the seller" className="no-print flex flex-wrap gap-2">
      <Button
        onClick={() => {
          void navigator.clipboard.writeText(orderText(order, nameItem)).then(
            () => toast.success(`Copied order ${order.number}`),
            () => toast.error('The browser does not allow copying here. Download the file instead.'),
          )
        }}
      >
        <ClipboardCopy size={14} aria-hidden="true" /> Copy as text
      </Button>
      <Button
        onClick={() => {
          download(`${name}.csv`, orderCsv(order, nameItem), 'text/csv')
        }}
      >
        <Download size={14} aria-hidden="true" /> CSV
      </Button>
      <Button onClick={() => void workbook()}>
        <Download size={14} aria-hidden="true" /> XLSX
      </Button>
      <Button
        onClick={() => {
          window.print()
        }}
      >
        Print
      </Button>
      {isOpenToChange(order) && (
        <span className="w-full text-xs text-soft">Until it is paid, its lines can be changed.</span>
      )}
    </section>
  )
}
