import { dequal } from 'dequal'
import { ArrowLeft, Copy as CopyIcon, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { piecesOf } from '../../../core/donors/copy-contents.ts'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import {
  addSetLines,
  editSetLine,
  SET_CELLS,
  setCellText,
  withoutEmptyLines,
  type SetCell,
  type SetLine,
} from '../../../core/donors/edit-set-line.ts'
import type { SetId } from '../../../core/units/ids.ts'
import { add, edit, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column, type PastedCell } from '../../ui/data-grid.tsx'
import { Choice, TextInput, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { SetFacts } from './set-facts.tsx'

type Row = { readonly line: SetLine; readonly at: number }

const CELL_NAMES: Record<SetCell, string> = { qty: 'quantity', stage: 'stage', spare: 'spare', figure: 'figure' }

/** One set's inventory, made and mended by hand. */
export function SetScreen() {
  const id = useParams()['set'] as SetId
  const { sets, copies, nameItem } = useRecords()
  const navigate = useNavigate()
  const set = sets.find((s) => s.id === id)
  if (!set)
    return (
      <Screen title="Set" headline="There is no such set any more.">
        <Link className="text-accent underline" to="/catalogue">
          All sets
        </Link>
      </Screen>
    )
  const save = (label: string, next: DonorSet) => void perform(label, [edit('sets', set, next)], { quiet: true })
  const served = copies.filter((c) => c.setId === set.id)
  const cell = (id: SetCell) => ({
    text: (r: Row) => setCellText(set, r.line, id),
    commit: (r: Row, text: string): string | undefined => {
      const read = editSetLine(set, r.at, id, text)
      if (!read.ok) return read.error.message
      if (!dequal(read.value, set)) save(`Changed a ${CELL_NAMES[id]} of ${set.name}`, withoutEmptyLines(read.value))
      return undefined
    },
  })
  const paste = (cells: readonly PastedCell<Row>[], beyond: readonly unknown[]): string | undefined => {
    let next = set
    for (const { row, column, text } of cells) {
      const id = SET_CELLS.find((c) => c === column)
      if (!id) continue
      const read = editSetLine(next, row.at, id, text)
      if (!read.ok) return `"${text}" does not fit: ${read.error.message}. Nothing was pasted.`
      next = read.value
    }
    if (beyond.length > 0) return 'The block is longer than the table. Paste new lines into the field above.'
    if (next !== set) save(`Pasted over ${set.name}`, withoutEmptyLines(next))
    return undefined
  }
  const columns = setColumns(set, nameItem, cell)
  const figures = new Set(set.lines.flatMap((l) => (l.figure ? [l.figure] : []))).size
  const spares = set.lines.reduce((n, l) => n + (l.spare ? l.qty : 0), 0)
  return (
    <Screen
      title="Set"
      headline={
        <>
          {set.name}: <Figure>{plural(piecesOf(set), 'piece')}</Figure> in {plural(set.stages.length, 'stage')}
          {spares > 0 && <>, {plural(spares, 'spare')}</>}
          {figures > 0 && <>, {plural(figures, 'figure')}</>}; {plural(served.length, 'copy', 'copies')} of it known.
        </>
      }
      actions={
        <>
          <Link
            to="/catalogue"
            className="inline-flex min-h-8 items-center gap-2 rounded-sm border border-rule bg-sheet px-3 py-1 text-sm hover:bg-raised"
          >
            <ArrowLeft size={16} aria-hidden="true" /> All sets
          </Link>
          <Button
            onClick={() => {
              const next = { ...set, id: `s-${fresh()}` as SetId, name: `${set.name} (changed)`.slice(0, 200) }
              void perform(`Copied the inventory of ${set.name}`, [add('sets', [next])]).then((done) =>
                done ? navigate(`/catalogue/set/${encodeURIComponent(next.id)}`) : undefined,
              )
            }}
          >
            <CopyIcon size={16} aria-hidden="true" /> Copy the inventory
          </Button>
          <Button
            disabled={served.length > 0}
            title={served.length > 0 ? 'Copies of it are known: remove them first' : ''}
            onClick={() => {
              void perform(`Removed the set ${set.name}`, [remove('sets', [set.id])]).then((done) =>
                done ? navigate('/catalogue') : undefined,
              )
            }}
          >
            <Trash2 size={16} aria-hidden="true" /> Remove
          </Button>
        </>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[17rem_minmax(0,1fr)] gap-6 max-[960px]:grid-cols-1">
        <SetFacts set={set} onSave={save} />
        <div className="flex min-h-0 flex-col gap-3">
          <SetEntry set={set} />
          <DataGrid
            label={`Inventory of ${set.name}`}
            columns={columns}
            // The newest line on top, where it is seen while typing.
            rows={set.lines.map((line, at): Row => ({ line, at })).reverse()}
            rowKey={(r) => String(r.at)}
            onPasteBlock={paste}
            empty="Type a line above, such as “14 plate 2x8 Soot”, or paste many from a spreadsheet."
          />
        </div>
      </div>
    </Screen>
  )
}

type Cell = (id: SetCell) => NonNullable<Column<Row>['edit']>

const setColumns = (set: DonorSet, nameItem: RecordsView['nameItem'], cell: Cell): Column<Row>[] => [
  {
    id: 'item',
    header: 'Piece',
    width: 'minmax(0, 2fr)',
    sort: (r) => nameItem(r.line.item).name,
    cell: (r) => <ItemName item={r.line.item} />,
  },
  {
    id: 'qty',
    header: 'Pieces',
    width: '80px',
    align: 'right',
    sort: (r) => r.line.qty,
    cell: (r) => r.line.qty,
    edit: cell('qty'),
  },
  {
    id: 'stage',
    header: 'Stage',
    width: 'minmax(0, 1fr)',
    sort: (r) => set.stages.findIndex((s) => s.id === r.line.stage),
    cell: (r) => <span className="truncate">{setCellText(set, r.line, 'stage')}</span>,
    edit: cell('stage'),
  },
  {
    id: 'spare',
    header: 'Spare',
    width: '80px',
    sort: (r) => Number(r.line.spare),
    cell: (r) => (r.line.spare ? 'spare' : ''),
    edit: cell('spare'),
  },
  {
    id: 'figure',
    header: 'Figure',
    width: 'minmax(0, 1fr)',
    sort: (r) => r.line.figure ?? '',
    cell: (r) => <span className="truncate">{r.line.figure ?? ''}</span>,
    edit: cell('figure'),
  },
]

/** Takes typed lines into a stage, for a figure, as spares. */
function SetEntry({ set }: { set: DonorSet }) {
  const [stage, setStage] = useState('')
  const [spare, setSpare] = useState(false)
  const [figure, setFigure] = useState('')
  const stageOf = set.stages.find((s) => s.id === stage) ?? set.stages[0]
  return (
    <div className="flex flex-wrap items-center gap-3">
      <QuickEntry
        onAdd={(typed, more) => {
          const next = addSetLines(
            set,
            stageOf?.id,
            typed.map(({ item, qty }) => ({ item, qty, spare, ...(figure.trim() ? { figure: figure.trim() } : {}) })),
          )
          const [first] = typed
          void perform(
            typed.length === 1 && first
              ? `Added ${first.qty} ${first.name} to ${set.name}`
              : `Added ${typed.length} lines to ${set.name}`,
            [edit('sets', set, next), ...more],
            { quiet: true },
          )
        }}
      />
      <Choice
        label="Into stage"
        className="w-40"
        value={stageOf?.id ?? 'all'}
        options={set.stages.map((s) => ({ value: s.id, label: s.name }))}
        onChange={setStage}
      />
      <TextInput
        aria-label="Of the figure"
        className="w-36"
        placeholder="of no figure"
        value={figure}
        maxLength={200}
        onChange={(e) => {
          setFigure(e.target.value)
        }}
      />
      <Tick checked={spare} onChange={setSpare}>
        as a spare
      </Tick>
    </div>
  )
}
