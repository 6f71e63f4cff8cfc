import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { offerChanges, piecesChanged, type OfferChange, type PieceChange } from '../../../core/sourcing/repair.ts'
import { homePrices } from '../../../core/sourcing/problem.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { startRepair, type SourcingRun } from '../../../workers/sourcing-client.ts'
import { keepAs } from '../../store/frontier-run.ts'
import { wordsOf } from '../../store/perform.ts'
import { problemOf, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { AskBar } from './ask-bar.tsx'

/** What became of the offers of a kept plan since it was found, and the act that mends it. */
export function OffersSince({
  tally: { count, now, stale },
  purchase: { kept, landed },
  taskKey,
  timeLimit,
}: {
  tally: BuildTally
  purchase: Purchase
  /** What is to be bought now. */
  taskKey: string
  /** Seconds. */
  timeLimit: number
}) {
  const { shops, nameItem } = useRecords()
  const { build } = now
  const fresh = useQuery({
    queryKey: ['asked', taskKey],
    queryFn: async () => (await problemOf(count)).asked,
    enabled: !stale,
    staleTime: Infinity,
  })
  const [run, setRun] = useState<SourcingRun<unknown>>()
  const [mended, setMended] = useState<{
    readonly of: string
    readonly fewest: boolean
    readonly changes: readonly PieceChange[]
  }>()
  const running = useRef<SourcingRun<unknown>>(undefined)
  useEffect(() => () => running.current?.cancel(), [])
  const nameOf = (id: string) => shops.find((s) => s.id === id)?.name ?? id
  const itemName = (item: ItemKey) => nameItem(item).name
  const repair = async () => {
    if (!fresh.data) return
    const asked = fresh.data
    const started = startRepair(asked, kept, timeLimit)
    running.current = started
    setRun(started)
    try {
      const found = await started.result
      if (!found) return
      if (found.plan.total === null) {
        toast.warning('No plan was found that mends this one. Find the cheapest orders again.', { duration: 15_000 })
        return
      }
      const changes = piecesChanged(kept, found)
      const label = `Repaired the purchase plan: ${plural(moved(changes), 'piece')} bought elsewhere`
      await keepAs(
        build,
        { id: build.id, problem: found.problem, plan: found.plan, unavailable: [...found.leftOut], asked: taskKey },
        {},
        label,
      )
      setMended({ of: taskKey, fewest: found.fewest, changes })
    } catch (error) {
      toast.error(`The solver failed: ${wordsOf(error)}. Nothing was changed; try again.`)
    } finally {
      running.current = undefined
      setRun(undefined)
    }
  }
  const old = kept.asked !== taskKey
  if (!old)
    return mended?.of === taskKey && mended.changes.length > 0 ? (
      <section aria-label="What the repair changed" className="border-l-4 border-accent bg-raised px-3 py-2 text-sm">
        <p>
          Repaired with as few changes as {mended.fewest ? 'there can be' : 'were found in the time given'}:{' '}
          {formatMoney(landed ?? 0, build.currency)} at the door; another plan may cost less: find the cheapest again to
          know.
        </p>
        <ul>
          {mended.changes.map((c) => (
            <li key={`${c.item} ${c.shop}`}>
              {c.pieces > 0 ? '+' : '−'}
              {formatNumber(Math.abs(c.pieces))} × {itemName(c.item)}, {nameOf(c.shop)}
            </li>
          ))}
        </ul>
      </section>
    ) : null
  if (!fresh.data) return null
  const changes = offerChanges(kept, fresh.data)
  const priceOf = homePrices(fresh.data)
  const moreInAll = Math.round(
    changes.reduce(
      (sum, c) => sum + (c.kind === 'price' ? priceOf({ shop: c.shop, price: c.is - c.was }) * c.pieces : 0),
      0,
    ),
  )
  return (
    <section
      aria-label="Offers since"
      className="flex flex-col gap-2 border-l-4 border-warn bg-raised px-3 py-2 text-sm"
    >
      <p>{sinceWords(changes, kept.plan.purchases.length, build.currency, moreInAll)}</p>
      {changes.length > 0 && (
        <details>
          <summary className="cursor-pointer">Which</summary>
          <ul>
            {changes.map((c) => (
              <li key={`${c.offer} ${c.kind}`}>
                {itemName(c.item)}, {nameOf(c.shop)}:{' '}
                {changeWords(c, shops.find((s) => s.id === c.shop)?.currency ?? build.currency)}
              </li>
            ))}
          </ul>
        </details>
      )}
      <AskBar
        ask="Repair with as few changes as possible"
        limits={`what still stands stays; at most ${timeLimit} s`}
        running={run && 'Repairing…'}
        onAsk={() => void repair()}
        onStop={() => running.current?.cancel()}
      />
    </section>
  )
}

/** Pieces that are bought where they were not. */
const moved = (changes: readonly PieceChange[]): number => changes.reduce((n, c) => n + Math.max(0, c.pieces), 0)

function sinceWords(changes: readonly OfferChange[], offers: number, currency: string, more: number): string {
  const of = (kind: OfferChange['kind']) => changes.filter((c) => c.kind === kind).length
  if (changes.length === 0)
    return `All ${plural(offers, 'offer')} of the kept plan still stand at their prices: the build, its rules or other offers have changed since.`
  const said = [
    ...(of('gone') > 0 ? [`${formatNumber(of('gone'))} gone`] : []),
    ...(of('fewer') > 0 ? [`${formatNumber(of('fewer'))} with too few left`] : []),
    ...(of('price') > 0
      ? [
          `${formatNumber(of('price'))} at another price${more === 0 ? '' : `, ${formatMoney(Math.abs(more), currency)} ${more > 0 ? 'more' : 'less'} in all`}`,
        ]
      : []),
  ]
  return `Of the ${plural(offers, 'offer')} of the kept plan since it was found: ${said.join('; ')}.`
}

function changeWords(change: OfferChange, currency: string): string {
  switch (change.kind) {
    case 'gone':
      return `gone, ${plural(change.pieces, 'piece')} were to come from it`
    case 'fewer':
      return `${formatNumber(change.left)} left of ${formatNumber(change.pieces)}`
    case 'price':
      return `${formatMoney(change.is, currency)} instead of ${formatMoney(change.was, currency)}`
  }
}
