import { useMemo } from 'react'
import { tally } from '../../../core/planning/tally.ts'
import type { Place } from '../../../core/shelf/place.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../data/perform.ts'
import { useTallies } from '../../data/tallies.ts'
import { Toggle } from '../../ui/fields.tsx'
import { plural } from '../../ui/screen.tsx'

/** A finished model: whether it may be taken apart, and what that means for each build. */
export function ModelNote({ model }: { model: Place }) {
  const tallies = useTallies()
  const uses = useMemo(
    () =>
      tallies.flatMap(({ snapshot, result }) => {
        const places = snapshot.places.map((p) => (p.id === model.id ? { ...p, released: true } : p))
        const then = model.released ? result : tally({ ...snapshot, places })
        const taken = then.lines.reduce(
          (n, line) =>
            n +
            line.pegs.reduce(
              (m, { source, qty }) =>
                m +
                (source.kind === 'shelf' && source.state.kind === 'model' && source.state.model.id === model.id
                  ? qty
                  : 0),
              0,
            ),
          0,
        )
        const saved = result.coverage.short - then.coverage.short
        return taken > 0 ? [{ name: snapshot.build.name, taken, saved }] : []
      }),
    [tallies, model],
  )
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
      {uses.length === 0 ? (
        <p className="text-soft">No build would take a piece of it.</p>
      ) : (
        uses.map(({ name, taken, saved }) => (
          <p key={name}>
            {model.released
              ? `${name} takes ${plural(taken, 'piece')} of it.`
              : `Released, it would give ${plural(taken, 'piece')} to ${name}: ${saved} fewer short.`}
          </p>
        ))
      )}
    </div>
  )
}
