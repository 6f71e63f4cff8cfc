import { withoutShippingWords } from '../../pieces/shipping-words.ts'
import { ArrowRight } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { buildCost } from '../../../core/costs/build-cost.ts'
import { permissionConflicts } from '../../../core/design/provenance.ts'
import { coveredPieces } from '../../../core/netting/coverage.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { usePlan, type Purchase } from '../../store/purchases.ts'
import { useTally } from '../../store/tallies.ts'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { CommitInput, Field } from '../../ui/fields.tsx'
import { NoBuild } from '../../pieces/no-build.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { Relaxations } from './relaxations.tsx'
import { Decisions } from './decisions.tsx'
import { LookoutNote } from '../../pieces/lookout-note.tsx'
import { FirstSteps } from './first-steps.tsx'
import { HouseRules } from './house-rules.tsx'
import { ModuleTable } from './module-table.tsx'
import { nextAction } from './next-action.ts'
import { ProvenanceFields } from './provenance-fields.tsx'

/** How far the orders of the last plan are. */
const orderedWords = (ordered: Purchase['ordered']): string =>
  ordered !== undefined && ordered.drafts > 0
    ? '; some orders of the last plan are still drafts'
    : '; what the last plan bought is ordered'

export function BriefScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const { purchase, age } = usePlan(tally)
  if (!tally) return <NoBuild />
  const { snapshot, result, now } = tally
  const { design } = snapshot
  const { build } = now
  const old = age === 'old' || age === 'elsewhere'
  const ordered = age === 'ordered'
  // What is ordered is on Parcels, with what it has cost so far.
  const cost =
    purchase?.landed === undefined || ordered ? undefined : buildCost(snapshot.build, design, result, purchase.landed)
  const conflicts = permissionConflicts(build.purpose, build.provenance, tally.now.design.modules)
  const action = nextAction(
    snapshot,
    result,
    purchase?.landed === undefined || ordered ? undefined : purchase.kept.plan,
    old,
  )
  const owned = snapshot.copies.filter((c) => c.state !== 'to-buy').length
  const modules = design.modules.filter((m) => m.repeats > 0 && !m.later)
  return (
    <Screen
      title="Brief"
      headline={
        result.need === 0 ? (
          'Nothing is needed yet. Three things make a build: donors, shelf and design, in any order.'
        ) : (
          <>
            <Figure>{plural(result.need, 'piece')}</Figure> in {plural(modules.length, 'module')}:{' '}
            <Figure>{formatNumber(coveredPieces(result.coverage))}</Figure> covered by{' '}
            {plural(owned, 'donor copy', 'donor copies')} and the shelf,{' '}
            <Figure>{formatNumber(result.coverage.short)} short</Figure> in {plural(result.shortfall.size, 'item')}
            {ordered && orderedWords(purchase?.ordered)}
            {purchase?.landed !== undefined && !ordered && (
              <>
                ; finishing costs <Figure>{formatMoney(purchase.landed, build.currency)}</Figure>
                {cost && cost.total > purchase.landed && (
                  <>
                    , with {cost.instructions > 0 && 'the instructions'}
                    {cost.instructions > 0 && cost.prints > 0 && ' and '}
                    {cost.prints > 0 &&
                      plural(result.prints + result.printRuns.reduce((n, r) => n + r.qty, 0), 'custom print')}{' '}
                    {formatMoney(cost.total, build.currency)} in all
                  </>
                )}
                {purchase.withoutShipping > 0 && `, ${withoutShippingWords(purchase.withoutShipping)}`}
                {age === 'old' && ' by a plan that is older than the build: find the orders again'}
                {age === 'elsewhere' && ' by a plan from a file: find the orders again'}
              </>
            )}
            .
          </>
        )
      }
      actions={
        <Link
          to={`/build/${encodeURIComponent(id)}/${action.step}`}
          className="inline-flex items-center gap-2 rounded-sm bg-accent px-4 py-2 text-sm font-semibold text-accent-ink hover:brightness-110"
        >
          {action.label} <ArrowRight size={16} aria-hidden="true" />
        </Link>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)] gap-8 max-[960px]:block max-[960px]:overflow-auto">
        <section className="flex min-h-0 flex-col gap-3 overflow-auto max-[960px]:overflow-visible">
          {conflicts.slice(0, 10).map(({ purpose, author, licence, module }) => (
            <p key={module ?? ''} role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
              The build is meant to {purpose === 'sell' ? 'be sold' : 'be shared'}, but the licence of{' '}
              {author || 'its plan’s author'}
              {module !== undefined && ` for ${module}`} does not permit that: “{licence || 'no licence noted'}”. Ask
              the author, or change what the build is for.
            </p>
          ))}
          {cost && cost.over > 0 && (
            <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
              {formatMoney(cost.total, build.currency)} in all is over budget by{' '}
              {formatMoney(cost.over, build.currency)}
              {old && ', by a plan older than the build'}. See below what a relaxed rule would save, or raise the
              budget.
            </p>
          )}
          <StaleNote tally={tally} />
          {result.need === 0 ? (
            <FirstSteps snapshot={tally.now} />
          ) : (
            <>
              <CoverageStrip coverage={result.coverage} height={26} />
              <CoverageLegend coverage={result.coverage} />
            </>
          )}
          <LookoutNote snapshot={snapshot} />
          {result.estimated > 0 && (
            <p className="text-sm text-warn">{plural(result.estimated, 'covered piece')} rest on estimated counts.</p>
          )}
          {design.modules.length > 0 && <ModuleTable design={design} result={result} />}
          <Relaxations snapshot={snapshot} result={result} />
        </section>
        <section className="flex min-h-0 flex-col gap-4 overflow-auto border-l border-rule pr-1 pb-2 pl-8 max-[960px]:mt-6 max-[960px]:overflow-visible max-[960px]:border-0 max-[960px]:pl-0">
          <h2 className="text-lg font-semibold">House rules</h2>
          <HouseRules build={build} folded={result.need === 0} />
          <Decisions build={build} />
          <h2 className="text-lg font-semibold">Where the plan comes from</h2>
          <ProvenanceFields build={build} />
          <Field label="Name">
            {(fieldId) => (
              <CommitInput
                id={fieldId}
                value={build.name}
                maxLength={120}
                onCommit={(name) => {
                  if (name.trim() !== '')
                    void perform(`Renamed the build to ${name.trim()}`, [
                      edit('builds', build, { ...build, name: name.trim() }),
                    ])
                }}
              />
            )}
          </Field>
          <Field label="Note">
            {(fieldId) => (
              <CommitInput
                id={fieldId}
                value={build.note}
                maxLength={4000}
                onCommit={(note) =>
                  void perform('Changed the note', [edit('builds', build, { ...build, note })], { quiet: true })
                }
              />
            )}
          </Field>
        </section>
      </div>
    </Screen>
  )
}
