import { Play, Square } from 'lucide-react'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { openRisks } from '../../../core/studies/mock-up.ts'
import type { Build } from '../../../core/build/build.ts'
import { buildCost } from '../../../core/costs/build-cost.ts'
import { pieceWanted } from '../../../core/sourcing/plan-pieces.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Design } from '../../../core/design/design.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import {
  NO_TASK,
  planAge,
  usePurchase,
  usePurchaseTask,
  type Purchase,
  type PurchaseTask,
} from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally, type BuildTally } from '../../store/tallies.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import { cancelRun, runSourcing, useRun } from '../../store/sourcing-run.ts'
import { withoutShippingWords } from '../../pieces/shipping-words.ts'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { useActFromAddress, useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { NoBuild } from '../../pieces/no-build.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { BesideOrders } from './beside-orders.tsx'
import { CopiesPanel } from './copies-panel.tsx'
import { FewMorePanel } from './few-more-panel.tsx'
import { FrontierPanel } from './frontier-panel.tsx'
import { MakeOrders } from './make-orders.tsx'
import { MarketBar, TIME_LIMIT } from './market-bar.tsx'
import { OffersSince } from './offers-since.tsx'
import { PlanView } from './plan-view.tsx'
import { RarePanel } from './rare-panel.tsx'
import { RulesPanel } from './rules-panel.tsx'
import { RunProgress } from './run-progress.tsx'
import { ScenariosPanel } from './scenarios-panel.tsx'
import { ShopRules } from './shop-rules.tsx'
import { Unavailable } from './unavailable.tsx'

/** Gaps at which a plan is good enough, by their words. */
const ENOUGH = [
  { value: '0', label: 'until it is proven' },
  { value: '0.001', label: 'or good to 0.1%' },
  { value: '0.005', label: 'or good to 0.5%' },
  { value: '0.02', label: 'or good to 2%' },
  { value: '0.06', label: 'or good to 6%' },
]

const LIMITS = [10, 30, 60, 120].map((s) => ({ value: String(s), label: `at most ${s} s` }))

export function BuyScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return <Buy tally={tally} />
}

