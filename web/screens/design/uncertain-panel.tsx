import { useMemo, useState } from 'react'
import { AMOUNTS } from '../../../core/design/explode.ts'
import { sourcingTask } from '../../../core/planning/sourcing-problem.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { Tally } from '../../../core/planning/tally.ts'
import { compareOrders, rangeOf, secondOrder, shortfallOf, type OrderChoice } from '../../../core/planning/uncertain.ts'
import { verifyPlan } from '../../../core/sourcing/verify-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { startSourcing } from '../../../workers/sourcing-client.ts'
import { useRecords } from '../../data/records.tsx'
import { Button } from '../../ui/button.tsx'
import { plural } from '../../ui/screen.tsx'

const SECONDS = 15

/** The range that uncertain quantities leave open, and whether to order the likely or the high now. */
export function UncertainPanel({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { shops, offers } = useRecords()
  const range = useMemo(() => rangeOf(snapshot, result), [snapshot, result])
  const [busy, setBusy] = useState(0)
  const [choice, setChoice] = useState<{ range: typeof range; orders: OrderChoice; proven: boolean } | undefined>()
  const [problem, setProblem] = useState('')
  if (!range)
    return (
      <section aria-label="Uncertain quantities">
        <h2 className="text-base font-semibold">Uncertain quantities</h2>
        <p className="text-soft">None. Type a quantity as least-likely-most, such as 4-6-9.</p>
      </section>
    )
  const compare = async () => {
    setProblem('')
    setChoice(undefined)
    const second = secondOrder(range.likely, range.high)
    const tallies: Tally[] = [
      range.likely,
      range.high,
      { ...range.high, shortLines: second, shortfall: shortfallOf(second) },
    ]
    const totals: number[] = []
    let proven = true
    try {
      for (const [i, tally] of tallies.entries()) {
        setBusy(i + 1)
        const { problem: task, unavailable } = sourcingTask(snapshot, tally, shops, offers)
        if (unavailable.length > 0 && i === 0 && task.lines.length === 0)
          throw new Error('no offers are known yet: ask the market on Buy')
        if (task.lines.length === 0) {
          totals.push(0)
          continue
        }
        const plan = await startSourcing(task, SECONDS, () => undefined).result
        if (plan?.total == null || plan.cost === null) throw new Error('one of the orders has no plan within the rules')
        if (!verifyPlan(task, plan).ok) throw new Error('a plan does not hold')
        proven &&= plan.status === 'optimal'
        totals.push(plan.total - plan.cost.penalties)
      }
      const [likely = 0, high = 0, later = 0] = totals
      setChoice({ range, orders: compareOrders(likely, high, later), proven })
    } catch (error) {
      setProblem(error instanceof Error ? `Not compared: ${error.message}.` : 'Not compared.')
    } finally {
      setBusy(0)
    }
  }
  const money = (minor: number) => formatMoney(minor, snapshot.build.currency)
  const shown = choice && choice.range === range ? choice : undefined
  return (
    <section aria-label="Uncertain quantities" className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">Uncertain quantities</h2>
      <table className="w-full">
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
          <tr className="border-b border-hair">
            <th scope="row" className="text-left font-normal">
              Pieces
            </th>
            {AMOUNTS.map((a) => (
              <td key={a} className="text-right">
                {range[a].need}
              </td>
            ))}
          </tr>
          <tr className="border-b border-hair">
            <th scope="row" className="text-left font-normal">
              Short
            </th>
            {AMOUNTS.map((a) => (
              <td key={a} className="text-right">
                {range[a].coverage.short}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <span>
        <Button disabled={busy > 0} onClick={() => void compare()}>
          {busy > 0 ? `Finding order ${busy} of 3…` : 'Order the likely or the high?'}
        </Button>
      </span>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      {shown && (
        <p aria-live="polite">
          The likely costs {money(shown.orders.likely)}, the high {money(shown.orders.high)}:{' '}
          <b>{money(shown.orders.extraNow)} more now</b>, or a second order of {money(shown.orders.second)} later.{' '}
          {shown.orders.breakEven >= 100
            ? 'Order the likely: the high never pays.'
            : `Order the high if its chance is above ${shown.orders.breakEven}%.`}
          {!shown.proven && ' Not every order is proven to be the cheapest.'}
        </p>
      )}
      <p className="text-xs text-soft">{plural(range.high.need - range.low.need, 'piece')} between low and high.</p>
    </section>
  )
}
