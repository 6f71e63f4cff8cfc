import { offerOf, shopOf } from '../offers/offers.test-data.ts'
import * as v from 'valibot'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Place } from '../shelf/place.ts'
import { colourId, type BuildId, type ModuleId, type PlaceId } from '../units/ids.ts'
import { BuildSchema } from '../build/build.ts'
import { type Rules } from '../build/house-rules.ts'
import type { Offer } from '../offers/offer.ts'
import { fixture as anyScene, type Held, type Line } from './fixture.test-data.ts'
import { pieceOf } from '../sourcing/plan-pieces.ts'
import { sourcingTask } from '../sourcing/shortfall-task.ts'
import type { Snapshot } from './snapshot.ts'
import { tally } from './count.ts'
import { printOrderText, printOrders } from './print-orders.ts'
import { waitedFor } from './waited-for.ts'

const PARTS = [
  'plate 2x4',
  'plate 2x4 with hole',
  'plate 4x4',
  'tile 2x2',
  'hose 8 long',
  'hose 16 long',
  'bar 3 long',
  'bar 4 long',
  'sticker clock',
].map(partFromName)
const part = (name: string) => partFromName(name).id
const of = (name: string, colour: string, decoration = '') => itemKey(part(name), colourId(colour), decoration)

const scene = (rules: Partial<Rules>, lines: Line[], shelf: Held[], more: Partial<Snapshot> = {}): Snapshot =>
  anyScene(rules, lines, shelf, { parts: new Map(PARTS.map((p) => [p.id, p])), ...more })
const cover = (s: Snapshot) => {
  const { donor, shelf, standIn, onOrder, short } = tally(s).coverage
  return { donor, shelf, standIn, onOrder, short }
}
const none = { donor: 0, shelf: 0, standIn: 0, onOrder: 0, short: 0 }
const SOOT = of('plate 2x4', 'Soot')
const CHALK = of('plate 2x4', 'Chalk')

test('colour: hidden pieces may be of any colour, seen ones only of the palette', () => {
  const lines: Line[] = [
    { item: SOOT, qty: 2 },
    { item: SOOT, qty: 3, visibility: 'hidden' },
  ]
  const shelf = [
    { item: SOOT, qty: 1 },
    { item: CHALK, qty: 9 },
  ]
  expect(cover(scene({}, lines, shelf))).toEqual({ ...none, shelf: 1, short: 4 })
  // The one exact piece goes where nothing else fits, however the lines are ordered.
  expect(cover(scene({ colours: 'free where hidden' }, lines, shelf))).toEqual({
    ...none,
    shelf: 1,
    standIn: 3,
    short: 1,
  })
  const palette = [colourId('Soot'), colourId('Chalk')]
  expect(cover(scene({ colours: 'within the palette', palette }, lines, shelf))).toEqual({
    ...none,
    shelf: 1,
    standIn: 4,
  })
  expect(cover(scene({ colours: 'within the palette', palette: [] }, lines, shelf)).standIn).toBe(0)
})

test('within a palette the most plentiful colour stands in first', () => {
  const palette = ['Soot', 'Chalk', 'Peat'].map(colourId)
  const shelf = [
    { item: of('plate 2x4', 'Peat'), qty: 2 },
    { item: CHALK, qty: 9 },
  ]
  const { lines } = tally(scene({ colours: 'within the palette', palette }, [{ item: SOOT, qty: 3 }], shelf))
  expect(lines[0]?.pegs.map((p) => [p.item, p.qty, p.standIn])).toEqual([[CHALK, 3, 'colour']])
})

test('condition: worn pieces only where hidden, if the rules say so', () => {
  const lines: Line[] = [
    { item: SOOT, qty: 1 },
    { item: SOOT, qty: 1, visibility: 'hidden' },
  ]
  const shelf: Held[] = [{ item: SOOT, qty: 2, condition: 'worn' }]
  expect(cover(scene({}, lines, shelf)).short).toBe(2)
  expect(cover(scene({ wornHidden: true }, lines, shelf))).toEqual({ ...none, shelf: 1, short: 1 })
  expect(cover(scene({ condition: 'worn' }, lines, shelf)).short).toBe(0)
})