function Buy({ tally }: { tally: BuildTally }) {
  const { snapshot, result, now, stale, count } = tally
  const { build } = snapshot
  const run = useRun(build.id)
  const [limit, setLimit] = useState('30')
  const [enough, setEnough] = useState('0')
  const [importing, setImporting] = useDialogFromAddress('import')
  const patience = { timeLimit: Number(limit), goodEnough: Number(enough) }
  const asked = usePurchaseTask(tally)
  const task = asked.task ?? NO_TASK
  const { offers } = task
  const purchase = usePurchase(now.build)
  const kept = purchase?.kept
  const age = planAge(purchase, asked)
  const ordered = age === 'ordered'
  const old = age === 'old' || ordered
  const allowed = build.rules.sources === 'donors, shelf and shops'
  const waiting = stale || asked.pending
  const start = () => void runSourcing(count, patience)
  const ready = allowed && !waiting && task.lines > 0
  useActFromAddress('solve', start, ready)
  const running = run !== undefined
  return (
    <Screen
      title="Buy"
      headline={
        <BuyHeadline
          purchase={purchase}
          old={old}
          ordered={ordered}
          result={result}
          build={build}
          design={snapshot.design}
          offers={offers}
        />
      }
      actions={
        <>
          {running ? (
            <Button
              onClick={() => {
                cancelRun(build.id)
              }}
            >
              <Square size={14} aria-hidden="true" /> Stop, keep the best
            </Button>
          ) : (
            <>
              <Choice id={TIME_LIMIT} label="Time limit" value={limit} options={LIMITS} onChange={setLimit} />
              <Choice label="Good enough" value={enough} options={ENOUGH} onChange={setEnough} />
              <Button look="primary" disabled={!ready} onClick={start}>
                <Play size={14} aria-hidden="true" /> {kept ? 'Find the cheapest again' : 'Find the cheapest orders'}
              </Button>
            </>
          )}
        </>
      }
    >
      {!allowed && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          The house rules of this build allow no purchases.{' '}
          <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/brief`}>
            Change the rules
          </Link>
        </p>
      )}
      <StaleNote tally={tally} />
      {asked.problem !== undefined && (
        <p
          role="alert"
          className="flex flex-wrap items-center gap-3 border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm"
        >
          <span className="wrap-anywhere">What is to be bought could not be worked out: {asked.problem}.</span>
          <Button onClick={asked.retry}>Try again</Button>
        </p>
      )}
      <OpenRisks snapshot={snapshot} />
      <MarketBar
        asked={asked}
        build={build}
        waiting={waiting || result.shortfall.size === 0}
        onImport={() => {
          setImporting(true)
        }}
      />
      {run && <RunProgress run={run} currency={build.currency} />}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_21rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
        <Answer
          tally={tally}
          purchase={purchase}
          old={old}
          ordered={ordered}
          asked={asked}
          patience={patience}
          running={running}
        />
        <ShopRules build={now.build} itemsOf={task.itemsOf} />
      </div>
      <ImportDialog kind="offers" build={build.id} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}

/** The kept plan, and what deciding otherwise would come to. */
function Answer({
  tally,
  purchase,
  old,
  ordered,
  asked,
  patience,
  running,
}: {
  tally: BuildTally
  purchase: Purchase | undefined
  old: boolean
  /** It was ordered: what it answers is an earlier state. */
  ordered: boolean
  asked: PurchaseTask
  /** For a plan; further questions have three times as much time. */
  patience: Patience
  running: boolean
}) {
  const { snapshot } = tally
  const { build } = snapshot
  const task = asked.task ?? NO_TASK
  const kept = purchase?.kept
  return (
    <div className="flex min-w-0 flex-col gap-5">
      {purchase?.fault !== undefined && (
        <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm wrap-anywhere">
          The kept plan does not hold: {purchase.fault}. It may have come so in a file. Find the cheapest orders again.
        </p>
      )}
      {purchase?.landed !== undefined && asked.task && !ordered && (
        <OffersSince tally={tally} purchase={purchase} taskKey={asked.task.key} timeLimit={patience.timeLimit} />
      )}
      {purchase?.landed !== undefined && (
        <MakeOrders purchase={purchase} build={tally.now.build} result={tally.result} old={old || asked.pending} />
      )}
      {purchase?.landed !== undefined && (
        <PlanView
          purchase={purchase}
          build={build}
          copies={snapshot.copies}
          old={old}
          ordered={ordered}
          loose={asked.pending ? undefined : task.loose}
        />
      )}
      <BesideOrders build={build} result={tally.result} count={tally.count} />
      <BesideOthers build={build} />
      <Choices tally={tally} purchase={purchase} old={old} asked={asked} patience={patience} />
      {kept && kept.plan.total === null && <NoPlan purchase={purchase} old={old} />}
      <Unavailable
        lines={kept && !old && purchase.ownProof && purchase.fault === undefined ? kept.unavailable : task.unavailable}
        planned={purchase?.landed !== undefined && !old}
      />
      {!kept && task.offers > 0 && !running && (
        <p className="max-w-xl text-sm text-soft">
          Every choice is weighed at once: which offers, which shops, whether a wanted donor copy pays. The result is
          checked by an independent count before you see it.
        </p>
      )}
    </div>
  )
}

/** The way to one purchase for this build and others that buy as well. */
function BesideOthers({ build }: { build: Build }) {
  const { builds } = useRecords()
  const others = builds.filter(
    (b) => b.id !== build.id && b.archived !== true && b.rules.sources === 'donors, shelf and shops',
  )
  if (others.length === 0 || build.rules.sources !== 'donors, shelf and shops') return null
  const ids = [build, ...others].map((b) => b.id).join(',')
  return (
    <p className="text-sm">
      {plural(others.length, 'other build')} {others.length === 1 ? 'buys' : 'buy'} from shops as well:{' '}
      <Link className="text-accent underline" to={`/together?builds=${encodeURIComponent(ids)}`}>
        what does buying together save?
      </Link>
    </p>
  )
}

/** What deciding otherwise would come to, question by question. */
function Choices({
  tally,
  purchase,
  old,
  asked: { task, pending },
  patience,
}: {
  tally: BuildTally
  purchase: Purchase | undefined
  old: boolean
  asked: PurchaseTask
  patience: Patience
}) {
  const { snapshot, result, now, count } = tally
  const more = { ...patience, timeLimit: 3 * patience.timeLimit }
  const current = old ? undefined : purchase
  return (
    <>
      {current && <FrontierPanel purchase={current} build={now.build} count={count} patience={more} />}
      {current?.landed !== undefined && current.ownProof && (
        <RulesPanel tally={tally} purchase={current} patience={more} />
      )}
      {task && !pending && task.offers > 0 && (
        <>
          <CopiesPanel
            task={task}
            purchase={current}
            build={now.build}
            snapshot={snapshot}
            result={result}
            count={count}
            patience={more}
          />
          {current?.landed !== undefined && <FewMorePanel purchase={current} snapshot={snapshot} />}
          <RarePanel tally={tally} purchase={current} itemsOf={task.itemsOf} patience={more} />
          <ScenariosPanel tally={tally} task={task} purchase={current} patience={more} />
        </>
      )}
    </>
  )
}

/** Modules that should be tried before money is spent on them. */
function OpenRisks({ snapshot: { build, design } }: { snapshot: Snapshot }) {
  const open = openRisks(design)
  if (open.length === 0) return null
  return (
    <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
      Never test built, with open risks:{' '}
      {open.map(({ module, risks }) => `${module.name} (${risks.map((r) => r.kind).join(', ')})`).join('; ')}. Try
      before you buy:{' '}
      <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/design?view=trial`}>
        what can be tried now
      </Link>
    </p>
  )
}

