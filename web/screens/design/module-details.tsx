import { useMemo } from 'react'
import { nestingChoices } from '../../../core/design/nesting.ts'
import { freedPieces } from '../../../core/design/from-donor.ts'
import type { Module } from '../../../core/design/design.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { ModuleId, PlaceId } from '../../../core/units/ids.ts'
import { Choice, CommitInput, Field, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import type { Currency } from '../../../core/units/money.ts'
import { NEW_PLAN, PlanFields } from '../../pieces/plan-fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { EditDesign } from './edit-design.ts'
import { MirrorNotes, Symmetry } from './mirror-notes.tsx'
import { ModuleDrawing } from './module-drawing.tsx'

const NONE = '-'

/** What a module is: where it stands, what it repeats, how it differs, and what follows from that. */
export function ModuleDetails({
  module,
  edit,
  snapshot,
  result,
}: {
  module: Module
  edit: EditDesign
  snapshot: Snapshot
  result: Tally
}) {
  const { design } = edit
  const nesting = useMemo(() => nestingChoices(design, module.id), [design, module.id])
  const set = (label: string, next: Module) => {
    edit.replace(label, next)
  }
  const without = (key: keyof Module): Module => {
    const { [key]: _, ...rest } = module
    return rest as Module
  }
  const others = design.modules.filter((m) => m.id !== module.id)
  const reference = (key: 'within' | 'like' | 'pair', label: string) => (next: string) => {
    set(label, next === NONE ? without(key) : { ...module, [key]: next as ModuleId })
  }
  const choices = (none: string, allowed: (m: Module) => boolean) => [
    { value: NONE, label: none },
    ...others.filter(allowed).map((m) => ({ value: m.id as string, label: m.name })),
  ]
  const models = snapshot.places.filter((p) => p.kind === 'model')
  return (
    <section aria-label="Module" className="flex flex-col gap-3 text-sm">
      <Origin module={module} />
      <Field label="Stands in">
        {(id) => (
          <Choice
            id={id}
            value={module.within ?? NONE}
            options={choices('the design itself', (m) => nesting.within.has(m.id))}
            onChange={reference('within', `Moved ${module.name}`)}
          />
        )}
      </Field>
      <Field label="The same as" hint="Has its lines and inner modules beside its own.">
        {(id) => (
          <Choice
            id={id}
            value={module.like ?? NONE}
            options={choices('nothing else', (m) => nesting.like.has(m.id))}
            onChange={reference('like', `Changed what ${module.name} is the same as`)}
          />
        )}
      </Field>
      <Tick
        checked={module.mirrored ?? false}
        onChange={(mirrored) => {
          set(
            mirrored ? `Mirrored ${module.name}` : `Turned ${module.name} back`,
            mirrored ? { ...module, mirrored } : without('mirrored'),
          )
        }}
      >
        Mirrored: handed parts swap
      </Tick>
      <MirrorNotes module={module} snapshot={snapshot} result={result} />
      <Field label="Symmetric with">
        {(id) => (
          <Choice
            id={id}
            value={module.pair ?? NONE}
            options={choices('no module', () => true)}
            onChange={reference('pair', `Paired ${module.name}`)}
          />
        )}
      </Field>
      <Symmetry module={module} snapshot={snapshot} result={result} />
      <Tick
        checked={module.later ?? false}
        onChange={(later) => {
          set(
            later ? `Put ${module.name} off` : `${module.name} is needed now`,
            later ? { ...module, later } : without('later'),
          )
        }}
      >
        An idea for later
      </Tick>
      <Tick
        checked={module.figure ?? false}
        onChange={(figure) => {
          set(
            figure ? `${module.name} is a figure` : `${module.name} is no figure`,
            figure ? { ...module, figure } : without('figure'),
          )
        }}
      >
        A figure
      </Tick>
      {models.length > 0 && (
        <div>
          <h2 className="font-semibold">Built already</h2>
          <p className="text-xs text-soft">A finished model that is this module covers one repeat of it.</p>
          {models.map((place) => (
            <Tick
              key={place.id}
              checked={module.built?.includes(place.id) ?? false}
              onChange={(on) => {
                const built = (module.built ?? []).filter((id) => id !== place.id)
                const next: PlaceId[] = on ? [...built, place.id] : built
                set(
                  on ? `${place.name} is ${module.name}` : `${place.name} is not ${module.name}`,
                  next.length > 0 ? { ...module, built: next } : without('built'),
                )
              }}
            >
              {place.name}
            </Tick>
          ))}
        </div>
      )}
      <Freed module={module} />
      <Field label="Note">
        {(id) => (
          <CommitInput
            id={id}
            value={module.note ?? ''}
            maxLength={4000}
            onCommit={(note) => {
              set('Changed a note', note.trim() === '' ? without('note') : { ...module, note: note.trim() })
            }}
          />
        )}
      </Field>
      <ModulePlan module={module} edit={edit} currency={snapshot.build.currency} />
      <ModuleDrawing module={module} edit={edit} />
    </section>
  )
}

/** Whose instructions a module follows, where several authors meet in one build. */
function ModulePlan({ module, edit, currency }: { module: Module; edit: EditDesign; currency: Currency }) {
  const { provenance, ...own } = module
  return (
    <>
      <Tick
        checked={provenance !== undefined}
        onChange={(bought) => {
          edit.replace(
            bought ? `${module.name} follows someone’s instructions` : `${module.name} is an own design`,
            bought ? { ...module, provenance: NEW_PLAN } : own,
          )
        }}
      >
        After someone’s instructions
      </Tick>
      {provenance && (
        <div className="grid grid-cols-2 gap-3">
          <PlanFields
            plan={provenance}
            currency={currency}
            onChange={(next) => {
              edit.replace('Changed whose instructions a module follows', {
                ...module,
                provenance: { ...(provenance ?? NEW_PLAN), ...next },
              })
            }}
          />
        </div>
      )}
    </>
  )
}

function Origin({ module: { origin } }: { module: Module }) {
  if (!origin) return <p className="text-soft">Typed or pasted here.</p>
  const words = {
    list: 'Imported from',
    donor: 'Begun from',
    library: 'From the library:',
    'as built': 'Counted as built:',
    version: 'From version',
  }[origin.kind]
  return (
    <p className="text-soft">
      {words} {origin.kind === 'library' ? `${origin.module}, ${origin.build}` : origin.name}.
    </p>
  )
}

function Freed({ module }: { module: Module }) {
  const freed = freedPieces(module)
  if (freed.length === 0) return null
  return (
    <div>
      <h2 className="font-semibold">
        Freed:{' '}
        {plural(
          freed.reduce((n, f) => n + f.qty, 0),
          'piece',
        )}
      </h2>
      <p className="text-xs text-soft">Taken out of the donor&rsquo;s stage; the rest of the build may use them.</p>
      <ul>
        {freed.slice(0, 12).map(({ item, qty }) => (
          <li key={item} className="flex items-center gap-1">
            {qty} × <ItemName item={item} size={22} />
          </li>
        ))}
      </ul>
    </div>
  )
}
