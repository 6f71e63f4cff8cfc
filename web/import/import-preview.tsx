import { useMemo, useState } from 'react'
import { colourKey, type Colour } from '../../core/colours/colour.ts'
import { ciede2000, hexToLab } from '../../core/colours/distance.ts'
import { guessHex } from '../../core/colours/name-guess.ts'
import { readPartName } from '../../core/catalogue/name-grammar.ts'
import { writeCsv, type Delimiter } from '../../core/formats/delimited.ts'
import { FIELD_LABELS, LIST_FIELDS, type Field, type ListKind } from '../../core/formats/list-columns.ts'
import type { ListRow } from '../../core/formats/list-rows.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { listWorker } from '../../workers/list-client.ts'
import type { ListPreview } from '../../workers/list.worker.ts'
import { download } from '../data/download.ts'
import { useRecords, type RecordsView } from '../data/records.tsx'
import { Button } from '../ui/button.tsx'
import { DataGrid, type Column } from '../ui/data-grid.tsx'
import { Choice, Field as LabelledField, TextInput, Tick } from '../ui/fields.tsx'
import { PiecePicture } from '../ui/piece-picture.tsx'
import { plural } from '../ui/screen.tsx'
import type { Loaded } from './loaded.ts'
import { runImport, type ColourChoice } from './run-import.ts'

const NONE = 'none'