function BuyHeadline({
  purchase,
  old,
  ordered,
  result,
  build,
  design,
  offers,
}: {
  purchase: Purchase | undefined
  old: boolean
  ordered: boolean
  result: Tally
  build: Build
  design: Design
  offers: number
}) {
  if (result.shortfall.size === 0 && !purchase) return <>Nothing is short: there is nothing to buy.</>
  const plan = purchase?.kept.plan
  if (ordered && purchase?.landed !== undefined)
    return (
      <>
        The plan of <Figure>{formatMoney(purchase.landed, build.currency)}</Figure>{' '}
        {purchase.ordered && purchase.ordered.drafts > 0
          ? `is being ordered: ${plural(purchase.ordered.placed, 'order')} of ${purchase.ordered.placed + purchase.ordered.drafts} placed`
          : 'is ordered'}
        {purchase.ordered && purchase.ordered.drafts > 0 ? (
          '; the others are drafts on Parcels.'
        ) : result.shortfall.size === 0 ? (
          ': nothing is short beside it.'
        ) : (
          <>
            ; <Figure>{plural(result.coverage.short, 'piece')}</Figure> in {plural(result.shortfall.size, 'item')} are
            short beside it.
          </>
        )}
      </>
    )
  if (plan && purchase.landed !== undefined) {
    const copies = plan.sets.reduce((n, s) => n + s.copies, 0)
    const cost = buildCost(build, design, result, purchase.landed)
    return (
      <>
        <Figure>{formatMoney(purchase.landed, build.currency)}</Figure> in{' '}
        <Figure>{plural(purchase.orders.length, 'order')}</Figure>
        {copies > 0 && <> and {plural(copies, 'donor copy', 'donor copies')}</>}
        {old ? ', by a plan older than the build or the offers: find it again.' : `: ${proofWords(purchase)}.`}
        {cost.over > 0 && (
          <span className="text-bad">
            {' '}
            Over budget by {formatMoney(cost.over, build.currency)}
            {cost.total !== purchase.landed &&
              ` with all that belongs to the build, ${formatMoney(cost.total, build.currency)}`}
            .
          </span>
        )}
      </>
    )
  }
  if (purchase?.fault !== undefined) return <>The kept plan does not hold: find the orders again.</>
  if (plan)
    return old ? (
      <>The last search found no plan, for an earlier state of the build: find the orders again.</>
    ) : !purchase.ownProof ? (
      <>A file says that no plan was found: find the orders again.</>
    ) : (
      <>No plan fits the rules: see what stands in the way.</>
    )
  return (
    <>
      <Figure>{plural(result.coverage.short, 'piece')}</Figure> in {plural(result.shortfall.size, 'item')} are to be
      bought
      {offers === 0 ? '; first ask the market who has them.' : '.'}
    </>
  )
}

/** What is known of how good a plan is; pieces that cannot be had are in no plan. */
function proofWords({ kept: { plan }, ownProof, withoutShipping }: Purchase): string {
  if (ownProof === undefined) return 'looking up how it was found'
  if (!ownProof) return 'checked, but found elsewhere; find it again to prove it'
  // What is not known of shipping may change everything.
  if (withoutShipping > 0) return `${withoutShippingWords(withoutShipping)}: nothing is proven`
  if (plan.status === 'optimal') return 'proven, nothing within the rules costs less'
  return plan.gap === null
    ? 'no proof yet how much less it could be'
    : `at most ${(plan.gap * 100).toFixed(2)}% above the least possible`
}

function NoPlan({ purchase: { kept, ownProof }, old }: { purchase: Purchase; old: boolean }) {
  const records = useRecords()
  if (!ownProof)
    return (
      <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
        {ownProof === false && 'A file says that a search found no plan; that is not believed. Find the orders again.'}
      </p>
    )
  return (
    <section className="border-l-4 border-bad bg-bad-wash px-4 py-3 text-sm">
      <h2 className="font-semibold">
        {kept.plan.status === 'infeasible' ? 'No plan can exist within the rules' : 'No plan was found in time'}
        {old && ', for an earlier state of the build'}
      </h2>
      <ul className="mt-1 list-disc pl-5">
        {kept.plan.unreachable.slice(0, 30).map((u) => (
          <li key={u.line + u.detail}>
            {u.line ? `${records.nameItem(pieceWanted(u)).name}: ` : ''}
            {u.detail}
          </li>
        ))}
      </ul>
      <p className="mt-2">
        Allow more shops, more time or another condition in the Brief, or loosen what you say of the shops.
      </p>
    </section>
  )
}
