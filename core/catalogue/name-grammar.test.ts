import fc from 'fast-check'
import { formatPartName, readPartName } from './name-grammar.ts'
import { FAMILIES } from './shape.ts'
import { partFromName } from './part.ts'

const read = (name: string) => {
  const { shape } = readPartName(name)
  return [shape.family, shape.width, shape.length, shape.height, shape.hand]
}

// Sizes in studs and the heights (plate 1, brick 3 plates) are common practice of the trade.
test.each([
  ['plate 2x8', ['plate', 2, 8, 1, 'none']],
  ['2 by 8 plate', ['plate', 2, 8, 1, 'none']],
  ['8×2 Plate', ['plate', 2, 8, 1, 'none']],
  ['round brick 1 × 1', ['round brick', 1, 1, 3, 'none']],
  ['brick, round, 2 x 2', ['round brick', 2, 2, 3, 'none']],
  ['sloped brick 1×2, 45°, inverted', ['inverted slope', 1, 2, 3, 'none']],
  ['sloped brick 1×2, 45°', ['slope', 1, 2, 3, 'none']],
  ['wedge plate 2x4, right hand', ['wedge plate', 2, 4, 1, 'right']],
  ['left wedge plate 4 by 2', ['wedge plate', 2, 4, 1, 'left']],
  ['arch 1x6, two bricks high', ['arch', 1, 6, 6, 'none']],
  ['panel 1x4, 5 plates high', ['panel', 1, 4, 5, 'none']],
  ['brick 1x2x5', ['brick', 1, 2, 15, 'none']],
  ['plate 1 1/2 x 2', ['plate', 1.5, 2, 1, 'none']],
  ['tile 1½×2', ['tile', 1.5, 2, 1, 'none']],
  ['base plate 32x32', ['base plate', 32, 32, 1, 'none']],
  ['bar 4 studs long', ['bar', 1, 4, 3, 'none']],
  ['bar 4 long', ['bar', 1, 4, 3, 'none']],
  ['tile 1x2 with ticket window print', ['tile', 1, 2, 1, 'none']],
  ['brick with clip 1x1', ['brick', 1, 1, 3, 'none']],
  ['mystery gadget', ['unknown', 0, 0, 3, 'none']],
])('%s', (name, expected) => {
  expect(read(name)).toEqual(expected)
})

test('every word order of one name is the same part', () => {
  const names = fc.constantFrom<string[][]>(
    ['wedge plate', '2x4', 'right hand'],
    ['sloped brick', '1x2', '45°', 'inverted'],
    ['arch', '1x6', 'two bricks high'],
    ['tile', '1x4', 'with groove'],
  )
  fc.assert(
    fc.property(
      names.chain((words) => fc.tuple(fc.constant(words), fc.shuffledSubarray(words, { minLength: words.length }))),
      fc.constantFrom(' ', ', '),
      ([words, shuffled], glue) => {
        expect(partFromName(shuffled.join(glue)).id).toBe(partFromName(words.join(' ')).id)
      },
    ),
  )
})

test('the canonical name reads back as the same shape, whatever the input', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 60, unit: 'grapheme' }), (name) => {
      const first = readPartName(name)
      const second = readPartName(first.canonical)
      if (first.known) expect(second.shape.family).toBe(first.shape.family)
      expect(first.shape.mass).toBeGreaterThan(0)
      expect(Number.isInteger(first.shape.mass)).toBe(true)
    }),
  )
})

test('masses stay within a fifth of the weights common on kitchen scales', () => {
  // Common practice, recalled from memory: brick 2x4 2.3 g, brick 2x2 1.2 g, plate 2x4 1.1 g, plate 1x1 0.19 g.
  for (const [name, grams] of [
    ['brick 2x4', 2.3],
    ['brick 2x2', 1.2],
    ['plate 2x4', 1.1],
    ['plate 1x1', 0.19],
  ] as const) {
    const mass = readPartName(name).shape.mass / 1000
    expect(Math.abs(mass - grams) / grams).toBeLessThan(0.2)
  }
})

test.each(['bar 4 long', 'hose 16 long', 'string 40 long'])(
  '%s is named by its length, and reads back the same',
  (name) => {
    const part = partFromName(name)
    expect([part.name, partFromName(part.name).id]).toEqual([name, part.id])
    expect(partFromName(name.replace(/(\w+) (\d+) long/, '$2 studs long $1')).id).toBe(part.id)
  },
)

test('different parts keep different names', () => {
  const names = [
    'plant leaf small',
    'plant leaf large',
    'plant flower stem',
    'pine tree small',
    'pine tree tall',
    'accessory key',
    'accessory cup',
    'brick 1x2 with groove',
    'brick 1x2',
    'brick 1x2 with studs on one side',
    'gear 8 teeth',
    'gear 24 teeth',
  ]
  expect(new Set(names.map((name) => partFromName(name).id)).size).toBe(names.length)
})

test('a formatted name reads back as the shape it was made from', () => {
  // A bar or rod is named by its length alone, a figure's arm by its side, and what has no size needs none.
  const sized = FAMILIES.filter(
    (f) => !/^(unknown|sticker|figure|bar|rod|hose|string|plant|accessory|gear|wheel)/.test(f),
  )
  const side = fc.integer({ min: 2, max: 96 }).map((n) => n / 2)
  const shapes = fc.record({
    family: fc.constantFrom(...sized),
    sides: fc.tuple(side, side).map((s) => s.sort((p, q) => p - q)),
    height: fc.integer({ min: 1, max: 60 }),
    hand: fc.constantFrom('none' as const, 'left' as const, 'right' as const),
    angle: fc.option(fc.integer({ min: 1, max: 90 }), { nil: undefined }),
  })
  const extras = fc.subarray(['smooth', 'rounded', 'grooved', 'ribbed'])
  fc.assert(
    fc.property(shapes, extras, ({ family, sides: [width = 1, length = 1], height, hand, angle }, words) => {
      const name = formatPartName({ family, width, length, height, hand, ...(angle ? { angle } : {}) }, words)
      const { shape, name: again, known } = readPartName(name)
      expect({ ...shape, mass: 0 }).toEqual({
        family,
        width,
        length,
        height,
        hand,
        ...(angle ? { angle } : {}),
        mass: 0,
      })
      expect([known, again]).toEqual([true, name])
    }),
    { numRuns: 500 },
  )
})
