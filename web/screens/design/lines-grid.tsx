import { dequal } from 'dequal'
import { useMemo } from 'react'
import { NO_ITEM, type DesignLine, type Module } from '../../../core/design/design.ts'
import { cellText, editLine, LINE_CELLS, quantityText, type LineCell } from '../../../core/design/edit-line.ts'
import { addCoverage, coveredPieces, NO_COVERAGE, type Coverage } from '../../../core/netting/coverage.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import type { LineId } from '../../../core/units/ids.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { DataGrid, type Column, type PastedCell } from '../../ui/data-grid.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { readLines } from '../../pieces/quick-entry.tsx'
import type { EditDesign } from './edit-design.ts'

type LineRow = { readonly line: DesignLine; readonly need: number; readonly coverage: Coverage }

const CELL_NAMES: Record<LineCell, string> = {
  qty: 'quantity',
  visibility: 'place',
  freedom: 'colour freedom',
  group: 'group',
  length: 'length',
  locked: 'lock',
  note: 'note',
}

const isCell = (id: string): id is LineCell => LINE_CELLS.some((c) => c === id)

/** A module's own lines, edited in place or by pasting a block over them. */
export function LinesGrid({
  module,
  tallied,
  edit,
  selected,
  onSelect,
}: {
  module: Module
  /** Tally lines that stand in this module itself. */
  tallied: readonly TallyLine[]
  edit: EditDesign
  selected: LineId | undefined
  onSelect: (line: LineId) => void
}) {
  const records = useRecords()
  const rows = useMemo(() => {
    const byLine = new Map<LineId, { need: number; coverage: Coverage }>()
    for (const l of tallied) {
      const held = byLine.get(l.line)
      byLine.set(l.line, {
        need: l.need + (held?.need ?? 0),
        coverage: held ? addCoverage(held.coverage, l.coverage) : l.coverage,
      })
    }
    return module.lines.map((line): LineRow => ({
      line,
      ...(byLine.get(line.id) ?? { need: 0, coverage: NO_COVERAGE }),
    }))
  }, [module, tallied])

  const columns = useMemo(() => {
    const cell = (id: LineCell) => ({
      text: (r: LineRow) => cellText(r.line, id),
      commit: (r: LineRow, text: string): string | undefined => {
        const read = editLine(r.line, id, text)
        if (!read.ok) return read.error.message
        if (dequal(read.value, r.line)) return undefined
        if (read.value === null)
          edit.replace('Removed a line', { ...module, lines: module.lines.filter((l) => l.id !== r.line.id) })
        else edit.replaceLine(`Changed a ${CELL_NAMES[id]}`, module, read.value)
        return undefined
      },
    })
    const columns: Column<LineRow>[] = [
      {
        id: 'item',
        header: 'Piece',
        width: 'minmax(170px, 3fr)',
        sort: (r) => records.nameItem(r.line.item).name,
        cell: (r) =>
          r.line.item === NO_ITEM ? <span className="text-bad">no part named</span> : <ItemName item={r.line.item} />,
      },
      {
        id: 'qty',
        header: 'In one',
        width: '62px',
        align: 'right',
        sort: (r) => r.line.qty,
        cell: (r) => <span className="truncate">{quantityText(r.line)}</span>,
        edit: cell('qty'),
      },
      { id: 'need', header: 'Needed', width: '64px', align: 'right', sort: (r) => r.need, cell: (r) => r.need },
      {
        id: 'strip',
        header: 'Coverage',
        width: 'minmax(56px, 1fr)',
        sort: (r) => coveredPieces(r.coverage),
        cell: (r) => <CoverageStrip coverage={r.coverage} />,
      },
      {
        id: 'short',
        header: 'Short',
        width: '48px',
        align: 'right',
        sort: (r) => r.coverage.short,
        cell: (r) => (r.coverage.short > 0 ? <b className="text-bad">{r.coverage.short}</b> : 0),
      },
      {
        id: 'visibility',
        header: 'Where',
        width: '72px',
        sort: (r) => r.line.visibility ?? 'seen',
        cell: (r) => <span className={r.line.visibility ? '' : 'text-soft'}>{r.line.visibility ?? 'seen'}</span>,
        edit: cell('visibility'),
      },
      {
        id: 'freedom',
        header: 'Colour',
        width: '68px',
        sort: (r) => r.line.freedom ?? '',
        cell: (r) => (
          <span className={`truncate ${r.line.freedom || r.line.locked ? '' : 'text-soft'}`}>
            {r.line.locked ? 'locked' : (r.line.freedom ?? 'by rule')}
          </span>
        ),
        edit: cell('freedom'),
      },
    ]
    return columns
  }, [records, module, edit])

  const paste = (cells: readonly PastedCell<LineRow>[], beyond: readonly (readonly string[])[]): string | undefined => {
    const changed = new Map<LineId, DesignLine | null>()
    for (const { row, column, text } of cells) {
      if (!isCell(column)) continue
      const before = changed.get(row.line.id) ?? row.line
      const read = editLine(before, column, text)
      if (!read.ok) return `"${text}" does not fit: ${read.error.message}. Nothing was pasted.`
      changed.set(row.line.id, read.value)
    }
    const more = readLines(
      beyond.map((texts) => texts.join(' ')).filter((t) => t.trim() !== ''),
      records,
    )
    if (more.problems.length > 0) return `${more.problems[0] ?? ''} Nothing was pasted.`
    if (changed.size + more.lines.length === 0)
      return 'Paste onto cells that can be edited, or whole lines below the last.'
    const lines = module.lines.flatMap((l) => {
      const next = changed.get(l.id)
      return next === null ? [] : [next ?? l]
    })
    edit.replace(
      `Pasted over ${changed.size + more.lines.length} lines`,
      {
        ...module,
        lines: [...lines, ...more.lines.map(({ item, qty }) => ({ id: `n-${fresh()}` as LineId, item, qty }))],
      },
      more.changes,
    )
    return undefined
  }

  return (
    <DataGrid
      label={`Lines of ${module.name}`}
      columns={columns}
      rows={rows}
      rowKey={(r) => r.line.id}
      selected={selected}
      onSelect={(r) => {
        onSelect(r.line.id)
      }}
      onPasteBlock={paste}
      empty="No lines of its own yet. Type one above, or paste many."
    />
  )
}
