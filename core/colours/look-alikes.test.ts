import type { Colour } from './colour.ts'
import { nearestColours } from './look-alikes.ts'

const colour = (id: string, hex: string, more: Partial<Colour> = {}): Colour => ({
  id: `c-${id}` as Colour['id'],
  name: id,
  hex,
  finish: 'opaque',
  aliases: [],
  ...more,
})

test('near colours come first, those of another finish after all of the same, guessed ones never', () => {
  const grey = colour('grey', '#808080')
  const known = [
    grey,
    colour('white', '#ffffff'),
    colour('ash', '#868686'),
    colour('glass', '#818181', { finish: 'clear' }),
    colour('unsure', '#808081', { guessed: true }),
    colour('slate', '#707a80'),
  ]
  expect(nearestColours(grey, known, 9).map((c) => c.id)).toEqual(['c-ash', 'c-slate', 'c-white', 'c-glass'])
  expect(nearestColours(grey, known, 1)).toHaveLength(1)
})
