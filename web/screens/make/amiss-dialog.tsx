import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { Amiss } from '../../../core/making/amiss.ts'
import { hiddenSpots, type WayOut } from '../../../core/making/missing.ts'
import { moveWithin } from '../../../core/making/put-in.ts'
import { needOf } from '../../../core/making/works.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { edit } from '../../../storage/journal.ts'
import { useAboutCount } from '../../store/about-count.ts'
import { doMaking } from '../../store/making.ts'
import { dueDays, useOrders, useSellerRecords } from '../../store/orders.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Field, NumberInput, Tick } from '../../ui/fields.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { ClaimRows } from './claim-rows.tsx'
import type { LineAt } from '../../../core/making/at-work.ts'
import { putFound } from './line-acts.ts'
import { lineState } from '../../../core/making/at-work.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { Otherwise } from './otherwise.tsx'
import { WayRow } from './way-row.tsx'
import { WayWords } from './way-words.tsx'
import { taken } from '../../../core/making/take-way-out.ts'

const WHAT = {
  missing: 'Missing',
  broken: 'Broken',
  wrong: 'Another piece lay there',
  otherwise: 'It goes otherwise',
} as const
type What = keyof typeof WHAT

/** Something is amiss with a line at the table: every way out at once, each with what it costs. */
export function AmissDialog({ view, row, onClose }: { view: MakeView; row: LineAt; onClose: () => void }) {
  const records = useRecords()
  const { need } = lineState(row)
  const [what, setWhat] = useState<What>('missing')
  const [qty, setQty] = useState(1)
  const [kept, setKept] = useState(false)
  const [instead, setInstead] = useState<ItemKey | undefined>()
  const { name } = records.nameItem(row.line.item)
  const amiss: Amiss =
    what === 'broken' ? { kind: 'broken', kept } : what === 'wrong' ? { kind: 'wrong', instead } : { kind: 'missing' }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      wide
      title={name}
      description={`${workName(row.work, view.tally.now.design)}, repeat ${row.repeat}: what is amiss, and the ways out.`}
    >
      <div className="at-table flex flex-col gap-4 text-sm">
        <div className="flex flex-wrap items-center gap-3">
          <ItemName item={row.line.item} size={44} />
          <Field label="How many">
            {(id) => (
              <NumberInput
                id={id}
                className="w-20"
                value={qty}
                min={1}
                max={Math.max(1, need)}
                onCommit={(n) => {
                  setQty(n ?? 1)
                }}
              />
            )}
          </Field>
          <ViewSwitch views={WHAT} view={what} onChange={setWhat} label="What is amiss" />
        </div>
        {what === 'broken' && (
          <>
            <Tick checked={kept} onChange={setKept}>
              Keep it as worn, for where it is hidden
            </Tick>
            <p className="text-xs text-soft">Broken plastic has sharp edges: mind your fingers.</p>
          </>
        )}
        {what === 'wrong' && (
          <div className="flex flex-wrap items-center gap-3">
            {instead ? <ItemName item={instead} /> : <span>What lay there, where you know it:</span>}
            <QuickEntry
              label="What lay there"
              action="Note it"
              onAdd={([first], more) => {
                if (!first) return
                if (more.some((c) => c.puts.length > 0))
                  void perform('A piece that lay in place of another', more, { quiet: true })
                setInstead(first.item)
              }}
            />
          </div>
        )}
        {what === 'otherwise' ? (
          <Otherwise view={view} row={row} qty={qty} onDone={onClose} />
        ) : (
          <Ways view={view} row={row} qty={qty} amiss={amiss} onDone={onClose} />
        )}
      </div>
    </Dialog>
  )
}

