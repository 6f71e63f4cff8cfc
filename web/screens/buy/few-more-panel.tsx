import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { fewMore, type FewMore, type MoreReason } from '../../../core/sourcing/few-more.ts'
import { isUncertain } from '../../../core/studies/uncertain.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { keepMore } from '../../store/frontier-run.ts'
import { isShippingKnown, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Tick } from '../../ui/fields.tsx'

const REASONS: Record<MoreReason, string> = {
  'one shop': 'one shop alone has it',
  length: 'it is cut to length',
  'round number': 'no round number',
}

/** Pieces shown at once; the others are behind a fold. */
const FIRST = 6

/** A few more of what is hard to get later: what they cost now, and against that a second order and its chance. */
export function FewMorePanel({ purchase: { kept }, snapshot }: { purchase: Purchase; snapshot: Snapshot }) {
  const { currency, id } = snapshot.build
  const { partById, shops } = useRecords()
  const [round, setRound] = useState(false)
  const found = useMemo(() => fewMore(kept, partById, round), [kept, partById, round])
  // What a later order costs is not known without its shipping.
  if (kept.plan.total === null || !isShippingKnown(shops, new Set(kept.problem.shops.map((s) => s.id)))) return null
  return (
    <section aria-label="A few more" className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">A few more?</h2>
      <div className="flex flex-wrap items-center gap-4 text-sm">
        <span className="text-soft">
          {found.length === 0
            ? 'Nothing that is bought is hard to order again.'
            : 'What a miscount, a loss or a change would cost later, as far as today’s offers tell.'}
        </span>
        <Tick checked={round} onChange={setRound}>
          Round numbers as well
        </Tick>
      </div>
      {isUncertain(snapshot) && (
        <p className="text-sm">
          How many of some lines are needed is a guess: whether to order the likely or the high now is reckoned{' '}
          <Link className="text-accent underline" to={`/build/${encodeURIComponent(id)}/design?view=versions`}>
            on Design
          </Link>
          .
        </p>
      )}
      <List of={found.slice(0, FIRST)} kept={kept} currency={currency} />
      {found.length > FIRST && (
        <details>
          <summary className="cursor-pointer text-sm">{plural(found.length - FIRST, 'other piece')}</summary>
          <List of={found.slice(FIRST)} kept={kept} currency={currency} />
        </details>
      )}
    </section>
  )
}

function List({ of, kept, currency }: { of: readonly FewMore[]; kept: Purchase['kept']; currency: string }) {
  const { shops } = useRecords()
  return (
    <ul className="flex flex-col divide-y divide-hair text-sm">
      {of.map((one) => (
        <li
          key={one.offer}
          className="grid grid-cols-[minmax(0,11rem)_minmax(0,1fr)_auto] items-center gap-3 py-1 max-[960px]:grid-cols-1"
        >
          <ItemName item={one.item} size={28} />
          <span>
            {one.bought} bought from {shops.find((s) => s.id === one.shop)?.name ?? one.shop};{' '}
            {one.reasons.map((r) => REASONS[r]).join(', ')}.
            <span className="block text-xs text-soft">{costWords(one, currency)}</span>
          </span>
          <OrderMore one={one} kept={kept} />
        </li>
      ))}
    </ul>
  )
}

function OrderMore({ one, kept }: { one: FewMore; kept: Purchase['kept'] }) {
  const { nameItem } = useRecords()
  const { name } = nameItem(one.item)
  return (
    <Button
      aria-label={`Order ${one.more} more of ${name}`}
      onClick={() => void keepMore(kept, one.offer, one.more, `Ordered ${one.more} more of ${name}`)}
    >
      {one.more} more
    </Button>
  )
}

/** What a few more cost now, and what missing them costs. */
function costWords({ more, costs, later, paysFrom }: FewMore, currency: string): string {
  const now =
    costs > 0
      ? `${more} more ${more === 1 ? 'costs' : 'cost'} ${formatMoney(costs, currency)}`
      : costs === 0
        ? `${more} more ${more === 1 ? 'costs' : 'cost'} nothing`
        : `${more} more ${more === 1 ? 'saves' : 'save'} ${formatMoney(-costs, currency)}: a fee falls away`
  if (later === undefined) return `${now}; nobody has any left for a second order.`
  const chance = paysFrom === undefined || paysFrom === 0 ? '' : `, pays from a chance of ${paysFrom}% on`
  return `${now}; a second order at least ${formatMoney(later, currency)}${chance}.`
}