export function ImportPreview({
  kind,
  build,
  loaded,
  onRematch,
  onBack,
  onDone,
}: {
  kind: ListKind
  build: BuildId | null
  loaded: Loaded
  onRematch: (preview: ListPreview) => void
  onBack: () => void
  onDone: () => void
}) {
  const records = useRecords()
  const { preview } = loaded
  const { reading, match } = preview
  const [choices, setChoices] = useState<ReadonlyMap<string, ColourChoice>>(new Map())
  const [name, setName] = useState(loaded.name)
  const [place, setPlace] = useState('Unsorted box')
  const [addCopy, setAddCopy] = useState(true)
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState('')
  const [tab, setTab] = useState<'accepted' | 'refused'>('accepted')

  const waiting = reading.unknownColours.filter((u) => (choices.get(colourKey(u.name)) ?? 'leave') === 'leave')
  const left = waiting.reduce((n, u) => n + u.rows, 0)
  const ready = reading.accepted.length - left
  const currency = records.builds.find((b) => b.id === build)?.currency ?? 'EUR'

  const rematch = (field: Field, column: number | undefined) => {
    const others = Object.entries(match.columns).filter(([f, c]) => f !== field && c !== column)
    const columns: ListPreview['match']['columns'] = Object.fromEntries(
      column === undefined ? others : [...others, [field, column]],
    )
    void listWorker()
      .rematch(kind, records.allColours, currency, {
        ...match,
        columns,
        confidence: { ...match.confidence, [field]: 1 },
      })
      .then((next) => {
        if (next) onRematch(next)
      })
  }
  const split = (delimiter: Delimiter) => {
    void listWorker()
      .split(kind, records.allColours, currency, delimiter)
      .then((next) => {
        if (next.ok) onRematch(next.value)
        else setProblem(next.error.message)
      })
  }
  const submit = async () => {
    setBusy(true)
    const done = await runImport({
      kind,
      build,
      rows: reading.accepted,
      choices,
      name: name.trim(),
      place: place.trim(),
      addCopy,
      records,
    })
    setBusy(false)
    if (done) onDone()
  }
  const nameMissing = kind === 'donor' && name.trim() === ''

  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <p role="status" className="font-display text-lg font-medium">
        {plural(ready, 'row')} can come in
        {reading.refused.length > 0 && (
          <>
            , <span className="text-bad">{reading.refused.length} refused</span>
          </>
        )}
        {left > 0 && (
          <>
            , <span className="text-warn">{left} wait for a colour</span>
          </>
        )}
        .
      </p>
      {problem && (
        <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap gap-x-4 gap-y-2">
        <LabelledField label="Separated by">
          {(id) => (
            <Choice
              id={id}
              className="w-32"
              value={preview.delimiter}
              options={[
                { value: ',', label: 'commas' },
                { value: ';', label: 'semicolons' },
                { value: '\t', label: 'tabs' },
              ]}
              onChange={split}
            />
          )}
        </LabelledField>
        {LIST_FIELDS[kind].map(({ field, required }) => (
          <LabelledField key={field} label={FIELD_LABELS[field] + (required ? '' : ' (if any)')}>
            {(id) => (
              <>
                <Choice
                  id={id}
                  className="w-36"
                  value={match.columns[field] === undefined ? NONE : String(match.columns[field])}
                  options={[{ value: NONE, label: 'No column' }, ...columnOptions(preview)]}
                  onChange={(value) => {
                    rematch(field, value === NONE ? undefined : Number(value))
                  }}
                />
                <span className="text-xs text-soft">
                  {match.columns[field] === undefined
                    ? required
                      ? 'needed'
                      : ''
                    : `${Math.round((match.confidence[field] ?? 1) * 100)}% sure`}
                </span>
              </>
            )}
          </LabelledField>
        ))}
      </div>
      <div className="flex flex-wrap items-end gap-4">
        {kind === 'donor' && (
          <>
            <LabelledField label="Name of the donor set">
              {(id) => (
                <TextInput
                  id={id}
                  className="w-72"
                  value={name}
                  onChange={(e) => {
                    setName(e.target.value)
                  }}
                  placeholder="As you call it"
                />
              )}
            </LabelledField>
            {build && (
              <Tick checked={addCopy} onChange={setAddCopy}>
                I own a copy and it serves this build
              </Tick>
            )}
          </>
        )}
        {kind === 'shelf' && (
          <LabelledField label="Place for rows that name none">
            {(id) => (
              <TextInput
                id={id}
                className="w-56"
                value={place}
                onChange={(e) => {
                  setPlace(e.target.value)
                }}
              />
            )}
          </LabelledField>
        )}
        {kind === 'design' && (
          <p className="text-sm text-soft">Replaces the design of this build; undo brings it back.</p>
        )}
      </div>
      {reading.unknownColours.length > 0 && (
        <UnknownColours
          unknown={reading.unknownColours}
          choices={choices}
          onChoose={setChoices}
          colours={records.allColours}
        />
      )}
      <div className="flex items-center gap-2" role="group" aria-label="Rows shown">
        <Button
          look={tab === 'accepted' ? 'primary' : 'plain'}
          aria-pressed={tab === 'accepted'}
          onClick={() => {
            setTab('accepted')
          }}
        >
          Accepted ({reading.accepted.length})
        </Button>
        <Button
          look={tab === 'refused' ? 'primary' : 'plain'}
          aria-pressed={tab === 'refused'}
          onClick={() => {
            setTab('refused')
          }}
        >
          Refused ({reading.refused.length})
        </Button>
        {reading.refused.length > 0 && (
          <Button
            look="bare"
            onClick={() => {
              download(
                'refused-rows.csv',
                writeCsv([['line', 'reason'], ...reading.refused.map((r) => [r.line, r.reason, ...r.cells])]),
                'text/csv',
              )
            }}
          >
            Download the refused rows
          </Button>
        )}
      </div>
      {tab === 'accepted' ? (
        <AcceptedRows rows={reading.accepted} kind={kind} records={records} />
      ) : (
        <DataGrid
          label="Refused rows"
          columns={REFUSED_COLUMNS}
          rows={reading.refused}
          rowKey={(r) => String(r.line)}
          rowHeight={32}
          empty="No row was refused."
        />
      )}
      <div className="flex gap-2">
        <Button look="primary" disabled={busy || ready === 0 || nameMissing} onClick={() => void submit()}>
          {busy ? 'Importing…' : `Import ${plural(ready, 'row')}`}
        </Button>
        <Button onClick={onBack}>Back</Button>
        {nameMissing && <span className="self-center text-sm text-warn">Give the donor set a name.</span>}
      </div>
    </div>
  )
}

const REFUSED_COLUMNS: readonly Column<{ line: number; reason: string; cells: readonly string[] }>[] = [
  { id: 'line', header: 'Line', width: '70px', align: 'right', cell: (r) => r.line, sort: (r) => r.line },
  {
    id: 'reason',
    header: 'Why, and what to do',
    width: 'minmax(0, 3fr)',
    cell: (r) => (
      <span className="truncate" title={r.reason}>
        {r.reason}
      </span>
    ),
    sort: (r) => r.reason,
  },
  {
    id: 'cells',
    header: 'As written',
    width: 'minmax(0, 2fr)',
    cell: (r) => <span className="truncate text-soft">{r.cells.join(' | ')}</span>,
  },
]

function columnOptions(preview: ListPreview) {
  const head = preview.match.hasHeading ? preview.sample[0] : undefined
  const first = preview.sample[preview.match.hasHeading ? 1 : 0]
  return Array.from({ length: preview.width }, (_, i) => ({
    value: String(i),
    label: (head?.[i]?.trim() || `Column ${i + 1}: ${first?.[i]?.trim() ?? ''}`).slice(0, 40),
  }))
}

function AcceptedRows({ rows, kind, records }: { rows: readonly ListRow[]; kind: ListKind; records: RecordsView }) {
  const columns = useMemo((): Column<ListRow>[] => {
    const colourOf = (row: ListRow) => records.colourByName.get(colourKey(row.colourName))
    const shared: Column<ListRow>[] = [
      { id: 'line', header: 'Line', width: '64px', align: 'right', cell: (r) => r.line, sort: (r) => r.line },
      {
        id: 'part',
        header: 'Part',
        width: 'minmax(0, 2fr)',
        sort: (r) => r.part,
        cell: (r) => {
          const { shape, known } = readPartName(r.part)
          const colour = colourOf(r)
          return (
            <span className="flex min-w-0 items-center gap-2">
              <PiecePicture
                shape={shape}
                hex={colour?.hex ?? guessHex(r.colourName)}
                finish={colour?.finish ?? 'opaque'}
                size={28}
              />
              <span className="truncate">{r.part}</span>
              {!known && <span className="text-xs text-warn">unknown shape</span>}
            </span>
          )
        },
      },
      {
        id: 'colour',
        header: 'Colour',
        width: 'minmax(0, 1fr)',
        sort: (r) => r.colourName,
        cell: (r) => (
          <span className={colourOf(r) ? 'truncate' : 'truncate text-warn'}>
            {r.colourName}
            {colourOf(r) ? '' : ' (unknown)'}
          </span>
        ),
      },
      {
        id: 'qty',
        header: kind === 'offers' ? 'Stock' : 'Quantity',
        width: '90px',
        align: 'right',
        sort: (r) => r.qty,
        cell: (r) => (r.estimate ? `about ${r.qty}` : r.qty),
      },
    ]
    const text = (id: string, header: string, of: (row: ListRow) => string): Column<ListRow> => ({
      id,
      header,
      width: 'minmax(0, 1fr)',
      sort: of,
      cell: (r) => <span className="truncate">{of(r)}</span>,
    })
    const extra: Record<ListKind, Column<ListRow>[]> = {
      donor: [text('stage', 'Stage', (r) => r.stage), text('spare', 'Spare', (r) => (r.spare ? 'spare' : ''))],
      shelf: [text('place', 'Place', (r) => r.place), text('condition', 'Condition', (r) => r.condition)],
      design: [text('module', 'Module', (r) => r.module), text('repeats', 'Repeats', (r) => String(r.repeats))],
      offers: [text('shop', 'Shop', (r) => r.shop), text('price', 'Price each, minor units', (r) => String(r.price))],
    }
    return [...shared, ...extra[kind]]
  }, [kind, records.colourByName])
  return (
    <DataGrid
      label="Accepted rows"
      columns={columns}
      rows={rows}
      rowKey={(r) => String(r.line)}
      rowHeight={36}
      empty="No row can come in yet: choose the columns above."
    />
  )
}

function UnknownColours({
  unknown,
  choices,
  onChoose,
  colours,
}: {
  unknown: readonly { name: string; rows: number }[]
  choices: ReadonlyMap<string, ColourChoice>
  onChoose: (choices: ReadonlyMap<string, ColourChoice>) => void
  colours: readonly Colour[]
}) {
  const set = (names: readonly string[], choice: ColourChoice) => {
    const next = new Map(choices)
    for (const name of names) next.set(colourKey(name), choice)
    onChoose(next)
  }
  return (
    <section aria-label="Unknown colours" className="max-h-44 shrink-0 overflow-auto border border-rule bg-paper p-3">
      <div className="mb-2 flex items-center justify-between gap-3">
        <p className="text-sm">
          <b>{plural(unknown.length, 'colour name')}</b> not known yet. Say which colour each is, or add it as a new
          one.
        </p>
        <Button
          onClick={() => {
            set(
              unknown.map((u) => u.name),
              'new',
            )
          }}
        >
          Add all as new colours
        </Button>
      </div>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-x-6 gap-y-1">
        {unknown.slice(0, 200).map(({ name, rows }) => {
          const lab = hexToLab(guessHex(name))
          const nearest = [...colours].sort((p, q) => ciede2000(lab, hexToLab(p.hex)) - ciede2000(lab, hexToLab(q.hex)))
          return (
            <li key={name} className="flex items-center justify-between gap-2 text-sm">
              <span className="truncate" title={name}>
                {name} <span className="text-soft">({plural(rows, 'row')})</span>
              </span>
              <Choice
                label={`Colour for ${name}`}
                className="w-44 shrink-0"
                value={choices.get(colourKey(name)) ?? 'leave'}
                options={[
                  { value: 'leave', label: 'Leave out' },
                  { value: 'new', label: 'Add as a new colour' },
                  ...nearest.map((c) => ({ value: c.id as ColourChoice, label: c.name })),
                ]}
                onChange={(choice) => {
                  set([name], choice)
                }}
              />
            </li>
          )
        })}
      </ul>
    </section>
  )
}
