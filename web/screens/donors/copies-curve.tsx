import { scaleBand, scaleLinear } from 'd3-scale'
import type { CopiesStep } from '../../../core/studies/donor-worth.ts'
import { formatMoney } from '../../../core/units/money.ts'

const [WIDTH, HEIGHT] = [520, 170]

/** How many copies pay: pieces still short as bars, the cost of copies and loose remainder as a line. */
export function CopiesCurve({
  name,
  steps,
  currency,
}: {
  name: string
  steps: readonly CopiesStep[]
  currency: string
}) {
  const x = scaleBand(
    steps.map((s) => String(s.copies)),
    [0, WIDTH],
  ).padding(0.35)
  const short = scaleLinear([0, Math.max(1, ...steps.map((s) => s.short))], [HEIGHT - 22, 18])
  const costs = steps.flatMap((s) => (s.cost === undefined ? [] : [s.cost]))
  const cost = scaleLinear([Math.min(0, ...costs), Math.max(1, ...costs)], [HEIGHT - 22, 18])
  const least = Math.min(...costs)
  const best = steps.find((s) => s.cost === least)
  const middle = (s: CopiesStep) => (x(String(s.copies)) ?? 0) + x.bandwidth() / 2
  return (
    <figure>
      <figcaption className="mb-1 text-base font-semibold">
        {best === undefined
          ? `${name}: no price is known`
          : `${name}: ${best.copies === 0 ? 'no more copies pay' : `${best.copies} more ${best.copies === 1 ? 'copy pays' : 'copies pay'} best`}, ${formatMoney(least, currency)} with the rest loose`}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-xl"
        role="img"
        aria-label={steps
          .map(
            (s) =>
              `${s.copies} more: ${s.short} short${s.cost === undefined ? '' : `, ${formatMoney(s.cost, currency)}`}`,
          )
          .join('; ')}
      >
        {steps.map((s) => (
          <g key={s.copies}>
            <rect
              x={x(String(s.copies))}
              y={short(s.short)}
              width={x.bandwidth()}
              height={HEIGHT - 22 - short(s.short)}
              fill="var(--mark)"
              stroke="var(--rule)"
            />
            <text x={middle(s)} y={HEIGHT - 26} textAnchor="middle" fontSize="11" fill="var(--ink)">
              {s.short} short
            </text>
            <text x={middle(s)} y={HEIGHT - 7} textAnchor="middle" fontSize="11" fill="var(--soft)">
              +{s.copies}
            </text>
          </g>
        ))}
        <polyline
          points={steps.flatMap((s) => (s.cost === undefined ? [] : [`${middle(s)},${cost(s.cost)}`])).join(' ')}
          fill="none"
          stroke="var(--short)"
          strokeWidth="2"
        />
        {steps.map(
          (s) =>
            s.cost !== undefined && (
              <g key={s.copies}>
                <circle cx={middle(s)} cy={cost(s.cost)} r={s === best ? 5 : 3} fill="var(--short)" />
                <text
                  x={middle(s)}
                  y={Math.max(11, cost(s.cost) - 8)}
                  textAnchor="middle"
                  fontSize="11"
                  fontWeight={s === best ? 700 : 400}
                  fill="var(--ink)"
                >
                  {formatMoney(s.cost, currency)}
                </text>
              </g>
            ),
        )}
      </svg>
    </figure>
  )
}
