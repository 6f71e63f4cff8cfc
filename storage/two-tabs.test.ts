import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import { PALETTE } from '../core/colours/palette.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import { PIXEL, SAMPLES } from '../core/records/records.test-data.ts'
import { RECORD_KINDS, type RecordKind, type RecordOf } from '../core/records/registry.ts'
import { allTaken, book } from '../core/orders/check-in.ts'
import { newUnit } from '../core/making/unit.ts'
import { putIn } from '../core/making/put-in.ts'
import { type TakeGroup } from '../core/making/takes.ts'
import { colourId, type BuildId, type LineId, type ModuleId, type PlaceId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'
import { Database } from './database.ts'
import { act, add, edit, editAsSeen, remove, shelve, takeForBuild } from './journal.ts'

const AT = '2026-01-01T00:00:00.000Z'
const SOOT = colourId('Soot')
const [PLATE, BRICK, TILE] = ['plate 2x4', 'brick 1x2', 'tile 1x2'].map(partFromName)
if (!PLATE || !BRICK || !TILE) throw new Error('test data')
const [plate, brick, tile] = [PLATE, BRICK, TILE].map((p) => itemKey(p.id, SOOT)) as [ItemKey, ItemKey, ItemKey]
const [soot] = PALETTE
type Case<K extends RecordKind> = {
  readonly start: RecordOf<K>
  /** Two edits of different things, and what is there once both are written. */
  readonly one: Partial<RecordOf<K>>
  readonly other: Partial<RecordOf<K>>
  readonly both: Partial<RecordOf<K>>
}
const line = (qty: number, item: ItemKey) => ({ stage: 'a', item, qty, spare: false })
const CASES = {
  parts: {
    start: { ...PLATE, aliases: ['x=1'] },
    one: { aliases: ['x=1', 'x=2'] },
    other: { aliases: ['x=1', 'x=3'], name: 'my plate' },
    both: { aliases: ['x=1', 'x=2', 'x=3'], name: 'my plate' },
  },
  colours: {
    start: { ...(soot as RecordOf<'colours'>), aliases: [] },
    one: { aliases: ['coal'] },
    other: { hex: '#010203' },
    both: { aliases: ['coal'], hex: '#010203' },
  },
  sets: {
    start: { id: 's-1', name: 'Hut', stages: [{ id: 'a', name: 'A' }], lines: [line(1, plate), line(2, brick)] },
    one: { lines: [line(4, plate), line(2, brick)] },
    other: { lines: [line(1, plate), line(2, brick), line(3, tile)], note: 'kept' },
    both: { lines: [line(4, plate), line(2, brick), line(3, tile)], note: 'kept' },
  },
  copies: {
    start: {
      id: 'y-1',
      setId: 's-1',
      label: 'One',
      buildId: null,
      state: 'owned',
      stages: 'all',
      spares: true,
      missing: [{ item: plate, qty: 1 }],
    },
    one: { missing: [{ item: plate, qty: 2 }] },
    other: {
      missing: [
        { item: plate, qty: 1 },
        { item: brick, qty: 5 },
      ],
      condition: 'used',
    },
    both: {
      missing: [
        { item: plate, qty: 2 },
        { item: brick, qty: 5 },
      ],
      condition: 'used',
    },
  },
  places: {
    start: { id: 'l-1', name: 'Bin', kind: 'bin', parent: null },
    one: { name: 'Top bin' },
    other: { kind: 'drawer' },
    both: { name: 'Top bin', kind: 'drawer' },
  },
  holdings: {
    start: { id: 'h-1', place: 'l-1', item: plate, qty: 4, estimate: true, condition: 'used' },
    one: { qty: 7, estimate: false },
    other: { place: 'l-2', reserved: [{ build: 'b-1', qty: 1 }] },
    both: { qty: 7, estimate: false, place: 'l-2', reserved: [{ build: 'b-1', qty: 1 }] },
  },
  builds: {
    start: { id: 'b-1', name: 'One', note: '', currency: currency('EUR'), rules: defaultRules },
    one: { rules: { ...defaultRules, maxShops: 3, shops: { a: 'pinned' } } },
    other: { rules: { ...defaultRules, shops: { b: 'excluded' } }, note: 'x' },
    both: { rules: { ...defaultRules, maxShops: 3, shops: { a: 'pinned', b: 'excluded' } }, note: 'x' },
  },
  designs: {
    start: { id: 'b-1', modules: [{ id: 'm-1', name: 'M', repeats: 1, lines: [{ id: 'n-1', item: plate, qty: 1 }] }] },
    one: { modules: [{ id: 'm-1', name: 'M', repeats: 1, lines: [{ id: 'n-1', item: plate, qty: 9 }] }] },
    other: {
      modules: [{ id: 'm-1', name: 'M', repeats: 4, lines: [{ id: 'n-1', item: plate, qty: 1, locked: true }] }],
    },
    both: {
      modules: [{ id: 'm-1', name: 'M', repeats: 4, lines: [{ id: 'n-1', item: plate, qty: 9, locked: true }] }],
    },
  },
  shops: {
    start: {
      id: 'a',
      name: 'A',
      country: 'AT',
      kind: 'shop',
      currency: currency('EUR'),
      minOrder: 0,
      bands: [],
      service: null,
      handling: 0,
      lineFee: 0,
      leadDays: 1,
      reliability: 1,
    },
    one: { minOrder: 100 },
    other: { bands: [{ maxMass: 1000, fee: 5 }] },
    both: { minOrder: 100, bands: [{ maxMass: 1000, fee: 5 }] },
  },
  offers: {
    start: { id: 'o', shop: 'a', item: plate, price: 5, stock: 9, pack: 1, condition: 'new', source: 'file' },
    one: { price: 6 },
    other: { stock: 3 },
    both: { price: 6, stock: 3 },
  },
  plans: {
    start: { ...SAMPLES.plans, unavailable: [] },
    one: { madeAt: '2026-01-02T00:00:00.000Z' },
    other: { unavailable: [{ line: 'x', short: 1, reason: 'stock', detail: '' }] },
    both: { madeAt: '2026-01-02T00:00:00.000Z', unavailable: [{ line: 'x', short: 1, reason: 'stock', detail: '' }] },
  },
  versions: {
    start: { id: 'v-1', buildId: 'b-1', name: 'First', at: AT, design: { id: 'b-1', modules: [] } },
    one: { name: 'Draft' },
    other: { at: '2026-01-02T00:00:00.000Z' },
    both: { name: 'Draft', at: '2026-01-02T00:00:00.000Z' },
  },
  pictures: {
    start: SAMPLES.pictures,
    one: { name: 'b' },
    other: { data: `${PIXEL}AAAA` },
    both: { name: 'b', data: `${PIXEL}AAAA` },
  },
  decisions: {
    start: {
      id: 'd-1',
      build: null,
      what: { kind: 'own', part: PLATE.id, uses: [{ part: BRICK.id, qty: 2 }], points: 1 },
    },
    one: { what: { kind: 'own', part: PLATE.id, uses: [{ part: BRICK.id, qty: 2 }], points: 5 } },
    other: { build: 'b-1' },
    both: { build: 'b-1', what: { kind: 'own', part: PLATE.id, uses: [{ part: BRICK.id, qty: 2 }], points: 5 } },
  },
  scenarios: {
    start: { id: 'w-1', buildId: 'b-1', name: 'Later', changes: { rules: { maxShops: 2 } } },
    one: { name: 'Much later' },
    other: { changes: { rules: { maxShops: 3 } } },
    both: { name: 'Much later', changes: { rules: { maxShops: 3 } } },
  },
  // Two lines counted at one bench, and a claim beside the carrier's day.
  orders: {
    start: { ...SAMPLES.orders, bench: [], due: undefined, claims: [] },
    one: {
      bench: [{ id: '1', right: 1, short: 0, damaged: 0, wrong: [], extra: 0 }],
      claims: SAMPLES.orders.claims,
    },
    other: { bench: [{ id: '2', right: 2, short: 0, damaged: 0, wrong: [], extra: 0 }], due: '2026-02-01' },
    both: {
      bench: [
        { id: '1', right: 1, short: 0, damaged: 0, wrong: [], extra: 0 },
        { id: '2', right: 2, short: 0, damaged: 0, wrong: [], extra: 0 },
      ],
      claims: SAMPLES.orders.claims,
      due: '2026-02-01',
    },
  },
  // A time written beside a note of what went otherwise.
  units: {
    start: { ...SAMPLES.units, exceptions: [], times: [] },
    one: { exceptions: SAMPLES.units.exceptions },
    other: { times: SAMPLES.units.times },
    both: { exceptions: SAMPLES.units.exceptions, times: SAMPLES.units.times },
  },
  makings: {
    start: { ...SAMPLES.makings, sorts: [], checks: [] },
    one: { checks: SAMPLES.makings.checks },
    other: { sorts: SAMPLES.makings.sorts, people: 3 },
    both: { checks: SAMPLES.makings.checks, sorts: SAMPLES.makings.sorts, people: 3 },
  },
  // A receipt added while its words are mended.
  entries: {
    start: { ...SAMPLES.entries, receipt: undefined },
    one: { receipt: 'i-1' },
    other: { text: 'Hose, two metres' },
    both: { receipt: 'i-1', text: 'Hose, two metres' },
  },
  sales: {
    start: { ...SAMPLES.sales, note: undefined },
    one: { note: 'asked twice' },
    other: { ask: 900 },
    both: { note: 'asked twice', ask: 900 },
  },
  notes: {
    start: { ...SAMPLES.notes, minutes: undefined },
    one: { minutes: 50 },
    other: { text: 'Held with two pins.' },
    both: { minutes: 50, text: 'Held with two pins.' },
  },
} as unknown as { readonly [K in RecordKind]: Case<K> }

let serial = 0
test.each(RECORD_KINDS)('two tabs that edit the same of the %s at once lose nothing, in either order', async (kind) => {
  const { start, one, other, both } = CASES[kind] as unknown as Case<'places'>
  for (const edits of [
    [one, other],
    [other, one],
  ]) {
    const name = `tabs-${serial++}`
    const tabs = [new Database(name), new Database(name)] as const
    expect((await act(tabs[0], 'made', [add('places', [])], AT)).ok).toBe(true)
    await tabs[0].table('builds').put({ id: 'b-1' })
    await tabs[0].table(kind).put(start)
    // Both begin from what is there now.
    const done = await Promise.all(
      edits.map((change, i) =>
        act(tabs[i as 0 | 1], 'edited', [edit(kind as 'places', start, { ...start, ...change })], AT),
      ),
    )
    expect(done.map((d) => (d.ok ? 'done' : d.error.message))).toEqual(['done', 'done'])
    const [now] = (await tabs[0].table(kind).toArray()) as Record<string, unknown>[]
    const sorted = (value: unknown): unknown =>
      Array.isArray(value) ? value.map((v) => JSON.stringify(v)).sort() : value
    for (const [field, value] of Object.entries({ ...start, ...both }))
      expect([field, sorted(now?.[field])]).toEqual([field, sorted(value)])
    for (const tab of tabs) tab.close()
  }
})

test('pieces put into one place by two tabs are all there; a record that is new is not written over', async () => {
  const name = `tabs-${serial++}`
  const [a, b] = [new Database(name), new Database(name)]
  const pieces = (qty: number) => ({
    place: 'l-1' as PlaceId,
    item: plate,
    qty,
    estimate: false,
    condition: 'used' as const,
  })
  await Promise.all([3, 4, 5].map((qty, i) => act(i === 1 ? b : a, 'put', [shelve([pieces(qty)])], AT)))
  expect((await a.records('holdings').toArray()).map((h) => h.qty)).toEqual([12])
  const mine = { ...PLATE, name: 'my own plate', aliases: ['x=1'] }
  await act(a, 'mine', [add('parts', [mine])], AT)
  await act(b, 'again', [add('parts', [PLATE, BRICK])], AT)
  expect(await b.records('parts').get(PLATE.id)).toEqual(mine)
  expect(await b.records('parts').count()).toBe(2)
  a.close()
  b.close()
})

test('an edit of what another tab removed meanwhile says so and writes nothing', async () => {
  const db = new Database(`tabs-${serial++}`)
  const place = CASES.places.start
  await act(db, 'made', [add('places', [place])], AT)
  await act(db, 'gone', [remove('places', [place.id])], AT)
  const late = await act(db, 'late', [add('parts', [PLATE]), edit('places', place, { ...place, name: 'B' })], AT)
  expect(late).toMatchObject({
    ok: false,
    error: { code: 'gone', message: expect.stringContaining('removed meanwhile') },
  })
  expect([await db.records('places').count(), await db.records('parts').count()]).toEqual([0, 0])
  db.close()
})

test('of two tabs that book one parcel at once only one does: its pieces are on the shelf once', async () => {
  const name = `tabs-${serial++}`
  const [a, b] = [new Database(name), new Database(name)]
  const way = ['drafted', 'placed', 'arrived'] as const
  const start: RecordOf<'orders'> = {
    ...SAMPLES.orders,
    lines: SAMPLES.orders.lines.map(({ got: _, ...line }) => line),
    copies: [],
    bookings: 0,
    history: way.map((state, i) => ({ state, on: `2026-01-0${i + 1}` })),
  }
  await act(a, 'made', [add('orders', [start])], AT)
  const to = { pileOf: () => 'l-pile' as PlaceId, surplus: 'l-surplus' as PlaceId }
  const done = await Promise.all(
    [a, b].map((tab) => {
      const booked = book(allTaken(start), to, '2026-01-04')
      if (!booked.ok) throw new Error(booked.error.message)
      return act(tab, 'booked', [edit('orders', start, booked.value.order), shelve(booked.value.lots)], AT)
    }),
  )
  expect(done.map((d) => d.ok).sort()).toEqual([false, true])
  const refused = done.find((d) => !d.ok)
  expect(refused).toMatchObject({ error: { code: 'gone', message: expect.stringContaining('went on meanwhile') } })
  expect((await a.records('holdings').toArray()).reduce((n, h) => n + h.qty, 0)).toBe(4)
  // What is said beside steps and bookings is still merged: the other tab may note a tracking number.
  const noted = await act(b, 'noted', [edit('orders', start, { ...start, tracking: 'X1' })], AT)
  expect(noted.ok).toBe(true)
  expect(await a.records('orders').get(start.id)).toMatchObject({ tracking: 'X1', bookings: 1 })
  a.close()
  b.close()
})

test('two tabs that build from one drawer at once: each piece goes in once, and what is no longer there is refused whole', async () => {
  const name = `tabs-${serial++}`
  const [a, b] = [new Database(name), new Database(name)]
  await a.table('builds').put({ id: 'b-1' })
  const drawer = { ...SAMPLES.holdings, qty: 10, reserved: [] as never } as RecordOf<'holdings'>
  await a.records('holdings').put(drawer)
  const copy = { ...SAMPLES.copies, missing: [] } as RecordOf<'copies'>
  await a.records('copies').put(copy)
  const unit = (repeat: number) => newUnit('b-1' as BuildId, ['m-1' as ModuleId], repeat)
  const tick = (tab: Database, repeat: number, qty: number, of: RecordOf<'copies'> = copy) => {
    const from = unit(repeat)
    const groups: TakeGroup[] = [
      { covers: qty, takes: [{ kind: 'holding', holding: drawer, item: drawer.item, qty }] },
      { covers: 1, takes: [{ kind: 'copy', copy: of.id, item: plate, qty: 1 }] },
    ]
    const put = putIn(from, 'n-1' as LineId, 99, groups, { copies: [of] })
    if (!put.ok) throw new Error(put.error.message)
    return act(
      tab,
      'ticked',
      [
        add('units', [from]),
        edit('units', from, put.value.units[0] ?? from),
        ...editAsSeen('copies', [of], put.value.copies),
        takeForBuild(put.value.takes),
      ],
      AT,
    )
  }
  // The same copy: the second tab is told to look again, and nothing of its act is written.
  const both = await Promise.all([tick(a, 1, 4), tick(b, 2, 3)])
  expect(both.map((d) => (d.ok ? 'done' : d.error.code)).sort()).toEqual(['done', 'gone'])
  const sum = async () => {
    const held = (await a.records('holdings').toArray()).reduce((n, h) => n + h.qty, 0)
    const inside = (await a.records('units').toArray()).flatMap((u) => u.put)
    return held + inside.reduce((n, p) => n + (p.from.kind === 'place' ? p.qty : 0), 0)
  }
  expect(await sum()).toBe(10)
  const [now] = await a.records('copies').toArray()
  expect((await tick(b, 3, 3, now)).ok).toBe(true)
  const [then] = await a.records('copies').toArray()
  expect(await sum()).toBe(10)
  // Eight more are not there: nothing is written.
  const late = await tick(b, 4, 8, then)
  expect(late.ok ? '' : late.error.code).toBe('gone')
  expect(await a.records('units').count()).toBe(2)
  expect(await sum()).toBe(10)
  a.close()
  b.close()
})
