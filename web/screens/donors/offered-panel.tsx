import { useMutation } from '@tanstack/react-query'
import { RefreshCw } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { CONDITIONS } from '../../../core/units/condition.ts'
import type { Build } from '../../../core/build/build.ts'
import { piecesOf } from '../../../core/donors/copy-contents.ts'
import { copyWanted, wantedId, type OfferedCopy } from '../../../core/formats/copies-answer.ts'
import { currency, formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { MOST_SET_LINES } from '../../../market/wire.ts'
import { add } from '../../../storage/journal.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { fetchCopies } from '../../store/market-client.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'

/** The money of the invented market. */
const EUR = currency('EUR')

/** Copies of the known sets that shops offer second hand; any of them can be wanted, and is then weighed with the purchase. */
export function OfferedPanel({ build }: { build: Build }) {
  const { sets, copies } = useRecords()
  const [offered, setOffered] = useState<readonly OfferedCopy[] | undefined>()
  const market = useMutation({
    networkMode: 'always',
    mutationFn: () => fetchCopies(sets),
    onSuccess: (answer) => {
      if (answer.ok) setOffered(answer.value)
      else toast.error(answer.error.message, { duration: 15_000 })
    },
  })
  const long = sets.filter((s) => s.lines.filter((l) => !l.spare).length > MOST_SET_LINES).length
  const rows = (offered ?? []).flatMap((copy) => {
    const set = sets.find((s) => s.id === copy.set)
    if (!set) return []
    const whole = piecesOf(set)
    const gone = copy.missing.reduce((n, m) => n + m.qty, 0)
    return [{ copy, set, holds: Math.max(0, whole - gone), gone, each: copy.price / Math.max(1, whole - gone) }]
  })
  rows.sort((p, q) => (p.set.name === q.set.name ? p.each - q.each : p.set.name < q.set.name ? -1 : 1))
  return (
    <section aria-label="Second hand" className="min-h-0 flex-1 overflow-auto">
      <div className="mb-3 flex flex-wrap items-center gap-3 text-sm">
        <Button
          look={offered ? 'plain' : 'primary'}
          disabled={market.isPending || sets.length === 0}
          onClick={() => {
            market.mutate()
          }}
        >
          <RefreshCw size={14} aria-hidden="true" />{' '}
          {market.isPending ? 'Asking the market…' : 'Ask who offers copies second hand'}
        </Button>
        <span className="text-soft">
          {sets.length === 0
            ? 'No donor set is known yet: import an inventory first.'
            : 'A copy that is wanted is weighed with the purchase: what it lacks may be bought, what it leaves over sold. The market is invented, for practice.'}
        </span>
      </div>
      {offered && long > 0 && (
        <p className="mb-2 text-sm text-warn">
          {plural(long, 'set')} of more than {formatNumber(MOST_SET_LINES)} lines {long === 1 ? 'is' : 'are'} too long
          to ask about.
        </p>
      )}
      {offered && rows.length === 0 && (
        <p className="text-sm">Nobody offers a copy today. Let a day pass on Buy, and ask again.</p>
      )}
      {rows.length > 0 && (
        <table className="w-full text-sm" aria-label="Copies offered">
          <thead>
            <tr className="border-b border-rule text-left text-xs text-soft">
              <th className="py-1 font-semibold">Set and seller</th>
              <th className="pl-3 font-semibold">Condition</th>
              <th className="pl-3 text-right font-semibold">Holds</th>
              <th className="pl-3 font-semibold">Lacks</th>
              <th className="pl-3 text-right font-semibold">Price</th>
              <th className="pl-3 text-right font-semibold">A piece</th>
              <th>
                <span className="sr-only">Act</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ copy, set, holds, gone, each }) => (
              <tr key={`${copy.set} ${copy.id}`} className="border-b border-hair align-top">
                <td className="py-2">
                  <b>{set.name}</b>
                  <span className="block text-xs text-soft">
                    {copy.seller}, {copy.country}
                  </span>
                </td>
                <td className="py-2 pl-3">
                  {copy.condition}
                  {CONDITIONS.indexOf(copy.condition) > CONDITIONS.indexOf(build.rules.condition) && (
                    <span className="block text-xs text-warn">worse than the house rules allow</span>
                  )}
                </td>
                <td className="py-2 pl-3 text-right">{formatNumber(holds)}</td>
                <td className="py-2 pl-3">
                  {gone === 0 ? (
                    'nothing'
                  ) : (
                    <details>
                      <summary>{plural(gone, 'piece')}</summary>
                      <ul>
                        {copy.missing.slice(0, 60).map((m) => (
                          <li key={m.item} className="flex items-center gap-2">
                            {m.qty} × <ItemName item={m.item as never} size={20} />
                          </li>
                        ))}
                      </ul>
                    </details>
                  )}
                </td>
                <td className="py-2 pl-3 text-right">{formatMoney(copy.price, EUR)}</td>
                <td className="py-2 pl-3 text-right">{(each / 100).toFixed(3)}</td>
                <td className="py-2 pl-3 text-right">
                  {copies.some((c) => c.id === wantedId(copy, build.id)) ? (
                    <span className="text-xs font-semibold">wanted</span>
                  ) : (
                    <Button
                      aria-label={`Want ${set.name} from ${copy.seller}`}
                      onClick={() =>
                        void perform(`Wanted a copy of ${set.name}`, [
                          add('copies', [copyWanted(copy, set, build.id, EUR)]),
                        ])
                      }
                    >
                      Want it
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