function Ways({
  view,
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
  const { tally, today } = view
  const { at, line } = row
  const orders = useOrders(undefined)
  const sellers = useSellerRecords()
  const days = useMemo(() => dueDays(orders, sellers, today), [orders, sellers, today])
  const question = useMemo(() => ({ line: line.id, qty, days }), [line.id, qty, days])
  const { value, busy, problem, retry } = useAboutCount(tally.count, 'missing', question)
  const { name } = records.nameItem(line.item)
  const { build, design } = tally.now
  const take = (way: WayOut) => {
    void doMaking(`${qty} × ${name} ${amiss.kind}: ${wayLabel(way)}`, taken(row, qty, amiss, way), records, {
      quiet: false,
    }).then((done) => {
      if (done) onDone()
    })
  }
  const hidden = useMemo(() => {
    const secret = new Set(
      design.modules.flatMap((m) => m.lines.filter((l) => l.visibility === 'hidden').map((l) => l.id)),
    )
    return hiddenSpots(at.units, line.item, (l) => secret.has(l), line.line)
  }, [design, at.units, line])
  if (problem !== undefined)
    return (
      <p role="alert" className="flex items-center gap-3 border-l-4 border-bad bg-bad-wash px-3 py-2">
        The ways out could not be worked out: {problem}. <Button onClick={retry}>Try again</Button>
      </p>
    )
  if (!value) return <p role="status">{busy ? 'Looking for ways out…' : 'The count does not know this line by now.'}</p>
  return (
    <ul aria-label="Ways out" aria-busy={busy} className="divide-y divide-hair border-y border-hair">
      {value.map((way, i) => (
        <WayRow
          key={i}
          act={wayAct(way)}
          onAct={() => {
            take(way)
          }}
          disabled={way.kind === 'buy' && way.unavailable > 0}
        >
          <WayWords way={way} view={view} />
        </WayRow>
      ))}
      {hidden.slice(0, 3).map((spot) => (
        <WayRow
          key={`${spot.unit.id} ${spot.line}`}
          act="Take it from there"
          onAct={() => {
            const moved = moveWithin(
              spot.unit,
              spot.line,
              at.unitAt(row.work, row.repeat),
              line.line,
              Math.min(qty, spot.qty, lineState(row).open),
              needOf(row.work, line, row.repeat),
            )
            void doMaking(`Took ${name} from where it is hidden`, moved, records, { quiet: false }).then((done) => {
              if (done) onDone()
            })
          }}
        >
          <b>Where it is hidden</b>, in {workName(spot.unit, design)} {spot.unit.repeat}: {spot.qty} there. That place
          is open then, for any colour the rules allow.
        </WayRow>
      ))}
      <ClaimRows view={view} row={row} qty={qty} amiss={amiss} onDone={onDone} />
      <WayRow
        act="Correct the design"
        onAct={() => {
          const modules = design.modules.map((m) => ({
            ...m,
            lines: m.lines.map((l) =>
              l.id === line.line
                ? {
                    ...l,
                    qty: Math.max(0, l.qty - qty),
                    ...(l.steps && { steps: l.steps.map((n) => Math.max(0, n - qty)) }),
                  }
                : l,
            ),
          }))
          void perform(`${name}: ${qty} fewer in every repeat`, [edit('designs', design, { ...design, modules })]).then(
            (done) => {
              if (done) onDone()
            },
          )
        }}
      >
        <b>The design asks for too many</b>: {qty} fewer in this line, in every repeat. Costs nothing.
      </WayRow>
      <WayRow
        act="It is here after all"
        onAct={() =>
          void putFound(row, Math.min(qty, lineState(row).open), records).then((done) => {
            if (done) onDone()
          })
        }
        disabled={lineState(row).open === 0}
      >
        <b>Found on the table</b>: it goes in, and is counted as a piece that nobody knew of.
      </WayRow>
      <li className="py-1.5 text-xs text-soft">
        Prices are goods alone, at the cheapest offers that {build.name} may use.{' '}
        <Link
          className="text-accent underline"
          to={`/build/${encodeURIComponent(build.id)}/tally?line=${encodeURIComponent(line.id)}`}
        >
          Its line on the tally
        </Link>
      </li>
    </ul>
  )
}

const wayLabel = ({ kind }: WayOut): string =>
  ({
    leftover: 'a leftover goes in',
    'later module': 'a later module waits',
    'against the rules': 'taken from the shelf',
    model: 'taken from a model',
    'stand-in': 'a stand-in goes in',
    'on order': 'waits for the parcel',
    buy: 'to be bought',
  })[kind]

const wayAct = ({ kind }: WayOut): string =>
  ({
    leftover: 'Put it in',
    'later module': 'Take it',
    'against the rules': 'Use it all the same',
    model: 'Take it',
    'stand-in': 'Put it in',
    'on order': 'Wait for it',
    buy: 'Buy it',
  })[kind]