test('altering: a longer hose is cut, a stiff bar only where any altering is allowed, a shorter one never fits', () => {
  const hoses = [
    { item: of('hose 16 long', 'Soot'), qty: 1 },
    { item: of('hose 8 long', 'Soot'), qty: 1, length: 60 },
  ]
  const lines: Line[] = [{ item: of('hose 8 long', 'Soot'), qty: 2 }]
  expect(cover(scene({ altering: 'never' }, lines, hoses)).short).toBe(2)
  expect(cover(scene({ altering: 'lengths' }, lines, hoses))).toEqual({ ...none, standIn: 1, short: 1 })
  const bars = [{ item: of('bar 4 long', 'Soot'), qty: 1 }]
  const bar: Line[] = [{ item: of('bar 3 long', 'Soot'), qty: 1 }]
  expect(cover(scene({ altering: 'lengths' }, bar, bars)).short).toBe(1)
  expect(cover(scene({ altering: 'allowed' }, bar, bars)).standIn).toBe(1)
})

test('stickers: left off, reused from the shelf, or printed at a price', () => {
  const clock = of('tile 2x2', 'Chalk', 'sticker clock')
  const plain = of('tile 2x2', 'Chalk')
  const lines: Line[] = [{ item: clock, qty: 2 }]
  const tiles = [{ item: plain, qty: 2 }]
  const used: Held = { item: of('sticker clock', 'Chalk'), qty: 1 }
  expect(cover(scene({ stickers: 'applied' }, lines, tiles)).short).toBe(2)
  expect(cover(scene({ stickers: 'left off' }, lines, tiles)).standIn).toBe(2)
  expect(cover(scene({ stickers: 'reused' }, lines, [...tiles, used]))).toEqual({ ...none, standIn: 1, short: 1 })
  expect(tally(scene({ stickers: 'custom prints' }, lines, tiles)).prints).toBe(2)
  // A stickered piece is a plain one where it is hidden, or once its sticker is off.
  const stickered = [{ item: clock, qty: 2 }]
  expect(cover(scene({}, [{ item: plain, qty: 2 }], stickered)).short).toBe(2)
  expect(cover(scene({}, [{ item: plain, qty: 2, visibility: 'hidden' }], stickered)).standIn).toBe(2)
  expect(cover(scene({ stickers: 'left off' }, [{ item: plain, qty: 2 }], stickered)).standIn).toBe(2)
  // A print is no sticker: only custom prints replace it.
  const printed: Line[] = [{ item: of('tile 2x2', 'Chalk', 'clock face'), qty: 1 }]
  expect(cover(scene({ stickers: 'left off' }, printed, tiles)).short).toBe(1)
  expect(tally(scene({ thirdParty: true }, printed, tiles)).prints).toBe(1)
})

const SET: DonorSet = {
  id: 's-x' as DonorSet['id'],
  name: 'X',
  stages: [{ id: 'a', name: 'A' }],
  lines: [{ stage: 'a', item: CHALK, qty: 5, spare: false }],
}
const COPY: Copy = {
  id: 'y-1' as Copy['id'],
  setId: SET.id,
  label: 'One',
  buildId: 'b-t' as BuildId,
  state: 'owned',
  stages: 'all',
  spares: true,
  missing: [],
}

