import { dequal } from 'dequal'
import { useMemo } from 'react'
import type { Build } from '../../../core/build/build.ts'
import type { Basket } from '../../../core/sourcing/baskets.ts'
import { bestFew } from '../../../core/sourcing/best-few.ts'
import {
  PRICED_RULES,
  stepCost,
  type PricedRule,
  type FrontierEnd,
  type FrontierPoint,
} from '../../../core/sourcing/frontier.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { Count } from '../../store/count-store.ts'
import { FRONTIERS, frontierKey, frontierOf, keepPoint, runFrontier, useFrontier } from '../../store/frontier-run.ts'
import type { FrontierNews } from '../../../workers/sourcing.worker.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { atTheDoor, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { AskBar, KeepCell, type QuestionProps } from './ask-bar.tsx'
import { shortProof } from './proof-words.ts'
import { FrontierChart } from './frontier-chart.tsx'

type Words = {
  readonly title: string
  readonly ask: string
  readonly unit: readonly [one: string, many: string]
  /** So many fewer, as a step. */
  readonly step: (by: number) => string
  /** A value of the rule. */
  readonly within: (limit: number) => string
  readonly tightest: string
}

const WORDS: Readonly<Record<PricedRule, Words>> = {
  maxShops: {
    title: 'Fewer orders',
    ask: 'What do fewer orders cost?',
    unit: ['order', 'orders'],
    step: (by) => (by === 1 ? 'One order fewer' : `${by} orders fewer`),
    within: (limit) => (limit === 1 ? 'one order' : `at most ${limit} orders`),
    tightest: 'There is nothing fewer than one order.',
  },
  deadlineDays: {
    title: 'Sooner',
    ask: 'What does it cost to have all sooner?',
    unit: ['day', 'days'],
    step: (by) => (by === 1 ? 'A day sooner' : `${by} days sooner`),
    within: (limit) => `within ${plural(limit, 'day')}`,
    tightest: 'There is nothing sooner than a day.',
  },
  maxPieces: {
    title: 'Fewer loose pieces',
    ask: 'How few loose pieces finish it?',
    unit: ['loose piece', 'loose pieces'],
    step: (by) => `${plural(by, 'loose piece')} fewer`,
    within: (limit) => `at most ${plural(limit, 'loose piece')}`,
    tightest: 'Fewer loose pieces cannot finish it, whatever is paid.',
  },
}

/** What each tightening of a rule costs at its best, with what is proven of it; any of them can be kept. */
export function FrontierPanel({ purchase, build, count, patience }: QuestionProps) {
  const { landed, ownProof, orders, shippingKnown } = purchase
  // Nothing can be said of what a file claims, nor while shipping is not known.
  if (landed === undefined || !ownProof || orders.length === 0 || !shippingKnown) return null
  return (
    <>
      <section aria-label="What tighter rules cost" className="flex flex-col gap-4">
        <h2 className="text-base font-semibold">What tighter rules cost</h2>
        {PRICED_RULES.map((rule) => (
          <RulePrice key={rule} rule={rule} purchase={purchase} build={build} count={count} patience={patience} />
        ))}
      </section>
    </>
  )
}

const CHART_UNITS: Readonly<Record<PricedRule, string>> = {
  maxShops: 'orders at most',
  deadlineDays: 'days until the last parcel, at most',
  maxPieces: 'loose pieces at most',
}

type Costed = { readonly point: FrontierPoint; readonly orders: readonly Basket[]; readonly landed: number }

function RulePrice({ rule, purchase, build, count, patience }: QuestionProps & { rule: PricedRule }) {
  const { kept } = purchase
  const { shops, offers } = useRecords()
  const { last, news } = useFrontier(build.id, rule)
  // What was drawn for another problem says nothing about this build now.
  const frontier = useMemo(
    () => (last?.key === frontierKey(kept, rule) ? frontierOf(kept, last.answer) : undefined),
    [last, kept, rule],
  )
  const words = WORDS[rule]
  const costed = useMemo(
    () =>
      (frontier?.points ?? []).flatMap((point): Costed[] => {
        const { orders, landed } = atTheDoor(
          build,
          { ...kept, problem: point.problem, plan: point.plan },
          { shops, offers },
        )
        return landed === undefined ? [] : [{ point, orders, landed }]
      }),
    [frontier, build, kept, shops, offers],
  )
  return (
    <section aria-label={words.title} aria-busy={news !== undefined} className="flex flex-col gap-2">
      <AskBar
        ask={words.ask}
        limits={`at most ${patience.timeLimit} s in all`}
        running={news && askingWords(news, words)}
        onAsk={() => void runFrontier(kept, rule, patience, last)}
        onStop={() => {
          FRONTIERS[rule].cancel(build.id)
        }}
      />
      {last && !news && !frontier && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          This was drawn on {minuteOf(last.at)}, for another state of the build or of the offers. Ask again.
        </p>
      )}
      {frontier && !news && (
        <>
          <ul className="text-sm">
            {sentences(rule, costed, build.currency).map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
            {rule === 'maxPieces' && <BestFewNote points={costed.map((c) => c.point)} currency={build.currency} />}
            <li className="text-soft">{endWords(frontier.end, costed.at(-1)?.point.limit, words)}</li>
          </ul>
          {costed.length > 1 && (
            <>
              <FrontierChart
                points={costed.map(({ point: { limit, plan }, landed }) => ({
                  limit,
                  cost: landed,
                  least: plan.bound === null || plan.total === null ? undefined : landed - (plan.total - plan.bound),
                  kept: isKept(plan, purchase),
                }))}
                currency={build.currency}
                unit={CHART_UNITS[rule]}
              />
              <Points rule={rule} costed={costed} purchase={purchase} build={build} count={count} />
            </>
          )}
        </>
      )}
    </section>
  )
}

