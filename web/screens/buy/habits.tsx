import { scaleLinear } from 'd3-scale'
import type { KeptPlan } from '../../../core/planning/kept-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'

/** The plan beside what people do by hand, on one scale. */
export function Habits({ total, habits, currency }: { total: number; habits: KeptPlan['habits']; currency: string }) {
  const rows = [
    { label: 'this plan', value: total as number | null, fill: 'var(--accent)' },
    { label: 'cheapest offer line by line', value: habits.lineByLine, fill: 'var(--soft)' },
    { label: 'one big shop first', value: habits.biggestShop, fill: 'var(--soft)' },
  ]
  const x = scaleLinear([0, Math.max(1, ...rows.map((r) => r.value ?? 0))], [0, 100])
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">Beside doing it by hand</figcaption>
      <ul className="flex flex-col gap-2 text-sm">
        {rows.map((r) => (
          <li key={r.label}>
            <div className="flex justify-between gap-3">
              <span>{r.label}</span>
              <span>
                {r.value === null ? (
                  <span className="text-soft">breaks a rule</span>
                ) : (
                  <>
                    <b>{formatMoney(r.value, currency)}</b>
                    {r.value !== total && total > 0 && (
                      <span className="text-soft"> ({(r.value / total).toFixed(2)} times)</span>
                    )}
                  </>
                )}
              </span>
            </div>
            <div className="mt-0.5 h-2.5 bg-raised">
              <div className="h-full" style={{ width: `${x(r.value ?? 0)}%`, background: r.fill }} />
            </div>
          </li>
        ))}
      </ul>
    </figure>
  )
}
