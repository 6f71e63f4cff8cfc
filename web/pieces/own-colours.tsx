import { Check, Plus, Trash2, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import { mergeColours, renameColour, withNames } from '../../core/catalogue/merge-colours.ts'
import type { TakenOver } from '../../core/catalogue/merge-parts.ts'
import { colourKey, FINISHES, type Colour } from '../../core/colours/colour.ts'
import { confirmed, newColour } from '../../core/colours/new-colour.ts'
import { similarColours } from '../../core/formats/piece-text.ts'
import {
  RECORD_KINDS,
  REGISTRY,
  type RecordKind,
  type RecordOf,
  type RecordsByKind,
} from '../../core/records/registry.ts'
import type { ColourId } from '../../core/units/ids.ts'
import { plural } from '../../core/units/numbers.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit, editAll, remove } from '../../storage/journal.ts'
import { perform } from '../store/perform.ts'
import { useRecords, type RecordsView } from '../store/records.tsx'
import { Button } from '../ui/button.tsx'
import { DataGrid, type Column } from '../ui/data-grid.tsx'
import { Choice, CommitInput, Field, SearchInput, TextInput } from '../ui/fields.tsx'
import { Swatch } from '../ui/swatch.tsx'

/** Where pieces in a colour are. */
type Use = { readonly shelf: number; readonly sets: number; readonly designs: number; readonly offers: number }
type Row = { readonly colour: Colour; readonly use: Use }

const NO_USE: Use = { shelf: 0, sets: 0, designs: 0, offers: 0 }

function usesOf({ holdings, sets, designs, offers }: RecordsView): ReadonlyMap<ColourId, Use> {
  const uses = new Map<ColourId, { shelf: number; sets: number; designs: number; offers: number }>()
  const note = (item: ItemKey, where: keyof Use, qty: number) => {
    const { colour } = splitItemKey(item)
    const use = uses.get(colour) ?? { ...NO_USE }
    use[where] += qty
    uses.set(colour, use)
  }
  for (const { item, qty } of holdings) note(item, 'shelf', qty)
  for (const { lines } of sets) for (const { item, qty } of lines) note(item, 'sets', qty)
  for (const { modules } of designs)
    for (const { lines } of modules) for (const { item, qty } of lines) note(item, 'designs', qty)
  for (const { item } of offers) note(item, 'offers', 1)
  return uses
}

/** All colours that are known: made, named, put right, found to be the same, removed when nothing is in them. */
export function OwnColours() {
  const records = useRecords()
  const { allColours, colours } = records
  const uses = useMemo(() => usesOf(records), [records])
  const [find, setFind] = useState('')
  const [chosen, setChosen] = useState<ColourId | undefined>()
  const [fresh, setFresh] = useState('')
  const own = useMemo(() => new Set(colours.map((c) => c.id)), [colours])
  const rows = useMemo(() => {
    const key = colourKey(find)
    return allColours
      .filter((c) => find.trim() === '' || [c.name, ...c.aliases].some((name) => colourKey(name).includes(key)))
      .map((colour): Row => ({ colour, use: uses.get(colour.id) ?? NO_USE }))
  }, [allColours, find, uses])
  const current = rows.find((r) => r.colour.id === chosen) ?? rows[0]
  const make = async () => {
    const colour = newColour(fresh)
    const known = allColours.find((c) => c.id === colour.id || colourKey(c.name) === colourKey(fresh))
    if (!known && !(await perform(`Added the colour ${colour.name}`, [add('colours', [colour])]))) return
    setFresh('')
    setFind('')
    setChosen((known ?? colour).id)
  }
  const guessed = colours.filter((c) => c.guessed).length
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_20rem] gap-5 max-[960px]:grid-cols-1">
      <div className="flex min-h-0 flex-col gap-3">
        <div className="flex flex-wrap items-center gap-3 text-sm">
          <SearchInput
            aria-label="Find a colour"
            placeholder="Find: slate"
            value={find}
            onChange={(e) => {
              setFind(e.target.value)
            }}
          />
          <span role="status" className="text-soft">
            {plural(rows.length, 'colour')}
          </span>
          <form
            className="ml-auto flex gap-2"
            onSubmit={(e) => {
              e.preventDefault()
              if (fresh.trim() !== '') void make()
            }}
          >
            <TextInput
              aria-label="Name of a new colour"
              placeholder="Dark heather"
              maxLength={80}
              className="w-40"
              value={fresh}
              onChange={(e) => {
                setFresh(e.target.value)
              }}
            />
            <Button type="submit" disabled={fresh.trim() === ''}>
              <Plus size={14} aria-hidden="true" /> Add a colour
            </Button>
          </form>
        </div>
        {guessed > 0 && (
          <p className="border-l-4 border-warn bg-raised px-3 py-1.5 text-sm">
            {plural(guessed, 'colour has', 'colours have')} a value guessed by the name: nothing stands in for it, or
            looks like it, until you say that it is right.
          </p>
        )}
        <DataGrid
          label="Colours"
          columns={COLUMNS}
          rows={rows}
          rowKey={(r) => r.colour.id}
          selected={current?.colour.id}
          onSelect={(r) => {
            setChosen(r.colour.id)
          }}
          rowHeight={36}
          empty="No colour is called so."
        />
      </div>
      {current && (
        <ColourInspector key={current.colour.id} row={current} own={own.has(current.colour.id)} onGo={setChosen} />
      )}
    </div>
  )
}

