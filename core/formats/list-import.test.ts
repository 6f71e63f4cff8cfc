import { shopMoney } from '../offers/shop.ts'
import { shopOf } from '../offers/offers.test-data.ts'
import fc from 'fast-check'
import { colourKey, colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import type { BuildId } from '../units/ids.ts'
import { readDelimited } from './delimited.ts'
import { matchColumns } from './list-columns.ts'
import { type ListKind } from './list-fields.ts'
import { importDesign, importDonor, importOffers, importShelf } from './list-import.ts'
import { readQuantity } from '../units/read-quantity.ts'
import { readList } from './list-rows.ts'
import { currency } from '../units/money.ts'

const index = colourIndex(PALETTE)
const known = new Map([...index].map(([key, colour]) => [key, colour.id]))
const REPLACE = { name: 'list', mode: 'replace', existing: null } as const
let serial = 0
const context = {
  colourOf: (key: string) => known.get(key),
  parts: [] as Part[],
  fresh: () => `t${serial++}`,
}
const read = (text: string, kind: ListKind, colours = known, codes = new Map<string, string>()) => {
  const list = readDelimited(text)
  if (!list.ok) throw new Error(list.error.message)
  const match = matchColumns(list.value.rows, kind, index)
  return { match, ...readList(list.value, kind, match, { currency: 'EUR', knownColours: colours, knownCodes: codes }) }
}
const [first, second] = PALETTE.map((c) => c.name)

test.each([
  ['Part,Colour,Quantity', 'A,B,C'],
  ['QTY,Color name,Description', 'C,B,A'],
  ['Bin;Anzahl;Farbe;Teil', '-;C;B;A'],
])('headings in any order and spelling: %s', (heading, order) => {
  const delimiter = heading.includes(';') ? ';' : ','
  const values: Record<string, string> = { A: 'plate 2x4', B: first ?? '', C: '12', '-': 'Bin 1' }
  const row = order
    .split(delimiter)
    .map((k) => values[k])
    .join(delimiter)
  const { accepted } = read(`${heading}\r\n${row}\r\n`, 'shelf')
  expect(accepted).toMatchObject([{ part: 'plate 2x4', colourName: first, qty: 12 }])
})

test('without headings, columns are told by what they hold', () => {
  const { match, accepted } = read(`3,${first},brick 2x4\n14,${second},"plate 2x8"\n`, 'design')
  expect(match.heading).toBe(null)
  expect(match.columns).toMatchObject({ qty: 0, colour: 1, part: 2 })
  expect(accepted.map((r) => r.qty)).toEqual([3, 14])
})

test('headings nobody knows are still headings when they stand over numbers', () => {
  const { match, accepted } = read(`What,Hue,A\nplate 2x4,${first},5\nbrick 1x1,${second},6\n`, 'shelf')
  expect([match.heading, accepted.map((r) => r.qty)]).toEqual([0, [5, 6]])
})

test.each([
  ['12', 12, false],
  ['12x', 12, false],
  ['x 12', 12, false],
  ['1,200', 1200, false],
  ['~60', 60, true],
  ['about 60', 60, true],
  ['12.0', 12, false],
  ['7 pcs', 7, false],
])('quantity %s', (text, qty, estimate) => {
  expect(readQuantity(text)).toEqual({ ok: true, value: { qty, estimate } })
})

test.each([
  ['-3', /below 1/],
  ['2.5', /whole/],
  ['0', /is 0/],
  ['', /no quantity/],
  ['many', /not a number/],
  ['2000001', /above/],
])('quantity %j is refused with a reason', (text, reason) => {
  const read = readQuantity(text)
  expect(read.ok ? '' : read.error.message).toMatch(reason)
})

test('refused rows name their line and the remedy; nothing else is lost', () => {
  const { accepted, refused, unknownColours } = read(
    `part,colour,qty\nplate 2x4,${first},4\nplate 2x4,${first},-1\n,${first},2\nbrick 1x1,Nobody's Hue,5\n`,
    'shelf',
  )
  expect(accepted.map((r) => r.line)).toEqual([2, 5])
  expect(refused.map((r) => r.line)).toEqual([3, 4])
  expect(refused[0]?.reason).toMatch(/below 1/)
  expect(unknownColours).toEqual([{ name: "Nobody's Hue", rows: 1 }])
})

test('pieces are conserved: what is accepted arrives, duplicates summed', () => {
  const row = fc.record({
    part: fc.constantFrom('plate 2x4', '4 by 2 plate', 'brick 1x1', 'odd thing'),
    colour: fc.constantFrom(first ?? '', second ?? ''),
    qty: fc.integer({ min: 1, max: 50 }),
    group: fc.constantFrom('One', 'Two', ''),
  })
  fc.assert(
    fc.property(fc.array(row, { minLength: 1, maxLength: 20 }), (rows) => {
      const text = (group: string) =>
        ['part,colour,qty,' + group, ...rows.map((r) => `${r.part},${r.colour},${r.qty},${r.group}`)].join('\n')
      const total = rows.reduce((n, r) => n + r.qty, 0)
      const sum = (records: readonly { qty: number }[]) => records.reduce((n, r) => n + r.qty, 0)
      const donor = importDonor(
        read(text('stage'), 'donor').accepted,
        { name: 'X', build: null, addCopy: true },
        context,
      )
      expect(sum(donor.sets.flatMap((s) => s.lines))).toBe(total)
      const shelf = importShelf(
        read(text('place'), 'shelf').accepted,
        { defaultPlace: 'Box', existing: [], mode: 'add' },
        context,
      )
      expect(sum(shelf.holdings)).toBe(total)
      const again = importShelf(
        read(text('place'), 'shelf').accepted,
        { defaultPlace: 'Box', existing: shelf.holdings, mode: 'add' },
        context,
      )
      expect([again.holdings.length, sum(again.holdings)]).toEqual([shelf.holdings.length, 2 * total])
      for (const mode of ['replace', 'correct'] as const) {
        const same = importShelf(
          read(text('place'), 'shelf').accepted,
          { defaultPlace: 'Box', existing: shelf.holdings, mode },
          context,
        )
        expect([same.holdings, same.removed]).toEqual([shelf.holdings, []])
      }
      const design = importDesign(
        read(text('module'), 'design').accepted,
        { ...REPLACE, build: 'b-x' as BuildId },
        context,
      )
      expect(sum(design.designs.flatMap((d) => d.modules.flatMap((m) => m.lines)))).toBe(total)
    }),
    { numRuns: 50 },
  )
})

test('an offers file gives shops and offers in minor units', () => {
  const { accepted, refused } = read(
    `shop,part,colour,price,stock,pack\nHill & Dale,plate 2x4,${first},"0,12",40,4\nHill & Dale,brick 1x1,${first},0.125,9,\n`,
    'offers',
  )
  expect(refused.map((r) => r.reason)).toEqual([expect.stringContaining('no price in EUR')])
  const { shops, offers } = importOffers(
    accepted,
    { currency: currency('EUR'), country: 'AT', knownShops: [] },
    context,
  )
  expect(shops.map((s) => s.name)).toEqual(['Hill & Dale'])
  expect(offers).toMatchObject([{ price: 12, stock: 40, pack: 4 }])
})

test('prices of a shop that trades in other money are read in that, and stay its own', () => {
  const knownShops = [
    shopOf('own-1', { name: 'Loft', currency: currency('CHF') }),
    shopOf('own-2', { name: 'Yard', currency: currency('JPY') }),
    shopOf('own-3', { name: 'Twin', currency: currency('CHF') }),
    shopOf('own-4', { name: 'twin', currency: currency('EUR') }),
  ]
  const list = readDelimited(
    `shop,part,colour,price,stock\nloft,plate 2x4,${first},"0,12",4\nLoft,brick 1x1,${first},"0,15 €",4\nYard,plate 2x4,${first},12,4\nYard,brick 1x1,${first},0.5,4\nTwin,plate 2x4,${first},0.20,4\nNew,plate 2x4,${first},0.30 EUR,4\n`,
  )
  if (!list.ok) throw new Error(list.error.message)
  const { accepted, refused } = readList(list.value, 'offers', matchColumns(list.value.rows, 'offers', index), {
    ...{ currency: 'EUR', knownColours: known, knownCodes: new Map() },
    shopMoney: shopMoney(knownShops, 'EUR'),
  })
  expect(refused.map((r) => [r.line, r.reason])).toEqual([
    [3, expect.stringMatching(/no price in CHF: it names other money.*Shops/)],
    [5, expect.stringMatching(/no price in JPY: it has more decimals/)],
  ])
  const { shops, offers } = importOffers(accepted, { currency: currency('EUR'), country: 'AT', knownShops }, context)
  expect(shops.filter((s) => !s.id.startsWith('own-')).map((s) => [s.name, s.currency])).toEqual([['New', 'EUR']])
  expect(offers.map((o) => [o.shop.slice(0, 5), o.price])).toEqual([
    ['own-1', 12],
    ['own-2', 12],
    ['own-4', 20],
    ['file-', 30],
  ])
})

test('colour names meet over spelling, case and punctuation', () => {
  expect(colourKey('Light-Gray ')).toBe(colourKey('light grey'))
})

test('replacing a place removes what the list does not name, there and only there', () => {
  const before = importShelf(
    read(
      `part,colour,qty,place\nplate 2x4,${first},5,One\nbrick 1x1,${first},6,One\nbrick 1x1,${first},7,Two\n`,
      'shelf',
    ).accepted,
    { defaultPlace: 'Box', existing: [], mode: 'add' },
    context,
  ).holdings
  const list = read(`part,colour,qty,place\nplate 2x4,${first},3,One\n`, 'shelf').accepted
  const options = { defaultPlace: 'Box', existing: before }
  const replaced = importShelf(list, { ...options, mode: 'replace' }, context)
  expect(replaced.holdings.map((h) => h.qty)).toEqual([3])
  expect(replaced.removed).toEqual([before[1]?.id])
  const corrected = importShelf(list, { ...options, mode: 'correct' }, context)
  expect([corrected.holdings.map((h) => h.qty), corrected.removed]).toEqual([[3], []])
  expect(importShelf(list, { ...options, mode: 'add' }, context).holdings.map((h) => h.qty)).toEqual([8])
})

test('rows that repeat are counted for the notice', () => {
  const { repeats, accepted } = read(
    `part,colour,qty\nplate 2x4,${first},5\nPlate 2x4,${first},6\nplate 2x4,${second},7\n`,
    'shelf',
  )
  expect([accepted.length, repeats]).toEqual([3, 1])
})

test('a code written beside a name once lets a later list of the same source come in by codes alone', () => {
  const teaching = read(`Part name,Part number,Colour,Colour id,Qty\nplate 2x8,Q-17,${first},86,3\n`, 'shelf')
  const taught = importShelf(teaching.accepted, { defaultPlace: 'Box', existing: [], mode: 'add' }, context)
  expect(taught.parts).toMatchObject([{ name: 'plate 2x8', aliases: ['part number=q 17'] }])
  const codes = new Map(taught.parts.flatMap((p) => (p.aliases ?? []).map((a) => [a, p.name])))
  const colour = known.get(colourKey(first ?? ''))
  if (!colour) throw new Error('no palette')
  const colours = new Map([...known, [teaching.accepted[0]?.colourCode ?? '', colour]])
  const later = read('Part number;Colour id;Qty\nQ-17;86;5\nZ-1;86;2\n', 'shelf', colours, codes)
  expect(later.refused.map((r) => [r.line, r.reason])).toEqual([
    [3, 'The part code "Z-1" is not known yet. Write the part\'s name once, and the code is remembered.'],
  ])
  const joined = importShelf(
    later.accepted,
    { defaultPlace: 'Box', existing: taught.holdings, mode: 'add' },
    { ...context, parts: taught.parts, colourOf: (key) => colours.get(key) },
  )
  expect(joined.holdings).toEqual(taught.holdings.map((h) => ({ ...h, qty: 8 })))
  // The same code under another heading is another source's: it says nothing.
  expect(read('Ref;Colour id;Qty\nQ-17;86;5\n', 'shelf', colours, codes).accepted).toEqual([])
})

test('a part known by another name comes in under its own', () => {
  const part = partFromName('plate 2x4')
  const parts = [{ ...part, aliases: [partFromName('plate 2x4 waffle').id] }]
  const { accepted } = read(`part,colour,quantity\nwaffle plate 2x4,${first},3\nplate 2x4,${first},4\n`, 'shelf')
  const shelf = importShelf(accepted, { defaultPlace: 'Box', existing: [], mode: 'add' }, { ...context, parts })
  expect([shelf.parts, shelf.holdings.map((h) => [h.item.split('|')[0], h.qty])]).toEqual([[], [[part.id, 7]]])
})

test('decoration, length and visibility come in with a row', () => {
  const { accepted, refused } = read(
    `part,colour,qty,sticker,length\nhose 16 long,${first},2,,9.5 cm\ntile 2x2,${first},1,Clock | face,\nhose 8 long,${first},1,,long\n`,
    'shelf',
  )
  expect(accepted.map((r) => [r.length, r.decoration])).toEqual([
    [95, ''],
    [null, 'clock / face'],
  ])
  expect(refused[0]?.reason).toContain('"long" is no length')
  const design = read(`part,colour,qty,hidden\nplate 2x4,${first},2,yes\nplate 2x4,${first},3,no\n`, 'design')
  const [made] = importDesign(design.accepted, { ...REPLACE, build: 'b-1' as BuildId }, context).designs
  expect(made?.modules[0]?.lines.map((l) => [l.visibility, l.qty])).toEqual([
    ['hidden', 2],
    [undefined, 3],
  ])
})

test('a parts list replaces the modules, adds its own, or corrects those of the same name; colourways stay', () => {
  const rows = (text: string) => read(text.replaceAll('Soot', first ?? 'Soot'), 'design').accepted
  const build = 'b-2' as BuildId
  const begun = 'part,colour,quantity,module\nplate 2x4,Soot,2,Base\nbrick 2x4,Soot,5,Wall\n'
  const [existing] = importDesign(rows(begun), { ...REPLACE, build }, context).designs
  if (!existing) throw new Error('a list makes a design')
  const drawn = { ...existing, colourways: [{ id: 'w', name: 'Winter', colours: [] }] }
  const next = rows('part,colour,quantity,module\nplate 2x4,Soot,7,Base\ntile 1x1,Soot,1,Lid\n')
  const after = (mode: 'replace' | 'add' | 'correct') =>
    importDesign(next, { build, name: 'Second', mode, existing: drawn }, context).designs[0]
  const told = (mode: 'replace' | 'add' | 'correct') => after(mode)?.modules.map((m) => [m.name, m.lines[0]?.qty])
  expect(told('replace')).toEqual([
    ['Base', 7],
    ['Lid', 1],
  ])
  expect(told('add')).toEqual([
    ['Base', 2],
    ['Wall', 5],
    ['Base', 7],
    ['Lid', 1],
  ])
  expect(told('correct')).toEqual([
    ['Base', 7],
    ['Wall', 5],
    ['Lid', 1],
  ])
  expect(after('replace')?.colourways).toEqual(drawn.colourways)
  expect(after('add')?.modules.at(-1)?.origin).toEqual({ kind: 'list', name: 'Second' })
})

test.each([
  ['12.000', ['3'], /may be 12 or 12000/],
  ['12.000', ['3,0'], 12_000],
  ['12.000', ['3.0'], 12],
  ['0,500', ['3'], /not a whole number/],
  ['1,200', ['3'], 1200],
])('%s among the quantities %j is read by the rule of its column', (cell, others, expected) => {
  const { accepted, refused, numbers } = read(
    ['part;colour;qty', ...[cell, ...others].map((q) => `plate 2x4;${first};${q}`)].join('\n'),
    'shelf',
  )
  if (typeof expected === 'number') expect(accepted[0]?.qty).toBe(expected)
  else expect(refused[0]?.reason).toMatch(expected)
  // That there was a rule is told wherever a number needed one.
  expect(numbers.length).toBe(/^0/.test(cell) ? 0 : 1)
})

test('pieces that come to more than a record may hold are refused with the row, in any spelling', () => {
  const rows = ['part,colour,qty', `plate 2x4,${first},600000`, `4 by 2 plate,${first},600000`, `brick 1x1,${first},5`]
  for (const kind of ['donor', 'design'] as const) {
    const { accepted, refused } = read(rows.join('\n'), kind)
    expect(accepted.map((r) => r.line)).toEqual([2, 4])
    expect(refused).toMatchObject([{ line: 3, reason: expect.stringContaining('With row 2') }])
  }
  // The shelf keeps them as two holdings.
  const shelf = read(rows.join('\n'), 'shelf')
  const made = importShelf(shelf.accepted, { defaultPlace: 'Box', existing: [], mode: 'add' }, context)
  expect(made.holdings.map((h) => h.qty).sort((p, q) => p - q)).toEqual([5, 600_000, 600_000])
})

test('a part keeps the name it is written with; what it is the same as is remembered under its own name', () => {
  const text = `part,colour,qty\nflat 2x4,${first},5\n2 by 4 brick,${first},3\nFlat 2x4,${second},2\n`
  const flat = partFromName('flat 2x4').id
  const shelf = (parts: readonly Part[], sameParts = new Map([[flat, 'plate 2x4']])) =>
    importShelf(
      read(text, 'shelf').accepted,
      { defaultPlace: 'Box', existing: [], mode: 'add' },
      { ...context, parts, sameParts },
    )
  const once = shelf([])
  expect(once.parts.map((p) => [p.name, p.aliases ?? []])).toEqual([
    ['plate 2x4', [flat]],
    ['2 by 4 brick', []],
  ])
  const plate = partFromName('plate 2x4').id
  expect(once.holdings.map((h) => [h.item.split('|')[0], h.qty])).toEqual([
    [plate, 5],
    [partFromName('brick 2x4').id, 3],
    [plate, 2],
  ])
  // The next list needs no answer, and finds the same parts.
  const again = shelf(once.parts, new Map())
  expect(again.parts).toEqual([])
  expect(again.holdings.map((h) => h.item)).toEqual(once.holdings.map((h) => h.item))
  // Not said to be the same, it is a part of its own.
  expect(shelf([], new Map()).parts.map((p) => p.name)).toEqual(['flat 2x4', '2 by 4 brick'])
})
