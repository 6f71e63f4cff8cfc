import { CalendarPlus, CalendarDays, Plus, Truck } from 'lucide-react'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { calendarFile } from '../../../core/formats/calendar.ts'
import { expectedDays } from '../../../core/formats/order-lists.ts'
import { isClaimOpen } from '../../../core/orders/claims.ts'
import { expectedBetween } from '../../../core/orders/expected-day.ts'
import { orderName, stateOf, type Order } from '../../../core/orders/order.ts'
import { recordFor } from '../../../core/orders/seller-record.ts'
import { troubleOf, type Trouble } from '../../../core/orders/trouble.ts'
import type { BuildId, OrderId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { nowIso } from '../../store/database.ts'
import { download } from '../../store/download.ts'
import { askAfterParcels, moveAll, useOrders, useSellerRecords } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { passDays, setPatience, useDaysAhead, usePatience, useToday } from '../../store/today.ts'
import { NoBuild } from '../../pieces/no-build.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { ClaimsView } from './claims-view.tsx'
import { OrderGrid } from './order-grid.tsx'
import { OrderInspector } from './order-inspector.tsx'
import { troubleWords } from './order-words.ts'
import { ReadyView } from './ready-view.tsx'
import { ReplanView } from './replan-view.tsx'
import { TypedOrder } from './typed-order.tsx'
import { useAddress } from '../../ui/address.ts'

const BUILD_VIEWS = {
  orders: 'Orders',
  ready: 'When can I build?',
  replan: 'Plan anew',
  claims: 'Claims',
} as const
const ALL_VIEWS = { orders: 'Orders', claims: 'Claims' } as const
type View = keyof typeof BUILD_VIEWS

const PATIENCE = [3, 7, 14, 21, 30, 60].map((n) => ({ value: String(n), label: `${plural(n, 'day')} of patience` }))

/** What has come, what is due, what is in trouble: of one build. */
export function ParcelsScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return (
    <Parcels build={id} views={BUILD_VIEWS}>
      {(view, today) =>
        view === 'ready' ? (
          <ReadyView tally={tally} today={today} />
        ) : view === 'replan' ? (
          <ReplanView tally={tally} today={today} />
        ) : null
      }
    </Parcels>
  )
}

/** The same of all builds. */
export function AllParcelsScreen() {
  return <Parcels build={undefined} views={ALL_VIEWS} />
}

/** What is in trouble with each order, by its id. */
function useTroubles(orders: readonly Order[], today: string): ReadonlyMap<OrderId, Trouble> {
  const records = useSellerRecords()
  const patience = usePatience()
  return useMemo(
    () =>
      new Map(
        orders.flatMap((order) => {
          const trouble = troubleOf(order, recordFor(records, order), patience, today)
          return trouble ? [[order.id, trouble] as const] : []
        }),
      ),
    [orders, records, patience, today],
  )
}

function Parcels({
  build,
  views,
  children,
}: {
  build: BuildId | undefined
  views: Partial<Record<View, string>>
  children?: (view: View, today: string) => ReactNode
}) {
  const orders = useOrders(build)
  const today = useToday()
  const troubles = useTroubles(orders, today)
  const { params, change } = useAddress()
  const asked = params.get('view') as View | null
  const view = asked !== null && asked in views ? asked : 'orders'
  const choose = (name: string, value: string) => {
    change({ [name]: value })
  }
  const chosen = orders.find((o) => o.id === params.get('order'))
  return (
    <Screen
      title={build === undefined ? 'Parcels of all builds' : 'Parcels'}
      headline={<Headline orders={orders} troubles={troubles} today={today} build={build} />}
      actions={<Actions orders={orders} build={build} today={today} />}
    >
      <div className="flex flex-wrap items-center justify-between gap-3">
        <ViewSwitch
          views={views as Record<View, string>}
          view={view}
          onChange={(next) => {
            choose('view', next)
          }}
        />
        <Practice />
      </div>
      {view === 'claims' ? (
        <ClaimsView orders={orders} today={today} />
      ) : view === 'orders' ? (
        <OrdersView
          orders={orders}
          troubles={troubles}
          today={today}
          chosen={chosen}
          build={build}
          onChoose={(o) => {
            choose('order', o.id)
          }}
        />
      ) : (
        children?.(view, today)
      )}
    </Screen>
  )
}

/** How far the practice services are ahead, and how long a late parcel is waited for. */
function Practice() {
  const ahead = useDaysAhead()
  const patience = usePatience()
  return (
    <div className="flex flex-wrap items-center gap-3 text-sm text-soft">
      {ahead > 0 && <span>The practice services are {plural(ahead, 'day')} ahead: all days here are.</span>}
      <Choice
        label="Patience with late parcels"
        value={String(patience)}
        options={PATIENCE}
        onChange={(days) => void setPatience(days)}
      />
      <Button onClick={() => void passDays(1)}>
        <CalendarPlus size={14} aria-hidden="true" /> Let a day pass
      </Button>
    </div>
  )
}

function Actions({ orders, build, today }: { orders: readonly Order[]; build: BuildId | undefined; today: string }) {
  const records = useRecords()
  const sellers = useSellerRecords()
  const [typing, setTyping] = useState(false)
  const days = useMemo(
    () => expectedDays(orders, (order) => recordFor(sellers, order), today),
    [orders, sellers, today],
  )
  return (
    <>
      <Link
        className="px-2 text-sm text-accent underline"
        to={build === undefined ? '/ledgers' : `/build/${encodeURIComponent(build)}/ledger`}
      >
        What it cost
      </Link>
      <Button onClick={() => void askAfterParcels(orders, records, today)}>
        <Truck size={14} aria-hidden="true" /> Ask the carrier
      </Button>
      <Button
        disabled={days.length === 0}
        onClick={() => {
          download('expected-parcels.ics', calendarFile(days, nowIso()), 'text/calendar')
        }}
      >
        <CalendarDays size={14} aria-hidden="true" /> Calendar
      </Button>
      <Button
        onClick={() => {
          setTyping(true)
        }}
      >
        <Plus size={14} aria-hidden="true" /> Type an order in
      </Button>
      <TypedOrder open={typing} onOpenChange={setTyping} build={build} today={today} />
    </>
  )
}

