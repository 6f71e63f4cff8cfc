import { Plus } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import { Link } from 'react-router'
import { coveredPieces } from '../../../core/netting/coverage.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { loadDemo } from '../../store/demo.ts'
import { usePlan } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { Button } from '../../ui/button.tsx'
import { ConflictNote } from '../../pieces/conflict-note.tsx'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { CountBoundary } from '../../pieces/count-boundary.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'

/** It comes when it is opened: its form is no part of the first screen. */
const NewBuild = lazy(async () => ({ default: (await import('./new-build.tsx')).NewBuild }))

export function BuildsScreen() {
  const records = useRecords()
  const { builds } = records
  const [creating, setCreating] = useState(false)
  // Once opened it stays, with what was typed.
  const [begun, setBegun] = useState(false)
  const begin = () => {
    setBegun(true)
    setCreating(true)
  }
  return (
    <Screen
      title="Builds"
      headline={
        builds.length === 0 ? (
          'Nothing on the table yet.'
        ) : (
          <>
            <Figure>{plural(builds.length, 'build')}</Figure> on the table.
          </>
        )
      }
      actions={
        <Button look="primary" onClick={begin}>
          <Plus size={16} aria-hidden="true" /> New build
        </Button>
      }
    >
      {builds.length === 0 ? (
        <div className="max-w-2xl text-base">
          <p className="mb-3">
            Bring what your donor sets hold, what lies on your shelf and the parts list of your design. Unfinished Brick
            counts one against the other and works out where to buy the rest at the least cost at your door.
          </p>
          <ol className="mb-4 list-decimal space-y-1 pl-5">
            <li>Start a build and import three lists: a donor inventory, your shelf, the design.</li>
            <li>Read the tally: what is covered, from where, and what is short.</li>
            <li>Get offers and let it choose shops; copy the baskets.</li>
          </ol>
          <div className="flex flex-wrap gap-2">
            <Button look="primary" onClick={begin}>
              Start with my own files
            </Button>
            <Button onClick={() => void loadDemo(records)}>Look at the demo first</Button>
          </div>
          <p className="mt-6 text-sm text-soft">Small parts: keep them away from children under three.</p>
        </div>
      ) : (
        <>
          <ConflictNote />
          <ul className="flex flex-col divide-y divide-rule border-y border-rule">
            {builds.map((build) => (
              <CountBoundary key={build.id} build={build}>
                <BuildRow build={build} />
              </CountBoundary>
            ))}
          </ul>
        </>
      )}
      {begun && (
        <Suspense>
          <NewBuild open={creating} onOpenChange={setCreating} />
        </Suspense>
      )}
    </Screen>
  )
}

function BuildRow({ build }: { build: Build }) {
  const tally = useTally(build.id)
  const { purchase, age } = usePlan(tally)
  if (!tally) return null
  const { coverage, need, shortfall } = tally.result
  const waits =
    need === 0
      ? 'waits for a design'
      : shortfall.size === 0
        ? 'complete: ready to build'
        : purchase?.landed !== undefined
          ? `waits for an order of ${formatMoney(purchase.landed, build.currency)}${age === 'old' ? ', by a plan older than the build: find it again' : age === 'elsewhere' ? ', by a plan from a file: find it again' : ''}`
          : `waits for a plan for ${plural(shortfall.size, 'short item')}`
  return (
    <li>
      <Link
        to={`/build/${encodeURIComponent(build.id)}/brief`}
        className="narrow-stack grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-6 px-2 py-4 hover:bg-raised"
      >
        <span>
          <span className="block font-display text-lg font-semibold">{build.name}</span>
          <span className="text-sm text-soft">
            {plural(need, 'piece')}, {coveredPieces(coverage)} covered; {waits}
          </span>
        </span>
        <span className="flex flex-col gap-2">
          <StaleNote tally={tally} />
          <CoverageStrip coverage={coverage} height={14} />
          <CoverageLegend coverage={coverage} />
        </span>
      </Link>
    </li>
  )
}
