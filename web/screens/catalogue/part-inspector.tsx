import { Trash2, X } from 'lucide-react'
import { useState } from 'react'
import type { Part } from '../../../core/catalogue/part.ts'
import { FAMILIES, type Shape } from '../../../core/catalogue/shape.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import { mergeParts, renamePart, type TakenOver } from '../../../core/catalogue/merge-parts.ts'
import {
  RECORD_KINDS,
  REGISTRY,
  type RecordKind,
  type RecordOf,
  type RecordsByKind,
} from '../../../core/records/registry.ts'
import type { PartId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { edit, editAll, remove } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field, NumberInput, SearchInput } from '../../ui/fields.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { PartRow } from './part-row.ts'

const HANDS = [
  { value: 'none', label: 'no hand' },
  { value: 'left', label: 'left hand' },
  { value: 'right', label: 'right hand' },
] as const

/** One part put right: its name, its shape, its other names; or found to be the same as another. */
export function PartInspector({ row, onMerged }: { row: PartRow; onMerged: (into: PartId) => void }) {
  const { part, use } = row
  const { parts } = useRecords()
  const save = (label: string, next: Part) => void perform(label, [edit('parts', part, next)])
  const shape = (label: string, next: Partial<Shape>) => {
    save(label, { ...part, shape: { ...part.shape, ...next } })
  }
  const unused = use.shelf === 0 && use.sets === 0 && use.designs === 0
  return (
    <aside
      aria-label={`Part ${part.name}`}
      className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm"
    >
      <div className="flex items-center gap-3">
        <PiecePicture shape={part.shape} hex="#9a9a9a" finish="opaque" size={84} />
        <p className="text-soft">
          {use.shelf} on the shelf, in {plural(use.sets, 'set')} and {plural(use.designs, 'design')}. What you change
          here changes everywhere.
        </p>
      </div>
      <Field label="Name" hint="The shape is read from it anew.">
        {(id) => (
          <CommitInput
            id={id}
            value={part.name}
            maxLength={200}
            onCommit={(name) => {
              if (name.trim() === '') return
              const next = renamePart(part, name)
              if (parts.some((p) => p.id !== part.id && p.name === next.name))
                void perform(`Renamed ${part.name} to ${next.name}, like another part: merge them if they are one`, [
                  edit('parts', part, next),
                ])
              else save(`Renamed ${part.name} to ${next.name}`, next)
            }}
          />
        )}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Family">
          {(id) => (
            <Choice
              id={id}
              value={part.shape.family}
              options={FAMILIES.map((value) => ({ value, label: value }))}
              onChange={(family) => {
                shape(`${part.name} is a ${family}`, { family })
              }}
            />
          )}
        </Field>
        <Field label="Hand">
          {(id) => (
            <Choice
              id={id}
              value={part.shape.hand}
              options={HANDS}
              onChange={(hand) => {
                shape(`${part.name}: ${hand === 'none' ? 'no' : hand} hand`, { hand })
              }}
            />
          )}
        </Field>
        <Field label="Footprint, studs">
          {(id) => (
            <CommitInput
              id={id}
              value={part.shape.length > 0 ? `${part.shape.width} × ${part.shape.length}` : ''}
              placeholder="2 × 4"
              onCommit={(text) => {
                const match = /^(\d+(?:\.\d+)?)\s*[x×]\s*(\d+(?:\.\d+)?)$/.exec(text.trim())
                const sides = [Number(match?.[1]), Number(match?.[2])].sort((p, q) => p - q)
                const [width = 0, length = 0] = sides
                if (match && length <= 96 && width > 0)
                  shape(`${part.name} is ${width} × ${length} studs`, { width, length })
              }}
            />
          )}
        </Field>
        <Field label="Height, plates">
          {(id) => (
            <NumberInput
              id={id}
              value={part.shape.height}
              min={0}
              max={120}
              onCommit={(height) => {
                if (height !== null) shape(`${part.name} is ${height} plates high`, { height })
              }}
            />
          )}
        </Field>
        <Field label="Mass, mg" hint="Estimated from the shape unless weighed.">
          {(id) => (
            <NumberInput
              id={id}
              value={part.shape.mass}
              min={1}
              max={5_000_000}
              onCommit={(mass) => {
                if (mass !== null) shape(`${part.name} weighs ${mass} mg`, { mass })
              }}
            />
          )}
        </Field>
      </div>
      <h2 className="font-semibold">Other names and codes</h2>
      {part.aliases && part.aliases.length > 0 ? (
        <ul className="divide-y divide-hair border-y border-hair">
          {part.aliases.map((alias) => (
            <li key={alias} className="flex items-center justify-between gap-2 py-1">
              <span className="truncate">
                {alias.startsWith('p-') ? alias.slice(2).replace(/-/g, ' ') : alias.replace('=', ': ')}
              </span>
              <button
                type="button"
                aria-label={`Forget ${alias}`}
                className="rounded-sm p-1 hover:bg-raised"
                onClick={() => {
                  save(`Forgot a name of ${part.name}`, {
                    ...part,
                    aliases: (part.aliases ?? []).filter((a) => a !== alias),
                  })
                }}
              >
                <X size={14} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-soft">None. Codes beside a name in an imported list are kept here.</p>
      )}
      <MergeInto part={part} onMerged={onMerged} />
      <div>
        <Button
          disabled={!unused}
          title={unused ? '' : 'It is in use: merge it instead'}
          onClick={() => void perform(`Removed the part ${part.name}`, [remove('parts', [part.id])])}
        >
          <Trash2 size={14} aria-hidden="true" /> Remove
        </Button>
      </div>
    </aside>
  )
}

function MergeInto({ part, onMerged }: { part: Part; onMerged: (into: PartId) => void }) {
  const records = useRecords()
  const [find, setFind] = useState('')
  const words = searchKey(find)
    .split(' ')
    .filter((w) => w !== '')
  const candidates =
    words.length === 0
      ? []
      : records.parts
          .filter((p) => p.id !== part.id && words.every((w) => searchKey(p.name).includes(w)))
          .sort((p, q) => p.name.length - q.name.length)
          .slice(0, 6)
  const merge = async (into: Part) => {
    const merged = mergeParts<RecordsByKind>(part, into, records, REGISTRY)
    const taken = <K extends RecordKind>(kind: K): Change[] => {
      const { put, remove: gone } = merged.changes[kind] as TakenOver<RecordOf<K>>
      const held = records[kind] as readonly RecordOf<K>[]
      return [...editAll<K>(kind, held, put), remove(kind, gone)]
    }
    const done = await perform(`Merged ${part.name} into ${into.name}`, [
      edit('parts', into, merged.part),
      remove('parts', [merged.removed]),
      ...RECORD_KINDS.flatMap((kind): Change[] => taken(kind)),
    ])
    if (done) onMerged(into.id)
  }
  return (
    <Field label="It is the same as" hint="All its pieces become that part; its names lead there from now on.">
      {(id) => (
        <>
          <SearchInput
            id={id}
            className="w-full"
            placeholder="find the other part"
            value={find}
            onChange={(e) => {
              setFind(e.target.value)
            }}
          />
          {candidates.length > 0 && (
            <ul aria-label="Parts to merge into" className="border border-hair">
              {candidates.map((p) => (
                <li key={p.id}>
                  <button
                    type="button"
                    className="flex w-full items-center gap-2 px-2 py-1 text-left hover:bg-mark"
                    onClick={() => void merge(p)}
                  >
                    <PiecePicture shape={p.shape} hex="#9a9a9a" finish="opaque" size={26} /> {p.name}
                  </button>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </Field>
  )
}
