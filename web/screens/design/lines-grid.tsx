import { useCallback, useMemo } from 'react'
import type { DesignLine, Module } from '../../../core/design/design.ts'
import { withoutLines } from '../../../core/design/edit-lines.ts'
import { addCoverage, NO_COVERAGE, type Coverage } from '../../../core/netting/coverage.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import type { LineId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { DataGrid } from '../../ui/data-grid.tsx'
import type { EditDesign } from './edit-design.ts'
import { useLineColumns, useLinePaste, type LineRow } from './line-columns.tsx'

/** A module's own lines, edited in place or by pasting a block over them. */
export function LinesGrid({
  module,
  tallied,
  edit,
  selected,
  onSelect,
  onChoose,
}: {
  module: Module
  /** Tally lines that stand in this module itself. */
  tallied: readonly TallyLine[]
  edit: EditDesign
  selected: LineId | undefined
  onSelect: (line: LineId) => void
  onChoose: (lines: readonly DesignLine[]) => void
}) {
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

  const columns = useLineColumns(module, edit)
  const paste = useLinePaste(module, edit)
  const choose = useCallback(
    (chosen: readonly LineRow[]) => {
      onChoose(chosen.map((r) => r.line))
    },
    [onChoose],
  )

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
      onChoose={choose}
      onDelete={(gone) => {
        edit.save(
          `Removed ${plural(gone.length, 'line')}`,
          withoutLines(edit.design, new Set(gone.map((r) => r.line.id))),
          [],
          false,
        )
      }}
      onPasteBlock={paste}
      empty="No lines of its own yet. Type one above, or paste many."
    />
  )
}
