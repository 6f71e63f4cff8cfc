import type { ItemKey } from '../../../core/catalogue/item.ts'
import { Archive, Copy as CopyIcon, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { piecesOf } from '../../../core/donors/copy-contents.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import { madeUntil } from '../../../core/donors/made-until.ts'
import { isThere, putAway } from '../../../core/shelf/leftovers.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Place } from '../../../core/shelf/place.ts'
import type { BuildId, CopyId, PlaceId } from '../../../core/units/ids.ts'
import { CONDITIONS } from '../../../core/units/condition.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { add, edit, remove, shelve } from '../../../storage/journal.ts'
import { fresh, nowIso } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { Button } from '../../ui/button.tsx'
import { DataGrid } from '../../ui/data-grid.tsx'
import { Choice, CommitInput, Field, SearchInput, Tick, Toggle } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { isDay } from '../../../core/units/instants.ts'
import { plural } from '../../../core/units/numbers.ts'
import { STATES, type CopyRow } from './copy-rows.ts'
import { LeavesOver } from './leaves-over.tsx'

const NO_BUILD = 'none'
const ANY = 'any'

type ChangeCopy = (label: string, next: Partial<Copy>) => void

/** One copy opened: what counts of it, what is missing, whom it serves. */
export function CopyInspector({ row, snapshot }: { row: CopyRow; snapshot: Snapshot }) {
  const { copy, set, holds, used } = row
  const { currency } = snapshot.build
  const { units } = useRecords()
  const change: ChangeCopy = (label, next) =>
    void perform(label, [edit('copies', copy, { ...copy, ...next })], { quiet: true })
  if (!set) return <p className="text-sm">The inventory of this copy is gone. Import it again, or remove the copy.</p>
  const inModel = units.reduce(
    (n, u) => n + u.put.reduce((m, p) => m + (p.from.kind === 'copy' && p.from.copy === copy.id ? p.qty : 0), 0),
    0,
  )
  const until = madeUntil(set, nowIso())
  const stageOn = (stage: string) => copy.stages === 'all' || copy.stages.includes(stage)
  return (
    <aside
      aria-label={`Copy ${copy.label}`}
      className="flex min-h-0 flex-col gap-4 overflow-auto border-l border-rule pl-5"
    >
      <Field label="Label">
        {(id) => (
          <CommitInput
            id={id}
            value={copy.label}
            maxLength={200}
            onCommit={(label) => {
              if (label.trim() !== '') change('Renamed a copy', { label: label.trim() })
            }}
          />
        )}
      </Field>
      <p className="text-sm text-soft">
        {set.name}
        {set.year === undefined ? '' : `, ${set.year}`}: {plural(piecesOf(set), 'piece')} when complete
        {set.retail ? `, ${formatMoney(set.retail.minor, set.retail.currency)} in shops` : ''}
        {until === undefined ? '' : `, ${until}`}. This copy holds {holds}; {used} used
        {inModel > 0 && `; ${inModel} more are in a model that is being built`}.{' '}
        <Link className="text-accent underline" to={`/catalogue/set/${encodeURIComponent(set.id)}`}>
          Open the inventory
        </Link>
      </p>
      <CopyFacts copy={copy} currency={currency} onChange={change} />
      <fieldset className="flex flex-col gap-1.5">
        <legend className="mb-1 text-sm font-semibold">Stages that count</legend>
        {set.stages.map((stage) => (
          <Tick
            key={stage.id}
            checked={stageOn(stage.id)}
            onChange={(on) => {
              const next = set.stages.map((s) => s.id).filter((s) => (s === stage.id ? on : stageOn(s)))
              change(`${on ? 'Opened' : 'Closed'} stage ${stage.name}`, {
                stages: next.length === set.stages.length ? 'all' : next,
              })
            }}
          >
            {stage.name}
          </Tick>
        ))}
      </fieldset>
      <Toggle
        checked={copy.spares}
        onChange={(spares) => {
          change(spares ? 'Spares count' : 'Spares do not count', { spares })
        }}
      >
        Spares count too
      </Toggle>
      <MissingPieces copy={copy} set={set} onChange={change} />
      <LeavesOver copy={copy} set={set} build={snapshot.build.id} />
      <CopyActions copy={copy} set={set} build={snapshot.build.id} />
    </aside>
  )
}

/** State, build, condition and price of a copy. */
function CopyFacts({ copy, currency, onChange }: { copy: Copy; currency: string; onChange: ChangeCopy }) {
  const { builds } = useRecords()
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="State">
        {(id) => (
          <Choice
            id={id}
            value={copy.state}
            options={STATES}
            onChange={(state) => {
              onChange(`The copy is ${STATES.find((s) => s.value === state)?.label ?? state}`, { state })
            }}
          />
        )}
      </Field>
      <Field label="Serves">
        {(id) => (
          <Choice
            id={id}
            value={copy.buildId ?? NO_BUILD}
            options={[
              ...builds.map((b) => ({ value: b.id as string, label: b.name })),
              { value: NO_BUILD, label: 'no build' },
            ]}
            onChange={(to) => {
              const target = builds.find((b) => b.id === to)
              void perform(`${copy.label} serves ${target?.name ?? 'no build'}`, [
                edit('copies', copy, { ...copy, buildId: target?.id ?? null }),
              ])
            }}
          />
        )}
      </Field>
      <Field label="Condition">
        {(id) => (
          <Choice
            id={id}
            value={copy.condition ?? ANY}
            options={[{ value: ANY, label: 'not noted' }, ...CONDITIONS.map((c) => ({ value: c, label: c }))]}
            onChange={(condition) => {
              const { condition: _, ...bare } = copy
              void perform(
                `${copy.label} is ${condition === ANY ? 'of no noted condition' : condition}`,
                [edit('copies', copy, condition === ANY ? bare : { ...copy, condition })],
                { quiet: true },
              )
            }}
          />
        )}
      </Field>
      {(copy.state === 'owned' || copy.state === 'promised') && (
        <Field
          label={`Price paid, ${copy.paid?.currency ?? currency}`}
          hint="Spent already: in the ledger, and in no total to come."
        >
          {(id) => (
            <CommitInput
              id={id}
              value={copy.paid ? decimal(copy.paid.minor, copy.paid.currency) : ''}
              placeholder="not noted"
              onCommit={(text) => {
                const { paid, ...bare } = copy
                const money = (paid?.currency ?? currency) as NonNullable<Copy['paid']>['currency']
                if (text.trim() === '') {
                  void perform('Took the price paid away', [edit('copies', copy, bare)], { quiet: true })
                  return undefined
                }
                const minor = parseMinor(text, money)
                if (minor === undefined || minor < 0) return { problem: 'An amount such as 24.90.' }
                onChange('Noted the price paid', { paid: { minor, currency: money } })
                return undefined
              }}
            />
          )}
        </Field>
      )}
      {copy.paid && (
        <Field label="Paid on">
          {(id) => (
            <CommitInput
              id={id}
              type="date"
              value={copy.paidOn ?? ''}
              onCommit={(day) => {
                const { paidOn: _, ...bare } = copy
                void perform(
                  'Noted the day of payment',
                  [edit('copies', copy, isDay(day) ? { ...copy, paidOn: day } : bare)],
                  { quiet: true },
                )
              }}
            />
          )}
        </Field>
      )}
      {copy.state === 'to-buy' && (
        <Field label={`Asking price, ${currency}`}>
          {(id) => (
            <CommitInput
              id={id}
              value={copy.askingPrice ? decimal(copy.askingPrice.minor, copy.askingPrice.currency) : ''}
              placeholder="needed to compare"
              onCommit={(text) => {
                const minor = parseMinor(text, currency)
                if (minor !== undefined && minor >= 0)
                  onChange('Changed the asking price', {
                    askingPrice: { minor, currency: currency as NonNullable<Copy['askingPrice']>['currency'] },
                  })
              }}
            />
          )}
        </Field>
      )}
    </div>
  )
}

