import fc from 'fast-check'
import { partFromName, partIndex } from '../catalogue/part.ts'
import { colourIndex, colourKey } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import { idText, nameKey, olderPartId, type HoldingId, type PartId, type PlaceId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { readDelimited } from './delimited.ts'
import { matchColumns } from './list-columns.ts'
import { type ListKind } from './list-fields.ts'
import { importDonor, importOffers, importShelf, type ImportContext } from './list-import.ts'
import { readList } from './list-rows.ts'

const colours = colourIndex(PALETTE)
let serial = 0
const context: ImportContext = {
  colourOf: (key) => colours.get(key)?.id,
  parts: [],
  fresh: () => `f${serial++}`,
}
function read(
  text: string,
  kind: ListKind = 'shelf',
  knownCodes: ReadonlyMap<string, string> = new Map(),
  sameAs?: ReadonlyMap<string, string>,
) {
  const table = readDelimited(text)
  if (!table.ok) throw new Error(table.error.message)
  return readList(table.value, kind, matchColumns(table.value.rows, kind, colours), {
    currency: 'EUR',
    knownColours: new Map([...colours].map(([key, c]) => [key, c.id])),
    knownCodes,
    ...(sameAs ? { sameAs } : {}),
  })
}
const rows = (list: readonly (readonly (string | number)[])[]) =>
  list.map((row) => row.map((c) => `"${c}"`).join(',')).join('\n')
const shelf = (
  text: string,
  known: readonly Place[] = [],
  existing: readonly Holding[] = [],
  mode: 'add' | 'replace' = 'add',
) => importShelf(read(text).accepted, { defaultPlace: 'Box', existing, known, mode }, context)

/** Names that a slug does not tell apart. */
const ALIKE: readonly (readonly [string, string])[] = [
  ['Drawer A+', 'Drawer A-'],
  ['🔴', '🔵'],
  ['🎈 pieces', '🎁 pieces'],
  [`${'long '.repeat(18)}a`, `${'long '.repeat(18)}b`],
  ['Box 1.5', 'Box 1 5'],
  ['C#', 'C'],
  ['Låda Å', 'Lada A'],
  ['½', '1 2'],
  ['!!!', '???'],
]

test.each(ALIKE)('places %j and %j are two', (one, other) => {
  const made = shelf(
    rows([
      ['part', 'colour', 'quantity', 'place'],
      ['plate 2x4', 'Soot', 3, one],
      ['plate 2x4', 'Soot', 4, other],
    ]),
  )
  expect(made.places.map((p) => p.name)).toEqual([one, other].map((n) => n.trim()))
  expect(new Set(made.places.map((p) => p.id)).size).toBe(2)
  expect(made.holdings.map((h) => h.qty)).toEqual([3, 4])
})

test.each(ALIKE.map(([p, q]) => [`gizmo ${p}`, `gizmo ${q}`] as const))('parts %j and %j are two', (one, other) => {
  const made = shelf(
    rows([
      ['part', 'colour', 'quantity'],
      [one, 'Soot', 3],
      [other, 'Soot', 4],
    ]),
  )
  expect(made.parts.length).toBe(2)
  expect(made.holdings.map((h) => h.qty)).toEqual([3, 4])
})

test('parts without a letter in their names are as many as their names', () => {
  const made = shelf(
    rows([
      ['part', 'colour', 'quantity'],
      ['🔴', 'Soot', 1],
      ['🔵', 'Soot', 2],
      ['🔴', 'Soot', 3],
    ]),
  )
  expect(made.parts.map((p) => p.name)).toEqual(['🔴', '🔵'])
  expect(made.holdings.map((h) => h.qty)).toEqual([4, 2])
})

test.each([
  ['tile 1x1 ★', 'tile 1x1 ☾'],
  ['plate 2x4 A+', 'plate 2x4 A'],
])('what is drawn on known shapes tells them apart: %j and %j', (one, other) => {
  expect(partFromName(one).id).not.toBe(partFromName(other).id)
})

test('ids are the same just for names that are the same but for spaces, case and what sets words off', () => {
  const unit = fc.constantFrom('a', 'B', 'é', ' ', '+', '-', '1', '.', '(', ')', '🔴', '#', "'")
  const name = fc.string({ unit, minLength: 1, maxLength: 6 })
  const bare = (text: string) =>
    nameKey(text)
      .replace(/[\s().'-]+/g, ' ')
      .trim()
  fc.assert(
    fc.property(name, name, (p, q) => {
      if (nameKey(p) === nameKey(q)) expect(idText(p)).toBe(idText(q))
      else if (bare(p) !== bare(q)) expect(idText(p)).not.toBe(idText(q))
    }),
    { numRuns: 3000 },
  )
})

test('an id is short, whatever the name', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 0, maxLength: 400, unit: 'binary' }), (name) => {
      expect(idText(name).length).toBeGreaterThan(0)
      expect(idText(name).length).toBeLessThanOrEqual(120)
      expect(idText(name)).not.toMatch(/[|/?#%\\]/)
    }),
  )
})

