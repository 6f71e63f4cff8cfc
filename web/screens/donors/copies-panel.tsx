import { useState } from 'react'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { CopyId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { CopyInspector } from './copy-inspector.tsx'
import { STATES, type CopyRow } from './copy-rows.ts'

/** The copies that serve the build, one of them opened. */
export function CopiesPanel({ rows, snapshot }: { rows: readonly CopyRow[]; snapshot: Snapshot }) {
  const [selected, setSelected] = useState<CopyId | undefined>()
  const current = rows.find((r) => r.copy.id === selected) ?? rows[0]
  return (
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
      {current && <CopyInspector key={current.copy.id} row={current} snapshot={snapshot} />}
    </div>
  )
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
    cell: (r) => (r.copy.state === 'to-buy' ? '–' : r.used),
  },
  {
    id: 'state',
    header: 'State',
    width: '150px',
    sort: (r) => r.copy.state,
    cell: (r) => {
      const price = r.copy.state === 'to-buy' ? r.copy.askingPrice : undefined
      return `${STATES.find((s) => s.value === r.copy.state)?.label ?? ''}${price ? `, ${formatMoney(price.minor, price.currency)}` : ''}`
    },
  },
]
