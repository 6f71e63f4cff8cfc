import { useMemo, useState } from 'react'
import { compareSets } from '../../../core/donors/compare-sets.ts'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import type { SetId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid } from '../../ui/data-grid.tsx'
import { Choice } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** Two donor sets side by side: what they share, what only one has, the colours each is strong in. */
export function ComparePanel({ sets }: { sets: readonly DonorSet[] }) {
  const { nameItem, colourById } = useRecords()
  const [firstId, setFirst] = useState<SetId | undefined>(sets[0]?.id)
  const [secondId, setSecond] = useState<SetId | undefined>(sets[1]?.id)
  const first = sets.find((s) => s.id === firstId)
  const second = sets.find((s) => s.id === secondId)
  const both = useMemo(() => first && second && compareSets(first, second), [first, second])
  if (!first || !second || !both)
    return <p className="text-sm">Two donor sets are needed to compare. Import another inventory.</p>
  const options = sets.map((s) => ({ value: s.id, label: s.name }))
  const rows = [
    ...both.shared.map((r) => ({ ...r, where: 'both' })),
    ...both.onlyFirst.map(({ item, qty }) => ({ item, first: qty, second: 0, where: `only ${first.name}` })),
    ...both.onlySecond.map(({ item, qty }) => ({ item, first: 0, second: qty, where: `only ${second.name}` })),
  ]
  const most = Math.max(1, ...both.colours.map((c) => Math.max(c.first, c.second)))
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <Choice label="First set" className="w-60" value={first.id} options={options} onChange={setFirst} />
        <span>and</span>
        <Choice label="Second set" className="w-60" value={second.id} options={options} onChange={setSecond} />
        <span role="status" className="text-soft">
          {plural(both.shared.length, 'item')} in both; {both.onlyFirst.length} only in the first,{' '}
          {both.onlySecond.length} only in the second
        </span>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)] gap-6 max-[960px]:grid-cols-1">
        <DataGrid
          label="Items of both sets"
          rows={rows}
          rowKey={(r) => r.item}
          columns={[
            {
              id: 'item',
              header: 'Piece',
              width: 'minmax(0, 2fr)',
              sort: (r) => nameItem(r.item).name,
              cell: (r) => <ItemName item={r.item} size={30} />,
            },
            { id: 'first', header: 'First', width: '70px', align: 'right', sort: (r) => r.first, cell: (r) => r.first },
            {
              id: 'second',
              header: 'Second',
              width: '76px',
              align: 'right',
              sort: (r) => r.second,
              cell: (r) => r.second,
            },
            {
              id: 'where',
              header: 'In',
              width: 'minmax(0, 1fr)',
              sort: (r) => r.where,
              cell: (r) => <span className="truncate">{r.where}</span>,
            },
          ]}
          empty="Neither set has pieces."
        />
        <section aria-label="Colours" className="min-h-0 overflow-auto text-sm">
          <h2 className="mb-1 text-base font-semibold">Colours by pieces</h2>
          <ul className="divide-y divide-hair border-y border-hair">
            {both.colours.map(({ colour, first: p, second: q }) => (
              <li
                key={colour}
                className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)] items-center gap-2 py-1"
              >
                <span className="flex items-center justify-end gap-1.5">
                  {p} <span className="h-2.5 bg-accent" style={{ width: `${(p / most) * 70}%` }} />
                </span>
                <span className="flex items-center justify-center gap-1.5 truncate">
                  <span
                    aria-hidden="true"
                    className="size-3 shrink-0 border border-soft"
                    style={{ background: colourById.get(colour)?.hex }}
                  />
                  <span className="truncate">{colourById.get(colour)?.name ?? colour}</span>
                </span>
                <span className="flex items-center gap-1.5">
                  <span className="h-2.5 bg-soft" style={{ width: `${(q / most) * 70}%` }} /> {q}
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  )
}