test('aim: the donors are used up before exact pieces of the shelf, or the best condition comes first', () => {
  const lines: Line[] = [{ item: SOOT, qty: 3, visibility: 'hidden' }]
  const shelf = [{ item: SOOT, qty: 9 }]
  const more = { sets: [SET], copies: [COPY] }
  const free = { colours: 'free where hidden' } as const
  expect(cover(scene(free, lines, shelf, more))).toEqual({ ...none, shelf: 3 })
  expect(cover(scene({ ...free, aim: 'use up the donors' }, lines, shelf, more))).toEqual({ ...none, standIn: 3 })
  const conditions: Held[] = [
    { item: SOOT, qty: 2, condition: 'used', estimate: false },
    { item: SOOT, qty: 2, condition: 'new', estimate: true },
  ]
  const drawn = (aim: Rules['aim']) =>
    tally(scene({ aim, estimatePercent: 100 }, [{ item: SOOT, qty: 2 }], conditions)).lines[0]?.pegs.map((p) =>
      p.source.kind === 'shelf' ? p.source.holding : '',
    )
  expect(drawn('least spending')).toEqual(['h-0'])
  expect(drawn('least compromise')).toEqual(['h-1'])
})

test('aim: the least compromise buys what a shop sells rather than take a stand-in', () => {
  const lines: Line[] = [{ item: SOOT, qty: 3, visibility: 'hidden' }]
  const rules = { colours: 'free where hidden', aim: 'least compromise' } as const
  const shelf = [{ item: CHALK, qty: 9 }]
  const market = { shops: [SHOP], offers: [offer(SOOT, { price: 50 })] }
  expect(cover(scene(rules, lines, shelf)).standIn).toBe(3)
  expect(cover(scene(rules, lines, shelf, { market })).short).toBe(3)
  expect(cover(scene({ ...rules, sources: 'donors and shelf' }, lines, shelf, { market })).short).toBe(0)
})

test('places: a model gives pieces only when released, last of all; what is in the post is on order', () => {
  const places: Place[] = [
    { id: 'l-model' as PlaceId, name: 'Old tram', kind: 'model', parent: null },
    { id: 'l-inside' as PlaceId, name: 'Its roof', kind: 'box', parent: 'l-model' as PlaceId },
    { id: 'l-post' as PlaceId, name: 'Parcel', kind: 'post', parent: null },
  ]
  const shelf: Held[] = [
    { item: SOOT, qty: 2, place: 'l-inside' as PlaceId },
    { item: SOOT, qty: 2, place: 'l-post' as PlaceId },
    { item: SOOT, qty: 1 },
  ]
  const lines: Line[] = [{ item: SOOT, qty: 4 }]
  expect(cover(scene({}, lines, shelf, { places }))).toEqual({ ...none, shelf: 1, onOrder: 2, short: 1 })
  const released = places.map((p) => (p.kind === 'model' ? { ...p, released: true } : p))
  expect(cover(scene({}, lines, shelf, { places: released }))).toEqual({ ...none, shelf: 3, onOrder: 1 })
})

test('a copy in worse condition than the rules allow does not count', () => {
  const lines: Line[] = [{ item: CHALK, qty: 5 }]
  const more = { sets: [SET], copies: [{ ...COPY, condition: 'worn' as const }] }
  expect(cover(scene({}, lines, [], more)).short).toBe(5)
  expect(cover(scene({ condition: 'worn' }, lines, [], more)).donor).toBe(5)
})

const SHOP = shopOf('shop')
const offer = (item: ItemKey, more: Partial<Offer> = {}): Offer => offerOf(SHOP.id, item, more)

