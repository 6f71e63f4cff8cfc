import { scaleLinear } from 'd3-scale'
import type { KeptPlan } from '../../../core/sourcing/kept-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'

type Habit = KeptPlan['habits']['lineByLine']
type Mistake = NonNullable<Extract<Habit, { kind: 'plan' }>['mistakes']>[number]

type Row = {
  readonly label: string
  readonly fill: string
  readonly outcome: { readonly paid: number; readonly shops: number } | { readonly why: string }
  readonly mistakes?: readonly Mistake[] | undefined
}

/** What was done that need not have been, or not done; what it cost follows. */
const MISTAKES: Readonly<Record<Mistake['kind'], (name: string) => string>> = {
  'needless order': (shop) => `ordering from ${shop}, whose pieces the others have`,
  'missed order': (shop) => `not ordering from ${shop} as well`,
  'missed copy': (set) => `not buying a copy of ${set}`,
}

/** The plan beside what people do by hand, on one scale, in money that is paid; each says how many orders it takes. */
export function Baselines({
  paid,
  shops,
  habits,
  maxShops,
  beside,
  shippingKnown,
  nameOf,
  currency,
}: {
  /** What the plan pays shops and donors, less resale. */
  paid: number
  shops: number
  habits: KeptPlan['habits']
  maxShops: number | null
  /** Custom prints, which are in the plan's price at the door and in none of these. */
  beside: number
  /** Whether it is of all shops: else nothing can be said of orders more or fewer. */
  shippingKnown: boolean
  /** What a shop or a donor set is called. */
  nameOf: (id: string) => string
  currency: string
}) {
  const byHand = (habit: Habit): Omit<Row, 'label'> => ({
    outcome: habit.kind === 'plan' ? { paid: habit.total - habit.penalties, shops: habit.shops } : { why: habit.why },
    mistakes: habit.kind === 'plan' && shippingKnown ? habit.mistakes : undefined,
    fill: 'var(--soft)',
  })
  const rows: Row[] = [
    { label: 'this plan', outcome: { paid, shops }, fill: 'var(--accent)' },
    { label: 'cheapest offer line by line', ...byHand(habits.lineByLine) },
    { label: 'one big shop first', ...byHand(habits.biggestShop) },
  ]
  const most = Math.max(1, ...rows.map((r) => ('paid' in r.outcome ? r.outcome.paid : 0)))
  const x = scaleLinear([0, most], [0, 100])
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">Beside doing it by hand</figcaption>
      <ul className="flex flex-col gap-2.5 text-sm">
        {rows.map(({ label, outcome, fill, mistakes = [] }) => (
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
            {mistakes.length > 0 && (
              <details className="text-xs">
                <summary>
                  {mistakes.length === 1 ? 'The costliest mistake' : `The ${mistakes.length} costliest mistakes`}, each
                  by itself
                </summary>
                <ul className="list-disc pl-5">
                  {mistakes.map(({ kind, of, saves }) => (
                    <li key={`${kind} ${of}`}>
                      {MISTAKES[kind](nameOf(of))}: {formatMoney(saves, currency)}
                    </li>
                  ))}
                </ul>
              </details>
            )}
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
