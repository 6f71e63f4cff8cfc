import { scaleLinear } from 'd3-scale'
import type { PlanCost } from '../../../core/sourcing/plan.ts'
import type { GoodsCost } from '../../../core/offers/goods-cost.ts'
import { formatMoney } from '../../../core/units/money.ts'

/** What the total is made of, as one bar and its numbers. */
export function CostStack({
  cost,
  prints,
  currency,
  loose,
}: {
  cost: PlanCost
  /** What custom prints cost. */
  prints: number
  currency: string
  /** All that is short, piece by piece at its cheapest offer; undefined when that is of another state. */
  loose: GoodsCost | undefined
}) {
  const parts = [
    { label: 'goods', value: cost.goods, fill: 'var(--donor)' },
    { label: 'donor copies', value: cost.sets, fill: 'var(--shelf)' },
    { label: 'shipping', value: cost.shipping, fill: 'var(--standin)' },
    { label: 'handling and line fees', value: cost.handling + cost.lineFees, fill: 'var(--order)' },
    { label: 'service fees', value: cost.service, fill: 'var(--warn)' },
    { label: 'custom prints', value: prints, fill: 'var(--short)' },
    { label: 'duty and tax, your rates', value: cost.levies ?? 0, fill: 'var(--soft)' },
  ].filter((p) => p.value > 0)
  const gross = parts.reduce((sum, p) => sum + p.value, 0)
  const x = scaleLinear([0, Math.max(1, gross)], [0, 400])
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">What it is made of</figcaption>
      <svg
        viewBox="0 0 400 20"
        className="w-full"
        role="img"
        aria-label={parts.map((p) => `${p.label} ${formatMoney(p.value, currency)}`).join(', ')}
      >
        {parts.map((p, i) => (
          <rect
            key={p.label}
            x={x(parts.slice(0, i).reduce((s, q) => s + q.value, 0))}
            width={Math.max(1, x(p.value) - 1)}
            height="20"
            fill={p.fill}
          />
        ))}
      </svg>
      <table className="mt-2 w-full text-sm">
        <tbody>
          {parts.map((p) => (
            <tr key={p.label} className="border-b border-hair">
              <th scope="row" className="py-0.5 text-left font-normal">
                <span aria-hidden="true" className="mr-2 inline-block size-2.5" style={{ background: p.fill }} />
                {p.label}
              </th>
              <td className="text-right">{formatMoney(p.value, currency)}</td>
            </tr>
          ))}
          {cost.credit > 0 && (
            <tr className="border-b border-hair">
              <th scope="row" className="py-0.5 text-left font-normal">
                leftovers may resell for
              </th>
              <td className="text-right text-good">−{formatMoney(cost.credit, currency)}</td>
            </tr>
          )}
          <tr>
            <th scope="row" className="py-1 text-left">
              at the door{cost.credit > 0 ? ', less resale' : ''}
            </th>
            <td className="text-right font-bold">{formatMoney(gross - cost.credit, currency)}</td>
          </tr>
        </tbody>
      </table>
      {loose !== undefined && loose.cost !== cost.goods && (
        <p className="mt-1 text-xs text-soft">
          Loose at its cheapest offer, wherever that is, everything short comes to {formatMoney(loose.cost, currency)}{' '}
          of goods (the figure of Donors, Colourways and Versions). This plan&apos;s goods differ as it weighs shipping
          and fees, packs, donor copies and stand-ins as well.
        </p>
      )}
      {cost.penalties > prints && (
        <p className="mt-1 text-xs text-soft">
          Stand-ins weigh {formatMoney(cost.penalties - prints, currency)} in points of compromise: counted in the
          choice, not in the bill.
        </p>
      )}
    </figure>
  )
}
