import { useMemo } from 'react'
import { Link } from 'react-router'
import { orderOfPlace } from '../../../core/orders/expected-supply.ts'
import { orderName, stateOf, type Order } from '../../../core/orders/order.ts'
import {
  holdUps,
  NEVER,
  NOW,
  SOME_DAY,
  type HoldUp,
  type DueDays,
  type ModuleReadiness,
  type When,
} from '../../../core/orders/readiness.ts'
import type { Temporary } from '../../../core/orders/temporary.ts'
import type { OrderId, PlaceId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { edit } from '../../../storage/journal.ts'
import { useAboutCount } from '../../store/about-count.ts'
import { dueDays, useOrders, useSellerRecords } from '../../store/orders.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { Button } from '../../ui/button.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { ArrivalsChart, type ChartRow } from './arrivals-chart.tsx'

/** Modules and parcels that the chart has room for. */
const MOST_ROWS = 14

const whenWords = (when: When): string =>
  when === NOW ? 'now' : when === NEVER ? 'never, as things stand' : when === SOME_DAY ? 'no day known' : when

/** What can be built already and when the rest, what holds it up, and what makes do until then. */
export function ReadyView({ tally, today }: { tally: BuildTally; today: string }) {
  const orders = useOrders(tally.snapshot.build.id)
  const records = useSellerRecords()
  const days = useMemo(() => dueDays(orders, records, today), [orders, records, today])
  const { value, problem, retry } = useAboutCount(tally.count, 'ready', days)
  if (problem !== undefined)
    return (
      <p role="alert" className="flex items-center gap-3 border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
        When what can be built could not be worked out: {problem}. <Button onClick={retry}>Try again</Button>
      </p>
    )
  if (!value)
    return (
      <p role="status" className="text-sm">
        Working out what can be built…
      </p>
    )
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-5 overflow-auto text-sm">
      <StaleNote tally={tally} />
      <Summary modules={value.modules} uncounted={value.uncounted} />
      <Ready modules={value.modules} days={days} tally={tally} orders={orders} today={today} />
      <Temporaries list={value.temporaries} tally={tally} orders={orders} />
    </div>
  )
}

function Summary({ modules, uncounted }: { modules: readonly ModuleReadiness[]; uncounted: number }) {
  const now = modules.filter((m) => m.likely === NOW).length
  const never = modules.filter((m) => m.likely === NEVER).length
  const dated = modules.filter((m) => m.likely !== NOW && m.likely < SOME_DAY).map((m) => m.likely)
  const last = [...dated].sort().at(-1)
  return (
    <p>
      <b>
        {now} of {plural(modules.length, 'module')}
      </b>{' '}
      can be built now, one after the other in the design’s order
      {last !== undefined && `; ${dated.length} more by ${last}`}
      {never > 0 && `; ${never} never as things stand: pieces of them are short`}.
      {uncounted > 0 &&
        ` ${plural(uncounted, 'piece')} among what is here ${uncounted === 1 ? 'was' : 'were'} taken as right with a parcel and not counted.`}
    </p>
  )
}

