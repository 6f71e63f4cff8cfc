import fc from 'fast-check'
import { itemKey } from './item.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, partId, type HoldingId, type PlaceId } from '../units/ids.ts'
import { findItems, indexItems } from './search.ts'

const NAMES = ['plate 2x4, Soot', 'plate 2x4, Chalk', 'brick 1x2, Soot', 'wedge plate 2x4 right hand, Soot']
const keyOf = (name: string) => itemKey(partId(name.split(', ')[0] ?? ''), colourId(name.split(', ')[1] ?? ''))
const nameOf = new Map(NAMES.map((name) => [keyOf(name), name]))
const holdings = NAMES.flatMap((name, i) =>
  ['l-one', 'l-two'].map((place, k): Holding => ({
    id: `h-${i}${k}` as HoldingId,
    place: place as PlaceId,
    item: keyOf(name),
    qty: i + 1,
    estimate: false,
    condition: 'new',
  })),
)
const places = ['One', 'Two'].map((n) => ({
  id: `l-${n.toLowerCase()}` as PlaceId,
  name: `Drawer ${n}`,
  kind: 'drawer' as const,
  parent: null,
}))
const index = indexItems({ holdings, places, sets: [], designs: [] }, (item) => nameOf.get(item) ?? '')
const found = (query: string) => findItems(index, query, 10).map((e) => e.name)

test.each([
  ['soot plate', ['plate 2x4, Soot', 'wedge plate 2x4 right hand, Soot']],
  ['4x2', ['plate 2x4, Chalk', 'plate 2x4, Soot', 'wedge plate 2x4 right hand, Soot']],
  ['plate 2x4 chalk', ['plate 2x4, Chalk']],
  ['drawer two brick', ['brick 1x2, Soot']],
  ['nothing', []],
  ['', []],
])('%s', (query, expected) => {
  expect(found(query)).toEqual(expected)
})

test('the order of words never matters, and pieces and places are counted', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray(['plate', '2x4', 'soot', 'right'], { minLength: 1 }), (words) => {
      expect(new Set(found(words.join(' ')))).toEqual(new Set(found([...words].sort().join(' '))))
    }),
  )
  expect(index.find((e) => e.name === 'brick 1x2, Soot')).toMatchObject({ shelf: 6, places: 2, sets: 0 })
})