const number = (id: keyof Use, header: string): Column<Row> => ({
  id,
  header,
  width: '84px',
  align: 'right',
  sort: (r) => r.use[id],
  cell: (r) => r.use[id],
})

const COLUMNS: readonly Column<Row>[] = [
  {
    id: 'name',
    header: 'Colour',
    width: 'minmax(0, 2fr)',
    sort: (r) => r.colour.name,
    text: (r) => r.colour.name,
    cell: ({ colour }) => (
      <span className="flex min-w-0 items-center gap-2">
        <Swatch hex={colour.hex} /> <span className="truncate">{colour.name}</span>
        {colour.guessed && <span className="text-xs text-warn">guessed</span>}
      </span>
    ),
  },
  { id: 'finish', header: 'Finish', width: '90px', sort: (r) => r.colour.finish, cell: (r) => r.colour.finish },
  {
    id: 'aliases',
    header: 'Also called',
    width: 'minmax(0, 1fr)',
    sort: (r) => r.colour.aliases.length,
    text: (r) => r.colour.aliases.join(', '),
    cell: (r) => <span className="truncate text-soft">{r.colour.aliases.join(', ')}</span>,
  },
  number('shelf', 'On the shelf'),
  number('sets', 'In sets'),
  number('designs', 'In designs'),
]

