import { Copy as CopyIcon, FileUp, Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { copyContents, piecesOf } from '../../../core/donors/copy-contents.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import type { Tally } from '../../../core/planning/tally.ts'
import type { BuildId, CopyId } from '../../../core/units/ids.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { put, remove } from '../../../storage/journal.ts'
import { fresh } from '../../data/database.ts'
import { perform } from '../../data/perform.ts'
import { useRecords, useTally } from '../../data/records.tsx'
import { ImportDialog } from '../../import/import-dialog.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Choice, CommitInput, Field, Tick, Toggle } from '../../ui/fields.tsx'
import { ItemName } from '../../ui/item-name.tsx'
import { NoBuild } from '../../ui/no-build.tsx'
import { Figure, plural, Screen } from '../../ui/screen.tsx'

type CopyRow = {
  readonly copy: Copy
  readonly set: DonorSet | undefined
  readonly holds: number
  readonly used: number
}

export function DonorsScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const { sets } = useRecords()
  const [importing, setImporting] = useState(false)
  const [selected, setSelected] = useState<CopyId | undefined>()
  const rows = useMemo(() => (tally ? copyRows(tally.snapshot.copies, sets, tally.result) : []), [tally, sets])
  if (!tally) return <NoBuild />
  const owned = rows.filter((r) => r.copy.state === 'owned')
  const holds = owned.reduce((n, r) => n + r.holds, 0)
  const used = owned.reduce((n, r) => n + r.used, 0)
  const current = rows.find((r) => r.copy.id === selected) ?? rows[0]
  const wanted = rows.length - owned.length
  return (
    <Screen
      title="Donors"
      headline={
        rows.length === 0 ? (
          'No donor set serves this build yet.'
        ) : (
          <>
            <Figure>{plural(owned.length, 'owned copy', 'owned copies')}</Figure> hold{' '}
            <Figure>{plural(holds, 'piece')}</Figure>; the design uses <Figure>{used}</Figure>,{' '}
            <Figure>{holds - used}</Figure> are left over.
            {wanted > 0 && ` ${plural(wanted, 'more copy', 'more copies')} may be bought if it pays.`}
          </>
        )
      }
      actions={
        <>
          <Button
            look="primary"
            onClick={() => {
              setImporting(true)
            }}
          >
            <FileUp size={16} aria-hidden="true" /> Import an inventory
          </Button>
          <AddCopy build={id} sets={sets} count={rows.length} />
        </>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.4fr)_minmax(20rem,1fr)] gap-5 max-[960px]:grid-cols-1">
        <DataGrid
          label="Copies"
          columns={COPY_COLUMNS}
          rows={rows}
          rowKey={(r) => r.copy.id}
          selected={current?.copy.id}
          onSelect={(r) => {
            setSelected(r.copy.id)
          }}
          rowHeight={52}
          empty="Import a donor inventory: a list of part, colour and quantity. One copy of it then serves this build."
        />
        {current && <CopyInspector key={current.copy.id} row={current} currency={tally.snapshot.build.currency} />}
      </div>
      <ImportDialog kind="donor" build={id} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}

function copyRows(copies: readonly Copy[], sets: readonly DonorSet[], result: Tally): CopyRow[] {
  const used = new Map<CopyId, number>()
  for (const line of result.lines)
    for (const { source, qty } of line.pegs)
      if (source.kind === 'copy') used.set(source.copy, (used.get(source.copy) ?? 0) + qty)
  return copies.map((copy) => {
    const set = sets.find((s) => s.id === copy.setId)
    return {
      copy,
      set,
      holds: set ? copyContents(set, copy).reduce((n, c) => n + c.qty, 0) : 0,
      used: used.get(copy.id) ?? 0,
    }
  })
}

const COPY_COLUMNS: readonly Column<CopyRow>[] = [
  {
    id: 'copy',
    header: 'Copy',
    width: 'minmax(0, 2.2fr)',
    sort: (r) => r.copy.label,
    cell: (r) => (
      <span className="min-w-0 leading-tight">
        <span className="block truncate font-semibold">{r.copy.label}</span>
        <span className="block truncate text-xs text-soft">{r.set?.name ?? 'its inventory is gone'}</span>
      </span>
    ),
  },
  {
    id: 'stages',
    header: 'Stages',
    width: '84px',
    cell: (r) => (r.copy.stages === 'all' ? 'all' : `${r.copy.stages.length} of ${r.set?.stages.length ?? 0}`),
  },
  { id: 'holds', header: 'Holds', width: '76px', align: 'right', sort: (r) => r.holds, cell: (r) => r.holds },
  {
    id: 'used',
    header: 'Used',
    width: '76px',
    align: 'right',
    sort: (r) => r.used,
    cell: (r) => (r.copy.state === 'owned' ? r.used : '–'),
  },
  {
    id: 'state',
    header: 'State',
    width: '150px',
    sort: (r) => r.copy.state,
    cell: (r) =>
      r.copy.state === 'owned'
        ? 'owned'
        : `to buy${r.copy.askingPrice ? `, ${formatMoney(r.copy.askingPrice.minor, r.copy.askingPrice.currency)}` : ''}`,
  },
]

