import { pieceWanted } from '../../../core/sourcing/plan-pieces.ts'
import type { Unreachable } from '../../../core/sourcing/plan.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** What no allowed shop has; named early, with the reason. */
export function Unavailable({ lines, planned }: { lines: readonly Unreachable[]; planned: boolean }) {
  const { offers } = useRecords()
  if (lines.length === 0 || offers.length === 0) return null
  return (
    <section>
      <h2 className="text-base font-semibold">{plural(lines.length, 'item')} cannot be had from the allowed shops</h2>
      <p className="text-sm text-soft">
        {planned ? 'The plan covers everything else' : 'Everything else can be bought'}. Try another colour or part, or
        relax a rule.
      </p>
      <ul className="mt-2 grid grid-cols-2 gap-x-6 text-sm max-[960px]:grid-cols-1">
        {lines.map((u) => (
          <li key={u.line} className="flex items-center justify-between gap-3 border-b border-hair py-1">
            <ItemName item={pieceWanted(u)} size={28} />
            <span className="shrink-0 text-right text-xs text-bad" title={u.detail}>
              {plural(u.short, 'piece')}:{' '}
              {
                {
                  rules: 'barred by the rules',
                  stock: 'out of stock',
                  'not-offered': 'not offered',
                  joint: 'not together with the rest',
                }[u.reason]
              }
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
