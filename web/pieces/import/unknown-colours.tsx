import { useMemo, useState } from 'react'
import { colourKey, type Colour } from '../../../core/colours/colour.ts'
import { ciede2000, hexToLab } from '../../../core/colours/distance.ts'
import { guessHex } from '../../../core/colours/name-guess.ts'
import { once } from '../../../core/units/once.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { ColourChoice } from './run-import.ts'

/** Names that are drawn at once. */
const AT_ONCE = 12

/** Colours by how near they are to what a name says; each name is looked up once. */
function nearestColours(colours: readonly Colour[]): (name: string) => readonly Colour[] {
  const labs = colours.map((colour) => ({ colour, lab: hexToLab(colour.hex) }))
  return once((name) => {
    const lab = hexToLab(guessHex(name))
    return labs
      .map(({ colour, lab: other }) => ({ colour, away: ciede2000(lab, other) }))
      .sort((p, q) => p.away - q.away)
      .map(({ colour }) => colour)
  })
}

/** Colour names nothing matches: each is told to be a known colour (nearest first) or added as a new one. */
export function UnknownColours({
  unknown,
  more,
  choices,
  onChoose,
  colours,
}: {
  unknown: readonly { name: string; rows: number }[]
  /** Names beyond those, which stay out. */
  more: { readonly names: number; readonly rows: number }
  choices: ReadonlyMap<string, ColourChoice>
  onChoose: (choices: ReadonlyMap<string, ColourChoice>) => void
  colours: readonly Colour[]
}) {
  const [shown, setShown] = useState(AT_ONCE)
  const nearestTo = useMemo(() => nearestColours(colours), [colours])
  const set = (names: readonly string[], choice: ColourChoice) => {
    const next = new Map(choices)
    for (const name of names) next.set(colourKey(name), choice)
    onChoose(next)
  }
  return (
    <section aria-label="Unknown colours" className="max-h-44 shrink-0 overflow-auto border border-rule bg-paper p-3">
      <div className="mb-2 flex items-center justify-between gap-3">
        <p className="text-sm">
          <b>{plural(unknown.length, 'colour name')}</b> not known yet. Say which colour each is, or add it as a new
          one.
        </p>
        <Button
          onClick={() => {
            set(
              unknown.map((u) => u.name),
              'new',
            )
          }}
        >
          Add all as new colours
        </Button>
      </div>
      {more.names > 0 && (
        <p className="mb-2 text-sm text-warn">
          {plural(more.names, 'more name')} in {plural(more.rows, 'row')} stay out: so many speak for a wrong column of
          colours. Choose another above, or bring them in by parts.
        </p>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-x-6 gap-y-1">
        {unknown.slice(0, shown).map(({ name, rows }) => {
          const nearest = nearestTo(name)
          return (
            <li key={name} className="flex items-center justify-between gap-2 text-sm">
              <span className="truncate" title={name}>
                {name} <span className="text-soft">({plural(rows, 'row')})</span>
              </span>
              <Choice
                label={`Colour for ${name}`}
                className="w-44 shrink-0"
                value={choices.get(colourKey(name)) ?? 'leave'}
                options={[
                  { value: 'leave', label: 'Leave out' },
                  { value: 'new', label: 'Add as a new colour' },
                  ...nearest.map((c) => ({ value: c.id as ColourChoice, label: c.name })),
                ]}
                onChange={(choice) => {
                  set([name], choice)
                }}
              />
            </li>
          )
        })}
      </ul>
      {unknown.length > shown && (
        <Button
          className="mt-2"
          onClick={() => {
            setShown(shown + AT_ONCE)
          }}
        >
          Show more ({unknown.length - shown})
        </Button>
      )}
    </section>
  )
}
