import { compareNames } from '../../../core/units/collate.ts'
import { useMemo, useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import type { PartId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { SearchInput, Tick } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { PartInspector } from './part-inspector.tsx'
import type { PartRow } from './part-row.ts'

/** Every known part, with how much of it there is; one of them opened to be put right. */
export function PartsPanel() {
  const records = useRecords()
  const { parts, sets, designs, holdings } = records
  const { text: typed, deferred: find, setText: setTyped } = useFindText()
  const [unknownOnly, setUnknownOnly] = useState(false)
  const [selected, setSelected] = useState<PartId | undefined>()
  const rows = useMemo(() => {
    const uses = new Map<PartId, { shelf: number; sets: Set<string>; designs: Set<string> }>()
    const of = (item: (typeof holdings)[number]['item']) => {
      const { part } = splitItemKey(item)
      const use = uses.get(part) ?? { shelf: 0, sets: new Set(), designs: new Set() }
      uses.set(part, use)
      return use
    }
    for (const h of holdings) of(h.item).shelf += h.qty
    for (const s of sets) for (const l of s.lines) of(l.item).sets.add(s.id)
    for (const d of designs) for (const m of d.modules) for (const l of m.lines) of(l.item).designs.add(d.id)
    return parts
      .map((part): PartRow & { key: string } => {
        const use = uses.get(part.id)
        return {
          part,
          use: { shelf: use?.shelf ?? 0, sets: use?.sets.size ?? 0, designs: use?.designs.size ?? 0 },
          key: searchKey(`${part.name} ${(part.aliases ?? []).join(' ')}`),
        }
      })
      .sort((p, q) => compareNames(p.part.name, q.part.name))
  }, [parts, sets, designs, holdings])
  const shown = useMemo(() => {
    const words = searchKey(find)
      .split(' ')
      .filter((w) => w !== '')
    return rows.filter(
      (r) => (!unknownOnly || r.part.shape.family === 'unknown') && words.every((w) => r.key.includes(w)),
    )
  }, [rows, find, unknownOnly])
  const current = rows.find((r) => r.part.id === selected) ?? shown[0]
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.7fr)_minmax(19rem,1fr)] gap-5 max-[960px]:grid-cols-1">
      <div className="flex min-h-0 flex-col gap-3">
        <div className="flex flex-wrap items-center gap-4 text-sm">
          <SearchInput
            aria-label="Find a part"
            placeholder="Find: slope 2x4"
            value={typed}
            onChange={(e) => {
              setTyped(e.target.value)
            }}
          />
          <span role="status" className="text-soft">
            {plural(shown.length, 'part')}
          </span>
          <Tick checked={unknownOnly} onChange={setUnknownOnly}>
            only those of unknown shape
          </Tick>
        </div>
        <DataGrid
          label="Parts"
          columns={COLUMNS}
          rows={shown}
          rowKey={(r) => r.part.id}
          selected={current?.part.id}
          onSelect={(r) => {
            setSelected(r.part.id)
          }}
          empty={parts.length === 0 ? 'Parts come in with the lists you import.' : 'No part fits.'}
        />
      </div>
      {current && (
        <PartInspector
          key={current.part.id}
          row={current}
          onMerged={(into) => {
            setSelected(into)
          }}
        />
      )}
    </div>
  )
}

const COLUMNS: readonly Column<PartRow>[] = [
  {
    id: 'part',
    header: 'Part',
    width: 'minmax(0, 2fr)',
    sort: (r) => r.part.name,
    cell: (r) => (
      <span className="flex min-w-0 items-center gap-2">
        <PiecePicture shape={r.part.shape} hex="#9a9a9a" finish="opaque" size={34} />
        <span className="min-w-0 leading-tight">
          <span className="block truncate">{r.part.name}</span>
          {r.part.aliases && r.part.aliases.length > 0 && (
            <span className="block truncate text-xs text-soft">{plural(r.part.aliases.length, 'other name')}</span>
          )}
        </span>
      </span>
    ),
  },
  {
    id: 'family',
    header: 'Family',
    width: '120px',
    sort: (r) => r.part.shape.family,
    cell: (r) => <span className={r.part.shape.family === 'unknown' ? 'text-warn' : ''}>{r.part.shape.family}</span>,
  },
  {
    id: 'mass',
    header: 'Mass, g',
    width: '80px',
    align: 'right',
    sort: (r) => r.part.shape.mass,
    cell: (r) => (r.part.shape.mass / 1000).toFixed(2),
  },
  {
    id: 'shelf',
    header: 'On the shelf',
    width: '100px',
    align: 'right',
    sort: (r) => r.use.shelf,
    cell: (r) => r.use.shelf,
  },
  { id: 'sets', header: 'Sets', width: '64px', align: 'right', sort: (r) => r.use.sets, cell: (r) => r.use.sets },
  {
    id: 'designs',
    header: 'Designs',
    width: '76px',
    align: 'right',
    sort: (r) => r.use.designs,
    cell: (r) => r.use.designs,
  },
]
