import { useCallback, useMemo, useState } from 'react'
import { FIELD_LABELS, type ColumnMatch, type Field } from '../../../core/formats/list-fields.ts'
import type { RefusedRow } from '../../../core/formats/list-rows.ts'
import { plural } from '../../../core/units/numbers.ts'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column, type PastedCell } from '../../ui/data-grid.tsx'
import { Choice, TextInput } from '../../ui/fields.tsx'
import type { ListPreview } from '../../../workers/list.worker.ts'
import { useRefusals } from './use-rows.ts'
import { headOf } from './verdict.tsx'

/** Characters of a cell that a line can show. */
const SHOWN = 120

type Mended = ReadonlyMap<number, readonly string[]>

const withCell = (cells: readonly string[], column: number, text: string): readonly string[] =>
  Array.from({ length: Math.max(cells.length, column + 1) }, (_, i) => (i === column ? text : (cells[i] ?? '')))

/** Refused rows with why, cell by cell: mended one by one, by a block that is pasted, or all of a kind at once. */
export function RefusedRows({
  preview,
  said,
  onFix: mend,
}: {
  preview: ListPreview
  said: (work: Promise<unknown>) => void
  onFix: (mended: Mended) => void
}) {
  const { match, width } = preview
  const head = headOf(preview)
  const { rows, current, all } = useRefusals(preview.edition, preview.refused, said)
  // What is shown for a moment may be of the reading before: it is mended no more.
  const onFix = useCallback(
    (mended: Mended) => {
      if (current) mend(mended)
    },
    [current, mend],
  )
  const columns = useMemo((): Column<RefusedRow>[] => {
    const fieldOf = new Map(Object.entries(match.columns).map(([field, column]) => [column, field as Field]))
    return [
      { id: 'line', header: 'Line', width: '60px', align: 'right', cell: (r) => r.line, sort: (r) => r.line },
      {
        id: 'reason',
        header: 'Why, and what to do',
        width: 'minmax(14rem, 2fr)',
        sort: (r) => r.reason,
        cell: (r) => (
          <span className="line-clamp-2 leading-snug" title={r.reason}>
            {r.reason}
          </span>
        ),
      },
      ...Array.from({ length: width }, (_, column): Column<RefusedRow> => {
        const field = fieldOf.get(column)
        return {
          id: String(column),
          header: (field && FIELD_LABELS[field]) ?? (head[column]?.trim() || `Column ${column + 1}`),
          width: 'minmax(6rem, 1fr)',
          sort: (r) => r.cells[column] ?? '',
          cell: (r) => (
            <span className={r.field !== undefined && r.field === field ? 'truncate text-bad underline' : 'truncate'}>
              {(r.cells[column] ?? '').slice(0, SHOWN)}
            </span>
          ),
          edit: {
            text: (r) => r.cells[column] ?? '',
            commit: (r, text) => {
              if (text !== (r.cells[column] ?? '')) onFix(new Map([[r.row, withCell(r.cells, column, text)]]))
              return undefined
            },
          },
        }
      }),
    ]
  }, [width, head, match, onFix])
  const paste = (cells: readonly PastedCell<RefusedRow>[]): string | undefined => {
    const mended = new Map<number, readonly string[]>()
    for (const { row, column, text } of cells) {
      if (!/^\d+$/.test(column)) return 'Blocks go over the cells of the list.'
      mended.set(row.row, withCell(mended.get(row.row) ?? row.cells, Number(column), text))
    }
    if (mended.size > 0) onFix(mended)
    return undefined
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      {all && rows.length > 1 && <MendAll rows={rows} match={match} onFix={onFix} />}
      <DataGrid
        label="Refused rows"
        rows={rows}
        rowKey={(r) => String(r.row)}
        rowHeight={44}
        columns={columns}
        onPasteBlock={paste}
        empty={all ? 'No row was refused.' : 'Reading…'}
      />
    </div>
  )
}

/** One text for a column of all rows that are refused for it. */
function MendAll({
  rows,
  match,
  onFix,
}: {
  rows: readonly RefusedRow[]
  match: Pick<ColumnMatch, 'columns'>
  onFix: (mended: Mended) => void
}) {
  const counts = new Map<Field, number>()
  for (const { field } of rows)
    if (field !== undefined && match.columns[field] !== undefined) counts.set(field, (counts.get(field) ?? 0) + 1)
  const [chosen, setChosen] = useState<Field>()
  const [text, setText] = useState('')
  const [first] = counts.keys()
  const field = chosen !== undefined && counts.has(chosen) ? chosen : first
  if (field === undefined) return null
  const column = match.columns[field] ?? 0
  const those = rows.filter((r) => r.field === field)
  return (
    <form
      className="flex flex-wrap items-center gap-2 text-sm"
      onSubmit={(e) => {
        e.preventDefault()
        if (text.trim() !== '') onFix(new Map(those.map((r) => [r.row, withCell(r.cells, column, text)])))
        setText('')
      }}
    >
      Refused for
      <Choice
        label="Mend all rows refused for"
        className="w-48"
        value={field}
        options={[...counts].map(([f, n]) => ({
          value: f,
          label: `${FIELD_LABELS[f].toLowerCase()}: ${plural(n, 'row')}`,
        }))}
        onChange={setChosen}
      />
      write
      <TextInput
        aria-label="Text for all of them"
        value={text}
        className="w-40"
        onChange={(e) => {
          setText(e.target.value)
        }}
      />
      <Button type="submit" disabled={text.trim() === ''}>
        Into all {those.length}
      </Button>
    </form>
  )
}
