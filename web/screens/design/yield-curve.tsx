import { scaleBand, scaleLinear } from 'd3-scale'
import { MoneyLines } from '../../pieces/money-chart.tsx'
import type { YieldStep } from '../../../core/studies/yield.ts'
import { formatMoney, type Currency } from '../../../core/units/money.ts'

const [WIDTH, HEIGHT, LEFT] = [680, 222, 76]

/** What more repeats cost: goods to buy for each number, and from where on nobody has the pieces. */
export function YieldCurve({
  steps,
  reached,
  possible,
  currency,
}: {
  steps: readonly YieldStep[]
  reached: number
  possible: boolean
  currency: Currency
}) {
  if (steps.length === 0) return null
  if (steps.every((s) => s.cost === 0) && steps.some((s) => s.unavailable > 0))
    return <p className="mt-5 text-sm text-soft">No offers are known for what is short.</p>
  const x = scaleBand(
    steps.map((s) => String(s.repeats)),
    [LEFT, WIDTH],
  ).padding(0.25)
  const y = scaleLinear([0, Math.max(1, ...steps.map((s) => s.cost))], [HEIGHT - 56, 24]).nice(3)
  const middle = (s: YieldStep) => (x(String(s.repeats)) ?? 0) + x.bandwidth() / 2
  const last = steps.filter((s) => s.unavailable === 0).at(-1)
  return (
    <figure className="mt-5">
      <figcaption className="mb-1 text-base font-semibold">
        {last && last.repeats > reached
          ? `Buying what is short: ${last.repeats} for ${formatMoney(last.cost, currency)} of goods`
          : 'Buying what is short'}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-3xl"
        role="img"
        aria-label={steps
          .map(
            (s) =>
              `${s.repeats}: ${s.short} to buy, ${formatMoney(s.cost, currency)}${s.unavailable > 0 ? `, ${s.unavailable} nobody offers` : ''}`,
          )
          .join('; ')}
      >
        <MoneyLines scale={y} left={LEFT} right={WIDTH} currency={currency} />
        <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 2} textAnchor="middle" fontSize="11" fill="var(--soft)">
          repeats
        </text>
        {steps.map((s) => {
          const owned = possible && s.repeats <= reached
          return (
            <g key={s.repeats}>
              <rect
                x={x(String(s.repeats))}
                y={owned ? HEIGHT - 60 : Math.min(y(s.cost), HEIGHT - 60)}
                width={x.bandwidth()}
                height={owned ? 4 : Math.max(4, HEIGHT - 56 - y(s.cost))}
                fill={owned ? 'var(--donor)' : 'var(--mark)'}
                stroke="var(--rule)"
                strokeDasharray={s.unavailable > 0 ? '4 3' : undefined}
              />
              <text
                x={middle(s)}
                y={Math.max(12, (owned ? HEIGHT - 60 : Math.min(y(s.cost), HEIGHT - 60)) - 6)}
                textAnchor="middle"
                fontSize="11"
                fill="var(--ink)"
              >
                {owned ? 'have' : formatMoney(s.cost, currency)}
              </text>
              <text x={middle(s)} y={HEIGHT - 40} textAnchor="middle" fontSize="12" fontWeight={700} fill="var(--ink)">
                {s.repeats}
              </text>
              <text x={middle(s)} y={HEIGHT - 25} textAnchor="middle" fontSize="10" fill="var(--soft)">
                {s.unavailable > 0 ? `${s.unavailable} nowhere` : s.short > 0 ? `${s.short} to buy` : ''}
              </text>
            </g>
          )
        })}
      </svg>
      <p className="text-xs text-soft">
        Repeats across, goods at the cheapest allowed offers known; shipping and fees come on top. Dashed, nowhere:
        nobody offers some of the pieces.
      </p>
    </figure>
  )
}
