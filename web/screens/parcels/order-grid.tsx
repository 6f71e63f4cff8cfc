import { TriangleAlert } from 'lucide-react'
import { useMemo } from 'react'
import { billTotal } from '../../../core/costs/order-cost.ts'
import { chargesOf, stateOf, type Order } from '../../../core/orders/order.ts'
import type { SellerRecord } from '../../../core/orders/seller-record.ts'
import type { Trouble } from '../../../core/orders/trouble.ts'
import type { OrderId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { contentWords, expectedWords, piecesOf, sumWords, troubleWords } from './order-words.ts'

/** Left out where it is said for which build each is: there is no room for both. */
const CONTENT: Column<Order> = {
  id: 'content',
  header: 'Brings',
  width: '104px',
  sort: (o) => piecesOf(o),
  text: contentWords,
  cell: (o) => contentWords(o),
}

/** Orders, what is in trouble first. */
export function OrderGrid({
  orders,
  troubles,
  records,
  today,
  chosen,
  across,
  onChoose,
  onOpen,
}: {
  orders: readonly Order[]
  troubles: ReadonlyMap<OrderId, Trouble>
  records: ReadonlyMap<string, SellerRecord>
  today: string
  chosen: OrderId | undefined
  /** Of several builds: each says for which it is. */
  across: boolean
  onChoose: (order: Order) => void
  onOpen: (order: Order) => void
}) {
  const { builds } = useRecords()
  const columns = useMemo((): readonly Column<Order>[] => {
    const names = new Map<string, string>(builds.map((b) => [b.id, b.name]))
    const whose = (o: Order) => o.builds.map((b) => names.get(b) ?? 'a build that is gone').join(', ') || 'no build'
    return [
      {
        id: 'number',
        header: 'No.',
        width: '48px',
        align: 'right',
        sort: (o) => o.number,
        text: (o) => String(o.number),
        cell: (o) => o.number,
      },
      {
        id: 'seller',
        header: 'From',
        width: 'minmax(8rem, 1.4fr)',
        sort: (o) => o.seller.name,
        text: (o) => o.seller.name,
        cell: (o) => <span className="truncate">{o.seller.name}</span>,
      },
      {
        id: 'state',
        header: 'State',
        width: '116px',
        sort: (o) => stateOf(o),
        text: (o) => {
          const trouble = troubles.get(o.id)
          return trouble ? `${stateOf(o)} (${troubleWords(trouble)})` : stateOf(o)
        },
        cell: (o) => {
          const trouble = troubles.get(o.id)
          return (
            <span className="inline-flex items-center gap-1 whitespace-nowrap">
              {stateOf(o)}
              {trouble && trouble.act !== 'wait' && (
                <TriangleAlert size={14} className="text-warn" aria-label={`in trouble: ${troubleWords(trouble)}`} />
              )}
            </span>
          )
        },
      },
      ...(across
        ? [
            {
              id: 'builds',
              header: 'For',
              width: 'minmax(7rem, 1.2fr)',
              sort: whose,
              text: whose,
              cell: (o: Order) => <span className="truncate">{whose(o)}</span>,
            },
          ]
        : []),
      ...(across ? [] : [CONTENT]),
      {
        id: 'sum',
        header: 'In all',
        width: '96px',
        align: 'right',
        sort: (o) => billTotal(chargesOf(o)),
        text: sumWords,
        cell: (o) => sumWords(o),
      },
      {
        id: 'expected',
        header: 'Here on',
        width: '104px',
        sort: (o) => expectedWords(o, records, today),
        text: (o) => expectedWords(o, records, today),
        cell: (o) => expectedWords(o, records, today),
      },
    ]
  }, [builds, across, records, today, troubles])
  return (
    <DataGrid
      label="Orders"
      columns={columns}
      rows={orders}
      rowKey={(o) => o.id}
      selected={chosen}
      onSelect={onChoose}
      onOpen={onOpen}
      rowHeight={36}
      empty="No order yet."
    />
  )
}
