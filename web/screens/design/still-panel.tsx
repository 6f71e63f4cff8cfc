import { Binoculars, Plus, Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import type { Module } from '../../../core/design/design.ts'
import { withModule } from '../../../core/design/arrange-modules.ts'
import { withPieces } from '../../../core/design/edit-line.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { sightings, type StillAt, type StillThere } from '../../../core/studies/still-there.ts'
import { compareNames } from '../../../core/units/collate.ts'
import type { LineId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { StudyNote } from '../../pieces/study-note.tsx'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { useStudy } from '../../store/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, NumberInput, SearchInput } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import type { EditDesign } from './edit-design.ts'

const MOST_SHOWN = 60
const ORDERS = { part: 'by part', colour: 'by colour', most: 'most first' } as const
type Order = keyof typeof ORDERS

/** What donors and shelf can still give, to add from; and what is looked out for among it. */
export function StillPanel({ module, edit, snapshot }: { module: Module; edit: EditDesign; snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  const study = useStudy('still', snapshot, null)
  const [order, setOrder] = useState<Order>('part')
  const { text, deferred, setText } = useFindText()
  const named = useMemo(
    () =>
      (study.value ?? []).map((still) => {
        const { name, part, colour } = nameItem(still.item)
        return { still, key: searchKey(name), part: part.name, colour: colour.name }
      }),
    [study.value, nameItem],
  )
  const found = useMemo(() => {
    const words = searchKey(deferred)
      .split(' ')
      .filter((w) => w !== '')
    const byPart = (p: (typeof named)[number], q: (typeof named)[number]) =>
      compareNames(p.part, q.part) || compareNames(p.colour, q.colour)
    return named
      .filter(({ key }) => words.every((w) => key.includes(w)))
      .sort((p, q) =>
        order === 'most'
          ? q.still.qty - p.still.qty || byPart(p, q)
          : order === 'colour'
            ? compareNames(p.colour, q.colour) || compareNames(p.part, q.part)
            : byPart(p, q),
      )
  }, [named, deferred, order])
  const pieces = found.reduce((n, f) => n + f.still.qty, 0)
  const add = (taken: readonly { readonly item: ItemKey; readonly qty: number }[], label: string) => {
    const lines = withPieces(module.lines, taken, () => `n-${fresh()}` as LineId)
    edit.save(label, withModule(edit.design, { ...module, lines }), [], false)
  }
  return (
    <section aria-label="Still there" aria-busy={study.busy} className="flex flex-col gap-3 text-sm">
      <Lookout edit={edit} still={study.value} />
      <h2 className="font-semibold">What donors and shelf can still give</h2>
      <StudyNote study={study} />
      <SearchInput
        aria-label="Find what is still there"
        placeholder="plate 2x soot"
        className="w-full"
        value={text}
        onChange={(e) => {
          setText(e.target.value)
        }}
      />
      <Choice
        label="Order of what is still there"
        value={order}
        options={(Object.keys(ORDERS) as Order[]).map((o) => ({ value: o, label: ORDERS[o] }))}
        onChange={setOrder}
      />
      {study.value && (
        <p role="status" className="text-soft">
          {plural(pieces, 'piece')} of {plural(found.length, 'item')} free under the rules of this build.
        </p>
      )}
      <ul aria-label="Pieces still there" className="divide-y divide-hair border-y border-hair">
        {found.slice(0, MOST_SHOWN).map(({ still }) => (
          <StillRow
            key={still.item}
            still={still}
            onAdd={(qty) => {
              add([{ item: still.item, qty }], `Added ${qty} ${nameItem(still.item).name} to ${module.name}`)
            }}
            onLookOut={(qty) => {
              const before = (edit.design.lookout ?? []).filter((l) => l.item !== still.item)
              edit.save(
                `Looking out for ${qty} ${nameItem(still.item).name}`,
                { ...edit.design, lookout: [...before, { item: still.item, qty }] },
                [],
                false,
              )
            }}
          />
        ))}
      </ul>
      {found.length > MOST_SHOWN && (
        <p className="text-xs text-soft">
          {formatNumber(found.length - MOST_SHOWN)} more: narrow the search to see them.
        </p>
      )}
      {found.length > 1 && found.length <= 500 && (
        <Button
          onClick={() => {
            add(
              found.map(({ still: { item, qty } }) => ({ item, qty })),
              `Added ${plural(found.length, 'item')} to ${module.name}`,
            )
          }}
        >
          <Plus size={14} aria-hidden="true" /> Add all {formatNumber(found.length)} to {module.name}
        </Button>
      )}
    </section>
  )
}

/** An item that is still there: where, and how many of it to add. */
function StillRow({
  still,
  onAdd,
  onLookOut,
}: {
  still: StillThere
  onAdd: (qty: number) => void
  onLookOut: (qty: number) => void
}) {
  const { nameItem } = useRecords()
  const [chosen, setChosen] = useState(1)
  const qty = Math.min(chosen, still.qty)
  const { name } = nameItem(still.item)
  return (
    <li className="flex flex-col gap-1 py-1.5">
      <ItemName item={still.item} size={26} />
      <span className="text-xs text-soft">
        <Where at={still.at} />
        {still.coming > 0 && `; ${formatNumber(still.coming)} still coming`}
      </span>
      <span className="flex items-center gap-1">
        <NumberInput
          aria-label={`How many ${name}`}
          className="w-14"
          value={qty}
          min={1}
          max={still.qty}
          onCommit={(n) => {
            if (n !== null) setChosen(n)
          }}
        />
        <span className="text-soft">of {formatNumber(still.qty)}</span>
        <Button
          aria-label={`Add ${name}`}
          className="ml-auto"
          onClick={() => {
            onAdd(qty)
          }}
        >
          <Plus size={14} aria-hidden="true" />
        </Button>
        <Button
          aria-label={`Look out for ${name}`}
          title="Keep it in mind, needed by no module yet"
          onClick={() => {
            onLookOut(qty)
          }}
        >
          <Binoculars size={14} aria-hidden="true" />
        </Button>
      </span>
    </li>
  )
}

function Where({ at }: { at: readonly StillAt[] }) {
  const { places, copies } = useRecords()
  return at
    .slice(0, 3)
    .map((a) => {
      const name =
        a.kind === 'copy' ? copies.find((c) => c.id === a.copy)?.label : places.find((p) => p.id === a.place)?.name
      return `${formatNumber(a.qty)} in ${name ?? 'no place'}`
    })
    .concat(at.length > 3 ? [`${at.length - 3} more places`] : [])
    .join(', ')
}

/** Pieces looked out for: how many of each there are to be had now. */
function Lookout({ edit, still }: { edit: EditDesign; still: readonly StillThere[] | undefined }) {
  const { nameItem } = useRecords()
  const { lookout = [] } = edit.design
  if (lookout.length === 0) return null
  const found = sightings(lookout, still ?? [])
  const ready = found.filter((s) => s.there >= s.target).length
  const without = (item: ItemKey) => lookout.filter((l) => l.item !== item)
  return (
    <section aria-label="Lookout" className="flex flex-col gap-1 border border-rule bg-paper p-2">
      <h2 className="font-semibold">
        Lookout{still && `: ${ready} of ${plural(lookout.length, 'piece')} to be had in full`}
      </h2>
      <ul className="flex flex-col gap-2">
        {found.map(({ item, target, there, at }) => (
          <li key={item} className="flex flex-col gap-0.5">
            <ItemName item={item} size={22} />
            <span className="flex items-center gap-1">
              <NumberInput
                aria-label={`Target of ${nameItem(item).name}`}
                className="w-14"
                value={target}
                min={1}
                max={1_000_000}
                onCommit={(qty) => {
                  if (qty !== null)
                    edit.save(
                      `Looking out for ${qty} ${nameItem(item).name}`,
                      { ...edit.design, lookout: lookout.map((l) => (l.item === item ? { item, qty } : l)) },
                      [],
                    )
                }}
              />
              <span className={there >= target ? 'font-semibold text-good' : 'text-soft'}>
                {still ? (there >= target ? 'there' : `${formatNumber(there)} there`) : '…'}
              </span>
              <Button
                aria-label={`Stop looking out for ${nameItem(item).name}`}
                className="ml-auto"
                onClick={() => {
                  edit.save(
                    `Stopped looking out for ${nameItem(item).name}`,
                    withLookout(edit.design, without(item)),
                    [],
                    false,
                  )
                }}
              >
                <Trash2 size={14} aria-hidden="true" />
              </Button>
            </span>
            {there > 0 && (
              <span className="text-xs text-soft">
                <Where at={at} />
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** The design with what is looked out for; nothing is written as nothing. */
function withLookout(design: EditDesign['design'], lookout: NonNullable<EditDesign['design']['lookout']>) {
  const { lookout: _, ...bare } = design
  return lookout.length > 0 ? { ...bare, lookout } : bare
}
