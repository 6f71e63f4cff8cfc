import { ImagePlus, Trash2 } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { nestingChoices } from '../../../core/design/faults.ts'
import { freedPieces, sumItems } from '../../../core/design/from-donor.ts'
import { compareSymmetry, lacksMirror, pairsOf } from '../../../core/design/mirror.ts'
import type { Module } from '../../../core/design/design.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { Tally } from '../../../core/planning/tally.ts'
import type { ModuleId, PlaceId } from '../../../core/units/ids.ts'
import { put, remove } from '../../../storage/journal.ts'
import { fresh } from '../../data/database.ts'
import { useRecords } from '../../data/records.tsx'
import { shrinkPicture } from '../../data/shrink-picture.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../ui/item-name.tsx'
import { plural } from '../../ui/screen.tsx'
import type { EditDesign } from './edit-design.ts'

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
      <Drawing module={module} edit={edit} />
    </section>
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

/** Handed parts that a mirrored module keeps although nothing mirrors them. */
function MirrorNotes({ module, snapshot, result }: { module: Module; snapshot: Snapshot; result: Tally }) {
  const missing = useMemo(() => {
    const pairs = pairsOf(snapshot.parts)
    return [
      ...new Set(
        result.lines
          .filter((l) => l.path.includes(module.id) && lacksMirror(l.item, snapshot.parts, pairs))
          .map((l) => l.item),
      ),
    ]
  }, [module, snapshot, result])
  if (!module.mirrored || missing.length === 0) return null
  return (
    <div className="border-l-4 border-warn bg-raised px-3 py-2">
      <h2 className="font-semibold">No counterpart is known</h2>
      <p>These stay as drawn. Add the other hand to the catalogue, or name what will do instead on their lines.</p>
      {missing.slice(0, 8).map((item) => (
        <ItemName key={item} item={item} size={24} />
      ))}
    </div>
  )
}

/** Whether a module and the one it is symmetric with really are. */
function Symmetry({ module, snapshot, result }: { module: Module; snapshot: Snapshot; result: Tally }) {
  const { nameItem } = useRecords()
  const other = snapshot.design.modules.find((m) => m.id === module.pair)
  const found = useMemo(() => {
    const pairs = pairsOf(snapshot.parts)
    const of = (id: ModuleId | undefined) =>
      sumItems(
        result.lines.filter((l) => id !== undefined && l.path.includes(id)).map((l) => ({ item: l.item, qty: l.need })),
      )
    return compareSymmetry(of(module.id), of(module.pair), pairs)
  }, [module, snapshot, result])
  if (!other) return null
  if (found.length === 0) return <p className="text-good">The two are each other&rsquo;s mirror image.</p>
  return (
    <div className="border-l-4 border-warn bg-raised px-3 py-2">
      <h2 className="font-semibold">Not symmetric in {plural(found.length, 'item')}</h2>
      <ul>
        {found.slice(0, 6).map((d) => (
          <li key={d.item}>
            {module.name} has {d.here} {nameItem(d.item).name}; {other.name} has {d.there} {nameItem(d.mirrored).name}.
          </li>
        ))}
      </ul>
    </div>
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

function Drawing({ module, edit }: { module: Module; edit: EditDesign }) {
  const { pictures } = useRecords()
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState('')
  const picture = pictures.find((p) => p.id === module.picture)
  const attach = async (file: File | undefined) => {
    setProblem('')
    if (!file) return
    const read = await shrinkPicture(file)
    if ('problem' in read) {
      setProblem(read.problem)
      return
    }
    const id = `i-${fresh()}`
    edit.replace(`Attached a picture to ${module.name}`, { ...module, picture: id }, [
      put('pictures', [{ id, name: file.name.slice(0, 200) || 'picture', data: read.data }]),
    ])
  }
  return (
    <div className="flex flex-col gap-2">
      {picture && (
        <img src={picture.data} alt={`Drawing of ${module.name}: ${picture.name}`} className="border border-rule" />
      )}
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        aria-label="Drawing or photo"
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          void attach(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <span className="flex gap-2">
        <Button onClick={() => input.current?.click()}>
          <ImagePlus size={14} aria-hidden="true" /> {picture ? 'Another picture' : 'Attach a picture'}
        </Button>
        {picture && (
          <Button
            aria-label="Remove the picture"
            onClick={() => {
              const { picture: _, ...rest } = module
              edit.replace('Removed a picture', rest, [remove('pictures', [picture.id])])
            }}
          >
            <Trash2 size={14} aria-hidden="true" />
          </Button>
        )}
      </span>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </div>
  )
}
