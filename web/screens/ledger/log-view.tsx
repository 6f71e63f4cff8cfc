import { Download, Lightbulb, Plus, Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { logMarkdown } from '../../../core/formats/log-markdown.ts'
import { newMaking } from '../../../core/making/making.ts'
import { ideaOf, LOG_KINDS, logOf, type LogKind, type LogLine } from '../../../core/settling/log.ts'
import type { Note } from '../../../core/settling/note.ts'
import { idText } from '../../../core/units/ids.ts'
import { addDays } from '../../../core/units/instants.ts'
import { minutesWords } from '../../../core/units/minutes.ts'
import { plural } from '../../../core/units/numbers.ts'
import { add, edit, remove } from '../../../storage/journal.ts'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { fresh } from '../../store/database.ts'
import { download } from '../../store/download.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Choice, CommitInput, Field, SearchInput } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import { useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import type { LedgerView } from './ledger-view.ts'
import { NoteDialog } from './note-dialog.tsx'

const ANY = 'any kind'
const WHOLE = 'all modules'
const SINCE = [
  { value: 'ever', label: 'any day', days: undefined },
  { value: 'month', label: 'last 30 days', days: 30 },
  { value: 'quarter', label: 'last 90 days', days: 90 },
  { value: 'year', label: 'last 365 days', days: 365 },
] as const
type Since = (typeof SINCE)[number]['value']

/** What was decided, tried, ordered and noted: it writes itself, and takes notes and pictures. */
export function LogView({ tally, today }: LedgerView) {
  const { build, design } = tally.now
  const lines = useLog(tally)
  const [kind, setKind] = useState<LogKind | typeof ANY>(ANY)
  const [module, setModule] = useState<string>(WHOLE)
  const [since, setSince] = useState<Since>('ever')
  const find = useFindText()
  const [chosen, setChosen] = useState<string | undefined>()
  const [adding, setAdding] = useDialogFromAddress('note')
  const nameOf = useMemo(() => new Map(design.modules.map((m) => [m.id as string, m.name])), [design.modules])
  const shown = useMemo(() => {
    const words = find.deferred.trim().toLowerCase()
    const days = SINCE.find((s) => s.value === since)?.days
    const first = days === undefined ? undefined : addDays(today, -days)
    return lines.filter(
      (l) =>
        (kind === ANY || l.kind === kind) &&
        (module === WHOLE || l.module === module) &&
        (first === undefined || (l.on !== undefined && l.on >= first)) &&
        (words === '' || `${l.text} ${l.why ?? ''}`.toLowerCase().includes(words)),
    )
  }, [lines, kind, module, since, today, find.deferred])
  const columns = useMemo(
    (): Column<LogLine>[] => [
      { id: 'on', header: 'Day', width: '104px', sort: (l) => l.on ?? '', cell: (l) => l.on ?? '–' },
      { id: 'kind', header: 'Kind', width: '104px', sort: (l) => l.kind, cell: (l) => l.kind },
      {
        id: 'module',
        header: 'Module',
        width: 'minmax(0, 1fr)',
        sort: (l) => nameOf.get(l.module ?? '') ?? '',
        cell: (l) => <span className="truncate">{nameOf.get(l.module ?? '') ?? '–'}</span>,
      },
      {
        id: 'text',
        header: 'What',
        width: 'minmax(0, 3fr)',
        sort: (l) => l.text,
        text: (l) => (l.why === undefined ? l.text : `${l.text}: ${l.why}`),
        cell: (l) => (
          <span className="truncate">
            {l.text}
            {l.why !== undefined && <span className="text-soft"> {l.why}</span>}
          </span>
        ),
      },
      {
        id: 'minutes',
        header: 'Time',
        width: '92px',
        align: 'right',
        sort: (l) => l.minutes ?? 0,
        cell: (l) => (l.minutes === undefined ? '–' : minutesWords(l.minutes)),
      },
    ],
    [nameOf],
  )
  const line = lines.find((l) => l.key === chosen)
  const kinds = [...new Set(lines.map((l) => l.kind))]
  return (
    <div className="flex min-h-0 flex-1 gap-6 max-[960px]:flex-col">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-3">
        <div className="flex flex-wrap items-center gap-2 text-sm">
          <Button
            look="primary"
            onClick={() => {
              setAdding(true)
            }}
          >
            <Plus size={14} aria-hidden="true" /> Write a note
          </Button>
          <SearchInput
            className="w-44"
            placeholder="Find in the log"
            aria-label="Find in the log"
            value={find.text}
            onChange={(e) => {
              find.setText(e.target.value)
            }}
          />
          <Choice
            label="Kind"
            className="w-36"
            value={kind}
            options={[
              { value: ANY, label: ANY },
              ...LOG_KINDS.filter((k) => kinds.includes(k)).map((k) => ({ value: k, label: k })),
            ]}
            onChange={setKind}
          />
          <Choice
            label="Module"
            className="w-40"
            value={module}
            options={[
              { value: WHOLE, label: WHOLE },
              ...design.modules.map((m) => ({ value: m.id as string, label: m.name })),
            ]}
            onChange={setModule}
          />
          <Choice label="Days" className="w-32" value={since} options={SINCE} onChange={setSince} />
          <Button
            onClick={() => {
              const text = logMarkdown(`Log of ${build.name}`, shown, (l) => nameOf.get(l.module ?? ''))
              download(`log-${idText(build.name)}-${today}.md`, text, 'text/markdown')
            }}
          >
            <Download size={14} aria-hidden="true" /> As Markdown
          </Button>
        </div>
        <DataGrid
          rowHeight={32}
          label="Log"
          columns={columns}
          rows={shown}
          rowKey={(l) => l.key}
          selected={chosen}
          onSelect={(l) => {
            setChosen(l.key)
          }}
          empty={
            lines.length === 0
              ? 'Nothing yet: decisions, tries, orders and versions write themselves as they are made.'
              : 'Nothing in the log fits.'
          }
        />
      </div>
      {line && <LineDetails key={line.key} line={line} tally={tally} nameOf={nameOf} />}
      {adding && <NoteDialog build={build} design={design} today={today} onOpenChange={setAdding} />}
    </div>
  )
}

function useLog(tally: BuildTally): readonly LogLine[] {
  const { notes, decisions, versions, units, makings, orders, sales, entries, nameItem, partById } = useRecords()
  const { build, design } = tally.now
  return useMemo(
    () =>
      logOf(
        build.id,
        {
          ...{ design, notes, decisions, versions, units, orders, sales, entries },
          making: makings.find((m) => m.id === build.id) ?? newMaking(build.id),
        },
        { item: (item) => nameItem(item).name, part: (part) => partById.get(part)?.name ?? part },
      ),
    [build.id, design, notes, decisions, versions, units, makings, orders, sales, entries, nameItem, partById],
  )
}

function LineDetails({
  line,
  tally,
  nameOf,
}: {
  line: LogLine
  tally: BuildTally
  nameOf: ReadonlyMap<string, string>
}) {
  const { pictures } = useRecords()
  const { build } = tally.now
  const shown = (line.pictures ?? []).flatMap((id) => pictures.find((p) => p.id === id) ?? [])
  return (
    <aside
      aria-label="Line of the log"
      className="flex w-80 shrink-0 flex-col gap-2 overflow-auto text-sm max-[960px]:w-full"
    >
      <h2 className="font-display text-base font-medium first-letter:uppercase">{line.kind}</h2>
      <p className="text-soft">
        {line.on ?? 'day not noted'}
        {line.module !== undefined && `, ${nameOf.get(line.module) ?? 'a module that is gone'}`}
        {line.minutes !== undefined && `, ${minutesWords(line.minutes)}`}
      </p>
      <p className="whitespace-pre-wrap">{line.text}</p>
      {line.of?.kind === 'decision' ? (
        <Why decision={line.of.decision} />
      ) : (
        line.why !== undefined && <p className="whitespace-pre-wrap">Why: {line.why}</p>
      )}
      {shown.map((p) => (
        <img key={p.id} src={p.data} alt={p.name} className="border border-rule" />
      ))}
      {line.of?.kind === 'note' && <NoteActs note={line.of.note} tally={tally} />}
      {line.kind === 'order' || line.kind === 'claim' ? (
        <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/parcels`}>
          Open Parcels
        </Link>
      ) : null}
    </aside>
  )
}

/** The reason of a decision: it may be given later. */
function Why({ decision }: { decision: Extract<NonNullable<LogLine['of']>, { kind: 'decision' }>['decision'] }) {
  return (
    <Field label="Why">
      {(id) => (
        <CommitInput
          id={id}
          value={decision.why ?? ''}
          placeholder="not said"
          maxLength={500}
          onCommit={(text) => {
            const { why: _, ...bare } = decision
            const why = text.trim()
            void perform(
              why === '' ? 'Took the reason away' : 'Noted the reason',
              [edit('decisions', decision, why === '' ? bare : { ...bare, why })],
              { quiet: true },
            )
          }}
        />
      )}
    </Field>
  )
}

function NoteActs({ note, tally }: { note: Note; tally: BuildTally }) {
  const { design, build } = tally.now
  const idea = note.idea !== undefined && design.modules.some((m) => m.id === note.idea)
  const become = () => {
    const module = ideaOf(note, fresh)
    void perform(`${module.name} became an idea of the design`, [
      edit('designs', design, { ...design, modules: [...design.modules, module] }),
      edit('notes', note, { ...note, idea: module.id }),
    ])
  }
  return (
    <div className="flex flex-wrap items-center gap-2">
      {idea ? (
        <Link
          className="text-accent underline"
          to={`/build/${encodeURIComponent(build.id)}/design?module=${note.idea ?? ''}`}
        >
          An idea of the design
        </Link>
      ) : (
        <Button onClick={become}>
          <Lightbulb size={14} aria-hidden="true" /> Make it an idea of the design
        </Button>
      )}
      <AddPicture
        label="Picture of the note"
        onPicture={(picture) =>
          void perform('Added a picture to the log', [
            add('pictures', [picture]),
            edit('notes', note, { ...note, pictures: [...(note.pictures ?? []), picture.id] }),
          ])
        }
      >
        Add a picture
      </AddPicture>
      <Button
        onClick={() =>
          void perform(`Removed a note${note.pictures ? ` and ${plural(note.pictures.length, 'picture')}` : ''}`, [
            remove('notes', [note.id]),
            ...(note.pictures ? [remove('pictures', note.pictures)] : []),
          ])
        }
      >
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </div>
  )
}
