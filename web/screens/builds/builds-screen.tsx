import { Archive, Copy as CopyIcon, EllipsisVertical, Plus, Trash2 } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import { Link } from 'react-router'
import { coveredPieces } from '../../../core/netting/coverage.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { OUT_OF_MODELS } from '../../../core/making/put-in.ts'
import { copyBuild, removeBuild } from '../../../core/records/build-acts.ts'
import { RECORD_KINDS } from '../../../core/records/registry.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { add, edit, editAll, remove, shelve } from '../../../storage/journal.ts'
import { forgetAnswers } from '../../store/answers.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Menu } from '../../ui/menu.tsx'
import { loadDemo } from '../../store/demo.ts'
import { useNetCost } from '../../store/ledger.ts'
import { usePlan } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { withoutShippingWords } from '../../pieces/shipping-words.ts'
import { Button } from '../../ui/button.tsx'
import { ConflictNote } from '../../pieces/conflict-note.tsx'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { CountBoundary } from '../../pieces/count-boundary.tsx'
import { PracticeFiles } from '../../pieces/practice-files.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'

/** It comes when it is opened: its form is no part of the first screen. */
const NewBuild = lazy(async () => ({ default: (await import('./new-build.tsx')).NewBuild }))

export function BuildsScreen() {
  const records = useRecords()
  const { builds } = records
  const current = builds.filter((b) => !b.archived)
  const aside = builds.filter((b) => b.archived)
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
            <Figure>{plural(current.length, 'build')}</Figure> on the table
            {aside.length > 0 && `, ${plural(aside.length, 'build')} set aside`}.
          </>
        )
      }
      actions={
        <>
          {current.length > 1 && (
            <Link className="px-2 text-sm text-accent underline" to="/together">
              Buy for several together
            </Link>
          )}
          <Button look="primary" onClick={begin}>
            <Plus size={16} aria-hidden="true" /> New build
          </Button>
        </>
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
          <PracticeFiles />
          <p className="mt-6 text-sm text-soft">Small parts: keep them away from children under three.</p>
        </div>
      ) : (
        <>
          <ConflictNote />
          <ul className="flex flex-col divide-y divide-rule border-y border-rule">
            {current.map((build) => (
              <CountBoundary key={build.id} build={build}>
                <BuildRow build={build} />
              </CountBoundary>
            ))}
          </ul>
          {aside.length > 0 && (
            <details className="mt-4">
              <summary className="text-sm text-soft">Set aside: {plural(aside.length, 'build')}</summary>
              <ul className="mt-2 divide-y divide-hair border-y border-hair">
                {aside.map((build) => (
                  <li key={build.id} className="flex items-center justify-between gap-3 px-2 py-2">
                    <Link className="underline" to={`/build/${encodeURIComponent(build.id)}/brief`}>
                      {build.name}
                    </Link>
                    <BuildMenu build={build} />
                  </li>
                ))}
              </ul>
            </details>
          )}
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
  const spent = useNetCost(tally)
  if (!tally) return null
  const { coverage, need, shortfall } = tally.result
  const waits =
    need === 0
      ? 'waits for a design'
      : shortfall.size === 0
        ? coverage.onOrder > 0
          ? `waits for ${plural(coverage.onOrder, 'piece')} on order`
          : 'complete: ready to build'
        : purchase?.landed !== undefined && age !== 'ordered'
          ? `waits for an order of ${formatMoney(purchase.landed, build.currency)}${purchase.withoutShipping > 0 ? `, ${withoutShippingWords(purchase.withoutShipping)}` : ''}${age === 'old' ? ', by a plan older than the build: find it again' : age === 'elsewhere' ? ', by a plan from a file: find it again' : ''}`
          : build.rules.sources === 'donors, shelf and shops'
            ? `waits for a plan for ${plural(shortfall.size, 'short item')}`
            : `${plural(coverage.short, 'piece')} short, and its rules allow no purchases`
  return (
    <li className="flex items-center gap-2">
      <Link
        to={`/build/${encodeURIComponent(build.id)}/brief`}
        className="narrow-stack grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-6 px-2 py-4 hover:bg-raised"
      >
        <span>
          <span className="block font-display text-lg font-semibold">{build.name}</span>
          <span className="text-sm text-soft">
            {plural(need, 'piece')}, {coveredPieces(coverage)} covered; {waits}
            {spent > 0 && `; ${formatMoney(spent, build.currency)} paid so far`}
          </span>
        </span>
        <span className="flex flex-col gap-2">
          <StaleNote tally={tally} />
          <CoverageStrip coverage={coverage} height={14} />
          <CoverageLegend coverage={coverage} />
        </span>
      </Link>
      <BuildMenu build={build} />
    </li>
  )
}

/** What can be done with a build as a whole; each one step of undo. */
function BuildMenu({ build }: { build: Build }) {
  const records = useRecords()
  const copy = () => {
    const made = copyBuild(build, records, `b-${fresh()}` as BuildId, fresh)
    void perform(`Copied ${build.name}`, [
      add('builds', [made.build]),
      add('designs', [made.design]),
      add('decisions', made.decisions),
      add('scenarios', made.scenarios),
    ])
  }
  const setAside = () => {
    const { archived, ...bare } = build
    void perform(archived ? `Brought ${build.name} back` : `Set ${build.name} aside`, [
      edit('builds', build, archived ? bare : { ...build, archived: true }),
    ])
  }
  const takeAway = () => {
    const gone = removeBuild(build.id, records)
    void perform(`Removed ${build.name}`, [
      ...RECORD_KINDS.map((kind): Change => remove(kind, gone.remove[kind])),
      ...editAll('copies', records.copies, gone.copies),
      ...editAll('holdings', records.holdings, gone.holdings),
      ...editAll('orders', records.orders, gone.orders),
      ...(gone.lots.length > 0 ? [add('places', [OUT_OF_MODELS]), shelve(gone.lots)] : []),
    ]).then((done) => (done ? forgetAnswers(build.id) : undefined))
  }
  return (
    <Menu
      label={`Acts for ${build.name}`}
      shown={<EllipsisVertical size={16} aria-hidden="true" />}
      entries={[
        { label: 'Copy', icon: <CopyIcon size={14} aria-hidden="true" />, onSelect: copy },
        {
          label: build.archived ? 'Bring back' : 'Set aside',
          icon: <Archive size={14} aria-hidden="true" />,
          onSelect: setAside,
        },
        { label: 'Remove', icon: <Trash2 size={14} aria-hidden="true" />, onSelect: takeAway },
      ]}
    />
  )
}
