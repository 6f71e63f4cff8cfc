import type { RefusedRow } from '../../../core/formats/list-rows.ts'
import { DataGrid } from '../../ui/data-grid.tsx'

const BAR = ' | '
/** Characters of a row that a line can show. */
const SHOWN = 300

/** Refused rows with why; a row is mended in place by editing its cells, set apart by bars. */
export function RefusedRows({
  rows,
  onFix,
}: {
  rows: readonly RefusedRow[]
  onFix: (line: number, cells: readonly string[]) => void
}) {
  return (
    <DataGrid
      label="Refused rows"
      rows={rows}
      rowKey={(r) => String(r.line)}
      rowHeight={52}
      columns={[
        { id: 'line', header: 'Line', width: '70px', align: 'right', cell: (r) => r.line, sort: (r) => r.line },
        {
          id: 'reason',
          header: 'Why, and what to do',
          width: 'minmax(0, 3fr)',
          sort: (r) => r.reason,
          cell: (r) => (
            <span className="line-clamp-2 leading-snug" title={r.reason}>
              {r.reason}
            </span>
          ),
        },
        {
          id: 'cells',
          header: 'As written (edit to mend)',
          width: 'minmax(0, 2fr)',
          cell: (r) => <span className="truncate">{r.cells.join(BAR).slice(0, SHOWN)}</span>,
          edit: {
            text: (r) => r.cells.join(BAR),
            commit: (r, text) => {
              if (text !== r.cells.join(BAR))
                onFix(
                  r.line,
                  text.split('|').map((cell) => cell.trim()),
                )
              return undefined
            },
          },
        },
      ]}
      empty="No row was refused."
    />
  )
}
