import { Download } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { colourKey } from '../../../core/colours/colour.ts'
import { writeCsv } from '../../../core/formats/delimited.ts'
import { coveredPieces, type TallyLine } from '../../../core/planning/tally.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { release, reserve, reservedFor } from '../../../core/planning/reservations.ts'
import { put } from '../../../storage/journal.ts'
import { download } from '../../data/download.ts'
import { perform } from '../../data/perform.ts'
import { useRecords, useTally } from '../../data/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ConflictNote } from '../../ui/conflict-note.tsx'
import { CoverageLegend, CoverageStrip } from '../../ui/coverage-strip.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Choice, SearchInput } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import { ItemName } from '../../ui/item-name.tsx'
import { NoBuild } from '../../ui/no-build.tsx'
import { Figure, plural, Screen } from '../../ui/screen.tsx'
import { LineInspector } from './line-inspector.tsx'

const FILTERS = [
  { value: 'all', label: 'all lines', keep: () => true },
  { value: 'short', label: 'short', keep: (l: TallyLine) => l.coverage.short > 0 },
  { value: 'covered', label: 'fully covered', keep: (l: TallyLine) => l.coverage.short === 0 },
  { value: 'donor', label: 'from donors', keep: (l: TallyLine) => l.coverage.donor > 0 },
  { value: 'shelf', label: 'from the shelf', keep: (l: TallyLine) => l.coverage.shelf > 0 },
  { value: 'stand-in', label: 'with stand-ins', keep: (l: TallyLine) => l.coverage.standIn > 0 },
  { value: 'estimate', label: 'resting on estimates', keep: (l: TallyLine) => l.estimate },
] as const

const ALL = 'all'

