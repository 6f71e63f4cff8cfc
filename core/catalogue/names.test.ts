import { mouldClass } from './mould.ts'
import { readPartName } from './name-grammar.ts'
import { NAMES } from './names.test-data.ts'
import { partFromName } from './part.ts'
import { splitsOf } from './split.ts'

const TABLE = NAMES.trim()
  .split('\n')
  .map((line) => line.split(' = ') as [string, string])

test('the table has 300 names, all different', () => {
  expect(TABLE.length).toBeGreaterThanOrEqual(300)
  expect(new Set(TABLE.map(([name]) => name)).size).toBe(TABLE.length)
})

test.each(TABLE)('%s', (name, expected) => {
  const { shape, known } = readPartName(name)
  const { family, width, length, height, hand } = shape
  const read = known ? `${family} ${width}x${length} ${height}${hand === 'none' ? '' : ` ${hand}`}` : '?'
  expect(read).toBe(expected)
})

test('a name read from its own tidied name is the same part', () => {
  for (const [name] of TABLE) {
    const part = partFromName(name)
    expect([name, partFromName(part.name).id]).toEqual([name, part.id])
  }
})

test.each([
  ['plate 2x2 corner', 'plate 2x2'],
  ['brick 1x2 with studs on one side', 'brick 1x2'],
  ['inverted arch 1x4', 'arch 1x4'],
  ['half arch 1x3', 'arch 1x3'],
  ['brick 1x2 height 5', 'brick 1x2'],
  ['brick 2x2 corner', 'brick 2x2'],
  ['curved slope 1x4', 'slope 1x4'],
  ['slope 1x2 double 45°', 'slope 1x2 45°'],
  ['tile 2x2 quarter', 'tile 2x2'],
  ['plate 1x2 with one stud', 'plate 1x2'],
  ['plate 1x2 with handle', 'plate 1x2'],
  ['bracket 1x2 x 4', 'bracket 1x2'],
  ['hinge brick 1x2', 'hinge plate 1x2'],
])('%s is no other mould of %s, and no two smaller plain ones', (odd, plain) => {
  const [one, other] = [partFromName(odd), partFromName(plain)]
  expect(one.id).not.toBe(other.id)
  expect(mouldClass(one)).not.toBe(mouldClass(other))
  expect(splitsOf(one)).toEqual([])
})

test.each([
  ['brick 1x4 masonry', 'brick 1x4'],
  ['brick 1x2 with groove', 'brick 1x2'],
  ['plate 2x4 with hole', 'plate 2x4'],
  ['tile 1x2 grille', 'tile 1x2'],
])('%s is another mould of %s', (odd, plain) => {
  expect(mouldClass(partFromName(odd))).toBe(mouldClass(partFromName(plain)))
})