function ColourInspector({ row, own, onGo }: { row: Row; own: boolean; onGo: (id: ColourId) => void }) {
  const { colour, use } = row
  const { allColours, colours } = useRecords()
  /** Tried out in the picker, written when it is left. */
  const [picked, setPicked] = useState<string | undefined>()
  /** Built-in colours become the user's own with their first change. */
  const save = (label: string, next: Colour) => {
    const from = colours.find((c) => c.id === colour.id)
    void perform(label, [from ? edit('colours', from, next) : add('colours', [next])])
  }
  const unused = Object.values(use).every((n) => n === 0)
  return (
    <aside
      aria-label={`Colour ${colour.name}`}
      className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm"
    >
      <div className="h-16 border border-rule" style={{ background: picked ?? colour.hex }} aria-hidden="true" />
      {colour.guessed && (
        <p className="flex items-center justify-between gap-2 text-warn">
          Its value is guessed by its name.
          <Button
            onClick={() => {
              save(`Confirmed the value of ${colour.name}`, confirmed(colour))
            }}
          >
            <Check size={14} aria-hidden="true" /> It is right
          </Button>
        </p>
      )}
      <Field label="Name" hint="Lists that write the old name still mean it.">
        {(id) => (
          <CommitInput
            id={id}
            value={colour.name}
            maxLength={80}
            onCommit={(name) => {
              if (name.trim() === '') return { problem: 'A colour has a name.' }
              const other = allColours.find(
                (c) => c.id !== colour.id && [c.name, ...c.aliases].some((n) => colourKey(n) === colourKey(name)),
              )
              if (other) return { problem: `${other.name} is called so. Merge the two below, if they are the same.` }
              save(`Renamed ${colour.name} to ${name.trim()}`, renameColour(colour, name))
            }}
          />
        )}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Value">
          {(id) => (
            <span className="flex gap-2">
              <input
                type="color"
                aria-label="Pick the value"
                className="h-8 w-10 border border-rule bg-sheet"
                value={picked ?? colour.hex}
                onChange={(e) => {
                  setPicked(e.target.value)
                }}
                onBlur={() => {
                  if (picked !== undefined && picked !== colour.hex)
                    save(`Put the value of ${colour.name} right`, confirmed({ ...colour, hex: picked }))
                  setPicked(undefined)
                }}
              />
              <CommitInput
                id={id}
                className="w-24"
                value={colour.hex}
                onCommit={(text) => {
                  const hex = `#${text.trim().replace(/^#/, '').toLowerCase()}`
                  if (!/^#[0-9a-f]{6}$/.test(hex)) return { problem: 'Six digits, such as #8b0000.' }
                  save(`Put the value of ${colour.name} right`, confirmed({ ...colour, hex }))
                }}
              />
            </span>
          )}
        </Field>
        <Field label="Finish">
          {(id) => (
            <Choice
              id={id}
              value={colour.finish}
              options={FINISHES.map((f) => ({ value: f, label: f }))}
              onChange={(finish) => {
                save(`Put the finish of ${colour.name} right`, confirmed({ ...colour, finish }))
              }}
            />
          )}
        </Field>
      </div>
      <OtherNames colour={colour} onSave={save} />
      <SameAs colour={colour} onMerged={onGo} />
      <div>
        <Button
          disabled={!own || !unused}
          title={
            own ? (unused ? undefined : 'Something is in this colour.') : 'A colour that is known from the start stays.'
          }
          onClick={() => void perform(`Removed the colour ${colour.name}`, [remove('colours', [colour.id])])}
        >
          <Trash2 size={14} aria-hidden="true" /> Remove
        </Button>
      </div>
    </aside>
  )
}

/** Names by which lists know a colour. */
function OtherNames({ colour, onSave }: { colour: Colour; onSave: (label: string, next: Colour) => void }) {
  const [name, setName] = useState('')
  return (
    <div className="flex flex-col gap-1">
      <h2 className="font-semibold">Also called</h2>
      {colour.aliases.length > 0 && (
        <ul className="flex flex-wrap gap-1">
          {colour.aliases.map((alias) => (
            <li key={alias} className="flex items-center gap-1 border border-hair px-1.5">
              {alias}
              <button
                type="button"
                aria-label={`${colour.name} is not ${alias}`}
                onClick={() => {
                  onSave(`${colour.name} is not ${alias}`, {
                    ...colour,
                    aliases: colour.aliases.filter((a) => a !== alias),
                  })
                }}
              >
                <X size={12} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (name.trim() === '') return
          onSave(`${colour.name} is also called ${name.trim()}`, withNames(colour, [name]))
          setName('')
        }}
      >
        <TextInput
          aria-label="Another name"
          className="min-w-0 flex-1"
          maxLength={80}
          value={name}
          onChange={(e) => {
            setName(e.target.value)
          }}
        />
        <Button type="submit" disabled={name.trim() === ''}>
          Add
        </Button>
      </form>
    </div>
  )
}

/** A colour found to be another: everything in it becomes that. */
function SameAs({ colour, onMerged }: { colour: Colour; onMerged: (into: ColourId) => void }) {
  const records = useRecords()
  const { allColours, colours } = records
  const similar = similarColours(colour.name, allColours).filter((c) => c.id !== colour.id)
  const others = [...similar, ...allColours.filter((c) => c.id !== colour.id && !similar.includes(c))]
  const merge = async (into: Colour) => {
    const merged = mergeColours<RecordsByKind>(colour, into, records, REGISTRY)
    const taken = <K extends RecordKind>(kind: K): Change[] => {
      const { put, remove: gone } = merged.changes[kind] as TakenOver<RecordOf<K>>
      return [...editAll<K>(kind, records[kind] as readonly RecordOf<K>[], put), remove(kind, gone)]
    }
    const known = colours.find((c) => c.id === into.id)
    const done = await perform(`Merged ${colour.name} into ${into.name}`, [
      known ? edit('colours', known, merged.colour) : add('colours', [merged.colour]),
      ...(colours.some((c) => c.id === colour.id) ? [remove('colours', [merged.removed])] : []),
      ...RECORD_KINDS.flatMap((kind): Change[] => taken(kind)),
    ])
    if (done) onMerged(into.id)
  }
  return (
    <Field label="It is the same as" hint="Everything in it becomes that colour; its names lead there.">
      {(id) => (
        <Choice
          id={id}
          value=""
          options={others.map((c) => ({ value: c.id as string, label: c.name }))}
          onChange={(to) => {
            const into = allColours.find((c) => c.id === to)
            if (into) void merge(into)
          }}
        />
      )}
    </Field>
  )
}
