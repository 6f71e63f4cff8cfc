import { Plus, Trash2 } from 'lucide-react'
import { PLACE_KINDS, type Place, type PlaceKind } from '../../../core/shelf/place.ts'
import { mayStandIn } from '../../../core/shelf/place-state.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { add, edit, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field } from '../../ui/fields.tsx'
import { isDay } from '../../../core/units/instants.ts'
import { ModelNote } from './model-note.tsx'

const KIND_LABELS: Record<PlaceKind, string> = {
  bin: 'bin',
  drawer: 'drawer',
  box: 'box',
  cabinet: 'cabinet',
  room: 'room',
  model: 'finished model',
  post: 'in the post',
  promise: 'promised',
}
const NOWHERE = 'none'

/** The chosen place's name, kind and what it stands in; new places go inside it. */
export function PlaceTools({ selected }: { selected: Place | undefined }) {
  const { places, holdings } = useRecords()
  const used =
    selected !== undefined &&
    (holdings.some((h) => h.place === selected.id) || places.some((p) => p.parent === selected.id))
  const change = (label: string, next: Partial<Place>) => {
    if (selected) void perform(label, [edit('places', selected, { ...selected, ...next })], { quiet: true })
  }
  return (
    <div className="flex shrink-0 flex-col gap-2">
      {selected && (
        <>
          <Field label="Place">
            {(id) => (
              <CommitInput
                id={id}
                value={selected.name}
                maxLength={120}
                onCommit={(name) => {
                  if (name.trim() !== '') change(`Renamed ${selected.name} to ${name.trim()}`, { name: name.trim() })
                }}
              />
            )}
          </Field>
          <div className="flex flex-col gap-2">
            <Choice
              label="Kind"
              value={selected.kind}
              options={PLACE_KINDS.map((kind) => ({ value: kind, label: KIND_LABELS[kind] }))}
              onChange={(kind) => {
                const { due, ...bare } = selected
                const late = kind === 'post' || kind === 'promise'
                void perform(
                  `${selected.name} is ${late ? KIND_LABELS[kind] : `a ${KIND_LABELS[kind]}`}`,
                  [edit('places', selected, { ...bare, kind, ...(late && due !== undefined && { due }) })],
                  { quiet: true },
                )
              }}
            />
            <Choice
              label="Stands in"
              value={selected.parent ?? NOWHERE}
              options={[
                { value: NOWHERE, label: 'nothing' },
                ...places
                  .filter((p) => mayStandIn(selected.id, p.id, places))
                  .map((p) => ({ value: p.id as string, label: p.name })),
              ]}
              onChange={(parent) => {
                const target = places.find((p) => p.id === parent)
                change(`${selected.name} stands in ${target?.name ?? 'nothing'}`, { parent: target?.id ?? null })
              }}
            />
          </div>
          {selected.kind === 'model' && <ModelNote model={selected} />}
          {(selected.kind === 'post' || selected.kind === 'promise') && (
            <>
              <Field label={selected.kind === 'promise' ? 'Promised for' : 'Due on'}>
                {(id) => (
                  <CommitInput
                    id={id}
                    value={selected.due ?? ''}
                    placeholder="2026-12-10"
                    onCommit={(text) => {
                      const day = text.trim()
                      if (day !== '' && !isDay(day)) return { problem: 'A day such as 2026-12-10, or nothing.' }
                      const { due: _, ...bare } = selected
                      void perform(
                        day === '' ? `${selected.name}: no day` : `${selected.name}: due ${day}`,
                        [edit('places', selected, day === '' ? bare : { ...bare, due: day })],
                        { quiet: true },
                      )
                      return undefined
                    }}
                  />
                )}
              </Field>
              <p className="border-l-4 border-rule pl-2 text-xs">
                {selected.kind === 'promise'
                  ? 'Someone promised what is in it, at no price: it counts as on order.'
                  : 'What is in it counts as on order.'}{' '}
                Once it is here, make it a box, or move its pieces.
              </p>
            </>
          )}
        </>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          className="px-2"
          onClick={() => {
            const place: Place = {
              id: `l-${fresh()}` as PlaceId,
              name: `New place ${places.length + 1}`,
              kind: 'bin',
              parent: selected?.id ?? null,
            }
            void perform(`Added ${place.name}`, [add('places', [place])])
          }}
        >
          <Plus size={14} aria-hidden="true" /> Add a place
        </Button>
        {selected && (
          <Button
            className="px-2"
            disabled={used}
            title={used ? 'Empty it first' : ''}
            onClick={() => void perform(`Removed ${selected.name}`, [remove('places', [selected.id])])}
          >
            <Trash2 size={14} aria-hidden="true" /> Remove
          </Button>
        )}
      </div>
    </div>
  )
}