function Headline({
  orders,
  troubles,
  today,
  build,
}: {
  orders: readonly Order[]
  troubles: ReadonlyMap<OrderId, Trouble>
  today: string
  build: BuildId | undefined
}) {
  const records = useSellerRecords()
  if (orders.length === 0)
    return build === undefined ? (
      'No order yet: a plan on Buy becomes orders in one act, and orders made elsewhere are typed in.'
    ) : (
      <>
        No order for this build yet.{' '}
        <Link className="text-accent underline" to={`/build/${encodeURIComponent(build)}/buy`}>
          A plan on Buy becomes orders in one act
        </Link>
        .
      </>
    )
  const of = (...states: readonly string[]) => orders.filter((o) => states.includes(stateOf(o)))
  const out = of('placed', 'paid', 'dispatched')
  const next = out
    .flatMap((o) => expectedBetween(o, recordFor(records, o), today)?.likely ?? [])
    .sort()
    .at(0)
  const serious = [...troubles.values()].filter((t) => t.act !== 'wait')
  const [here, drafts] = [of('arrived').length, of('drafted').length]
  return (
    <>
      <Figure>{plural(out.length, 'order')}</Figure> on the way{next !== undefined && `, the next by ${next}`}
      {here > 0 && (
        <>
          ; <Figure>{formatNumber(here)}</Figure> here to be checked in
        </>
      )}
      {drafts > 0 && `; ${formatNumber(drafts)} still ${drafts === 1 ? 'a draft' : 'drafts'}`}
      {serious.length > 0 && (
        <>
          ; <Figure>{formatNumber(serious.length)} in trouble</Figure>
        </>
      )}
      .
    </>
  )
}

/** Drafts of a plan are placed one by one, or all at once. */
function Drafts({ orders, today }: { orders: readonly Order[]; today: string }) {
  const records = useRecords()
  const drafts = orders.filter((o) => stateOf(o) === 'drafted')
  if (drafts.length < 2) return null
  return (
    <p className="flex flex-wrap items-center gap-3 text-sm">
      {plural(drafts.length, 'draft')}: what is placed counts as on order.
      <Button onClick={() => void moveAll(drafts, records, 'placed', today)}>Placed all of them today</Button>
    </p>
  )
}

function OrdersView({
  orders,
  troubles,
  today,
  chosen,
  build,
  onChoose,
}: {
  orders: readonly Order[]
  troubles: ReadonlyMap<OrderId, Trouble>
  today: string
  chosen: Order | undefined
  build: BuildId | undefined
  onChoose: (order: Order) => void
}) {
  const navigate = useNavigate()
  const records = useSellerRecords()
  const sorted = useMemo(() => {
    const weight = (o: Order) => {
      const trouble = troubles.get(o.id)
      if (trouble && trouble.act !== 'wait') return 0
      return ['arrived', 'drafted', 'placed', 'paid', 'dispatched'].includes(stateOf(o)) ? 1 : 2
    }
    return [...orders].sort((p, q) => weight(p) - weight(q) || q.number - p.number)
  }, [orders, troubles])
  const shown = chosen ?? sorted[0]
  const serious = sorted.filter((o) => {
    const trouble = troubles.get(o.id)
    return trouble !== undefined && trouble.act !== 'wait'
  })
  const waiting = orders.filter((o) => o.claims.some(isClaimOpen)).length
  if (orders.length === 0)
    return (
      <p className="max-w-xl text-sm text-soft">
        Orders are made of a plan on Buy, one for each shop and donor copy, or typed in where they were made elsewhere.
        Once placed, their pieces count as on order; when a parcel comes it is checked in here, and what is short, wrong
        or damaged is claimed.
      </p>
    )
  return (
    <>
      {serious.length > 0 && (
        <ul aria-label="In trouble" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          {serious.slice(0, 4).map((o) => {
            const trouble = troubles.get(o.id)
            return (
              <li key={o.id}>
                <button
                  type="button"
                  className="font-semibold text-accent underline"
                  onClick={() => {
                    onChoose(o)
                  }}
                >
                  {orderName(o)}
                </button>
                : {trouble && troubleWords(trouble)}.
              </li>
            )
          })}
          {serious.length > 4 && <li>And {serious.length - 4} more, first in the table.</li>}
        </ul>
      )}
      <Drafts orders={orders} today={today} />
      {waiting > 0 && serious.length === 0 && (
        <p className="text-sm text-soft">{plural(waiting, 'order has', 'orders have')} an open claim.</p>
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_24rem] gap-5 max-[1100px]:grid-cols-1 max-[1100px]:overflow-auto">
        <OrderGrid
          orders={sorted}
          troubles={troubles}
          records={records}
          today={today}
          chosen={shown?.id}
          across={build === undefined}
          onChoose={onChoose}
          onOpen={(o) => {
            if (stateOf(o) === 'arrived') void navigate(`/parcels/bench/${encodeURIComponent(o.id)}`)
          }}
        />
        {shown && <OrderInspector key={shown.id} order={shown} trouble={troubles.get(shown.id)} today={today} />}
      </div>
    </>
  )
}