/** What a copy should hold, and how many of each piece are missing. */
function MissingPieces({ copy, set, onChange }: { copy: Copy; set: DonorSet; onChange: ChangeCopy }) {
  const { nameItem } = useRecords()
  const [filter, setFilter] = useState('')
  // A box may miss an item in several notes.
  const missing = new Map<ItemKey, number>()
  for (const { item, qty } of copy.missing) missing.set(item, (missing.get(item) ?? 0) + qty)
  const setMissing = (item: ItemKey, qty: number) => {
    const rest = copy.missing.filter((m) => m.item !== item)
    onChange(qty === 0 ? 'A piece is back' : 'Marked a missing piece', {
      missing: qty === 0 ? rest : [...rest, { item, qty }],
    })
  }
  const totals = new Map<ItemKey, number>()
  for (const line of set.lines) totals.set(line.item, (totals.get(line.item) ?? 0) + line.qty)
  const shown = [...totals].filter(
    ([item]) => filter === '' || nameItem(item).name.toLowerCase().includes(filter.toLowerCase()),
  )
  return (
    <div className="flex min-h-48 flex-1 flex-col gap-2">
      <Field
        label={`Missing pieces: ${copy.missing.reduce((n, m) => n + m.qty, 0)}`}
        hint="Find the piece and say how many of it are gone."
      >
        {(id) => (
          <SearchInput
            id={id}

            value={filter}
            onChange={(e) => {
              setFilter(e.target.value)
            }}
            placeholder="plate 2x4…"
          />
        )}
      </Field>
      <DataGrid
        label="Pieces of the copy"
        rows={shown}
        rowKey={([item]) => item}
        columns={[
          {
            id: 'item',
            header: 'Piece',
            width: 'minmax(0, 1fr)',
            sort: ([item]) => nameItem(item).name,
            cell: ([item]) => <ItemName item={item} size={30} />,
          },
          {
            id: 'qty',
            header: 'In the box',
            width: '88px',
            align: 'right',
            sort: ([, qty]) => qty,
            cell: ([, qty]) => qty,
          },
          {
            id: 'missing',
            header: 'Missing',
            width: '80px',
            align: 'right',
            sort: ([item]) => missing.get(item) ?? 0,
            cell: ([item]) => missing.get(item) ?? <span className="text-soft">0</span>,
            edit: {
              text: ([item]) => String(missing.get(item) ?? 0),
              commit: ([item, qty], text) => {
                if (!/^\d+$/.test(text) || Number(text) > qty) return `0 to ${qty}`
                if (Number(text) !== (missing.get(item) ?? 0)) setMissing(item, Number(text))
                return undefined
              },
            },
          },
        ]}
        empty="No piece by that name."
      />
    </div>
  )
}