/** Items of the best few that are named. */
const NAMED = 6

/** Which few loose pieces improve it most, beyond fewer of them. */
function BestFewNote({ points, currency }: { points: readonly FrontierPoint[]; currency: string }) {
  const { nameItem } = useRecords()
  const best = useMemo(() => bestFew(points), [points])
  if (!best) return null
  const { pieces, from, saves, items } = best
  const named = items.slice(0, NAMED).map((i) => `${i.pieces} × ${nameItem(i.item).name}`)
  const others = items.length - named.length
  return (
    <li>
      Beyond {from}, {plural(pieces, 'loose piece')} {pieces === 1 ? 'improves' : 'improve'} it most for their number,
      points of compromise included: {formatMoney(saves, currency)}, about{' '}
      {formatMoney(Math.round(saves / pieces), currency)} each. Bought then: {named.join(', ')}
      {others > 0 && ` and ${plural(others, 'other item')}`}.
    </li>
  )
}

function askingWords(news: readonly FrontierNews[], { within }: Words): string {
  const asking = news.findLast((n) => 'asking' in n)?.asking
  const found = news.filter((n) => 'point' in n).length
  return asking === undefined
    ? 'Loading the solver…'
    : `Asking for ${within(asking)}; ${plural(found, 'point')} found so far.`
}

const isKept = (plan: FrontierPoint['plan'], { kept }: Purchase): boolean => dequal(plan.purchases, kept.plan.purchases)

/** What is paid but not weighed, less what is weighed but not paid: prints, points of compromise. */
const beside = ({ point, landed }: Costed): number => landed - (point.plan.total ?? 0)

/** Each step in a sentence; what is not proven is said to be between what is. */
function sentences(rule: PricedRule, costed: readonly Costed[], currency: string): string[] {
  const { step } = WORDS[rule]
  return costed.slice(1).map((to, i) => {
    const from = costed[i] as Costed
    const more = to.landed - from.landed
    const proven = stepCost(from.point, to.point)
    const sure =
      proven === undefined
        ? ' by the plans found; nothing is proven of it'
        : proven.least === proven.most
          ? ''
          : ` by the plans found; proven${beside(from) === beside(to) ? '' : ', with points of compromise and without prints,'} between ${formatMoney(proven.least, currency)} and ${formatMoney(proven.most, currency)}`
    return `${step(from.point.limit - to.point.limit)}, ${to.point.limit} instead of ${from.point.limit}, ${more < 0 ? 'saves' : 'costs'} ${formatMoney(Math.abs(more), currency)}${sure}.`
  })
}

function endWords(end: FrontierEnd, limit: number | undefined, { step, tightest }: Words): string {
  if (limit === undefined) return ''
  const said: Record<FrontierEnd, string> = {
    'none can exist': `${step(1)} than ${limit} is not possible: no plan can exist.`,
    'none found': `Whether ${step(1).toLowerCase()} than ${limit} is possible is not known: no plan was found in the time given.`,
    stopped: `What comes below ${limit} was not asked any more.`,
    tightest,
  }
  return said[end]
}

/** The points as a table: what each costs and orders, how sure that is, and the act that makes it the plan. */
function Points({
  rule,
  costed,
  purchase,
  build,
  count,
}: {
  rule: PricedRule
  costed: readonly Costed[]
  purchase: Purchase
  build: Build
  count: Count
}) {
  const { kept, landed: now = 0 } = purchase
  const { unit, within } = WORDS[rule]
  const before = new Set(purchase.orders.map((o) => o.shop.id))
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="border-b border-rule text-left">
          <th scope="col" className="py-1 pr-4 font-semibold whitespace-nowrap">
            At most
          </th>
          <th scope="col" className="text-right font-semibold">
            At the door
          </th>
          <th scope="col" className="pl-4 font-semibold">
            Orders
          </th>
          <th scope="col">
            <span className="sr-only">Act</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {costed.map(({ point, orders, landed }) => (
          <tr key={point.limit} className="border-b border-hair align-top">
            <th scope="row" className="py-1 text-left font-normal whitespace-nowrap">
              {plural(point.limit, ...unit)}
            </th>
            <td className="py-1 text-right whitespace-nowrap">
              <b>{formatMoney(landed, build.currency)}</b>
              <br />
              <span className="text-xs text-soft">{shortProof(point.plan)}</span>
            </td>
            <td className="py-1 pl-4 text-xs">
              <details>
                <summary>{changeWords(orders, before)}</summary>
                <ul>
                  {orders.map((o) => (
                    <li key={o.shop.id}>
                      {o.shop.name} {formatMoney(o.total, build.currency)}, {plural(o.pieces, 'piece')},{' '}
                      {plural(o.shop.leadDays, 'day')}
                    </li>
                  ))}
                </ul>
              </details>
            </td>
            <KeepCell
              kept={isKept(point.plan, purchase)}
              label={`Keep ${within(point.limit)}, ${formatMoney(landed - now, build.currency)} more`}
              onKeep={() => void keepPoint(count, build, kept, rule, point, `Kept a plan with ${within(point.limit)}`)}
            />
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What orders differ in from those of the kept plan. */
function changeWords(orders: readonly Basket[], before: ReadonlySet<string>): string {
  const added = orders.filter((o) => !before.has(o.shop.id))
  const gone = before.size - (orders.length - added.length)
  if (added.length === 0 && gone === 0) return `${plural(orders.length, 'order')}, the same shops`
  return [
    plural(orders.length, 'order'),
    ...(gone > 0 ? [`${plural(gone, 'shop')} fewer`] : []),
    ...(added.length > 0 ? [`new: ${added.map((o) => o.shop.name).join(', ')}`] : []),
  ].join('; ')
}
