import type { Amiss } from '../../../core/making/amiss.ts'
import { claimFrom } from '../../../core/orders/claims.ts'
import { orderName } from '../../../core/orders/order.ts'
import { edit } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { doMaking } from '../../store/making.ts'
import { claimLater, useOrders } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import type { LineAt } from '../../../core/making/at-work.ts'
import type { MakeView } from './make-view.ts'
import { WayRow } from './way-row.tsx'
import { booked, claimables, copyOrdered } from '../../../core/making/take-way-out.ts'

/** What may be claimed: on the parcel that a piece came with, or on the copy. */
export function ClaimRows({
  view: { today },
  row,
  qty,
  amiss,
  onDone,
}: {
  view: MakeView
  row: LineAt
  qty: number
  amiss: Amiss
  onDone: () => void
}) {
  const records = useRecords()
  const orders = useOrders(undefined)
  const { at, line } = row
  const { name } = records.nameItem(line.item)
  const claims = claimables(orders, line.item)
  const ofCopy = copyOrdered(orders, at.pegsOf(line.id))
  const reason = amiss.kind === 'missing' ? 'short' : 'damaged'
  return (
    <>
      {claims.slice(0, 3).map(({ order, line: ofOrder, right, uncounted }) => (
        <WayRow
          key={`${order.id} ${ofOrder}`}
          act="Claim it"
          onAct={() =>
            void claimLater(order, ofOrder, { reason, qty }, records, today).then((done) => {
              if (done) onDone()
            })
          }
          disabled={right < qty}
        >
          <b>Claim it</b> on {orderName(order)}: {right} of it came as right
          {uncounted ? ', taken so and never counted' : ''}. Costs nothing, where the seller agrees; it leaves the
          shelf.
        </WayRow>
      ))}
      {ofCopy && (
        <WayRow
          act="Claim it"
          onAct={() => {
            const note = `${qty} × ${name}`.slice(0, 1000)
            const claim = claimFrom(ofCopy.order, [{ copy: ofCopy.copy, reason, qty: 1, note }], today, fresh())
            const { change } = booked(row, qty, amiss)
            if (!claim.ok) return
            void doMaking(`Claimed ${note} on ${orderName(ofCopy.order)}`, { ok: true, value: change }, records, {
              more: [edit('orders', ofCopy.order, claim.value)],
              quiet: false,
            }).then((done) => {
              if (done) onDone()
            })
          }}
        >
          <b>Claim it</b> on the copy it came with, {orderName(ofCopy.order)}. Costs nothing, where the seller agrees.
        </WayRow>
      )}
    </>
  )
}
