import { Download } from 'lucide-react'
import { writeCsv } from '../../../core/formats/delimited.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { byColour, byItem, bySource, gatherLines } from '../../../core/netting/groups.ts'
import type { Tally, TallyLine } from '../../../core/netting/tally.ts'
import { download } from '../../store/download.ts'
import { useRecords } from '../../store/records.tsx'
import { Menu } from '../../ui/menu.tsx'
import { groupsCsv, linesCsv, sourcesCsv } from './tally-csv.ts'
import type { View } from './tally-filters.ts'

/** What is shown, and the shortfall, as files for a spreadsheet. */
export function ExportMenu({
  view,
  rows,
  snapshot,
  result,
}: {
  view: View
  rows: readonly TallyLine[]
  snapshot: Snapshot
  result: Tally
}) {
  const records = useRecords()
  const moduleOf = new Map(snapshot.design.modules.map((m) => [m.id, m.name]))
  const icon = <Download size={14} aria-hidden="true" />
  const shown = (): string => {
    switch (view) {
      case 'line':
        return linesCsv(rows, snapshot, records)
      case 'module':
        return groupsCsv(
          'module',
          gatherLines(rows, (l) => l.module),
          (g) => moduleOf.get(g.key) ?? '',
        )
      case 'item':
        return groupsCsv('item', byItem(rows), (g) => records.nameItem(g.key).name)
      case 'colour':
        return groupsCsv('colour', byColour(rows), (g) => records.colourById.get(g.key)?.name ?? g.key.slice(2))
      case 'source':
        return sourcesCsv(bySource(rows), snapshot, records)
    }
  }
  const entries = [
    {
      label: 'What is shown, as CSV',
      icon,
      onSelect: () => {
        download(`tally-by-${view}.csv`, shown(), 'text/csv')
      },
    },
  ]
  if (result.shortfall.size > 0)
    entries.push({
      label: 'Shortfall as CSV',
      icon,
      onSelect: () => {
        const table = [...result.shortfall].map(([item, qty]) => {
          const { part, colour } = records.nameItem(item)
          return [part.name, colour.name, qty]
        })
        download('shortfall.csv', writeCsv([['part', 'colour', 'quantity'], ...table]), 'text/csv')
      },
    })
  return <Menu label="Export" entries={entries} />
}