test('a column of codes that repeat is refused with the rows, and makes nothing of many things', () => {
  const list = rows([
    ['part', 'ref', 'colour', 'quantity'],
    ['plate 2x4', 'p. 1', 'Soot', 3],
    ['brick 2x4', 'p. 1', 'Soot', 5],
    ['tile 2x4', 'p. 1', 'Soot', 7],
    ['tile 1x1', 'p. 2', 'Soot', 2],
  ])
  const reading = read(list)
  expect(reading.accepted.map((r) => [r.line, r.part])).toEqual([[5, 'tile 1x1']])
  expect(reading.refused.map((r) => r.line)).toEqual([2, 3, 4])
  for (const { reason } of reading.refused)
    expect(reason).toMatch(
      /The code "p 1" stands for "plate 2x4" \(row 2\) and "brick 2x4" \(row 3\); one code names one part\./,
    )
  expect([reading.pieces, reading.repeats]).toEqual([2, 0])
})

test('two spellings of one part under one code are one part; so are parts that were merged', () => {
  const list = rows([
    ['part', 'code', 'colour', 'quantity'],
    ['plate 2x4', '77', 'Soot', 3],
    ['2 by 4 plate', '77', 'Soot', 5],
  ])
  expect(read(list).refused).toEqual([])
  const merged = rows([
    ['part', 'code', 'colour', 'quantity'],
    ['plate 2x4', '77', 'Soot', 3],
    ['plate 2x4 waffle', '77', 'Soot', 5],
  ])
  expect(read(merged).refused.length).toBe(2)
  const sameAs = new Map<string, string>([[partFromName('plate 2x4 waffle').id, partFromName('plate 2x4').id]])
  expect(read(merged, 'shelf', new Map(), sameAs).refused).toEqual([])
})

test('a code known of an earlier list does not make a brick of a plate', () => {
  const known = new Map([['code=77', 'plate 2x4']])
  const [refused] = read(
    rows([
      ['part', 'code', 'colour', 'quantity'],
      ['brick 2x4', '77', 'Soot', 3],
    ]),
    'shelf',
    known,
  ).refused
  expect(refused?.reason).toMatch(/The code "77" is known to be "plate 2x4"; this row says "brick 2x4"/)
  // A word the grammar does not know is what codes are for.
  expect(
    read(
      rows([
        ['part', 'code', 'colour', 'quantity'],
        ['thin flat one', '77', 'Soot', 3],
      ]),
      'shelf',
      known,
    ).refused,
  ).toEqual([])
})

test('a code of a colour that stands for two colours is refused with the rows', () => {
  const list = rows([
    ['part', 'colour', 'colour code', 'quantity'],
    ['plate 2x4', 'Soot', '11', 3],
    ['plate 2x4', 'Scree', '11', 5],
  ])
  expect(read(list).refused.map((r) => [r.line, /one code names one colour/.test(r.reason)])).toEqual([
    [2, true],
    [3, true],
  ])
})

test('a place that is there by its name is that place, whatever its id; replacing it replaces what lies in it', () => {
  const place: Place = { id: 'l-made-by-hand' as PlaceId, name: 'Drawer  A', kind: 'drawer', parent: null }
  const renamed: Place = { id: 'l-drawer-b' as PlaceId, name: 'Big box', kind: 'box', parent: null }
  const held: Holding = {
    id: 'h-1' as HoldingId,
    place: place.id,
    item: `${partFromName('brick 1x1').id}|c-soot` as Holding['item'],
    qty: 9,
    estimate: false,
    condition: 'new',
  }
  const list = rows([
    ['part', 'colour', 'quantity', 'place'],
    ['plate 2x4', 'Soot', 3, 'drawer a'],
    ['plate 2x4', 'Soot', 4, 'Drawer B'],
  ])
  const added = shelf(list, [place, renamed], [held])
  expect(added.places.map((p) => p.name)).toEqual(['Drawer B'])
  // "Drawer B" was an id of what is called otherwise by now.
  expect(added.places[0]?.id).not.toBe(renamed.id)
  expect(added.holdings.map((h) => h.place)).toEqual([place.id, added.places[0]?.id])
  const replaced = shelf(list, [place, renamed], [held], 'replace')
  expect(replaced.removed).toEqual(['h-1'])
})

