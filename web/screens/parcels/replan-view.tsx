import { Play, Square } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { orderName, stateOf, type Order } from '../../../core/orders/order.ts'
import { mayThrowIn, NOTHING_TO_BUY, replanOf, throwingInSaves, type Replan } from '../../../core/orders/replan.ts'
import type { KeptPlan } from '../../../core/sourcing/kept-plan.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { useOrders } from '../../store/orders.ts'
import { NO_TASK, usePurchaseTask } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { keepReplan, REPLAN, replanKey, runReplan } from '../../store/replan.ts'
import type { BuildTally } from '../../store/tallies.ts'
import { AskMarket } from '../../pieces/ask-market.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { Button } from '../../ui/button.tsx'
import { Tick } from '../../ui/fields.tsx'

const PATIENCE = { timeLimit: 30, goodEnough: 0 }

/** What is still short is planned anew, placed orders fixed; unpaid ones may be thrown in. */
export function ReplanView({ tally, today }: { tally: BuildTally; today: string }) {
  const { build } = tally.snapshot
  const records = useRecords()
  const orders = useOrders(build.id)
  const unpaid = orders.filter((o) => mayThrowIn(o) && o.builds.length === 1)
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const thrown = unpaid.filter((o) => chosen.has(o.id))
  const asked = usePurchaseTask(tally)
  const task = asked.task ?? NO_TASK
  const { last, news } = REPLAN.useAnswer(build.id)
  const waiting = tally.stale || asked.pending
  const current = !waiting && last?.key === replanKey(task.key, thrown) ? last : undefined
  const { short } = tally.result.coverage
  const allowed = build.rules.sources === 'donors, shelf and shops'
  return (
    <div className="flex min-h-0 max-w-3xl flex-1 flex-col gap-4 overflow-auto text-sm">
      <StaleNote tally={tally} />
      <p>
        {short === 0
          ? 'Nothing is short beside what is here and on order.'
          : `${plural(short, 'piece')} in ${plural(tally.result.shortfall.size, 'item')} are short beside what is here and on order.`}{' '}
        Placed orders stay as they are; house rules and offers are those of now.
      </p>
      {!allowed && <p className="text-warn">The house rules of this build allow no purchases.</p>}
      {unpaid.length > 0 && (
        <section aria-label="Not paid yet">
          <h2 className="text-base font-semibold">Not paid yet: throw them in?</h2>
          <p className="text-xs text-soft">
            What is thrown in is planned again with the rest, and cancelled if you keep that.
          </p>
          {unpaid.map((order) => (
            <Tick
              key={order.id}
              checked={chosen.has(order.id)}
              onChange={(on) => {
                setChosen(new Set(on ? [...chosen, order.id] : [...chosen].filter((id) => id !== order.id)))
              }}
            >
              {orderName(order)}, {stateOf(order)}
            </Tick>
          ))}
        </section>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <AskMarket items={waiting ? [] : task.wanted}>Ask the market</AskMarket>
        {news ? (
          <Button
            onClick={() => {
              REPLAN.cancel(build.id)
            }}
          >
            <Square size={14} aria-hidden="true" /> Stop, keep the best
          </Button>
        ) : (
          <Button
            look="primary"
            disabled={!allowed || waiting || (short === 0 && thrown.length === 0)}
            onClick={() => void runReplan(tally.count, task.key, thrown, PATIENCE)}
          >
            <Play size={14} aria-hidden="true" /> Plan what is short
          </Button>
        )}
        {news && (
          <span role="status">
            {news.at(-1)?.of === 'open' ? 'Planning with the orders thrown in…' : 'Planning what is short…'}
          </span>
        )}
      </div>
      {current ? (
        <Found
          answer={current.answer}
          tally={tally}
          thrown={thrown}
          onKeep={(kept, orders) => void keepReplan(tally.count, kept, orders, records.copies, today)}
        />
      ) : (
        last && !news && <p className="text-soft">Last asked on {minuteOf(last.at)}, of another state: plan again.</p>
      )}
    </div>
  )
}

function Found({
  answer: { fixed, open },
  tally,
  thrown,
  onKeep,
}: {
  answer: { readonly fixed: KeptPlan | null; readonly open: KeptPlan | null }
  tally: BuildTally
  thrown: readonly Order[]
  onKeep: (kept: KeptPlan, thrown: readonly Order[]) => void
}) {
  const { build } = tally.snapshot
  const { plans } = useRecords()
  const inFigures = (kept: KeptPlan | null) => (kept ? replanOf(build, kept) : NOTHING_TO_BUY)
  const [beside, together] = [inFigures(fixed), inFigures(open)]
  const money = (minor: number) => formatMoney(minor, build.currency)
  const saves = beside && together && thrown.length > 0 ? throwingInSaves(beside, together, thrown) : undefined
  const keptOne = (plan: KeptPlan | null) =>
    plan !== null && plans.some((p) => p.id === build.id && p.madeAt === plan.madeAt)
  return (
    <section aria-label="What planning anew comes to" className="flex flex-col gap-3">
      <p className="border-l-4 border-accent bg-mark px-3 py-2">
        {beside
          ? `With the orders as they are: ${replanWords(beside, money)}.`
          : 'No plan for what is short fits the rules.'}
        {fixed && beside && (
          <span className="mt-2 flex flex-wrap items-center gap-3">
            <Button
              disabled={keptOne(fixed)}
              onClick={() => {
                onKeep(fixed, [])
              }}
            >
              {keptOne(fixed) ? 'Kept' : 'Keep this plan'}
            </Button>
            {keptOne(fixed) && <ToBuy build={build.id} />}
          </span>
        )}
      </p>
      {thrown.length > 0 && (
        <p className="border-l-4 border-accent bg-mark px-3 py-2">
          {together
            ? `With ${plural(thrown.length, 'order')} thrown in: ${replanWords(together, money)}.`
            : 'No plan with them thrown in fits the rules.'}
          {saves !== undefined && (
            <b>
              {' '}
              {saves > 0
                ? `That saves ${money(saves)}.`
                : saves < 0
                  ? `That costs ${money(-saves)} more.`
                  : 'That saves nothing.'}
            </b>
          )}
          {open && together && (
            <span className="mt-2 flex">
              <Button
                disabled={keptOne(open)}
                onClick={() => {
                  onKeep(open, thrown)
                }}
              >
                Keep this plan, cancel {plural(thrown.length, 'order')}
              </Button>
            </span>
          )}
        </p>
      )}
    </section>
  )
}

const ToBuy = ({ build }: { build: string }) => (
  <Link className="text-accent underline" to={`/build/${encodeURIComponent(build)}/buy`}>
    See it on Buy, and make its orders
  </Link>
)

/** What a plan comes to, in words. */
function replanWords(
  { orders, copies, cost, standIns, missingLines, missingPieces }: Replan,
  money: (minor: number) => string,
): string {
  if (orders + copies === 0 && missingLines === 0) return 'nothing more is to be bought'
  return [
    `${plural(orders, 'new order')}${copies > 0 ? ` and ${plural(copies, 'donor copy', 'donor copies')}` : ''}, ${money(cost)}`,
    ...(standIns > 0 ? [`${plural(standIns, 'piece')} by stand-ins`] : []),
    ...(missingLines > 0 ? [`${plural(missingLines, 'line')} of ${plural(missingPieces, 'piece')} cannot be had`] : []),
  ].join('; ')
}
