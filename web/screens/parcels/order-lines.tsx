import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { openPieces, stateOf, type Order, type OrderLine } from '../../../core/orders/order.ts'
import { isOpenToChange } from '../../../core/orders/order-states.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { claimLater, saveOrder } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { Button } from '../../ui/button.tsx'
import { usePrinting } from '../../ui/use-printing.ts'
import { CommitInput, Field, MoneyInput, NumberInput } from '../../ui/fields.tsx'

const REPLACED = 'Replaced a line by what the seller had'

/** Lines shown before more is asked for. */
const FEW = 60

/** What is ordered, line by line: to be changed until it is paid, and what came of it. */
export function OrderLines({ order, today }: { order: Order; today: string }) {
  const [all, setAll] = useState(false)
  const [chosen, setChosen] = useState<string | undefined>()
  const printing = usePrinting()
  const shown = all || printing ? order.lines : order.lines.slice(0, FEW)
  return (
    <section aria-label="Lines">
      <ul className="divide-y divide-hair border-y border-hair">
        {shown.map((line) => (
          <li key={line.id} className="py-1">
            <button
              type="button"
              aria-expanded={chosen === line.id}
              className="flex w-full items-center justify-between gap-3 text-left hover:bg-raised"
              onClick={() => {
                setChosen(chosen === line.id ? undefined : line.id)
              }}
            >
              <ItemName item={line.item} size={28} />
              <span className="shrink-0 text-right">
                <b>{formatNumber(line.qty)}</b> at {formatMoney(line.price, order.currency)}
                <span className="block text-xs text-soft">{lineWords(line)}</span>
              </span>
            </button>
            {chosen === line.id && <LineDetails order={order} line={line} today={today} />}
          </li>
        ))}
        {order.copies.map((copy) => (
          <li key={copy.id} className="flex justify-between gap-3 py-1">
            <span>
              {copy.label}
              <span className="block text-xs text-soft">donor copy{copy.checked === true ? ', checked in' : ''}</span>
            </span>
            <b>{formatMoney(copy.price, order.currency)}</b>
          </li>
        ))}
      </ul>
      {order.lines.length > shown.length && (
        <Button
          look="bare"
          onClick={() => {
            setAll(true)
          }}
        >
          Show all {formatNumber(order.lines.length)} lines
        </Button>
      )}
    </section>
  )
}

/** What came of a line, in words. */
function lineWords(line: OrderLine): string {
  const { got, note, condition } = line
  if (!got) return [condition, note].filter(Boolean).join('; ')
  const open = openPieces(line)
  const wrong = got.wrong.reduce((n, w) => n + w.qty, 0)
  return [
    got.right > 0 && `${got.right} right${got.uncounted === true ? ', not counted' : ''}`,
    got.short > 0 && `${got.short} short`,
    got.damaged > 0 && `${got.damaged} damaged`,
    wrong > 0 && `${wrong} others in their place`,
    got.extra > 0 && `${got.extra} extra`,
    open > 0 && `${open} still to come`,
  ]
    .filter(Boolean)
    .join(', ')
}

