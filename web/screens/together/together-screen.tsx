import { ArrowUp, Play, Square } from 'lucide-react'
import { useMemo, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { Build } from '../../../core/build/build.ts'
import { MOST_TOGETHER } from '../../../core/sourcing/joint-purchase.ts'
import { SHARE_BASES, type ShareBasis, type SharedPurchase } from '../../../core/sourcing/joint-shares.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { TogetherNews } from '../../../workers/sourcing.worker.ts'
import { AskMarket } from '../../pieces/ask-market.tsx'
import { useRecords } from '../../store/records.tsx'
import { runTogether, stopTogether, usePurchaseTogether } from '../../store/together.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { Figure, Screen } from '../../ui/screen.tsx'
import { TogetherResult } from './together-result.tsx'
import { useAddress } from '../../ui/address.ts'

const LIMITS = [10, 30, 60, 120].map((s) => ({ value: String(s), label: `at most ${s} s` }))
const BASES = SHARE_BASES.map((b) => ({
  value: b,
  label: b === 'goods' ? 'fees shared by value' : 'fees shared by mass',
}))

/** Why a build is not bought for with others; undefined where it can be. */
const apartBecause = ({ rules }: Build): string | undefined =>
  rules.sources !== 'donors, shelf and shops'
    ? 'its house rules allow no purchases'
    : rules.maxPieces !== null
      ? 'it has a limit on loose pieces'
      : undefined

/** The limits on orders that can be chosen: the tightest of the builds', all of theirs together, none. */
function orderLimits(
  builds: readonly Build[],
): { readonly value: string; readonly label: string; readonly most: number | null }[] {
  const limits = builds.flatMap((b) => b.rules.maxShops ?? [])
  const none = { value: 'any', label: 'any number of orders', most: null }
  if (limits.length === 0) return [none]
  const tightest = Math.min(...limits)
  const sum = limits.reduce((n, l) => n + l, 0)
  return [
    { value: 'tightest', label: `at most ${plural(tightest, 'order')}, the tightest of their rules`, most: tightest },
    ...(limits.length === builds.length && sum > tightest
      ? [{ value: 'sum', label: `at most ${sum}, as many as apart`, most: sum }]
      : []),
    none,
  ]
}

/** The builds that may be bought for, those that are, by the address, and how to choose others. */
function useChosen() {
  const { builds } = useRecords()
  const { params, change } = useAddress()
  const said = params.get('builds')
  const known = useMemo(() => builds.filter((b) => b.archived !== true), [builds])
  const chosen = useMemo(() => {
    const able = known.filter((b) => apartBecause(b) === undefined)
    const asked = said?.split(',').flatMap((id) => able.find((b) => b.id === id) ?? [])
    return (asked ?? able.slice(0, 3)).slice(0, MOST_TOGETHER)
  }, [known, said])
  const choose = (next: readonly Build[]) => {
    change({ builds: next.map((b) => b.id).join(',') })
  }
  return { known, chosen, choose }
}

/** One purchase for several builds. */
export function TogetherScreen() {
  const { known, chosen, choose } = useChosen()
  const [limit, setLimit] = useState('30')
  const [basis, setBasis] = useState<ShareBasis>('goods')
  const limits = orderLimits(chosen)
  const [orders, setOrders] = useState('tightest')
  const { value: atMost = 'any', most = null } = limits.find((l) => l.value === orders) ?? limits[0] ?? {}
  const asked = usePurchaseTogether(chosen, most, basis)
  const { parties = [], pending, why, news, found } = asked
  const account = found?.account.ok ? found.account.value : undefined
  const money = (minor: number) => formatMoney(minor, chosen[0]?.currency ?? 'EUR')
  const ready = chosen.length > 1 && !pending && asked.offers > 0 && why === undefined
  return (
    <Screen
      title="Buy together"
      headline={<TogetherHeadline shared={account?.shared} builds={chosen.length} money={money} />}
      actions={
        news ? (
          <Button onClick={stopTogether}>
            <Square size={14} aria-hidden="true" /> Stop, keep the best
          </Button>
        ) : (
          <>
            <Choice label="Time limit" value={limit} options={LIMITS} onChange={setLimit} />
            <Button
              look="primary"
              disabled={!ready}
              onClick={() => void runTogether(parties, most, { timeLimit: Number(limit), goodEnough: 0 })}
            >
              <Play size={14} aria-hidden="true" /> Find the cheapest for all
            </Button>
          </>
        )
      }
    >
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <span>
          {pending
            ? 'Working out what is to be bought…'
            : asked.offers === 0
              ? 'No offers for the short items yet.'
              : `${plural(asked.offers, 'usable offer')}.`}
        </span>
        <AskMarket items={pending ? [] : asked.wanted}>Ask the market for all of them</AskMarket>
        {limits.length > 1 && (
          <Choice
            label="Orders in all"
            value={atMost}
            options={limits.map(({ value, label }) => ({ value, label }))}
            onChange={setOrders}
          />
        )}
        <Choice label="Shipping and fees are shared" value={basis} options={BASES} onChange={setBasis} />
      </div>
      {asked.problem !== undefined && <Alert>What is to be bought could not be worked out: {asked.problem}.</Alert>}
      {why !== undefined && <Alert>{why}</Alert>}
      {why === undefined && found?.account.ok === false && <Alert>{found.account.error.message}</Alert>}
      <div className="grid min-h-0 flex-1 grid-cols-[19rem_minmax(0,1fr)] gap-6 overflow-auto max-[960px]:grid-cols-1">
        <BuildList
          known={known}
          chosen={chosen}
          shortOf={(id) => parties.find((p) => p.build === id)?.short}
          onChoose={choose}
        />
        <div className="flex min-w-0 flex-col gap-5">
          {news ? (
            <p role="status" className="text-sm">
              {newsWords(news, chosen)}
            </p>
          ) : found && account ? (
            <TogetherResult answer={found.answer} account={account} builds={chosen} money={money} />
          ) : (
            !pending && !asked.current && <NothingFound lastAt={asked.last?.at} />
          )}
        </div>
      </div>
    </Screen>
  )
}

const Alert = ({ children }: { children: ReactNode }) => (
  <p role="alert" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
    {children}
  </p>
)

function TogetherHeadline({
  shared,
  builds,
  money,
}: {
  shared: SharedPurchase | undefined
  builds: number
  money: (minor: number) => string
}) {
  if (shared)
    return (
      <>
        <Figure>{money(shared.total)}</Figure> for <Figure>{plural(shared.builds.length, 'build')}</Figure> in{' '}
        <Figure>{plural(shared.orders.length, 'order')}</Figure>
      </>
    )
  if (builds < 2) return 'Choose two builds or more: one purchase shares shops, parcels and fees.'
  return <>One purchase for {plural(builds, 'build')}: each piece still belongs to its build.</>
}

function NothingFound({ lastAt }: { lastAt: string | undefined }) {
  return lastAt === undefined ? (
    <p className="max-w-xl text-sm text-soft">
      Each build keeps its own house rules: its conditions, its shops, its days, its stand-ins. The cheapest orders are
      found for each by itself and for all together, and counted independently.
    </p>
  ) : (
    <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
      This was last asked on {minuteOf(lastAt)}, for other builds or another state of them or of the offers. Find the
      cheapest again.
    </p>
  )
}

/** How far a run is. */
function newsWords(news: readonly TogetherNews[], builds: readonly Build[]): string {
  const asking = news.findLast((n) => 'apart' in n)?.apart
  if (asking === undefined) return 'Loading the solver…'
  const name = builds[asking]?.name
  if (name !== undefined) return `Finding the cheapest for ${name} by itself; ${asking} of ${builds.length} done.`
  const best = news.findLast((n) => 'together' in n)?.together.plan.total ?? undefined
  return `Finding the cheapest for all together${best === undefined ? '' : `; the best so far comes to ${formatMoney(best, builds[0]?.currency ?? 'EUR')}, points of compromise included`}.`
}

/** The builds, those bought for together first and in their order. */
function BuildList({
  known,
  chosen,
  shortOf,
  onChoose,
}: {
  known: readonly Build[]
  chosen: readonly Build[]
  shortOf: (id: Build['id']) => number | undefined
  onChoose: (next: readonly Build[]) => void
}) {
  const others = known.filter((b) => !chosen.includes(b))
  return (
    <section aria-label="Builds" className="text-sm">
      <h2 className="text-base font-semibold">Builds</h2>
      <p className="text-xs text-soft">
        The shelf goes to them in this order: what one can use, those after it do not count on.
      </p>
      <ul>
        {[...chosen, ...others].map((build) => {
          const why = apartBecause(build)
          const at = chosen.indexOf(build)
          const short = shortOf(build.id)
          return (
            <li key={build.id} className="flex items-start gap-2 border-b border-hair py-2">
              <div className="min-w-0 flex-1">
                {why === undefined && (at >= 0 || chosen.length < MOST_TOGETHER) ? (
                  <Tick
                    checked={at >= 0}
                    onChange={(on) => {
                      onChoose(on ? [...chosen, build] : chosen.filter((b) => b !== build))
                    }}
                  >
                    {build.name}
                  </Tick>
                ) : (
                  <span className="pl-7">{build.name}</span>
                )}
                <p className="pl-7 text-xs text-soft">
                  {why ??
                    (at < 0 && chosen.length >= MOST_TOGETHER
                      ? `${MOST_TOGETHER} builds at most`
                      : at >= 0 && short !== undefined
                        ? `${plural(short, 'piece')} short`
                        : '')}{' '}
                  <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/buy`}>
                    by itself
                  </Link>
                </p>
              </div>
              {at > 0 && (
                <Button
                  aria-label={`Put ${build.name} before ${chosen[at - 1]?.name ?? ''}`}
                  onClick={() => {
                    const next = [...chosen]
                    next.splice(at - 1, 2, build, chosen[at - 1] ?? build)
                    onChoose(next)
                  }}
                >
                  <ArrowUp size={14} aria-hidden="true" />
                </Button>
              )}
            </li>
          )
        })}
      </ul>
    </section>
  )
}