test('sourcing obeys the same rules: colours, worn pieces where hidden, third-party parts, prints', () => {
  const bought = (rules: Partial<Rules>, line: Line, offers: Offer[]) => {
    const snapshot = scene(rules, [line], [])
    const task = sourcingTask(snapshot, tally(snapshot), [SHOP], offers)
    const pieces = new Map(task.problem.items.map((i) => [i.id, pieceOf(i)]))
    return task.problem.lines.flatMap((l) =>
      l.accepts.map((a) => [...a.uses.map((u) => pieces.get(u.item)), a.penalty]),
    )
  }
  const hidden: Line = { item: SOOT, qty: 3, visibility: 'hidden' }
  expect(bought({}, hidden, [offer(CHALK)])).toEqual([])
  expect(bought({ colours: 'free where hidden', pointPrice: 4 }, hidden, [offer(CHALK)])).toEqual([
    [SOOT, 0],
    [CHALK, 8],
  ])
  const worn = [offer(SOOT, { condition: 'worn' })]
  expect(bought({}, hidden, worn)).toEqual([])
  expect(bought({ wornHidden: true, pointPrice: 4 }, hidden, worn)).toEqual([
    [SOOT, 0],
    [SOOT, 4],
  ])
  expect(bought({ wornHidden: true }, { item: SOOT, qty: 3 }, worn)).toEqual([])
  const copied = [offer(SOOT, { thirdParty: true })]
  expect(bought({}, hidden, copied)).toEqual([])
  expect(bought({ thirdParty: true }, hidden, copied)).toEqual([[SOOT, 0]])
  const printed: Line = { item: of('tile 2x2', 'Chalk', 'clock face'), qty: 1 }
  expect(bought({ thirdParty: true, printPrice: 150 }, printed, [offer(of('tile 2x2', 'Chalk'))])).toEqual([
    [printed.item, 0],
    [of('tile 2x2', 'Chalk'), 151],
  ])
})

test('a record from before a rule was there has its neutral value', () => {
  const { build } = scene({}, [], [])
  const { aim: _, colours: __, palette: ___, ...rules } = build.rules
  const old = { ...build, rules: { ...rules, sources: 'donors' } }
  expect(v.parse(BuildSchema, old).rules).toMatchObject({ sources: 'donors', aim: 'least spending', colours: 'exact' })
})

test('moulds: another of the same shape where the rules let it, never where the structure counts on this one', () => {
  const lines: Line[] = [
    { item: SOOT, qty: 1 },
    { item: SOOT, qty: 1, visibility: 'hidden' },
    { item: SOOT, qty: 1, visibility: 'structural' },
  ]
  const shelf = [
    { item: of('plate 2x4 with hole', 'Soot'), qty: 9 },
    { item: of('plate 4x4', 'Soot'), qty: 9 },
  ]
  expect(cover(scene({}, lines, shelf)).short).toBe(3)
  expect(cover(scene({ moulds: 'where hidden' }, lines, shelf))).toEqual({ ...none, standIn: 1, short: 2 })
  expect(cover(scene({ moulds: 'anywhere' }, lines, shelf))).toEqual({ ...none, standIn: 2, short: 1 })
  // In another colour as well only where colours are free too.
  const chalk = [{ item: of('plate 2x4 with hole', 'Chalk'), qty: 9 }]
  expect(cover(scene({ moulds: 'anywhere' }, lines, chalk)).short).toBe(3)
  expect(cover(scene({ moulds: 'anywhere', colours: 'free where hidden' }, lines, chalk)).short).toBe(2)
})

test("a line's own freedom of colour goes before the house rule", () => {
  const colourById = new Map(PALETTE.map((c) => [c.id, c]))
  const plate = (colour: string) => of('plate 2x4', colour)
  const covered = (line: Partial<Line>, colour: string, rules: Partial<Rules> = {}) =>
    tally(
      scene(rules, [{ item: plate('Buttercup'), qty: 1, ...line }], [{ item: plate(colour), qty: 1 }], { colourById }),
    ).coverage.standIn
  // Buttercup and Hayfield are 8.0 apart (CIEDE2000), Oatmeal is farther.
  expect(['Hayfield', 'Oatmeal'].map((c) => covered({ freedom: 'near' }, c))).toEqual([1, 0])
  expect(covered({ freedom: 'free' }, 'Soot')).toBe(1)
  expect(covered({ freedom: 'exact', visibility: 'hidden' }, 'Soot', { colours: 'free where hidden' })).toBe(0)
  const palette = [colourId('Soot')]
  expect(covered({ freedom: 'palette', palette }, 'Soot')).toBe(1)
  expect(covered({ freedom: 'palette', palette }, 'Chalk')).toBe(0)
})

