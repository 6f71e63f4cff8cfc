import { useDeferredValue, useMemo } from 'react'
import { useParams } from 'react-router'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { nowIso } from '../../store/database.ts'
import { useAtWork } from '../../store/making.ts'
import { useTally, type BuildTally } from '../../store/tallies.ts'
import { useToday } from '../../store/today.ts'
import { NoBuild } from '../../pieces/no-build.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { ApartView } from './apart-view.tsx'
import { BuildView } from './build-view.tsx'
import { FetchView } from './fetch-view.tsx'
import { forecastWords, workName } from './make-words.ts'
import { NextView } from './next-view.tsx'
import { VIEWS, type MakeView, type View } from './make-view.ts'
import { nextOf, progressOf } from '../../../core/making/progress.ts'
import { stayingOf } from '../../../core/making/staying.ts'
import { RemarksView } from './remarks-view.tsx'
import { SortView } from './sort-view.tsx'
import { SwapsView } from './swaps-view.tsx'
import { useAddress } from '../../ui/address.ts'

/** Taking apart, sorting, fetching, building: what is on the table. */
export function MakeScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return <Make tally={tally} />
}

function Make({ tally }: { tally: BuildTally }) {
  const at = useAtWork(tally)
  const today = useToday()
  const { params, change } = useAddress()
  const asked = params.get('view') as View | null
  const view = asked !== null && asked in VIEWS ? asked : 'next'
  // A tick shows at once; what follows from it for the rest may come a moment later.
  const settled = useDeferredValue(at)
  const { design, parts } = tally.now
  const progress = useMemo(
    () => progressOf(settled, nowIso(), stayingOf(settled, design, parts)),
    [settled, design, parts],
  )
  const next = useMemo(() => nextOf(settled, progress), [settled, progress])
  const go: MakeView['go'] = (to, about = {}) => {
    change({ view: to, ...about }, { replace: to === view })
  }
  const shown: MakeView = { tally, at, progress, next, today, go }
  return (
    <Screen title="Make" headline={<Headline {...shown} />}>
      <div className="at-table no-print flex flex-wrap items-center gap-3">
        <ViewSwitch views={VIEWS} view={view} onChange={go} />
      </div>
      <StaleNote tally={tally} />
      <div className="at-table flex min-h-0 flex-1 flex-col gap-4">
        {view === 'next' && <NextView {...shown} />}
        {view === 'apart' && <ApartView {...shown} />}
        {view === 'sort' && <SortView {...shown} />}
        {view === 'fetch' && <FetchView {...shown} />}
        {view === 'build' && <BuildView {...shown} />}
        {view === 'swaps' && <SwapsView {...shown} />}
        {view === 'remarks' && <RemarksView {...shown} />}
      </div>
    </Screen>
  )
}

function Headline({ progress: { done, repeats, put, need, forecast }, next, at, tally }: MakeView) {
  if (at.works.length === 0) return <>Nothing is designed yet: there is nothing to build.</>
  const [first] = next
  if (!first)
    return (
      <>
        <Figure>All {formatNumber(need)} pieces</Figure> are in: {tally.now.build.name} is built.
      </>
    )
  return (
    <>
      <Figure>
        {formatNumber(put)} of {formatNumber(need)}
      </Figure>{' '}
      pieces are in, {done} of {plural(repeats, 'repeat')} done; the rest takes{' '}
      <Figure>{forecastWords(forecast)}</Figure>
      {forecast.timed === 0 && ', by common practice'}.{' '}
      {first.missing === 0
        ? `Next: ${workName(first.work, tally.now.design)}.`
        : `Of the next one, ${workName(first.work, tally.now.design)}, ${plural(first.missing, 'piece is', 'pieces are')} not here.`}
    </>
  )
}