/** Puts what the design leaves over on the shelf; copies and removes the copy. */
function CopyActions({ copy, set, build }: { copy: Copy; set: DonorSet; build: BuildId }) {
  const { places } = useRecords()
  const tally = useTally(build)
  // Only of a count of the copy as it is: what is put away is no longer in the box.
  const counted = tally && !tally.stale ? tally.snapshot.copies.find((c) => c.id === copy.id) : undefined
  const left = tally && counted ? putAway(set, counted, tally.result, 'l-' as PlaceId)?.pieces : undefined
  const shelveLeftovers = () => {
    if (!tally || !counted) return
    const name = `Leftovers of ${copy.label}`.slice(0, 120)
    const known = places.find((p) => p.name === name)
    const place: Place = known ?? { id: `l-${fresh()}` as PlaceId, name, kind: 'box', parent: null }
    const put = putAway(set, counted, tally.result, place.id)
    if (!put) return
    void perform(`Put ${plural(put.pieces, 'leftover')} of ${copy.label} on the shelf`, [
      add('places', known ? [] : [place]),
      shelve(put.lots),
      edit('copies', counted, put.copy),
    ])
  }
  return (
    <div className="flex flex-wrap gap-2">
      {isThere(copy) && (
        <Button disabled={left === undefined} onClick={shelveLeftovers}>
          <Archive size={14} aria-hidden="true" />{' '}
          {tally?.stale
            ? 'Counting again…'
            : left === undefined
              ? 'No leftovers'
              : `Put ${plural(left, 'leftover')} on the shelf`}
        </Button>
      )}
      <Button
        onClick={() =>
          void perform(`Copied ${copy.label}`, [
            add('copies', [{ ...copy, id: `y-${fresh()}` as CopyId, label: `${copy.label} (again)`.slice(0, 200) }]),
          ])
        }
      >
        <CopyIcon size={14} aria-hidden="true" /> One more like this
      </Button>
      <Button onClick={() => void perform(`Removed ${copy.label}`, [remove('copies', [copy.id])])}>
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </div>
  )
}