function AddCopy({ build, sets, count }: { build: BuildId; sets: readonly DonorSet[]; count: number }) {
  if (sets.length === 0) return null
  return (
    <Choice
      label="Add a copy of…"
      value={'' as string}
      options={sets.map((s) => ({ value: s.id as string, label: s.name }))}
      onChange={(setId) => {
        const set = sets.find((s) => s.id === setId)
        if (!set) return
        const copy: Copy = {
          id: `y-${fresh()}` as CopyId,
          setId: set.id,
          label: `${set.name}, copy ${count + 1}`,
          buildId: build,
          state: 'owned',
          stages: 'all',
          spares: true,
          missing: [],
        }
        void perform(`Added a copy of ${set.name}`, [put('copies', [copy])])
      }}
    />
  )
}

function CopyInspector({ row: { copy, set, holds, used }, currency }: { row: CopyRow; currency: string }) {
  const [filter, setFilter] = useState('')
  const { nameItem } = useRecords()
  const change = (label: string, next: Partial<Copy>) =>
    void perform(label, [put('copies', [{ ...copy, ...next }])], { quiet: true })
  if (!set) return <p className="text-sm">The inventory of this copy is gone. Import it again, or remove the copy.</p>
  const missing = new Map(copy.missing.map((m) => [m.item, m.qty]))
  const setMissing = (item: DonorSet['lines'][number]['item'], qty: number) => {
    const rest = copy.missing.filter((m) => m.item !== item)
    change(qty === 0 ? 'A piece is back' : 'Marked a missing piece', {
      missing: qty === 0 ? rest : [...rest, { item, qty }],
    })
  }
  const totals = new Map<DonorSet['lines'][number]['item'], number>()
  for (const line of set.lines) totals.set(line.item, (totals.get(line.item) ?? 0) + line.qty)
  const shown = [...totals].filter(
    ([item]) => filter === '' || nameItem(item).name.toLowerCase().includes(filter.toLowerCase()),
  )
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
        {set.retail ? `, ${formatMoney(set.retail.minor, set.retail.currency)} in shops` : ''}. This copy holds {holds};{' '}
        {used} used.
      </p>
      <div className="grid grid-cols-2 gap-3">
        <Field label="State">
          {(id) => (
            <Choice
              id={id}
              value={copy.state}
              options={[
                { value: 'owned', label: 'owned' },
                { value: 'to-buy', label: 'may be bought' },
              ]}
              onChange={(state) => {
                change(state === 'owned' ? 'The copy is owned' : 'The copy may be bought', { state })
              }}
            />
          )}
        </Field>
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
                    change('Changed the asking price', {
                      askingPrice: { minor, currency: currency as NonNullable<Copy['askingPrice']>['currency'] },
                    })
                }}
              />
            )}
          </Field>
        )}
      </div>
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
      <div className="flex min-h-48 flex-1 flex-col gap-2">
        <Field
          label={`Missing pieces: ${copy.missing.reduce((n, m) => n + m.qty, 0)}`}
          hint="Find the piece and say how many of it are gone."
        >
          {(id) => (
            <input
              id={id}
              type="search"
              value={filter}
              onChange={(e) => {
                setFilter(e.target.value)
              }}
              placeholder="plate 2x4…"
              className="min-h-8 rounded-sm border border-rule bg-sheet px-2 py-1 text-sm"
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
      <div className="flex gap-2">
        <Button
          onClick={() =>
            void perform(`Copied ${copy.label}`, [
              put('copies', [{ ...copy, id: `y-${fresh()}` as CopyId, label: `${copy.label} (again)` }]),
            ])
          }
        >
          <CopyIcon size={14} aria-hidden="true" /> One more like this
        </Button>
        <Button onClick={() => void perform(`Removed ${copy.label}`, [remove('copies', [copy.id])])}>
          <Trash2 size={14} aria-hidden="true" /> Remove
        </Button>
      </div>
    </aside>
  )
}
