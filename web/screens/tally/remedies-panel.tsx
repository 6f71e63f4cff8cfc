import { useState } from 'react'
import { Link } from 'react-router'
import { withFreedom, type Remedy } from '../../../core/studies/relaxations.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally, TallyLine } from '../../../core/netting/tally.ts'
import type { Copy } from '../../../core/donors/donor-set.ts'
import type { Offer } from '../../../core/offers/offer.ts'
import type { CopyId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { add, edit } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { decisionOf } from '../../store/decide.ts'
import { perform } from '../../store/perform.ts'
import { ruleChanges } from '../../store/rules.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { useStudy } from '../../store/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'

/** What would help a short line, ranked by its effect on it; worked out when asked for. */
export function RemediesPanel({
  line,
  snapshot,
  result,
  best,
  shops,
}: {
  line: TallyLine
  snapshot: Snapshot
  result: Tally
  /** The lowest price at which it is on offer, and in how many shops. */
  best: Pick<Offer, 'price'> | undefined
  shops: number
}) {
  const { nameItem } = useRecords()
  const { currency } = snapshot.build
  const [asked, setAsked] = useState<string | undefined>()
  const study = useStudy('remedies', snapshot, asked === line.id ? line.line : undefined)
  if (asked !== line.id)
    return (
      <Button
        className="self-start"
        onClick={() => {
          setAsked(line.id)
        }}
      >
        What would help?
      </Button>
    )
  const found = study.busy ? [] : (study.value ?? [])
  const done = !study.busy && study.value !== undefined
  return (
    <section aria-label="What would help" aria-busy={study.busy}>
      <h3 className="font-semibold">What would help</h3>
      <StudyNote study={study} />
      {done && found.length === 0 && (
        <p className="text-soft">No single step at home helps this line: it has to be bought, or drawn otherwise.</p>
      )}
      <ul className="mt-1 divide-y divide-hair border-y border-hair">
        {found.map((remedy) => (
          <li key={labelOf(remedy, nameItem)} className="flex items-center justify-between gap-2 py-1.5">
            <span>
              {labelOf(remedy, nameItem)}: here short {formatNumber(line.coverage.short)} →{' '}
              <b>{formatNumber(remedy.lineShort)}</b>, in all {formatNumber(result.coverage.short)} →{' '}
              <b>{formatNumber(remedy.short)}</b>
            </span>
            <Button
              className="px-2"
              aria-label={`${labelOf(remedy, nameItem)}: do it`}
              onClick={() => {
                void perform(labelOf(remedy, nameItem), changesOf(remedy, snapshot))
              }}
            >
              Do it
            </Button>
          </li>
        ))}
        {done && snapshot.build.rules.sources === 'donors, shelf and shops' && (
          <li className="flex items-center justify-between gap-2 py-1.5">
            <span>
              {best
                ? `Buy ${formatNumber(line.coverage.short)}: from ${formatMoney(best.price, currency)} each in ${plural(shops, 'shop')}, ${formatMoney(best.price * line.coverage.short, currency)} in goods at the best offer`
                : `Buy ${formatNumber(line.coverage.short)}: no offer is known yet, so no price`}
            </span>
            <Link className="shrink-0 text-accent underline" to={`/build/${encodeURIComponent(snapshot.build.id)}/buy`}>
              {best ? 'Buy' : 'Ask the market'}
            </Link>
          </li>
        )}
      </ul>
    </section>
  )
}

function labelOf({ change }: Remedy, nameItem: RecordsView['nameItem']): string {
  switch (change.kind) {
    case 'rule':
      return change.label
    case 'freedom':
      return change.family
        ? `Free the colour of ${formatNumber(change.pieces)} hidden ${change.family} pieces`
        : change.freedom === 'near'
          ? `A near colour will do for ${plural(change.pieces, 'piece')} of this line`
          : `Free the colour of ${plural(change.pieces, 'piece')} of this line`
    case 'use': {
      const name = nameItem(change.item).name
      return `Use ${formatNumber(change.qty)} left-over ${name}${change.otherFinish ? ' (another finish)' : ''}`
    }
    case 'release':
      return `Take ${change.place.name} apart`
    case 'copy':
      return `One more copy of ${change.set.name}`
  }
}

/** What doing it changes; a copy is only wished for: it has to be bought. */
function changesOf({ change }: Remedy, { build, design }: Snapshot): Change[] {
  switch (change.kind) {
    case 'rule':
      return ruleChanges(build, change.rules, change.label)
    case 'freedom':
      return [edit('designs', design, withFreedom(design, change))]
    case 'use':
      return [
        add(
          'decisions',
          change.pins.map((what) => decisionOf(build.id, what)),
        ),
      ]
    case 'release':
      return [edit('places', change.place, { ...change.place, released: true })]
    case 'copy': {
      const copy: Copy = {
        id: `y-${fresh()}` as CopyId,
        setId: change.set.id,
        label: `${change.set.name}, one more`.slice(0, 120),
        buildId: build.id,
        state: 'to-buy',
        stages: 'all',
        spares: true,
        missing: [],
      }
      return [add('copies', [copy])]
    }
  }
}