export function TallyScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const records = useRecords()
  const [params, setParams] = useSearchParams()
  const [selected, setSelected] = useState<string | undefined>()
  const filter = FILTERS.find((f) => f.value === params.get('show')) ?? FILTERS[0]
  const moduleId = params.get('module') ?? ALL
  const { text: typed, deferred: search, setText: setTyped } = useFindText()
  const set = (key: string, value: string) => {
    setParams(
      (now) => {
        const next = new URLSearchParams(now)
        if (value === '' || value === ALL) next.delete(key)
        else next.set(key, value)
        return next
      },
      { replace: true },
    )
  }
  const lines = tally?.result.lines
  const rows = useMemo(() => {
    const words = colourKey(search)
      .split(' ')
      .filter((w) => w !== '')
    return (lines ?? []).filter(
      (l) =>
        filter.keep(l) &&
        (moduleId === ALL || l.module === moduleId) &&
        words.every((w) => colourKey(records.nameItem(l.item).name).includes(w)),
    )
  }, [lines, filter, moduleId, search, records])
  const modules = tally?.snapshot.design.modules
  const columns = useMemo((): Column<TallyLine>[] => {
    const names = new Map((modules ?? []).map((m) => [m.id, m.name]))
    return [
      {
        id: 'item',
        header: 'Piece',
        width: 'minmax(0, 2fr)',
        sort: (l) => records.nameItem(l.item).name,
        cell: (l) => <ItemName item={l.item} />,
      },
      {
        id: 'module',
        header: 'Module',
        width: 'minmax(0, 1.1fr)',
        sort: (l) => names.get(l.module) ?? '',
        cell: (l) => <span className="truncate">{names.get(l.module)}</span>,
      },
      { id: 'need', header: 'Needed', width: '72px', align: 'right', sort: (l) => l.need, cell: (l) => l.need },
      {
        id: 'have',
        header: 'Have',
        width: '66px',
        align: 'right',
        sort: (l) => coveredPieces(l.coverage),
        cell: (l) => (
          <>
            {l.estimate && <span title="rests on an estimate">~</span>}
            {coveredPieces(l.coverage)}
          </>
        ),
      },
      {
        id: 'strip',
        header: 'From where',
        width: 'minmax(90px, 1.1fr)',
        cell: (l) => <CoverageStrip coverage={l.coverage} />,
      },
      {
        id: 'short',
        header: 'Short',
        width: '64px',
        align: 'right',
        sort: (l) => l.coverage.short,
        cell: (l) => <b className={l.coverage.short > 0 ? 'text-bad' : 'font-normal text-soft'}>{l.coverage.short}</b>,
      },
    ]
  }, [modules, records])
  if (!tally) return <NoBuild />
  const { result, snapshot } = tally
  const reserved = reservedFor(id, snapshot.holdings)
  const current = rows.find((l) => l.id === selected) ?? rows[0]
  const exportShortfall = () => {
    const table = [...result.shortfall].map(([item, qty]) => {
      const { part, colour } = records.nameItem(item)
      return [part.name, colour.name, qty]
    })
    download('shortfall.csv', writeCsv([['part', 'colour', 'quantity'], ...table]), 'text/csv')
  }
  const worst = [...result.byModule].sort((p, q) => q[1].short - p[1].short)[0]
  const worstName = snapshot.design.modules.find((m) => m.id === worst?.[0])?.name
  return (
    <Screen
      title="Tally"
      headline={
        result.need === 0 ? (
          'There is nothing to count yet.'
        ) : result.coverage.short === 0 ? (
          <>
            Every one of the <Figure>{plural(result.need, 'piece')}</Figure> is covered.
          </>
        ) : (
          <>
            <Figure>{plural(result.coverage.short, 'piece')}</Figure> of {result.need} are short, in{' '}
            <Figure>{plural(result.shortfall.size, 'item')}</Figure>
            {worst && worstName && (
              <>
                ; most of all in {worstName} ({worst[1].short})
              </>
            )}
            .
          </>
        )
      }
      actions={
        <>
          {result.shortfall.size > 0 && snapshot.build.rules.sources === 'donors, shelf and shops' && (
            <Link
              to={`/build/${id}/buy`}
              className="rounded-sm bg-accent px-4 py-1.5 text-sm font-semibold text-accent-ink hover:brightness-110"
            >
              Buy what is short
            </Link>
          )}
          {(result.coverage.shelf > 0 || reserved > 0) && (
            <Button
              onClick={() => {
                if (reserved === result.coverage.shelf)
                  void perform('Released what was reserved', [put('holdings', release(id, snapshot.holdings))])
                else
                  void perform(
                    `Reserved ${plural(result.coverage.shelf, 'piece')} on the shelf for ${snapshot.build.name}`,
                    [put('holdings', reserve(id, result, snapshot.holdings))],
                  )
              }}
            >
              {reserved === result.coverage.shelf ? 'Release the shelf' : 'Reserve from the shelf'}
            </Button>
          )}
          <Button onClick={exportShortfall} disabled={result.shortfall.size === 0}>
            <Download size={16} aria-hidden="true" /> Shortfall as CSV
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-2">
        <CoverageStrip coverage={result.coverage} height={18} />
        <div className="flex flex-wrap items-center justify-between gap-3">
          <CoverageLegend coverage={result.coverage} />
          {reserved > 0 && (
            <span className="text-sm text-soft">
              {plural(reserved, 'piece is', 'pieces are')} reserved on the shelf for this build.
            </span>
          )}
        </div>
        <ConflictNote build={id} />
      </div>
      <div className="no-print flex flex-wrap items-center gap-3 text-sm">
        <SearchInput
          aria-label="Find a piece"
          placeholder="Find: plate 2x4 soot"
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value)
          }}
        />
        <span>Show</span>
        <Choice
          label="Lines shown"
          value={filter.value}
          options={FILTERS}
          onChange={(value) => {
            set('show', value)
          }}
          className="w-44"
        />
        <span>of</span>
        <Choice
          label="Module shown"
          value={moduleId}
          options={[
            { value: ALL, label: 'every module' },
            ...snapshot.design.modules.map((m) => ({ value: m.id as string, label: m.name })),
          ]}
          onChange={(value) => {
            set('module', value)
          }}
          className="w-52"
        />
        <span role="status" className="text-soft">
          {plural(rows.length, 'line')}
        </span>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_19rem] gap-5 max-[960px]:grid-cols-1">
        <DataGrid
          label="Tally lines"
          columns={columns}
          rows={rows}
          rowKey={(l) => l.id}
          selected={current?.id}
          onSelect={(l) => {
            setSelected(l.id)
          }}
          empty={result.need === 0 ? 'Bring in the design first.' : 'No line fits the filters.'}
        />
        {current && <LineInspector line={current} snapshot={snapshot} result={result} />}
      </div>
    </Screen>
  )
}
