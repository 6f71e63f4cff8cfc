import { scaleLinear } from 'd3-scale'
import { formatMoney } from '../../../core/units/money.ts'
import { MoneyLabel, MoneyLines } from '../../pieces/money-chart.tsx'

const [WIDTH, HEIGHT, LEFT, TOP, BOTTOM] = [540, 200, 84, 26, 150]
/** Room beside the first and last point, and what a label takes. */
const [SIDE, LABEL] = [44, 66]

export type ChartPoint = {
  readonly limit: number
  /** Minor units, at the door. */
  readonly cost: number
  /** The least that is proven for it; the cost itself where that is proven, undefined where nothing is. */
  readonly least: number | undefined
  readonly kept: boolean
}

/** Cost over what a rule allows, the tightest on the left; a stroke below a point reaches down to what is proven. */
export function FrontierChart({
  points,
  currency,
  unit,
}: {
  points: readonly ChartPoint[]
  currency: string
  unit: string
}) {
  const ordered = [...points].sort((p, q) => p.limit - q.limit)
  const [first = 0, last = 1] = [ordered[0]?.limit, ordered.at(-1)?.limit]
  const x = scaleLinear([first, Math.max(last, first + 1)], [LEFT + SIDE, WIDTH - SIDE])
  const values = ordered.flatMap((p) => [p.cost, p.least ?? p.cost])
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const y = scaleLinear([low - (high - low) * 0.15, Math.max(high, low + 1)], [BOTTOM, TOP]).nice(3)
  const at = (p: ChartPoint) => x(p.limit)
  // Where points lie close, the tighter one's label is left out; the table has them all.
  const labelled = new Set<ChartPoint>()
  for (const p of [...ordered].sort((p, q) => Number(q.kept) - Number(p.kept) || q.limit - p.limit))
    if ([...labelled].every((l) => Math.abs(at(l) - at(p)) >= LABEL)) labelled.add(p)
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full max-w-xl"
      role="img"
      aria-label={ordered.map((p) => `${p.limit} ${unit}: ${formatMoney(p.cost, currency)}`).join('; ')}
    >
      <MoneyLines scale={y} left={LEFT} right={WIDTH} currency={currency} />
      <polyline
        points={ordered.map((p) => `${at(p)},${y(p.cost)}`).join(' ')}
        fill="none"
        stroke="var(--accent)"
        strokeWidth="1.5"
      />
      {ordered.map((p) => (
        <g key={p.limit}>
          {p.least !== undefined && p.least < p.cost && (
            <path
              d={`M${at(p)} ${y(p.cost)}V${y(p.least)}m-5 0h10`}
              stroke="var(--soft)"
              strokeWidth="1.5"
              fill="none"
            />
          )}
          <circle
            cx={at(p)}
            cy={y(p.cost)}
            r={p.kept ? 6 : 4}
            fill={p.kept ? 'var(--accent)' : 'var(--paper)'}
            stroke="var(--accent)"
            strokeWidth="2"
          />
          {labelled.has(p) && (
            <>
              <MoneyLabel x={at(p)} y={y(p.cost) - 10} minor={p.cost} currency={currency} bold={p.kept} />
              <text x={at(p)} y={BOTTOM + 20} textAnchor="middle" fontSize="11" fill="var(--ink)">
                {p.limit}
              </text>
            </>
          )}
        </g>
      ))}
      <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 8} textAnchor="middle" fontSize="11" fill="var(--soft)">
        {unit}
      </text>
    </svg>
  )
}
