import { formatNumber } from '../../../core/units/numbers.ts'
import { useDeferredValue, useMemo, useState } from 'react'
import type { Colourway } from '../../../core/design/design.ts'
import { swapColour } from '../../../core/design/recolour.ts'
import { partsInColours, type KnownItems } from '../../../core/catalogue/availability.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Choice, SearchInput } from '../../ui/fields.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'

/** Limiting part first: which parts exist in a colour of every scheme, before a shape is drawn with them. */
export function LimitingParts({
  drawn,
  colourways,
  known,
}: {
  drawn: readonly ColourId[]
  colourways: readonly Colourway[]
  known: KnownItems
}) {
  const { partById, colourById } = useRecords()
  const [base, setBase] = useState<ColourId | undefined>()
  const [text, setText] = useState('')
  const words = useDeferredValue(text).toLowerCase().split(/\s+/).filter(Boolean)
  const from = base ?? drawn[0]
  const wanted = useMemo(() => {
    if (from === undefined) return []
    const own = colourways.map((c) =>
      swapColour(
        from,
        c.colours.filter((s) => s.module === undefined),
      ),
    )
    return [...new Set([from, ...own])]
  }, [from, colourways])
  const rows = useMemo(() => partsInColours(wanted, known, partById), [wanted, known, partById])
  const found = rows.filter((r) => words.every((w) => r.part.name.toLowerCase().includes(w)))
  const everywhere = rows.filter((r) => r.missing.length === 0).length
  if (from === undefined) return null
  const nameOf = (id: ColourId) => colourById.get(id)?.name ?? id.slice(2)
  return (
    <section aria-label="Limiting part first">
      <h2 className="text-base font-semibold">
        Limiting part first: {everywhere} parts are known in all of {wanted.map(nameOf).join(', ')}
      </h2>
      <div className="my-2 flex flex-wrap items-center gap-3 text-sm">
        <Choice
          label="Colour as drawn"
          value={from as string}
          options={drawn.map((c) => ({ value: c as string, label: `drawn in ${nameOf(c)}` }))}
          onChange={(c) => {
            setBase(c as ColourId)
          }}
        />
        <SearchInput
          aria-label="Find a part"
          placeholder="Find a part: slope 2x2"
          value={text}
          onChange={(e) => {
            setText(e.target.value)
          }}
        />
        <span className="text-soft">{formatNumber(found.length)} parts</span>
      </div>
      <ul className="grid grid-cols-2 gap-x-6 text-sm max-[1100px]:grid-cols-1">
        {found.slice(0, 24).map(({ part, missing }) => (
          <li key={part.id} className="flex items-center gap-2 border-b border-hair py-1">
            <PiecePicture shape={part.shape} hex={colourById.get(from)?.hex ?? '#9a9a9a'} finish="opaque" size={28} />
            <span className="min-w-0 leading-tight">
              <span className="block truncate">{part.name}</span>
              <span className={`block text-xs ${missing.length === 0 ? 'text-good' : 'text-warn'}`}>
                {missing.length === 0 ? 'in every scheme' : `not known in ${missing.map(nameOf).join(', ')}`}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
