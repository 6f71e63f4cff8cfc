import { formatNumber } from '../../../core/units/numbers.ts'
import type { ReactNode } from 'react'
import type { SourceGroup, TallyGroup } from '../../../core/netting/groups.ts'
import { coveredPieces, type Coverage } from '../../../core/netting/coverage.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import { CoverageStrip } from '../../pieces/coverage-strip.tsx'
import type { Column } from '../../ui/data-grid.tsx'
import { ItemName } from '../../pieces/item-name.tsx'

/** Needed, have, from where, short: the same on every view. */
function countColumns<
  Row extends { readonly need: number; readonly coverage: Coverage; readonly estimate: boolean },
>(): Column<Row>[] {
  return [
    { id: 'need', header: 'Needed', width: '72px', align: 'right', sort: (r) => r.need, cell: (r) => r.need },
    {
      id: 'have',
      header: 'Have',
      width: '66px',
      align: 'right',
      sort: (r) => coveredPieces(r.coverage),
      cell: (r) => (
        <>
          {r.estimate && <span title="rests on an estimate">~</span>}
          {coveredPieces(r.coverage)}
        </>
      ),
    },
    {
      id: 'strip',
      header: 'From where',
      width: 'minmax(90px, 1.1fr)',
      cell: (r) => <CoverageStrip coverage={r.coverage} />,
    },
    {
      id: 'short',
      header: 'Short',
      width: '64px',
      align: 'right',
      sort: (r) => r.coverage.short,
      cell: (r) => (
        <b className={r.coverage.short > 0 ? 'text-bad' : 'font-normal text-soft'}>{formatNumber(r.coverage.short)}</b>
      ),
    },
  ]
}

export function lineColumns(nameOf: (line: TallyLine) => string, moduleOf: (line: TallyLine) => string) {
  const columns: Column<TallyLine>[] = [
    {
      id: 'item',
      header: 'Piece',
      width: 'minmax(0, 2fr)',
      sort: nameOf,
      cell: (l) => (
        <span className="flex min-w-0 items-center gap-2">
          <ItemName item={l.item} />
          {l.pegs.some((p) => p.by === 'pin') && <span className="shrink-0 text-xs text-accent">pinned</span>}
        </span>
      ),
    },
    {
      id: 'module',
      header: 'Module',
      width: 'minmax(0, 1.1fr)',
      sort: moduleOf,
      cell: (l) => <span className="truncate">{moduleOf(l)}</span>,
    },
  ]
  return [...columns, ...countColumns<TallyLine>()]
}

export function groupColumns<K>(
  header: string,
  nameOf: (group: TallyGroup<K>) => string,
  cell: (group: TallyGroup<K>) => ReactNode,
): Column<TallyGroup<K>>[] {
  return [
    { id: 'name', header, width: 'minmax(0, 2fr)', sort: nameOf, cell },
    {
      id: 'lines',
      header: 'Lines',
      width: '64px',
      align: 'right',
      sort: (g) => g.lines.length,
      cell: (g) => g.lines.length,
    },
    ...countColumns<TallyGroup<K>>(),
  ]
}

export function sourceColumns(nameOf: (group: SourceGroup) => string): Column<SourceGroup>[] {
  return [
    {
      id: 'source',
      header: 'Source',
      width: 'minmax(0, 2fr)',
      sort: nameOf,
      cell: (g) => <span className="truncate">{nameOf(g)}</span>,
    },
    {
      id: 'items',
      header: 'Items',
      width: '80px',
      align: 'right',
      sort: (g) => g.picks.length,
      cell: (g) => g.picks.length,
    },
    {
      id: 'pieces',
      header: 'Pieces',
      width: '80px',
      align: 'right',
      sort: (g) => g.qty,
      cell: (g) => (
        <>
          {g.estimate && <span title="rests on an estimate">~</span>}
          {formatNumber(g.qty)}
        </>
      ),
    },
  ]
}