function Ready({
  modules,
  days,
  tally,
  orders,
  today,
}: {
  modules: readonly ModuleReadiness[]
  /** When what is on order is here. */
  days: DueDays
  tally: BuildTally
  orders: readonly Order[]
  today: string
}) {
  const { nameItem } = useRecords()
  const { design, places, copies } = tally.snapshot
  const orderById = useMemo(() => new Map(orders.map((o) => [o.id, o])), [orders])
  const nameOf = (from: string): string => {
    const order = orderOfPlace(from as PlaceId)
    const known = order === undefined ? undefined : orderById.get(order)
    if (known) return orderName(known)
    return places.find((p) => p.id === from)?.name ?? copies.find((c) => c.id === from)?.label ?? 'a parcel'
  }
  const moduleName = (m: ModuleReadiness) => design.modules.find((d) => d.id === m.module)?.name ?? ''
  const sorted = useMemo(
    () => [...modules].sort((p, q) => (p.likely < q.likely ? -1 : p.likely > q.likely ? 1 : 0)),
    [modules],
  )
  const shown = useGrowing(sorted)
  const holds = holdUps(modules)
  // What never comes is told above and in the table.
  const waited = sorted.filter((m) => m.likely !== NOW && m.likely !== NEVER)
  const dueOf = new Map(days.map((d) => [d.of, d]))
  const parcels = holds.slice(0, MOST_ROWS / 2).map(({ from }): ChartRow => {
    const { likely, late } = dueOf.get(from) ?? { likely: SOME_DAY, late: SOME_DAY }
    return { id: from, label: nameOf(from), kind: 'parcel', likely, late }
  })
  const rows: ChartRow[] = [
    ...parcels.sort((p, q) => (p.likely < q.likely ? -1 : 1)),
    ...waited
      .slice(0, MOST_ROWS - parcels.length)
      .map((m): ChartRow => ({ id: m.module, label: moduleName(m), kind: 'module', likely: m.likely, late: m.late })),
  ]
  return (
    <>
      {rows.some((r) => r.likely < SOME_DAY) && (
        <section aria-label="Arrivals and modules">
          <h2 className="text-base font-semibold">What waits for what</h2>
          <ArrivalsChart rows={rows} today={today} />
          <p className="text-xs text-soft">
            Squares are parcels, circles modules: filled where ready now, dashes reach to the late day.
            {waited.length > MOST_ROWS - parcels.length &&
              ` ${plural(waited.length - MOST_ROWS + parcels.length, 'more module is', 'more modules are')} in the table.`}
          </p>
        </section>
      )}
      <HoldUps holds={holds} nameOf={nameOf} orderById={orderById} />
      <table aria-label="When each module can be built" className="w-full [&_td]:py-1">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">Module</th>
            <th className="text-right font-semibold">Ready now</th>
            <th className="pl-4 font-semibold">All of it</th>
            <th className="pl-4 font-semibold">Went it first</th>
            <th className="pl-4 font-semibold">Held up by</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((m) => (
            <tr key={m.module} className="border-b border-hair align-top">
              <th scope="row" className="py-1 text-left font-normal">
                {moduleName(m)}
              </th>
              <td className="text-right whitespace-nowrap">
                {m.readyNow} of {m.repeats}
              </td>
              <td className={`pl-4 ${m.likely === NEVER ? 'text-warn' : ''}`}>
                {whenWords(m.likely)}
                {m.late > m.likely && m.late < SOME_DAY && <span className="text-soft"> to {m.late.slice(5)}</span>}
              </td>
              <td className="pl-4 text-soft">{m.first === m.likely ? 'the same' : whenWords(m.first)}</td>
              <td className="pl-4">
                {m.waits.slice(0, 2).map((w) => (
                  <span key={`${w.from ?? ''} ${w.item}`} className="block">
                    {w.qty} × {nameItem(w.item).name}
                    <span className="text-soft">, {w.from === undefined ? 'short' : `of ${nameOf(w.from)}`}</span>
                  </span>
                ))}
                {m.waits.length > 2 && <span className="text-xs text-soft">and {m.waits.length - 2} more</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function HoldUps({
  holds,
  nameOf,
  orderById,
}: {
  holds: readonly HoldUp[]
  nameOf: (from: string) => string
  orderById: ReadonlyMap<OrderId, Order>
}) {
  const [most] = holds
  if (!most) return null
  const isHere = ({ from }: HoldUp) => {
    const order = orderById.get(orderOfPlace(from as PlaceId) ?? ('' as OrderId))
    return order !== undefined && stateOf(order) === 'arrived'
  }
  const open = holds.find(isHere)
  return (
    <p>
      {most.modules.length > 0 && (
        <>
          <b>{nameOf(most.from)}</b> holds up most: {plural(most.modules.length, 'module waits', 'modules wait')} for it
          last.{' '}
        </>
      )}
      {open && (
        <>
          Of what has arrived, open <b>{nameOf(open.from)}</b> first:{' '}
          <Link
            className="text-accent underline"
            to={`/parcels/bench/${encodeURIComponent(orderOfPlace(open.from as PlaceId) ?? '')}`}
          >
            check it in
          </Link>
          .
        </>
      )}
    </p>
  )
}

/** What stands in until the right piece is here: what can be swapped now first. */
function Temporaries({
  list,
  tally,
  orders,
}: {
  list: readonly Temporary[]
  tally: BuildTally
  orders: readonly Order[]
}) {
  if (list.length === 0) return null
  const { design } = tally.now
  const change = (t: Temporary, forGood: boolean) => {
    const modules = design.modules.map((m) => ({
      ...m,
      lines: m.lines.map((l) => {
        if (l.id !== t.line) return l
        const { meanwhile: _, ...bare } = l
        return forGood ? { ...bare, item: t.by } : bare
      }),
    }))
    void perform(forGood ? 'Kept a temporary stand-in for good' : 'Swapped in the right piece', [
      edit('designs', design, { ...design, modules }),
    ])
  }
  const orderOf = (t: Temporary) => {
    const id = t.place === undefined ? undefined : orderOfPlace(t.place)
    return orders.find((o) => o.id === id)
  }
  return (
    <section aria-label="Temporary stand-ins">
      <h2 className="text-base font-semibold">Until the right piece comes</h2>
      <ul className="divide-y divide-hair border-y border-hair">
        {list.map((t) => {
          const order = orderOf(t)
          return (
            <li key={t.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1.5">
              <ItemName item={t.by} size={26} />
              <span className="text-soft">stands in for</span>
              <ItemName item={t.wanted} size={26} />
              <span className="flex-1">
                {t.here > 0 && <b>{plural(t.here, 'right one is', 'right ones are')} here: swap </b>}
                {t.onOrder > 0 && `${t.onOrder} on order${order ? ` with ${orderName(order)}` : ''} `}
                {t.short > 0 && <span className="text-warn">{t.short} not ordered</span>}
              </span>
              {t.here > 0 && t.onOrder + t.short === 0 && (
                <Button
                  onClick={() => {
                    change(t, false)
                  }}
                >
                  Swapped
                </Button>
              )}
              <Button
                onClick={() => {
                  change(t, true)
                }}
              >
                Keep it for good
              </Button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
