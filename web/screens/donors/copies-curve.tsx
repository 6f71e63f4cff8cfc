import { scaleBand, scaleLinear } from 'd3-scale'
import type { CopiesStep } from '../../../core/studies/donor-worth.ts'
import { formatNumber } from '../../../core/units/numbers.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { MoneyLabel, MoneyLines } from '../../pieces/money-chart.tsx'

const [WIDTH, HEIGHT, LEFT] = [540, 220, 78]
/** Costs stand in the upper lane, pieces still short in the lower one. */
const [COST_TOP, COST_BOTTOM, SHORT_TOP, SHORT_BOTTOM] = [22, 104, 126, 184]

/** How many copies pay: the cost of copies and loose remainder above, pieces still short below, over the same numbers. */
export function CopiesCurve({
  name,
  steps,
  priced,
  currency,
}: {
  name: string
  steps: readonly CopiesStep[]
  /** Whether any loose price is known: without one nothing can be compared. */
  priced: boolean
  currency: string
}) {
  const x = scaleBand(
    steps.map((s) => String(s.copies)),
    [LEFT, WIDTH],
  ).padding(0.35)
  const short = scaleLinear([0, Math.max(1, ...steps.map((s) => s.short))], [SHORT_BOTTOM, SHORT_TOP])
  const costs = priced ? steps.flatMap((s) => (s.cost === undefined ? [] : [s.cost])) : []
  const cost = scaleLinear([Math.min(0, ...costs), Math.max(1, ...costs)], [COST_BOTTOM, COST_TOP]).nice(3)
  const least = Math.min(...costs)
  // Without prices there is one lane.
  const top = costs.length > 0 ? 0 : COST_BOTTOM
  const best = priced ? steps.find((s) => s.cost === least) : undefined
  const middle = (s: CopiesStep) => (x(String(s.copies)) ?? 0) + x.bandwidth() / 2
  const tick = { textAnchor: 'end', fontSize: 10, fill: 'var(--soft)' } as const
  return (
    <figure>
      <figcaption className="mb-1 text-base font-semibold">
        {best === undefined
          ? `${name}: what more copies leave short; no price yet`
          : `${name}: ${best.copies === 0 ? 'no more copies pay' : `${best.copies} more ${best.copies === 1 ? 'copy pays' : 'copies pay'} best`}, ${formatMoney(least, currency)} with the rest loose`}
      </figcaption>
      <svg
        viewBox={`0 ${top} ${WIDTH} ${HEIGHT - top}`}
        className="w-full max-w-xl"
        role="img"
        aria-label={steps
          .map(
            (s) =>
              `${s.copies} more: ${formatNumber(s.short)} short${s.cost === undefined || !priced ? '' : `, ${formatMoney(s.cost, currency)}`}`,
          )
          .join('; ')}
      >
        {costs.length > 0 && <MoneyLines scale={cost} left={LEFT} right={WIDTH} currency={currency} />}
        {[0, short.domain()[1] ?? 1].map((t) => (
          <g key={t}>
            <line x1={LEFT - 4} x2={WIDTH} y1={short(t)} y2={short(t)} stroke="var(--hair)" />
            <text {...tick} x={LEFT - 8} y={short(t) + 3}>
              {formatNumber(t)} short
            </text>
          </g>
        ))}
        {steps.map((s) => (
          <g key={s.copies}>
            <rect
              x={x(String(s.copies))}
              y={short(s.short)}
              width={x.bandwidth()}
              height={SHORT_BOTTOM - short(s.short)}
              fill="var(--mark)"
              stroke="var(--rule)"
            />
            <text x={middle(s)} y={SHORT_BOTTOM - 4} textAnchor="middle" fontSize="11" fill="var(--ink)">
              {formatNumber(s.short)}
            </text>
            <text x={middle(s)} y={HEIGHT - 20} textAnchor="middle" fontSize="11" fill="var(--ink)">
              +{s.copies}
            </text>
          </g>
        ))}
        <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 4} textAnchor="middle" fontSize="11" fill="var(--soft)">
          more copies
        </text>
        {priced && (
          <polyline
            points={steps.flatMap((s) => (s.cost === undefined ? [] : [`${middle(s)},${cost(s.cost)}`])).join(' ')}
            fill="none"
            stroke="var(--short)"
            strokeWidth="2"
          />
        )}
        {priced &&
          steps.map(
            (s) =>
              s.cost !== undefined && (
                <g key={s.copies}>
                  <circle cx={middle(s)} cy={cost(s.cost)} r={s === best ? 5 : 3} fill="var(--short)" />
                  <MoneyLabel x={middle(s)} y={cost(s.cost) - 8} minor={s.cost} currency={currency} bold={s === best} />
                </g>
              ),
          )}
      </svg>
    </figure>
  )
}
