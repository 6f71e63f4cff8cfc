import { useMutation } from '@tanstack/react-query'
import { CalendarPlus, RefreshCw } from 'lucide-react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { Build } from '../../../core/build/build.ts'
import { daysBetween, minuteOf } from '../../../core/units/instants.ts'
import { plural } from '../../../core/units/numbers.ts'
import { MOST_DAYS } from '../../../market/wire.ts'
import { MARKET_DAY, OFFERS_FETCHED, OFFERS_OLD_AFTER } from '../../../storage/database.ts'
import { db, nowIso } from '../../store/database.ts'
import { fetchOffers } from '../../store/market-client.ts'
import { NO_TASK, type PurchaseTask } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { useStored } from '../../store/stored.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { useActFromAddress } from '../../ui/use-act-from-address.ts'

/** The field before the button that finds the orders. */
export const TIME_LIMIT = 'time-limit'

/** After how many days offers are old. */
const AGES = [1, 3, 7, 14, 30].map((n) => ({ value: String(n), label: `old after ${plural(n, 'day')}` }))

/** What offers are known, and the ways to more. */
export function MarketBar({
  asked,
  build,
  waiting,
  onImport,
}: {
  asked: PurchaseTask
  build: Build
  waiting: boolean
  onImport: () => void
}) {
  const records = useRecords()
  const { currency } = build
  const fetched = useStored(() => db.settings.get(OFFERS_FETCHED), [], undefined)
  const day = Number(useStored(() => db.settings.get(MARKET_DAY), [], undefined)?.value ?? 0)
  const oldAfter = useStored(() => db.settings.get(OFFERS_OLD_AFTER), [], undefined)?.value ?? '7'
  const age = fetched ? daysBetween(fetched.value, nowIso()) : 0
  const task = asked.task ?? NO_TASK
  const { offers } = task
  const market = useMutation({
    // The market may run on this machine: being offline elsewhere is no reason to wait.
    networkMode: 'always',
    mutationFn: () => fetchOffers(task.wanted, records),
    onSuccess: (answer) => {
      if (answer.ok) toast.success(`${plural(answer.value.offers, 'offer')} from ${plural(answer.value.shops, 'shop')}`)
      else toast.error(answer.error.message, { duration: 15_000 })
      // The button that was pressed had no focus meanwhile: it goes on to where the next Tab finds the orders.
      if (answer.ok && document.activeElement === document.body) document.getElementById(TIME_LIMIT)?.focus()
    },
  })
  useActFromAddress(
    'ask',
    () => {
      market.mutate()
    },
    !waiting && !market.isPending,
  )
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <span>
          {!asked.task
            ? 'Working out what is to be bought…'
            : offers === 0
              ? 'No offers for the short items yet.'
              : `${plural(offers, 'usable offer')} from ${plural(task.itemsOf.size, 'shop')}${fetched ? `, market asked ${minuteOf(fetched.value)}` : ''}.`}
        </span>
        <Button
          look={offers === 0 ? 'primary' : 'plain'}
          disabled={market.isPending || waiting}
          onClick={() => {
            market.mutate()
          }}
        >
          <RefreshCw size={14} aria-hidden="true" />{' '}
          {market.isPending ? 'Asking the market…' : offers === 0 ? 'Ask the market' : 'Ask again'}
        </Button>
        <Button
          onClick={() => {
            onImport()
          }}
        >
          Import offers
        </Button>
        {fetched && (
          <>
            <Choice
              label="Offers are old after"
              value={oldAfter}
              options={AGES}
              onChange={(days) => void db.settings.put({ id: OFFERS_OLD_AFTER, value: days })}
            />
            <Button
              disabled={market.isPending || waiting || day >= MOST_DAYS}
              onClick={() =>
                void db.settings.put({ id: MARKET_DAY, value: String(day + 1) }).then(() => {
                  market.mutate()
                })
              }
            >
              <CalendarPlus size={14} aria-hidden="true" /> Let a day pass
            </Button>
          </>
        )}
        {market.data && !market.data.ok && (
          <span role="alert" className="text-bad">
            {market.data.error.message}
          </span>
        )}
      </div>
      {age > Number(oldAfter) && (
        <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          The market was asked {plural(age, 'day')} ago: prices and stocks may have changed. Ask again before you order.
        </p>
      )}
      <OldRates build={build} asked={task.itemsOf} oldAfter={Number(oldAfter)} />
      <p className="text-xs text-soft">
        The market is invented, for practice: its shops and prices are no one’s.
        {day > 0 && ` It is on its day ${day + 1}.`}
      </p>
      {task.otherCurrency > 0 && (
        <p className="text-sm text-warn">
          {plural(task.otherCurrency, 'offer or asking price', 'offers or asking prices')} in{' '}
          {task.currencies.join(', ')} are left out: this build counts in {currency} and has no rate for{' '}
          {task.currencies.length > 1 ? 'them' : 'it'}.{' '}
          <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/brief`}>
            Say one on the Brief
          </Link>
        </p>
      )}
    </>
  )
}

/** Rates of exchange that shops are reckoned by and that are older than offers may be. */
function OldRates({
  build: { rules },
  asked,
  oldAfter,
}: {
  build: Build
  asked: { has: (shop: string) => boolean }
  oldAfter: number
}) {
  const { shops } = useRecords()
  const used = new Set<string>(shops.flatMap((s) => (asked.has(s.id) ? [s.currency] : [])))
  const old = rules.rates.filter((r) => used.has(r.currency) && daysBetween(r.on, nowIso()) > oldAfter)
  if (old.length === 0) return null
  return (
    <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
      {old
        .map((r) => `The rate of ${r.currency} is of ${r.on}, ${plural(daysBetween(r.on, nowIso()), 'day')} ago`)
        .join('. ')}
      : what shops ask may come to another amount. Say today’s on the Brief before you order.
    </p>
  )
}
