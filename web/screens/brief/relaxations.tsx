import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { perform } from '../../store/perform.ts'
import { ruleChanges } from '../../store/rules.ts'
import { useStudy } from '../../store/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'

/** What relaxing each house rule would bring, in pieces short; one press relaxes it. */
export function Relaxations({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { short: now } = result.coverage
  const study = useStudy('relaxations', snapshot, now)
  if (now === 0) return null
  const found = study.value ?? []
  return (
    <section>
      <h2 className="mt-3 text-base font-semibold">What relaxing a rule would bring</h2>
      <StudyNote study={study} />
      {study.value === undefined ? null : found.length === 0 ? (
        <p className="text-sm text-soft">No single rule stands in the way: the pieces are not there.</p>
      ) : (
        <ul aria-busy={study.busy} className="mt-1 divide-y divide-hair border-y border-hair text-sm">
          {found.map(({ label, change, short, saved }) => (
            <li key={label} className="flex items-center justify-between gap-3 py-1">
              <span>
                {label}: <b>{plural(Math.max(0, now - short), 'piece')} fewer</b>, {formatNumber(short)} short
                {saved > 0 && `, loose goods ${formatMoney(saved, snapshot.build.currency)} less`}
              </span>
              <Button
                className="px-2"
                aria-label={`${label}: do it`}
                onClick={() => void perform(label, ruleChanges(snapshot.build, change, label))}
              >
                Do it
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
