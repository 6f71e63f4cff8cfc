import { useMemo, useState } from 'react'
import { colourKey } from '../../../core/colours/colour.ts'
import type { Delimiter } from '../../../core/formats/delimited.ts'
import { FIELD_LABELS, type Field, type ListKind } from '../../../core/formats/list-columns.ts'
import type { ShelfMode } from '../../../core/formats/list-import.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { listWorker } from '../../../workers/list-client.ts'
import type { ReadContext } from '../../../workers/list.worker.ts'
import { downloadBlob } from '../../store/download.ts'
import { wordsOf } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Field as LabelledField, TextInput, Tick } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { AcceptedRows } from './accepted-rows.tsx'
import { ColumnChoice } from './column-choice.tsx'
import type { Loaded } from './loaded.ts'
import { RefusedRows } from './refused-rows.tsx'
import { withRows, type ReadList } from './read-list.ts'
import { recall, remember } from './remembered-columns.ts'
import { runImport, type ColourChoice } from './run-import.ts'
import { UnknownColours } from './unknown-colours.tsx'

/** Characters of a set's name, and of a place's. */
const MOST_NAME = 200
const MOST_PLACE = 100

type Tab = 'accepted' | 'doubtful' | 'refused'

const SEPARATORS = [
  { value: ',', label: 'commas' },
  { value: ';', label: 'semicolons' },
  { value: '\t', label: 'tabs' },
] as const

const MODES = [
  { value: 'add', label: 'add to what is there' },
  { value: 'replace', label: 'replace the places it names' },
  { value: 'correct', label: 'correct only what differs' },
] as const satisfies readonly { value: ShelfMode; label: string }[]

