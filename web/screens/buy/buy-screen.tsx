import { useMutation } from '@tanstack/react-query'
import { useLiveQuery } from 'dexie-react-hooks'
import { Play, RefreshCw, Square } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { toast } from 'sonner'
import type { KeptPlan } from '../../../core/planning/kept-plan.ts'
import { openRisks } from '../../../core/planning/mock-up.ts'
import { itemOf, sourcingTask } from '../../../core/planning/sourcing-problem.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { Tally } from '../../../core/planning/tally.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { db } from '../../data/database.ts'
import { fetchOffers, OFFERS_FETCHED } from '../../data/market-client.ts'
import { usePurchase, useRecords, type Purchase } from '../../data/records.tsx'
import { useTally } from '../../data/tallies.ts'
import { cancelRun, runSourcing, useRun } from '../../data/sourcing-run.ts'
import { ImportDialog } from '../../import/import-dialog.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { NoBuild } from '../../ui/no-build.tsx'
import { Figure, plural, Screen } from '../../ui/screen.tsx'
import { PlanView } from './plan-view.tsx'
import { RunProgress } from './run-progress.tsx'
import { ShopRules } from './shop-rules.tsx'
import { Unavailable } from './unavailable.tsx'

const LIMITS = [10, 30, 60, 120].map((s) => ({ value: String(s), label: `at most ${s} s` }))

export function BuyScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return <Buy snapshot={tally.snapshot} result={tally.result} />
}

function Buy({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { build } = snapshot
  const records = useRecords()
  const run = useRun(build.id)
  const [limit, setLimit] = useState('30')
  const [importing, setImporting] = useState(false)
  const fetched = useLiveQuery(() => db.settings.get(OFFERS_FETCHED))
  const { shops, offers } = records
  const task = useMemo(() => sourcingTask(snapshot, result, shops, offers), [snapshot, result, shops, offers])
  const purchase = usePurchase(build)
  const kept = purchase?.kept
  const stale = useMemo(
    () => kept !== undefined && JSON.stringify(kept.problem) !== JSON.stringify(task.problem),
    [kept, task],
  )
  const market = useMutation({
    // The market may run on this machine: being offline elsewhere is no reason to wait.
    networkMode: 'always',
    mutationFn: () => fetchOffers(task.wanted, records),
    onSuccess: (answer) => {
      if (answer.ok) toast.success(`${plural(answer.value.offers, 'offer')} from ${plural(answer.value.shops, 'shop')}`)
      else toast.error(answer.error.message, { duration: 15_000 })
    },
  })
  const allowed = build.rules.sources === 'donors, shelf and shops'
  const start = () => void runSourcing(build.id, task, Number(limit))
  const running = run !== undefined
  return (
    <Screen
      title="Buy"
      headline={
        <BuyHeadline
          purchase={purchase}
          stale={stale}
          result={result}
          currency={build.currency}
          offers={task.problem.offers.length}
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
              <Choice label="Time limit" value={limit} options={LIMITS} onChange={setLimit} />
              <Button look="primary" disabled={!allowed || task.problem.lines.length === 0} onClick={start}>
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
          <Link className="text-accent underline" to={`/build/${build.id}/brief`}>
            Change the rules
          </Link>
        </p>
      )}
      <OpenRisks snapshot={snapshot} />
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <span>
          {task.problem.offers.length === 0
            ? 'No offers for the short items yet.'
            : `${plural(task.problem.offers.length, 'usable offer')} from ${plural(new Set(task.problem.offers.map((o) => o.shop)).size, 'shop')}${fetched ? `, market asked ${fetched.value.slice(0, 16).replace('T', ' ')} UTC` : ''}.`}
        </span>
        <Button
          look={task.problem.offers.length === 0 ? 'primary' : 'plain'}
          disabled={market.isPending || result.shortfall.size === 0}
          onClick={() => {
            market.mutate()
          }}
        >
          <RefreshCw size={14} aria-hidden="true" />{' '}
          {market.isPending ? 'Asking the market…' : task.problem.offers.length === 0 ? 'Ask the market' : 'Ask again'}
        </Button>
        <Button
          onClick={() => {
            setImporting(true)
          }}
        >
          Import offers
        </Button>
        {market.data && !market.data.ok && (
          <span role="alert" className="text-bad">
            {market.data.error.message}
          </span>
        )}
      </div>
      {task.otherCurrency > 0 && (
        <p className="text-sm text-warn">
          {plural(task.otherCurrency, 'offer or asking price', 'offers or asking prices')} in another currency than{' '}
          {build.currency} are left out.
        </p>
      )}
      {run && <RunProgress run={run} currency={build.currency} />}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_21rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
        <div className="flex min-w-0 flex-col gap-5">
          {purchase?.landed !== undefined && <PlanView purchase={purchase} snapshot={snapshot} stale={stale} />}
          {kept && kept.plan.total === null && <NoPlan kept={kept} />}
          <Unavailable lines={kept && !stale ? kept.unavailable : task.unavailable} />
          {!kept && task.problem.offers.length > 0 && !running && (
            <p className="max-w-xl text-sm text-soft">
              Every choice is weighed at once: which offers, which shops, whether a wanted donor copy pays. The result
              is checked by an independent count before you see it.
            </p>
          )}
        </div>
        <ShopRules build={build} offers={task.problem.offers} />
      </div>
      <ImportDialog kind="offers" build={build.id} open={importing} onOpenChange={setImporting} />
    </Screen>
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
      <Link className="text-accent underline" to={`/build/${build.id}/design?view=trial`}>
        what can be tried now
      </Link>
    </p>
  )
}

