import { scaleLinear, scaleTime } from 'd3-scale'
import type { Outlay } from '../../../core/settling/ledger.ts'
import { addDays } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { MoneyLabel, MoneyLines } from '../../pieces/money-chart.tsx'

const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [520, 190, 86, 30, 18, 24] as const
const time = (day: string) => new Date(`${day}T00:00:00Z`)

/** What was laid out by when, a step a payment; its peak marked, and what it comes to as a dashed line. */
export function OutlayChart({
  outlay: { points, peak },
  total,
  currency,
  today,
}: {
  outlay: Outlay
  total: number
  currency: string
  today: string
}) {
  const dated = points.flatMap((p) => (p.on === undefined ? [] : [{ on: p.on, minor: p.minor }]))
  const first = dated[0]?.on ?? addDays(today, -7)
  const begins = addDays(first, -2)
  const last = [dated.at(-1)?.on ?? today, today].sort().at(-1) ?? today
  const x = scaleTime([time(begins), time(addDays(last, 1))], [LEFT, WIDTH - RIGHT])
  const sums = [0, total, ...points.map((p) => p.minor)]
  const y = scaleLinear([Math.min(...sums), Math.max(1, ...sums)], [HEIGHT - BOTTOM, TOP]).nice(3)
  const start = points[0]?.on === undefined ? (points[0]?.minor ?? 0) : 0
  const path = [
    `M${x(time(begins))} ${y(start)}`,
    ...dated.map((p) => `H${x(time(p.on))}V${y(p.minor)}`),
    `H${x(time(last))}`,
  ].join('')
  const peakAt = peak.on === undefined ? x(time(begins)) : x(time(peak.on))
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full max-w-xl"
      role="img"
      aria-label={dated.map((p) => `${p.on}: ${formatMoney(p.minor, currency)}`).join('; ')}
    >
      <MoneyLines scale={y} left={LEFT} right={WIDTH - RIGHT} currency={currency} />
      {x.ticks(5).map((tick) => (
        <text key={tick.toISOString()} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" fontSize="10" fill="var(--soft)">
          {tick.toISOString().slice(0, 10)}
        </text>
      ))}
      <line
        x1={LEFT}
        x2={WIDTH - RIGHT}
        y1={y(total)}
        y2={y(total)}
        stroke="var(--accent)"
        strokeDasharray="4 4"
        strokeWidth="1.5"
      />
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="2" />
      <circle cx={peakAt} cy={y(peak.minor)} r="4" fill="var(--ink)" />
      <MoneyLabel
        x={Math.min(WIDTH - 60, Math.max(LEFT + 40, peakAt))}
        y={y(peak.minor) - 8}
        minor={peak.minor}
        currency={currency}
        bold
      />
      <text
        x={WIDTH - RIGHT}
        y={y(total) - 5}
        textAnchor="end"
        fontSize="10"
        fill="var(--accent)"
        stroke="var(--paper)"
        strokeWidth="3"
        paintOrder="stroke"
      >
        at completion
      </text>
    </svg>
  )
}
