import { useMemo, type ReactNode } from 'react'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { byColour, byItem, bySource, gatherLines, type TallyGroup } from '../../../core/netting/groups.ts'
import type { Tally, TallyLine } from '../../../core/netting/tally.ts'
import type { Count } from '../../store/count-store.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid } from '../../ui/data-grid.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { sourceWords } from '../../pieces/source-words.ts'
import { Swatch } from '../../ui/swatch.tsx'
import { GroupInspector } from './group-inspector.tsx'
import { LineInspector } from './line-inspector.tsx'
import { SourceInspector } from './source-inspector.tsx'
import { groupColumns, lineColumns, sourceColumns } from './tally-columns.tsx'
import type { View } from './tally-filters.ts'

type Shared = {
  readonly rows: readonly TallyLine[]
  readonly moduleOf: (line: TallyLine) => string
  readonly snapshot: Snapshot
  readonly result: Tally
  readonly count: Count
  /** Opens a line among all lines. */
  readonly onLine: (line: TallyLine) => void
  readonly selected: string | undefined
  readonly onSelect: (key: string) => void
}

const Split = ({ children }: { children: ReactNode }) => (
  <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_20rem] gap-5 max-[960px]:grid-cols-1 max-[960px]:grid-rows-[minmax(20rem,1fr)_auto] max-[960px]:overflow-auto">
    {children}
  </div>
)

/** The lines one by one, or summed by module, item, colour or source; beside them what is behind the chosen row. */
export function TallyView({ view, ...shared }: Shared & { view: View }) {
  switch (view) {
    case 'line':
      return <ByLine {...shared} />
    case 'module':
      return (
        <Groups
          {...shared}
          header="Module"
          gather={(rows) => gatherLines(rows, (l) => l.module)}
          nameOf={(g) => shared.moduleOf(g.lines[0] as TallyLine)}
          cell={(g) => <span className="truncate">{shared.moduleOf(g.lines[0] as TallyLine)}</span>}
        />
      )
    case 'item':
      return <ByItem {...shared} />
    case 'colour':
      return <ByColour {...shared} />
    case 'source':
      return <BySource {...shared} />
  }
}

function ByLine({ rows, moduleOf, snapshot, result, count, selected, onSelect }: Shared) {
  const records = useRecords()
  const columns = lineColumns((l) => records.nameItem(l.item).name, moduleOf)
  const current = rows.find((l) => l.id === selected) ?? rows[0]
  return (
    <Split>
      <DataGrid
        label="Tally lines"
        columns={columns}
        rows={rows}
        rowKey={(l) => l.id}
        selected={current?.id}
        onSelect={(l) => {
          onSelect(l.id)
        }}
        empty={result.need === 0 ? 'Bring in the design first.' : 'No line fits the filters.'}
      />
      {current && <LineInspector line={current} snapshot={snapshot} result={result} count={count} />}
    </Split>
  )
}

function ByItem(shared: Shared) {
  const { nameItem } = useRecords()
  return (
    <Groups
      {...shared}
      header="Item"
      gather={byItem}
      nameOf={(g) => nameItem(g.key).name}
      cell={(g) => <ItemName item={g.key} />}
    />
  )
}

function ByColour(shared: Shared) {
  const { colourById } = useRecords()
  return (
    <Groups
      {...shared}
      header="Colour"
      gather={byColour}
      nameOf={(g) => colourById.get(g.key)?.name ?? g.key.slice(2)}
      cell={(g) => (
        <span className="flex items-center gap-2">
          <Swatch hex={colourById.get(g.key)?.hex} />
          {colourById.get(g.key)?.name ?? g.key.slice(2)}
        </span>
      )}
    />
  )
}

function Groups<K extends string>({
  rows,
  moduleOf,
  onLine,
  selected,
  onSelect,
  header,
  gather,
  nameOf,
  cell,
}: Shared & {
  header: string
  gather: (rows: readonly TallyLine[]) => TallyGroup<K>[]
  nameOf: (group: TallyGroup<K>) => string
  cell: (group: TallyGroup<K>) => ReactNode
}) {
  const groups = gather(rows)
  const current = groups.find((g) => g.key === selected) ?? groups[0]
  return (
    <Split>
      <DataGrid
        label={`Tally by ${header.toLowerCase()}`}
        columns={groupColumns(header, nameOf, cell)}
        rows={groups}
        rowKey={(g) => g.key}
        selected={current?.key}
        onSelect={(g) => {
          onSelect(g.key)
        }}
        empty="No line fits the filters."
      />
      {current && <GroupInspector title={nameOf(current)} group={current} moduleOf={moduleOf} onOpen={onLine} />}
    </Split>
  )
}

function BySource({ rows, snapshot, selected, onSelect }: Shared) {
  const groups = useMemo(() => bySource(rows), [rows])
  const current = groups.find((g) => g.key === selected) ?? groups[0]
  return (
    <Split>
      <DataGrid
        label="Tally by source"
        columns={sourceColumns((g) => sourceWords(g.source, snapshot))}
        rows={groups}
        rowKey={(g) => g.key}
        selected={current?.key}
        onSelect={(g) => {
          onSelect(g.key)
        }}
        empty="Nothing is drawn from anywhere."
      />
      {current && <SourceInspector group={current} snapshot={snapshot} />}
    </Split>
  )
}