function BuyHeadline({
  purchase,
  stale,
  result,
  currency,
  offers,
}: {
  purchase: Purchase | undefined
  stale: boolean
  result: Tally
  currency: string
  offers: number
}) {
  if (result.shortfall.size === 0) return <>Nothing is short: there is nothing to buy.</>
  const plan = purchase?.kept.plan
  if (plan && purchase.landed !== undefined) {
    return (
      <>
        <Figure>{formatMoney(purchase.landed, currency)}</Figure> in{' '}
        <Figure>{plural(purchase.orders.length, 'order')}</Figure>
        {plan.sets.length > 0 && (
          <>
            {' '}
            and{' '}
            {plural(
              plan.sets.reduce((n, s) => n + s.copies, 0),
              'donor copy',
              'donor copies',
            )}
          </>
        )}
        {plan.status === 'optimal'
          ? ': proven, nothing within the rules costs less.'
          : plan.gap === null
            ? ': no proof yet how much less it could be.'
            : `: at most ${(plan.gap * 100).toFixed(2)}% above the least possible.`}
        {stale && ' Something changed since: find it again.'}
      </>
    )
  }
  if (plan) return <>No plan fits the rules: see what stands in the way.</>
  return (
    <>
      <Figure>{plural(result.coverage.short, 'piece')}</Figure> in {plural(result.shortfall.size, 'item')} are to be
      bought
      {offers === 0 ? '; first ask the market who has them.' : '.'}
    </>
  )
}

function NoPlan({ kept }: { kept: KeptPlan }) {
  const records = useRecords()
  return (
    <section className="border-l-4 border-bad bg-bad-wash px-4 py-3 text-sm">
      <h2 className="font-semibold">
        {kept.plan.status === 'infeasible' ? 'No plan can exist within the rules' : 'No plan was found in time'}
      </h2>
      <ul className="mt-1 list-disc pl-5">
        {kept.plan.unreachable.slice(0, 30).map((u) => (
          <li key={u.line + u.detail}>
            {u.line ? `${records.nameItem(itemOf(u.line)).name}: ` : ''}
            {u.detail}
          </li>
        ))}
      </ul>
      <p className="mt-2">
        Allow more shops, more time or another condition in the Brief, or free the shops you avoid or insist on.
      </p>
    </section>
  )
}