const DESIGN_MODES = [
  { value: 'replace', label: 'replace the modules there are' },
  { value: 'add', label: 'add its modules' },
  { value: 'correct', label: 'correct modules of the same name' },
] as const satisfies readonly { value: ShelfMode; label: string }[]

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
  onRematch: (preview: ReadList) => void
  onBack: () => void
  onDone: () => void
}) {
  const records = useRecords()
  const { preview } = loaded
  const { reading } = preview
  const [choices, setChoices] = useState<ReadonlyMap<string, ColourChoice>>(new Map())
  const [destination, setDestination] = useState<DestinationState>({
    name: loaded.name.slice(0, MOST_NAME),
    place: 'Unsorted box',
    mode: kind === 'design' ? 'replace' : 'add',
    addCopy: true,
  })
  const { name, place, mode, addCopy } = destination
  const [busy, setBusy] = useState(false)
  const [tab, setTab] = useState<Tab>('accepted')

  const currency = records.builds.find((b) => b.id === build)?.currency ?? 'EUR'
  const context = {
    kind,
    colours: records.allColours,
    currency,
    codes: records.partNameByCode,
    sameAs: records.mergedParts,
  }
  const leftOut = new Set(
    reading.unknownColours.map((u) => colourKey(u.name)).filter((key) => (choices.get(key) ?? 'leave') === 'leave'),
  )
  const left =
    reading.moreUnknown.rows +
    reading.unknownColours.reduce((n, u) => n + (leftOut.has(colourKey(u.name)) ? u.rows : 0), 0)
  const ready = reading.accepted.length - left
  const doubtful = useMemo(() => new Set(preview.doubtful), [preview])
  const shown = useMemo(
    () => (tab === 'doubtful' ? reading.accepted.filter((r) => doubtful.has(r.line)) : reading.accepted),
    [tab, reading, doubtful],
  )

  const { problem, setProblem, said, rematch, split, turn, fix, report } = useListActions(
    context,
    preview,
    leftOut,
    onRematch,
  )
  const submit = async () => {
    setBusy(true)
    setProblem('')
    let done = false
    await said(
      runImport({
        kind,
        build,
        colours: reading.colours,
        choices,
        name: name.trim(),
        place: place.trim(),
        mode,
        addCopy,
        records,
      }).then((written) => {
        done = written
      }),
    )
    if (done) await remember(preview)
    setBusy(false)
    if (done) onDone()
  }
  const nameMissing = kind === 'donor' && name.trim() === ''

  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <Verdict loaded={loaded} ready={ready} left={left} />
      {problem && (
        <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap gap-x-4 gap-y-2">
        {preview.delimiter !== null && (
          <LabelledField label="Separated by">
            {(id) => (
              <Choice id={id} className="w-32" value={preview.delimiter ?? ','} options={SEPARATORS} onChange={split} />
            )}
          </LabelledField>
        )}
        {preview.sheets.length > 1 && (
          <LabelledField label="Sheet">
            {(id) => (
              <Choice
                id={id}
                className="w-40"
                value={preview.sheet}
                options={preview.sheets.map((sheet) => ({ value: sheet, label: sheet }))}
                onChange={(sheet) => void said(turn(sheet))}
              />
            )}
          </LabelledField>
        )}
        <ColumnChoice kind={kind} preview={preview} onChoose={rematch} />
      </div>
      <Destination kind={kind} ofBuild={build !== null} state={destination} onChange={setDestination} />
      {reading.unknownColours.length > 0 && (
        <UnknownColours
          unknown={reading.unknownColours}
          more={reading.moreUnknown}
          choices={choices}
          onChoose={setChoices}
          colours={records.allColours}
        />
      )}
      <div className="flex items-center gap-2" role="group" aria-label="Rows shown">
        <RowTabs tab={tab} reading={reading} onChoose={setTab} />
        <Button look="bare" onClick={() => void report()}>
          Download the report
        </Button>
      </div>
      {tab === 'refused' ? (
        <RefusedRows rows={reading.refused} onFix={fix} />
      ) : (
        <AcceptedRows rows={shown} kind={kind} records={records} currency={currency} doubtful={tab === 'doubtful'} />
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

/** What can be done to a list that is being read; what goes wrong is told as `problem`, and the rows are still here. */
function useListActions(
  context: ReadContext,
  { reading, match }: ReadList,
  leftOut: ReadonlySet<string>,
  onRematch: (preview: ReadList) => void,
) {
  const [problem, setProblem] = useState('')
  /** Says what went wrong where a worker failed: the rows are still here. */
  const said = (work: Promise<unknown>): Promise<void> =>
    work.then(
      () => undefined,
      (error: unknown) => {
        setProblem(`Reading the list failed: ${wordsOf(error)}. Choose it again.`)
      },
    )
  const rematch = (field: Field, column: number | undefined) => {
    const others = Object.entries(match.columns).filter(([f, c]) => f !== field && c !== column)
    const columns: ReadList['match']['columns'] = Object.fromEntries(
      column === undefined ? others : [...others, [field, column]],
    )
    void said(
      listWorker()
        .call('rematch', context, { ...match, columns, confidence: { ...match.confidence, [field]: 1 } })
        .then(withRows)
        .then(onRematch),
    )
  }
  const split = (delimiter: Delimiter) => {
    void said(
      listWorker()
        .call('split', context, delimiter)
        .then(async (next) => {
          if (next.ok) onRematch(await withRows(next.value))
          else setProblem(next.error.message)
        }),
    )
  }
  const turn = async (sheet: string) => {
    const next = await listWorker().call('turn', context, sheet)
    const columns = await recall(next, context.kind)
    onRematch(await withRows(columns ? await listWorker().call('rematch', context, columns) : next))
  }
  const report = () =>
    said(
      listWorker()
        .call('report', new Set(reading.colours.map((c) => colourKey(c.name)).filter((key) => !leftOut.has(key))))
        .then((file) => {
          downloadBlob('import-report.csv', file)
        }),
    )
  const fix = (line: number, cells: readonly string[]) => {
    void said(listWorker().call('fix', context, line, cells).then(withRows).then(onRematch))
  }
  return { problem, setProblem, said, rematch, split, turn, fix, report }
}

/** How many rows can come in, and what was made of their numbers. */
function Verdict({ loaded, ready, left }: { loaded: Loaded; ready: number; left: number }) {
  const { reading } = loaded.preview
  return (
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
      {reading.repeats > 0 &&
        ` ${plural(reading.repeats, 'row repeats', 'rows repeat')} earlier ones and will be summed.`}
      {reading.numbers.map(({ field, decimal, sample }) => (
        <span key={field} className="text-soft">
          {' '}
          {FIELD_LABELS[field]}:{' '}
          {decimal === undefined
            ? `“${sample}” could be read in two ways and no other value of the column tells which.`
            : `decimals follow a ${decimal === '.' ? 'point' : 'comma'} by all values of the column, so “${sample}” is read by that.`}
        </span>
      ))}
      {loaded.remembered && <span className="text-soft"> Columns as the last time.</span>}
    </p>
  )
}

type DestinationState = {
  readonly name: string
  readonly place: string
  readonly mode: ShelfMode
  readonly addCopy: boolean
}

/** Where the rows go, and what they do to what is there. */
function Destination({
  kind,
  ofBuild,
  state,
  onChange,
}: {
  kind: ListKind
  ofBuild: boolean
  state: DestinationState
  onChange: (next: DestinationState) => void
}) {
  const { name, place, mode, addCopy } = state
  const setMode = (next: ShelfMode) => {
    onChange({ ...state, mode: next })
  }
  return (
    <div className="flex flex-wrap items-end gap-4">
      {kind === 'donor' && (
        <>
          <LabelledField label="Name of the donor set">
            {(id) => (
              <TextInput
                id={id}
                className="w-72"
                maxLength={MOST_NAME}
                value={name}
                onChange={(e) => {
                  onChange({ ...state, name: e.target.value })
                }}
                placeholder="As you call it"
              />
            )}
          </LabelledField>
          {ofBuild && (
            <Tick
              checked={addCopy}
              onChange={(addCopy) => {
                onChange({ ...state, addCopy })
              }}
            >
              I own a copy and it serves this build
            </Tick>
          )}
        </>
      )}
      {kind === 'shelf' && (
        <>
          <LabelledField label="Place for rows that name none">
            {(id) => (
              <TextInput
                id={id}
                className="w-56"
                maxLength={MOST_PLACE}
                value={place}
                onChange={(e) => {
                  onChange({ ...state, place: e.target.value })
                }}
              />
            )}
          </LabelledField>
          <LabelledField label="The list is to">
            {(id) => <Choice id={id} className="w-60" value={mode} options={MODES} onChange={setMode} />}
          </LabelledField>
        </>
      )}
      {kind === 'design' && (
        <LabelledField label="The list is to">
          {(id) => <Choice id={id} className="w-80" value={mode} options={DESIGN_MODES} onChange={setMode} />}
        </LabelledField>
      )}
    </div>
  )
}

/** Which rows are shown. */
function RowTabs({ tab, reading, onChoose }: { tab: Tab; reading: ReadList['reading']; onChoose: (tab: Tab) => void }) {
  return (
    <>
      {(
        [
          ['accepted', `Accepted (${reading.accepted.length})`],
          ['doubtful', 'Doubtful'],
          ['refused', `Refused (${reading.refused.length})`],
        ] as const
      ).map(([value, label]) => (
        <Button
          key={value}
          look={tab === value ? 'primary' : 'plain'}
          aria-pressed={tab === value}
          onClick={() => {
            onChoose(value)
          }}
        >
          {label}
        </Button>
      ))}
    </>
  )
}
