import { formatNumber } from '../../../core/units/numbers.ts'
import { useMemo } from 'react'
import { readPartName } from '../../../core/catalogue/name-grammar.ts'
import { colourKey } from '../../../core/colours/colour.ts'
import { guessHex } from '../../../core/colours/name-guess.ts'
import type { ListKind } from '../../../core/formats/list-fields.ts'
import type { ListRow } from '../../../core/formats/list-row.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import type { RecordsView } from '../../store/records.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { PiecePicture } from '../piece-picture.tsx'
import { useRows } from './use-rows.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'

/** Rows that can come in, as they were understood. */
export function AcceptedRows({
  which,
  preview,
  said,
  kind,
  records,
  currency,
}: {
  which: 'accepted' | 'doubtful'
  preview: ListPreview
  said: (work: Promise<unknown>) => void
  kind: ListKind
  records: RecordsView
  currency: string
}) {
  const { rows, all } = useRows(preview.edition, which, preview[which], said)
  const columns = useMemo((): Column<ListRow>[] => {
    const colourOf = (row: ListRow) => records.colourByName.get(colourKey(row.colourName))
    const shared: Column<ListRow>[] = [
      { id: 'line', header: 'Line', width: '64px', align: 'right', cell: (r) => r.line, sort: (r) => r.line },
      {
        id: 'part',
        header: 'Part',
        width: 'minmax(0, 2fr)',
        sort: (r) => r.part,
        cell: (r) => {
          const { shape, known } = readPartName(r.part)
          const colour = colourOf(r)
          return (
            <span className="flex min-w-0 items-center gap-2">
              <PiecePicture
                shape={shape}
                hex={colour?.hex ?? guessHex(r.colourName)}
                finish={colour?.finish ?? 'opaque'}
                size={28}
              />
              <span className="truncate">{r.part}</span>
              {!known && <span className="text-xs text-warn">unknown shape</span>}
            </span>
          )
        },
      },
      {
        id: 'colour',
        header: 'Colour',
        width: 'minmax(0, 1fr)',
        sort: (r) => r.colourName,
        cell: (r) => (
          <span className={colourOf(r) ? 'truncate' : 'truncate text-warn'}>
            {r.colourName}
            {colourOf(r) ? '' : ' (unknown)'}
          </span>
        ),
      },
      {
        id: 'qty',
        header: kind === 'offers' ? 'Stock' : 'Quantity',
        width: '90px',
        align: 'right',
        sort: (r) => r.qty,
        cell: (r) => (r.estimate ? `about ${formatNumber(r.qty)}` : r.qty),
      },
    ]
    const text = (id: string, header: string, of: (row: ListRow) => string): Column<ListRow> => ({
      id,
      header,
      width: 'minmax(0, 1fr)',
      sort: of,
      cell: (r) => <span className="truncate">{of(r)}</span>,
    })
    const extra: Record<ListKind, Column<ListRow>[]> = {
      donor: [text('stage', 'Stage', (r) => r.stage), text('spare', 'Spare', (r) => (r.spare ? 'spare' : ''))],
      shelf: [text('place', 'Place', (r) => r.place), text('condition', 'Condition', (r) => r.condition)],
      design: [text('module', 'Module', (r) => r.module), text('repeats', 'Repeats', (r) => String(r.repeats))],
      offers: [
        text('shop', 'Shop', (r) => r.shop),
        text('price', `Price each, ${currency}`, (r) =>
          r.currency === undefined ? decimal(r.price, currency) : formatMoney(r.price, r.currency),
        ),
      ],
    }
    return [...shared, ...extra[kind]]
  }, [kind, records.colourByName, currency])
  return (
    <DataGrid
      label="Accepted rows"
      columns={columns}
      rows={rows}
      rowKey={(r) => `${r.line} ${r.colourName}`}
      rowHeight={36}
      empty={
        !all
          ? 'Reading…'
          : which === 'doubtful'
            ? 'Nothing is doubtful: every colour and every shape is known.'
            : 'No row can come in yet: choose the columns above.'
      }
    />
  )
}