function LineDetails({ order, line, today }: { order: Order; line: OrderLine; today: string }) {
  const records = useRecords()
  const change = (next: Partial<OrderLine>, label: string, more: readonly Change[] = []) =>
    void saveOrder(
      order,
      { ...order, lines: order.lines.map((l) => (l.id === line.id ? { ...l, ...next } : l)) },
      label,
      true,
      more,
    )
  const whose = line.for
    .map(({ build, qty }) => `${qty} for ${records.builds.find((b) => b.id === build)?.name ?? 'a build that is gone'}`)
    .join(', ')
  const nobodys = line.qty - line.for.reduce((n, f) => n + f.qty, 0)
  return (
    <div className="flex flex-col gap-2 py-2 pl-4">
      <p className="text-xs text-soft">
        {whose}
        {nobodys > 0 && `${whose === '' ? '' : ', '}${plural(nobodys, 'piece')} for none`}
      </p>
      {isOpenToChange(order) && (
        <div className="flex flex-wrap items-end gap-3">
          <Field label="Pieces">
            {(id) => (
              <NumberInput
                id={id}
                className="w-20"
                value={line.qty}
                min={1}
                max={1_000_000}
                onCommit={(qty) => {
                  if (qty !== null) change({ qty, for: cutTo(line.for, qty) }, 'Changed how many are ordered')
                }}
              />
            )}
          </Field>
          <Field label={`Each, ${order.currency}`}>
            {(id) => (
              <MoneyInput
                id={id}
                className="w-24"
                value={line.price}
                currency={order.currency}
                onCommit={(price) => {
                  if (price !== null) change({ price }, 'Changed a price')
                }}
              />
            )}
          </Field>
          <Button
            aria-label="Drop this line"
            onClick={() =>
              void saveOrder(
                order,
                { ...order, lines: order.lines.filter((l) => l.id !== line.id) },
                `Dropped a line of order ${order.number}`,
              )
            }
          >
            <Trash2 size={14} aria-hidden="true" /> Drop
          </Button>
          <div className="w-full">
            <Field label="If there is none" hint="What the seller may send instead.">
              {(id) => (
                <CommitInput
                  id={id}
                  value={line.note ?? ''}
                  maxLength={300}
                  className="w-full"
                  onCommit={(note) => {
                    change({ note }, 'Noted what may be sent instead')
                  }}
                />
              )}
            </Field>
          </div>
          <div className="w-full">
            <QuickEntry
              label="The seller had this instead"
              action="Replace by this"
              wide
              onAdd={([first], more) => {
                if (first) change({ item: first.item, qty: first.qty, for: cutTo(line.for, first.qty) }, REPLACED, more)
              }}
            />
          </div>
        </div>
      )}
      {line.got && line.got.right > 0 && <LaterClaim order={order} line={line} today={today} />}
    </div>
  )
}

/** Shares of builds cut down to fewer pieces, the last build's first. */
function cutTo(shares: OrderLine['for'], qty: number): OrderLine['for'] {
  let left = qty
  return shares.flatMap((share) => {
    const kept = Math.min(left, share.qty)
    left -= kept
    return kept > 0 ? [{ ...share, qty: kept }] : []
  })
}

/** Found out at the table: pieces booked as right are not. */
function LaterClaim({ order, line, today }: { order: Order; line: OrderLine; today: string }) {
  const records = useRecords()
  const [qty, setQty] = useState(1)
  const [others, setOthers] = useState(false)
  if (!['arrived', 'checked in'].includes(stateOf(order))) return null
  const claim = (reason: 'short' | 'damaged') => void claimLater(order, line.id, { reason, qty }, records, today)
  return (
    <div className="no-print flex flex-wrap items-end gap-2">
      <Field label="Found at the table">
        {(id) => (
          <NumberInput
            id={id}
            className="w-16"
            value={qty}
            min={1}
            max={line.got?.right ?? 1}
            onCommit={(n) => {
              setQty(n ?? 1)
            }}
          />
        )}
      </Field>
      <Button
        onClick={() => {
          claim('short')
        }}
      >
        are missing
      </Button>
      <Button
        onClick={() => {
          claim('damaged')
        }}
      >
        are damaged
      </Button>
      <Button
        aria-expanded={others}
        onClick={() => {
          setOthers(!others)
        }}
      >
        are others…
      </Button>
      {others && (
        <QuickEntry
          label="What came instead"
          action="Claim"
          wide
          onAdd={([first], more) => {
            if (first)
              void claimLater(
                order,
                line.id,
                { reason: 'wrong', qty: first.qty, item: first.item },
                records,
                today,
                more,
              )
          }}
        />
      )}
    </div>
  )
}
