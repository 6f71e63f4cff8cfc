import { useMemo } from 'react'
import { Link, useNavigate } from 'react-router'
import { piecesOf } from '../../../core/donors/copy-contents.ts'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'

type SetRow = {
  readonly set: DonorSet
  readonly pieces: number
  readonly spares: number
  readonly items: number
  readonly figures: number
  readonly copies: number
}

/** Every known donor set with what it holds and costs. */
export function SetsPanel() {
  const { sets, copies } = useRecords()
  const navigate = useNavigate()
  const rows = useMemo(
    () =>
      sets.map((set): SetRow => {
        const pieces = piecesOf(set)
        return {
          set,
          pieces,
          spares: set.lines.reduce((n, l) => n + (l.spare ? l.qty : 0), 0),
          items: new Set(set.lines.map((l) => l.item)).size,
          figures: new Set(set.lines.flatMap((l) => (l.figure ? [l.figure] : []))).size,
          copies: copies.filter((c) => c.setId === set.id).length,
        }
      }),
    [sets, copies],
  )
  return (
    <DataGrid
      label="Donor sets"
      columns={COLUMNS}
      rows={rows}
      rowKey={(r) => r.set.id}
      onOpen={(r) => void navigate(`/catalogue/set/${encodeURIComponent(r.set.id)}`)}
      empty="No set is known yet. Import an inventory, or type one by hand."
    />
  )
}

const COLUMNS: readonly Column<SetRow>[] = [
  {
    id: 'name',
    header: 'Set',
    width: 'minmax(0, 2fr)',
    sort: (r) => r.set.name,
    cell: (r) => (
      <span className="min-w-0 leading-tight">
        <Link
          className="block truncate font-semibold text-accent hover:underline"
          to={`/catalogue/set/${encodeURIComponent(r.set.id)}`}
        >
          {r.set.name}
        </Link>
        <span className="block truncate text-xs text-soft">
          {[r.set.year, r.set.note].filter((t) => t !== undefined && t !== '').join(' · ')}
        </span>
      </span>
    ),
  },
  number('pieces', 'Pieces', (r) => r.pieces),
  number('spares', 'Spares', (r) => r.spares),
  number('items', 'Items', (r) => r.items),
  number('stages', 'Stages', (r) => r.set.stages.length),
  number('figures', 'Figures', (r) => r.figures),
  number('copies', 'Copies', (r) => r.copies),
  {
    id: 'price',
    header: 'Retail price',
    width: '120px',
    align: 'right',
    sort: (r) => r.set.retail?.minor ?? 0,
    cell: (r) => (r.set.retail ? formatMoney(r.set.retail.minor, r.set.retail.currency) : ''),
  },
  {
    id: 'each',
    header: 'Per piece',
    width: '100px',
    align: 'right',
    sort: (r) => (r.set.retail && r.pieces > 0 ? r.set.retail.minor / r.pieces : 0),
    cell: (r) =>
      r.set.retail && r.pieces > 0 ? formatMoney(Math.round(r.set.retail.minor / r.pieces), r.set.retail.currency) : '',
  },
  {
    id: 'retires',
    header: 'Made until',
    width: '110px',
    sort: (r) => r.set.retires ?? '9999',
    cell: (r) => r.set.retires ?? '',
  },
]

function number(id: string, header: string, of: (row: SetRow) => number): Column<SetRow> {
  return { id, header, width: '76px', align: 'right', sort: of, cell: of }
}
