import { onShelf } from '../../../core/orders/expected-supply.ts'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { searchKey } from '../../../core/colours/colour.ts'
import { release, reserve, reservedFor } from '../../../core/shelf/reservations.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally, TallyLine } from '../../../core/netting/tally.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { editAll } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import type { Count } from '../../store/count-store.ts'
import { useTally } from '../../store/tallies.ts'
import { Button } from '../../ui/button.tsx'
import { ConflictNote } from '../../pieces/conflict-note.tsx'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { Choice, SearchInput } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import { NoBuild } from '../../pieces/no-build.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { BlockActions } from './block-actions.tsx'
import { ExportMenu } from './export-menu.tsx'
import { PinsNote } from './pins-note.tsx'
import { FILTERS, isView, VIEWS, type View } from './tally-filters.ts'
import { TallyView } from './tally-view.tsx'
import { useAddress } from '../../ui/address.ts'

const ALL = 'all'

export function TallyScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const records = useRecords()
  const { params, change } = useAddress()
  const [selected, setSelected] = useState<string | undefined>()
  const askedView = params.get('by')
  const view: View = isView(askedView) ? askedView : 'line'
  const filter = FILTERS.find((f) => f.value === params.get('show')) ?? FILTERS[0]
  const moduleId = params.get('module') ?? ALL
  const { text: typed, deferred: search, setText: setTyped } = useFindText()
  const set = (key: string, value: string) => {
    change({ [key]: value === '' || value === ALL ? null : value })
  }
  const lines = tally?.result.lines
  const rows = useMemo(() => {
    const words = searchKey(search)
      .split(' ')
      .filter((w) => w !== '')
    return (lines ?? []).filter(
      (l) =>
        filter.keep(l) &&
        (moduleId === ALL || l.path.some((m) => m === moduleId)) &&
        words.every((w) => searchKey(records.nameItem(l.item).name).includes(w)),
    )
  }, [lines, filter, moduleId, search, records])
  const modules = tally?.snapshot.design.modules
  const names = useMemo(() => new Map((modules ?? []).map((m) => [m.id, m.name])), [modules])
  const moduleOf = (line: TallyLine) => names.get(line.module) ?? ''
  if (!tally) return <NoBuild />
  const { result, snapshot, stale } = tally
  const reserved = reservedFor(id, onShelf(snapshot.holdings))
  return (
    <Screen
      title="Tally"
      headline={<TallyHeadline snapshot={snapshot} result={result} />}
      actions={
        <>
          {result.shortfall.size > 0 && snapshot.build.rules.sources === 'donors, shelf and shops' && (
            <Link
              to={`/build/${encodeURIComponent(id)}/buy`}
              className="rounded-sm bg-accent px-4 py-1.5 text-sm font-semibold text-accent-ink hover:brightness-110"
            >
              Buy what is short
            </Link>
          )}
          {(result.coverage.shelf > 0 || reserved > 0) && (
            <ShelfButton snapshot={snapshot} result={result} reserved={reserved} stale={stale} />
          )}
          <BlockActions snapshot={snapshot} result={result} />
          <ExportMenu view={view} rows={rows} snapshot={snapshot} result={result} />
        </>
      }
    >
      <div className="flex flex-col gap-2" aria-busy={stale}>
        <CoverageStrip coverage={result.coverage} height={18} />
        <div className="flex flex-wrap items-center justify-between gap-3">
          <CoverageLegend coverage={result.coverage} />
          <div className="text-sm text-soft">{stale ? <StaleNote tally={tally} /> : objectiveWords(tally.count)}</div>
          {reserved > 0 && (
            <span className="text-sm text-soft">
              {plural(reserved, 'piece is', 'pieces are')} reserved on the shelf for this build.
            </span>
          )}
        </div>
        <PinsNote result={result} />
        <ConflictNote build={id} />
        <ViewSwitch
          views={VIEWS}
          view={view}
          onChange={(v) => {
            set('by', v === 'line' ? '' : v)
          }}
        />
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
      <TallyView
        view={view}
        rows={rows}
        moduleOf={moduleOf}
        snapshot={snapshot}
        result={result}
        count={tally.count}
        onLine={(line) => {
          setSelected(line.id)
          set('by', '')
        }}
        selected={selected}
        onSelect={setSelected}
      />
    </Screen>
  )
}

/** What the tally goes for, and whether it got there. */
function objectiveWords({ build, result, proving }: Count): string {
  const places = build.rules.aim === 'use up the donors' ? 'most donor pieces used' : 'preferred sources and few places'
  const goal = result.weighed
    ? `stand-ins against prices at ${formatMoney(build.rules.pointPrice, build.currency)} a point, then ${places}`
    : `fewest pieces short, then least compromise (${plural(result.compromise, 'point')}), then ${places}`
  const standing = result.proven ? 'Proven best' : proving ? 'Best so far, being proven' : 'Best found, not proven'
  return `${standing}: ${goal}.${slackWords(result)}`
}

/** How much better than what was found the best may be. */
function slackWords({ proven, slack, weighed }: Tally): string {
  // Where prices are weighed, what is bought rather than covered is no shortage of the search's.
  if (proven || !slack || weighed) return ''
  if (slack.short > 0) return ` At most ${plural(slack.short, 'piece')} fewer could be short.`
  if (slack.compromise === 0) return ' No fewer can be short, at no less compromise.'
  return ` No fewer can be short; at most ${plural(slack.compromise, 'point')} less would do.`
}

/** How much is short, and where most of it is. */
function TallyHeadline({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const worst = [...result.byModule].sort((p, q) => q[1].short - p[1].short)[0]
  const worstName = snapshot.design.modules.find((m) => m.id === worst?.[0])?.name
  if (result.need === 0) return 'There is nothing to count yet.'
  if (result.coverage.short === 0)
    return (
      <>
        Every one of the <Figure>{plural(result.need, 'piece')}</Figure> is covered.
      </>
    )
  return (
    <>
      <Figure>{plural(result.coverage.short, 'piece')}</Figure> of {formatNumber(result.need)} are short, in{' '}
      <Figure>{plural(result.shortfall.size, 'item')}</Figure>
      {worst && worstName && (
        <>
          ; most of all in {worstName} ({worst[1].short})
          {result.buyInstead > 0 && `; ${result.buyInstead} of them are better bought than covered by stand-ins`}
        </>
      )}
      .
    </>
  )
}

/** Reserves what the tally draws from the shelf, or gives it back. */
function ShelfButton({
  snapshot,
  result,
  reserved,
  stale,
}: {
  snapshot: Snapshot
  result: Tally
  reserved: number
  stale: boolean
}) {
  const { build } = snapshot
  const shelf = onShelf(snapshot.holdings)
  return (
    <Button
      disabled={stale}
      title={stale ? 'Being counted again' : ''}
      onClick={() => {
        if (reserved === result.coverage.shelf)
          void perform('Released what was reserved', editAll('holdings', shelf, release(build.id, shelf)))
        else
          void perform(
            `Reserved ${plural(result.coverage.shelf, 'piece')} on the shelf for ${build.name}`,
            editAll('holdings', shelf, reserve(build.id, result, shelf)),
          )
      }}
    >
      {reserved === result.coverage.shelf ? 'Release the shelf' : 'Reserve from the shelf'}
    </Button>
  )
}