test('a group takes one colour, and what is short is wanted in that one', () => {
  const tile = (colour: string) => of('tile 2x2', colour)
  const lines: Line[] = [
    { item: SOOT, qty: 4, group: 'roof', freedom: 'free' },
    { item: tile('Soot'), qty: 4, group: 'roof', freedom: 'free' },
  ]
  const result = tally(
    scene({}, lines, [
      { item: SOOT, qty: 4 },
      { item: CHALK, qty: 3 },
      { item: tile('Chalk'), qty: 4 },
    ]),
  )
  expect(result.groups.get('roof')).toBe(colourId('Chalk'))
  expect([...result.shortfall]).toEqual([[CHALK, 1]])
  expect(result.shortLines[0]?.demand.freedom).toBe('exact')
  expect(result.proven).toBe(true)
})

test('what a line takes instead, what stands in meanwhile, and what it has printed', () => {
  const instead = [[{ item: of('tile 2x2', 'Soot'), qty: 2 }]]
  const two = tally(scene({}, [{ item: SOOT, qty: 2, instead }], [{ item: of('tile 2x2', 'Soot'), qty: 3 }]))
  expect([two.coverage.standIn, two.coverage.short]).toEqual([1, 1])
  expect(two.lines[0]?.pegs.map((p) => [p.qty, p.standIn])).toEqual([[2, 'instead']])

  const wait = tally(scene({}, [{ item: SOOT, qty: 3, meanwhile: CHALK }], [{ item: CHALK, qty: 2 }]))
  expect([wait.coverage.short, wait.lines[0]?.interim]).toEqual([3, { item: CHALK, qty: 2 }])

  const print = { vendor: 'V', price: 150, minRun: 4 }
  const sign = { item: of('tile 2x2', 'Soot', 'sign'), qty: 2, print }
  const printed = tally(scene({}, [sign], [{ item: of('tile 2x2', 'Soot'), qty: 1 }]))
  expect([printed.coverage.standIn, printed.coverage.short]).toEqual([1, 1])
  expect(printed.printRuns).toEqual([{ item: sign.item, vendor: 'V', qty: 2, minRun: 4, price: 150, cost: 600 }])
  const many = tally(scene({}, [{ ...sign, qty: 9 }], []))
  expect(many.printRuns[0]?.cost).toBe(9 * 150)
})

test('prints with a left and a right version: a mirrored module takes the other, each run at its own least number', () => {
  const print = { vendor: 'V', price: 100, minRun: 3, days: 12, artwork: 'sign.svg', side: 'left' as const }
  const line: Line = { item: of('tile 2x2', 'Soot', 'sign'), qty: 2, print }
  const own = scene({}, [line], [])
  const [module] = own.design.modules
  if (!module) throw new Error('a module')
  const other = { ...module, id: 'm-mirrored' as ModuleId, mirrored: true }
  const { printRuns } = tally({ ...own, design: { ...own.design, modules: [module, other] } })
  expect(printRuns.map((r) => [r.side, r.qty, r.cost, r.days, r.artwork])).toEqual([
    ['left', 2, 300, 12, 'sign.svg'],
    ['right', 2, 300, 12, 'sign.svg'],
  ])
  // By hand: six printed at 1.00.
  const orders = printOrders(printRuns)
  expect(orders).toMatchObject([{ vendor: 'V', pieces: 6, total: 600, days: 12 }])
  expect(orders.map((o) => printOrderText(o, 'EUR', () => 'the sign'))).toEqual([
    'V: 6 prints, 6.00 EUR\n3 x the sign, left version, artwork sign.svg at 1.00\n3 x the sign, right version, artwork sign.svg at 1.00',
  ])
})

