import { billTotal } from '../../../core/costs/order-cost.ts'
import { goodsOf, type Charges, type Order } from '../../../core/orders/order.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import { saveOrder } from '../../store/orders.ts'
import { Button } from '../../ui/button.tsx'
import { MoneyInput } from '../../ui/fields.tsx'

const PARTS = [
  ['goods', 'Goods'],
  ['shipping', 'Shipping'],
  ['handling', 'Handling'],
  ['lineFees', 'Fees by line'],
  ['service', 'Service fee'],
  ['levies', 'Duty and tax'],
] as const satisfies readonly (readonly [keyof Charges, string])[]

const NOTHING: Charges = { goods: 0, shipping: 0, handling: 0, lineFees: 0, service: 0, levies: 0 }

/** The bill as charged, part by part, beside what was planned; duty and tax in the user's own money. */
export function OrderBill({ order }: { order: Order }) {
  const { planned, charged, currency, home } = order
  const moneyOf = (part: keyof Charges) => (part === 'levies' ? home : currency)
  const change = (part: keyof Charges, minor: number) => {
    const before = charged ?? planned ?? { ...NOTHING, goods: goodsOf(order) }
    void saveOrder(order, { ...order, charged: { ...before, [part]: minor } }, 'Noted what was charged', true)
  }
  return (
    <section aria-label="Bill">
      <table className="w-full">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">{currency}</th>
            <th className="text-right font-semibold">Planned</th>
            <th className="text-right font-semibold">Charged</th>
          </tr>
        </thead>
        <tbody>
          {PARTS.map(([part, label]) => (
            <tr key={part} className="border-b border-hair">
              <td className="py-1">
                {label}
                {part === 'levies' && home !== currency && `, ${home}`}
              </td>
              <td className="text-right">{planned ? decimal(planned[part], moneyOf(part)) : '–'}</td>
              <td className="w-28 py-0.5 text-right">
                <MoneyInput
                  aria-label={`${label} charged`}
                  className="w-24 text-right"
                  value={charged ? charged[part] : null}
                  currency={moneyOf(part)}
                  empty="–"
                  onCommit={(minor) => {
                    if (minor !== null) change(part, minor)
                  }}
                />
              </td>
            </tr>
          ))}
          <tr className="font-bold">
            <td className="py-1">To the seller</td>
            <td className="text-right">{planned ? formatMoney(billTotal(planned), currency) : '–'}</td>
            <td className="text-right">{charged ? formatMoney(billTotal(charged), currency) : '–'}</td>
          </tr>
        </tbody>
      </table>
      <div className="no-print mt-1 flex items-center gap-2">
        {planned && !charged && (
          <Button
            look="bare"
            onClick={() => void saveOrder(order, { ...order, charged: planned }, 'Charged as planned', true)}
          >
            Charged as planned
          </Button>
        )}
        {charged && (
          <Button
            look="bare"
            onClick={() => {
              const { charged: _, ...bare } = order
              void saveOrder(order, bare, 'Forgot what was charged', true)
            }}
          >
            Not charged yet
          </Button>
        )}
      </div>
    </section>
  )
}
