import { useMemo, useState } from 'react'
import { AMOUNTS } from '../../../core/design/explode.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { isUncertain, type OrderFault, type OrderStudy } from '../../../core/studies/uncertain.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { useStudy } from '../../store/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'

/** At most, for each of three purchases. */
const SECONDS = 15

const FAULTS: Record<OrderFault, string> = {
  'no offers': 'no offers are known yet: ask the market on Buy',
  'no plan': 'one of the orders has no plan within the rules',
}

/** The range that uncertain quantities leave open, and whether to order the likely or the high now. */
export function UncertainPanel({ snapshot }: { snapshot: Snapshot }) {
  const uncertain = useMemo(() => isUncertain(snapshot), [snapshot])
  const range = useStudy('range', snapshot, uncertain ? null : undefined)
  // What was asked of one state of the build says nothing of the next.
  const [asked, setAsked] = useState<Snapshot | undefined>()
  const orders = useStudy('orders', snapshot, asked === snapshot ? SECONDS : undefined)
  if (!uncertain)
    return (
      <section aria-label="Uncertain quantities">
        <h2 className="text-base font-semibold">Uncertain quantities</h2>
        <p className="text-soft">None. Type a quantity as least-likely-most, such as 4-6-9.</p>
      </section>
    )
  const counted = range.value
  const answer = asked === snapshot && !orders.busy ? orders.value : undefined
  return (
    <section aria-label="Uncertain quantities" className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">Uncertain quantities</h2>
      <StudyNote study={range} />
      {counted && (
        <table className="w-full" aria-busy={range.busy}>
          <thead>
            <tr className="border-b border-rule text-xs text-soft">
              <th>
                <span className="sr-only">Count</span>
              </th>
              {AMOUNTS.map((a) => (
                <th key={a} className="text-right font-semibold">
                  {a}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {(['need', 'short'] as const).map((which) => (
              <tr key={which} className="border-b border-hair">
                <th scope="row" className="text-left font-normal">
                  {which === 'need' ? 'Pieces' : 'Short'}
                </th>
                {AMOUNTS.map((a) => (
                  <td key={a} className="text-right">
                    {counted[a][which]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <span>
        <Button
          disabled={orders.busy}
          onClick={() => {
            setAsked(snapshot)
          }}
        >
          {orders.busy ? `Finding order ${Math.min(3, orders.steps + 1)} of 3…` : 'Order the likely or the high?'}
        </Button>
      </span>
      {asked === snapshot && orders.problem !== undefined && <StudyNote study={orders} />}
      {answer && !answer.ok && (
        <p role="alert" className="text-bad">
          Not compared: {FAULTS[answer.error]}.
        </p>
      )}
      {answer?.ok && <Advice orders={answer.value} currency={snapshot.build.currency} />}
      {counted && (
        <p className="text-xs text-soft">
          {plural(counted.high.need - counted.low.need, 'piece')} between low and high.
        </p>
      )}
    </section>
  )
}

function Advice({ orders, currency }: { orders: OrderStudy; currency: string }) {
  const money = (minor: number) => formatMoney(minor, currency)
  const { likely, high, second, extraNow, breakEven, pieces, open, unavailable } = orders
  return (
    <p aria-live="polite">
      The likely costs {money(likely)}, the high {money(high)}:{' '}
      <b>{extraNow > 0 ? `${money(extraNow)} more now` : 'no more now'}</b>, or a second order of{' '}
      {plural(pieces, 'piece')} for {money(second)} later.{' '}
      {breakEven >= 100
        ? 'Order the likely: the high never pays.'
        : breakEven === 0
          ? 'Order the high: it costs no more than the likely.'
          : `Order the high if you think its chance is above ${breakEven}%.`}
      {unavailable.high > 0 && ` ${plural(unavailable.high, 'piece')} of the high cannot be had and are in no figure.`}
      {open > 0 &&
        (Number.isFinite(open)
          ? ` Each order is at most ${money(open)} above the least possible.`
          : ' Nothing proves that the orders are the cheapest.')}
    </p>
  )
}