test('what is promised counts as on order, by its place and its day', () => {
  const promised = (id: string, due?: string): Place => ({
    ...{ id: id as PlaceId, name: id, kind: 'promise', parent: null },
    ...(due !== undefined && { due }),
  })
  const places = [promised('l-b'), promised('l-a', '2026-12-10'), promised('l-c', '2026-12-01')]
  const shelf = places.map(({ id: place }): Held => ({ item: SOOT, qty: 2, place }))
  const result = tally(scene({}, [{ item: SOOT, qty: 9 }], shelf, { places }))
  expect(result.coverage).toMatchObject({ onOrder: 6, short: 3 })
  expect(waitedFor(result).map((w) => [w.place.id, w.pieces])).toEqual([
    ['l-c', 2],
    ['l-a', 2],
    ['l-b', 2],
  ])
})

test('a sticker left off needs nothing, an unused one must be as new; a length is the line’s before the name’s', () => {
  const sticker = of('sticker clock', 'Chalk')
  const shelf = [{ item: sticker, qty: 2 }]
  expect(cover(scene({}, [{ item: sticker, qty: 1, use: 'left off' }], shelf))).toEqual(none)
  expect(cover(scene({}, [{ item: sticker, qty: 1, use: 'unused' }], shelf)).short).toBe(1)
  expect(cover(scene({}, [{ item: sticker, qty: 1 }], shelf)).shelf).toBe(1)
  const hose: Line = { item: of('hose 16 long', 'Soot'), qty: 1, length: 96 }
  const stock = [{ item: of('hose 16 long', 'Soot'), qty: 1 }]
  expect(cover(scene({}, [hose], stock)).short).toBe(1)
  expect(cover(scene({ altering: 'lengths' }, [hose], stock)).standIn).toBe(1)
  expect(cover(scene({}, [hose], [{ ...stock[0], item: hose.item, qty: 1, length: 96 }])).shelf).toBe(1)
})

test('a finished model that is the module covers all of one repeat, and gives no loose pieces beside', () => {
  const model = { id: 'l-model' as PlaceId, name: 'Tower, built', kind: 'model' as const, parent: null, released: true }
  const s = scene({}, [{ item: SOOT, qty: 4 }], [{ item: SOOT, qty: 4, place: model.id }], { places: [model] })
  const [module] = s.design.modules
  if (!module) throw new Error('a module')
  const twice = (built: PlaceId[]) =>
    tally({ ...s, design: { ...s.design, modules: [{ ...module, repeats: 2, built }] } })
  expect(twice([model.id]).coverage).toMatchObject({ shelf: 4, short: 4 })
  expect(twice([model.id]).lines[0]?.pegs).toEqual([
    { source: { kind: 'built', places: [model.id] }, item: SOOT, qty: 4 },
  ])
  expect(twice([]).coverage).toMatchObject({ shelf: 4, short: 4 })
})

test('hidden pieces have a colour rule of their own; what a line says itself goes before both', () => {
  const line = (visibility: 'seen' | 'hidden', freedom?: 'exact') => ({
    item: SOOT,
    qty: 1,
    visibility,
    ...(freedom && { freedom }),
  })
  const shelf = [{ item: CHALK, qty: 9 }]
  const short = (rules: Partial<Rules>) =>
    tally(scene(rules, [line('seen'), line('hidden'), line('hidden', 'exact')], shelf)).lines.map(
      (l) => l.coverage.short,
    )
  const common: Partial<Rules> = { sources: 'donors and shelf' }
  expect(short({ ...common, colours: 'exact' })).toEqual([1, 1, 1])
  expect(short({ ...common, colours: 'exact', hiddenColours: 'free' })).toEqual([1, 0, 1])
  expect(short({ ...common, colours: 'free where hidden', hiddenColours: 'exact' })).toEqual([1, 1, 1])
  const palette = [colourId('Chalk')]
  expect(short({ ...common, colours: 'within the palette', palette })).toEqual([0, 0, 1])
  expect(short({ ...common, colours: 'within the palette', palette, hiddenColours: 'exact' })).toEqual([0, 1, 1])
  expect(short({ ...common, hiddenColours: 'within the palette', palette })).toEqual([1, 0, 1])
})
