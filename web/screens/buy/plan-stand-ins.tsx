import type { KeptPlan } from '../../../core/sourcing/kept-plan.ts'
import { planStandIns } from '../../../core/sourcing/plan-stand-ins.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'

/** Which stand-ins the plan keeps or buys because the pieces themselves would cost more than the compromise is worth. */
export function PlanStandIns({ kept, currency }: { kept: KeptPlan; currency: string }) {
  const found = planStandIns(kept)
  if (found.length === 0) return null
  const pieces = found.reduce((n, s) => n + s.qty, 0)
  const worth = found.reduce((n, s) => n + s.worth, 0)
  return (
    <details className="text-sm">
      <summary className="cursor-pointer py-1 font-semibold hover:bg-raised">
        {plural(pieces, 'stand-in')} in the plan, owned or bought: a compromise worth {formatMoney(worth, currency)} to
        you, weighed but not paid
      </summary>
      <table className="mt-1 w-full">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">Wanted</th>
            <th className="font-semibold">Stand-in</th>
            <th className="font-semibold">Why</th>
            <th className="text-right font-semibold">Pieces</th>
            <th className="pl-4 text-right font-semibold">Worth</th>
          </tr>
        </thead>
        <tbody>
          {found.map((s) => (
            <tr
              key={`${s.wanted} ${s.kind} ${s.uses.map((u) => `${u.qty} ${u.item}`).join(' ')} ${formatNumber(s.qty)}`}
              className="border-b border-hair"
            >
              <td className="py-1">
                <ItemName item={s.wanted} size={26} />
              </td>
              <td>
                {s.uses.map((u) => (
                  <span key={u.item} className="flex items-center gap-1">
                    {u.qty > 1 && <b>{u.qty} ×</b>}
                    <ItemName item={u.item} size={26} />
                  </span>
                ))}
              </td>
              <td className="text-soft">{STAND_IN_WORDS[s.kind]}</td>
              <td className="text-right">{formatNumber(s.qty)}</td>
              <td className="pl-4 text-right">{formatMoney(s.worth, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}