test('stages, sets and shops are told apart by their names, and keep their ids when they come again', () => {
  const donor = (text: string, known: Parameters<typeof importDonor>[1]['known'] = [], name = 'Hut +') =>
    importDonor(read(text, 'donor').accepted, { name, build: null, addCopy: false, known }, context).sets[0]
  const first = donor(
    rows([
      ['part', 'colour', 'quantity', 'stage'],
      ['plate 2x4', 'Soot', 3, 'Bag +'],
      ['plate 2x4', 'Soot', 4, 'Bag -'],
    ]),
  )
  if (!first) throw new Error('nothing came in')
  expect(first.stages.map((s) => s.name)).toEqual(['Bag +', 'Bag -'])
  expect(first.lines.map((l) => l.qty)).toEqual([3, 4])
  const again = donor(
    rows([
      ['part', 'colour', 'quantity', 'stage'],
      ['plate 2x4', 'Soot', 4, 'bag -'],
      ['plate 2x4', 'Soot', 1, 'Attic'],
    ]),
    [first],
  )
  expect(again?.id).toBe(first.id)
  expect(again?.stages[0]?.id).toBe(first.stages[1]?.id)
  const other = donor(
    rows([
      ['part', 'colour', 'quantity'],
      ['plate 2x4', 'Soot', 1],
    ]),
    [first],
    'Hut -',
  )
  expect(other?.id).not.toBe(first.id)
  // A set whose name changed keeps its id: a new one of the old name is another.
  const called = donor(
    rows([
      ['part', 'colour', 'quantity'],
      ['plate 2x4', 'Soot', 1],
    ]),
    [{ ...first, name: 'Cabin' }],
  )
  expect(called?.id).not.toBe(first.id)

  const offers = rows([
    ['shop', 'part', 'colour', 'price', 'stock'],
    ['Shop A+', 'plate 2x4', 'Soot', '0.10', 3],
    ['Shop A-', 'plate 2x4', 'Soot', '0.12', 4],
  ])
  const made = importOffers(
    read(offers, 'offers').accepted,
    { currency: currency('EUR'), country: 'AT', knownShops: [] },
    context,
  )
  expect(made.shops.length).toBe(2)
  expect(made.offers.map((o) => [o.price, o.stock])).toEqual([
    [10, 3],
    [12, 4],
  ])
})

test.each([
  ['Blue+', 'Blue'],
  ['Blue+', 'Blue-'],
  ['Grey*', 'Grey'],
  ['🔴', '🔵'],
  ['Red 🔴', 'Red'],
])('colours %j and %j are two names', (one, other) => {
  expect(colourKey(one)).not.toBe(colourKey(other))
})

test.each([
  ['Blue-Green', 'blue green'],
  ['GRAY', 'grey'],
  ['Sand (dark)', 'sand dark'],
])('colours %j and %j are one name', (one, other) => {
  expect(colourKey(one)).toBe(colourKey(other))
})

test.each(['part', 'place', 'stage', 'module', 'shop', 'decoration'])(
  'a %s that is too long is refused, not cut short',
  (field) => {
    const kind: ListKind =
      field === 'stage' ? 'donor' : field === 'module' ? 'design' : field === 'shop' ? 'offers' : 'shelf'
    const long = 'x'.repeat(201)
    const cells: Record<string, string> = {
      part: 'plate 2x4',
      colour: 'Soot',
      quantity: '1',
      ...(kind === 'offers' ? { shop: 'S', price: '0.10', stock: '1' } : {}),
    }
    cells[field] = long
    const reading = read(rows([Object.keys(cells), Object.values(cells)]), kind)
    expect(reading.accepted).toEqual([])
    expect(reading.refused[0]?.reason).toMatch(/is longer than \d+ characters\. Shorten it\./)
  },
)

test('a price that nobody pays is refused in words', () => {
  const list = rows([
    ['shop', 'part', 'colour', 'price', 'stock'],
    ['S', 'plate 2x4', 'Soot', '10000001', 3],
  ])
  expect(read(list, 'offers').refused[0]?.reason).toMatch(/above 10000000\.00 EUR a piece/)
})

test('parts that an earlier version named by less than their name are found by their name', () => {
  const old = ['🎈 balloon', `${'long '.repeat(30)}a`, 'widget 1/2'].map((name) => {
    const part = partFromName(name)
    return { ...part, id: olderPartId(part.name) }
  })
  const index = partIndex(old)
  for (const part of old) expect(index.get(partFromName(part.name).id)).toBe(part.id)
  expect(index.get('p-never' as PartId)).toBeUndefined()
})
