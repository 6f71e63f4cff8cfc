import { scaleLinear } from 'd3-scale'
import type { KeptPlan } from '../../../core/sourcing/kept-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'

type Row = {
  readonly label: string
  readonly fill: string
  readonly outcome: { readonly paid: number; readonly shops: number } | { readonly why: string }
}

/** The plan beside what people do by hand, on one scale, in money that is paid; each says how many orders it takes. */
export function Baselines({
  paid,
  shops,
  habits,
  maxShops,
  beside,
  currency,
}: {
  /** What the plan pays shops and donors, less resale. */
  paid: number
  shops: number
  habits: KeptPlan['habits']
  maxShops: number | null
  /** Custom prints, which are in the plan's price at the door and in none of these. */
  beside: number
  currency: string
}) {
  const outcomeOf = (habit: KeptPlan['habits']['lineByLine']): Row['outcome'] =>
    habit.kind === 'plan' ? { paid: habit.total - habit.penalties, shops: habit.shops } : { why: habit.why }
  const rows: Row[] = [
    { label: 'this plan', outcome: { paid, shops }, fill: 'var(--accent)' },
    { label: 'cheapest offer line by line', outcome: outcomeOf(habits.lineByLine), fill: 'var(--soft)' },
    { label: 'one big shop first', outcome: outcomeOf(habits.biggestShop), fill: 'var(--soft)' },
  ]
  const most = Math.max(1, ...rows.map((r) => ('paid' in r.outcome ? r.outcome.paid : 0)))
  const x = scaleLinear([0, most], [0, 100])
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">Beside doing it by hand</figcaption>
      <ul className="flex flex-col gap-2.5 text-sm">
        {rows.map(({ label, outcome, fill }) => (
          <li key={label}>
            <div className="flex justify-between gap-3">
              <span>{label}</span>
              {'paid' in outcome && <b>{formatMoney(outcome.paid, currency)}</b>}
            </div>
            {'paid' in outcome && (
              <div className="my-0.5 h-2.5 bg-raised">
                <div className="h-full" style={{ width: `${Math.max(0, x(outcome.paid))}%`, background: fill }} />
              </div>
            )}
            <p className="text-xs text-soft">
              {'why' in outcome ? (
                `does not work out: ${outcome.why}`
              ) : (
                <>
                  {plural(outcome.shops, 'order')}
                  {maxShops !== null && outcome.shops > maxShops && `, though the rules allow ${maxShops}`}
                  {outcome.paid !== paid && paid > 0 && `; ${(outcome.paid / paid).toFixed(2)} times this plan`}
                </>
              )}
            </p>
          </li>
        ))}
      </ul>
      {beside > 0 && (
        <p className="mt-1 text-xs text-soft">
          Goods, shipping, fees, duty and tax, less resale; the {formatMoney(beside, currency)} of custom prints in the
          headline come on top of each.
        </p>
      )}
    </figure>
  )
}
