import { writeCsv } from '../../../core/formats/delimited.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { SourceGroup, TallyGroup } from '../../../core/netting/groups.ts'
import type { Coverage } from '../../../core/netting/coverage.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'
import type { RecordsView } from '../../store/records.tsx'

const COUNTS = ['donors', 'shelf', 'stand-ins', 'on order', 'short']
const counts = (c: Coverage) => [c.donor, c.shelf, c.standIn, c.onOrder, c.short]

type Naming = Pick<RecordsView, 'nameItem'>

const nameCells = ({ nameItem }: Naming, item: TallyLine['item']) => {
  const { part, colour } = nameItem(item)
  return [part.name, colour.name]
}

/** The lines with where each piece comes from. */
export function linesCsv(lines: readonly TallyLine[], snapshot: Snapshot, records: Naming): string {
  const moduleOf = new Map(snapshot.design.modules.map((m) => [m.id, m.name]))
  return writeCsv([
    ['part', 'colour', 'module', 'needed', ...COUNTS, 'from where'],
    ...lines.map((l) => [
      ...nameCells(records, l.wanted),
      moduleOf.get(l.module) ?? '',
      l.need,
      ...counts(l.coverage),
      l.pegs
        .map(({ source, item, qty, standIn }) => {
          const what = standIn ? ` (${records.nameItem(item).name}: ${STAND_IN_WORDS[standIn]})` : ''
          return `${qty} ${sourceWords(source, snapshot)}${what}`
        })
        .join('; '),
    ]),
  ])
}

export function groupsCsv<K>(
  header: string,
  groups: readonly TallyGroup<K>[],
  nameOf: (group: TallyGroup<K>) => string,
): string {
  return writeCsv([
    [header, 'lines', 'needed', ...COUNTS],
    ...groups.map((g) => [nameOf(g), g.lines.length, g.need, ...counts(g.coverage)]),
  ])
}

export function sourcesCsv(groups: readonly SourceGroup[], snapshot: Snapshot, records: Naming): string {
  return writeCsv([
    ['source', 'part', 'colour', 'pieces'],
    ...groups.flatMap((g) =>
      g.picks.map((p) => [sourceWords(g.source, snapshot), ...nameCells(records, p.item), p.qty]),
    ),
  ])
}
