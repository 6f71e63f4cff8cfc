import { formatNumber } from '../../../core/units/numbers.ts'
import { dequal } from 'dequal'
import { useMemo } from 'react'
import { NO_ITEM, type DesignLine, type Module } from '../../../core/design/design.ts'
import { cellText, editLine, LINE_CELLS, quantityText, type LineCell } from '../../../core/design/edit-line.ts'
import { coveredPieces, type Coverage } from '../../../core/netting/coverage.ts'
import type { LineId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { blockLines } from '../../../core/formats/pasted-block.ts'
import { readLines } from '../../pieces/quick-entry.tsx'
import { pieceText, readPiece } from '../../pieces/read-piece.ts'
import type { Column, PastedCell } from '../../ui/data-grid.tsx'
import type { EditDesign } from './edit-design.ts'

/** A line with what the tally says of it. */
export type LineRow = { readonly line: DesignLine; readonly need: number; readonly coverage: Coverage }

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

/** The columns of a module's lines; cells that say what a line is are edited where they stand. */
export function useLineColumns(module: Module, edit: EditDesign): readonly Column<LineRow>[] {
  const records = useRecords()
  return useMemo(() => {
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
        edit: {
          text: (r) => pieceText(r.line.item, records),
          commit: (r, text) => {
            const read = readPiece(text, r.line.item, records)
            if (!read.ok) return read.error.message
            const { item, changes } = read.value
            if (item !== r.line.item) edit.replaceLine('Changed a piece', module, { ...r.line, item }, changes)
            return undefined
          },
        },
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
        cell: (r) => (r.coverage.short > 0 ? <b className="text-bad">{formatNumber(r.coverage.short)}</b> : 0),
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
}

/** Takes a block pasted over lines and below them; returns what is wrong with it. */
export function useLinePaste(module: Module, edit: EditDesign) {
  const records = useRecords()
  return (cells: readonly PastedCell<LineRow>[], beyond: readonly (readonly string[])[]): string | undefined => {
    const changed = new Map<LineId, DesignLine | null>()
    const learnt: Change[] = []
    for (const { row, column, text } of cells) {
      const before = changed.get(row.line.id) ?? row.line
      if (column === 'item') {
        const read = readPiece(text, before.item, records)
        if (!read.ok) return `"${text}" does not fit: ${read.error.message} Nothing was pasted.`
        changed.set(row.line.id, { ...before, item: read.value.item })
        learnt.push(...read.value.changes)
        continue
      }
      if (!isCell(column)) continue
      const read = editLine(before, column, text)
      if (!read.ok) return `"${text}" does not fit: ${read.error.message}. Nothing was pasted.`
      changed.set(row.line.id, read.value)
    }
    const more = readLines(
      blockLines(beyond.map((texts) => texts.join('\t')).join('\n'), records.colourByName),
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
      [...learnt, ...more.changes],
    )
    return undefined
  }
}
