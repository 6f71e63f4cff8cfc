import { useMemo } from 'react'
import type { Place } from '../../../core/shelf/place.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useTallies, type BuildTally } from '../../store/tallies.ts'
import { useStudy } from '../../store/use-study.ts'
import { StudyNote } from '../../pieces/study-note.tsx'
import { Toggle } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** A finished model: whether it may be taken apart, and what that means for each build. */
export function ModelNote({ model }: { model: Place }) {
  const tallies = useTallies()
  return (
    <div className="flex flex-col gap-1.5 border-l-4 border-rule pl-2 text-xs">
      <Toggle
        checked={model.released ?? false}
        onChange={(released) =>
          void perform(released ? `${model.name} may be taken apart` : `${model.name} stays as it is`, [
            edit('places', model, { ...model, released }),
          ])
        }
      >
        May be taken apart
      </Toggle>
      {tallies.map((tally) => (
        <UseOfModel key={tally.snapshot.build.id} model={model} tally={tally} />
      ))}
    </div>
  )
}

/** What one build takes of the model, or would. */
function UseOfModel({ model, tally: { snapshot, result } }: { model: Place; tally: BuildTally }) {
  const question = useMemo(() => ({ model: model.id, short: result.coverage.short }), [model.id, result])
  const study = useStudy('release', snapshot, question)
  const { value, busy, problem } = study
  const { name } = snapshot.build
  if (problem !== undefined)
    return (
      <div>
        {name}: <StudyNote study={{ ...study, value: undefined }} />
      </div>
    )
  if (!value) return <p className="text-soft">{name}: working it out…</p>
  return (
    <p aria-busy={busy} className={value.taken === 0 ? 'text-soft' : ''}>
      {value.taken === 0
        ? `${name} would take no piece of it.`
        : model.released
          ? `${name} takes ${plural(value.taken, 'piece')} of it.`
          : `Released, it would give ${plural(value.taken, 'piece')} to ${name}: ${value.saved} fewer short.`}
    </p>
  )
}
