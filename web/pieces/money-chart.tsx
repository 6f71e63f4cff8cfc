import type { ScaleLinear } from 'd3-scale'
import { formatMoney } from '../../core/units/money.ts'

/** Lines across a chart at round sums of money, each with its sum at the left. */
export function MoneyLines({
  scale,
  left,
  right,
  currency,
}: {
  scale: ScaleLinear<number, number>
  left: number
  right: number
  currency: string
}) {
  return scale.ticks(3).map((t) => (
    <g key={t}>
      <line x1={left - 4} x2={right} y1={scale(t)} y2={scale(t)} stroke="var(--hair)" />
      <text x={left - 8} y={scale(t) + 3} textAnchor="end" fontSize="10" fill="var(--soft)">
        {formatMoney(Math.round(t), currency)}
      </text>
    </g>
  ))
}

/** A sum of money at a point of a chart, readable over lines; the one that counts is bold. */
export function MoneyLabel({
  x,
  y,
  minor,
  currency,
  bold,
}: {
  x: number
  y: number
  minor: number
  currency: string
  bold: boolean
}) {
  return (
    <text
      x={x}
      y={Math.max(11, y)}
      textAnchor="middle"
      fontSize="11"
      fontWeight={bold ? 700 : 400}
      fill="var(--ink)"
      stroke="var(--paper)"
      strokeWidth="3"
      paintOrder="stroke"
    >
      {formatMoney(minor, currency)}
    </text>
  )
}
