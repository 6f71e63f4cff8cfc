import { useState } from 'react'
import { withFreedom, type Remedy } from '../../../core/planning/relax.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { Tally, TallyLine } from '../../../core/planning/tally.ts'
import type { Copy } from '../../../core/donors/donor-set.ts'
import type { CopyId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { add, edit } from '../../../storage/journal.ts'
import { fresh } from '../../data/database.ts'
import { perform } from '../../data/perform.ts'
import { useStudy } from '../../data/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { plural } from '../../ui/screen.tsx'
import { StudyNote } from '../../ui/study-note.tsx'

/** What would help a short line, ranked by its effect on it; worked out when asked for. */
export function RemediesPanel({ line, snapshot, result }: { line: TallyLine; snapshot: Snapshot; result: Tally }) {
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
  return (
    <section aria-label="What would help" aria-busy={study.busy}>
      <h3 className="font-semibold">What would help</h3>
      <StudyNote study={study} />
      {!study.busy && study.value && found.length === 0 && (
        <p className="text-soft">No single step at home would: it has to be bought, or drawn otherwise.</p>
      )}
      <ul className="mt-1 divide-y divide-hair border-y border-hair">
        {found.map((remedy) => (
          <li key={labelOf(remedy)} className="flex items-center justify-between gap-2 py-1.5">
            <span>
              {labelOf(remedy)}: here short {line.coverage.short} → <b>{remedy.lineShort}</b>, in all{' '}
              {result.coverage.short} → <b>{remedy.short}</b>
            </span>
            <Button
              className="px-2"
              aria-label={`${labelOf(remedy)}: do it`}
              onClick={() => {
                void perform(labelOf(remedy), changesOf(remedy, snapshot))
              }}
            >
              Do it
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function labelOf({ change }: Remedy): string {
  switch (change.kind) {
    case 'rule':
      return change.label
    case 'freedom':
      return change.family
        ? `Free the colour of ${change.pieces} hidden ${change.family} pieces`
        : change.freedom === 'near'
          ? `A near colour will do for ${plural(change.pieces, 'piece')} of this line`
          : `Free the colour of ${plural(change.pieces, 'piece')} of this line`
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
      return [edit('builds', build, { ...build, rules: { ...build.rules, ...change.rules } })]
    case 'freedom':
      return [edit('designs', design, withFreedom(design, change))]
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
