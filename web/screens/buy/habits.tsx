import { scaleLinear } from 'd3-scale'
import type { Habit, KeptPlan } from '../../../core/planning/kept-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../ui/screen.tsx'

/** The plan beside what people do by hand, on one scale; each says how many orders it takes. */
export function Habits({
  total,
  shops,
  habits,
  maxShops,
  currency,
}: {
  total: number
  shops: number
  habits: KeptPlan['habits']
  maxShops: number | null
  currency: string
}) {
  const rows: { label: string; habit: Habit; fill: string }[] = [
    { label: 'this plan', habit: { kind: 'plan', total, shops }, fill: 'var(--accent)' },
    { label: 'cheapest offer line by line', habit: habits.lineByLine, fill: 'var(--soft)' },
    { label: 'one big shop first', habit: habits.biggestShop, fill: 'var(--soft)' },
  ]
  const most = Math.max(1, ...rows.map((r) => (r.habit.kind === 'plan' ? r.habit.total : 0)))
  const x = scaleLinear([0, most], [0, 100])
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">Beside doing it by hand</figcaption>
      <ul className="flex flex-col gap-2.5 text-sm">
        {rows.map(({ label, habit, fill }) => (
          <li key={label}>
            <div className="flex justify-between gap-3">
              <span>{label}</span>
              {habit.kind === 'plan' && <b>{formatMoney(habit.total, currency)}</b>}
            </div>
            {habit.kind === 'plan' && (
              <div className="my-0.5 h-2.5 bg-raised">
                <div className="h-full" style={{ width: `${x(habit.total)}%`, background: fill }} />
              </div>
            )}
            <p className="text-xs text-soft">
              {habit.kind === 'fails' ? (
                `does not work out: ${habit.why}`
              ) : (
                <>
                  {plural(habit.shops, 'order')}
                  {maxShops !== null && habit.shops > maxShops && `, though the rules allow ${maxShops}`}
                  {habit.total !== total && total > 0 && `; ${(habit.total / total).toFixed(2)} times this plan`}
                </>
              )}
            </p>
          </li>
        ))}
      </ul>
    </figure>
  )
}
