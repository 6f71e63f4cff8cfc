import { shopOf } from '../offers/offers.test-data.ts'
import { pricesIn } from '../offers/loose-prices.ts'
import fc from 'fast-check'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import type { Colourway, Design } from '../design/design.ts'
import { explode } from '../design/explode.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import {
  colourId,
  type BuildId,
  type ColourId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PlaceId,
  type SetId,
} from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { compareColourways } from './colourways.ts'
import { goodsPricer } from '../offers/goods-cost.ts'
import { knownItems } from '../catalogue/availability.ts'
import type { Offer } from '../offers/offer.ts'
import type { Snapshot } from '../netting/snapshot.ts'

const EUR = currency('EUR')
const HUES = ['Soot', 'Chalk', 'Spruce', 'Peat'].map(colourId)
const PARTS = ['brick 2x4', 'plate 2x4'].map(partFromName)
const [BRICK, PLATE] = PARTS.map((p) => p.id)
if (!BRICK || !PLATE) throw new Error('two parts')
const shop = shopOf('x')

const colourIndex = fc.constantFrom(...HUES)
const item = fc.tuple(fc.constantFrom(...PARTS), colourIndex).map(([p, c]) => itemKey(p.id, c))
const lines = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 6 }), locked: fc.boolean() }), { maxLength: 4 })
const swap = fc.record({ from: colourIndex, to: colourIndex })

const designOf = (
  modules: readonly (readonly { item: ItemKey; qty: number; locked: boolean }[])[],
  colours: Colourway['colours'],
): Design => ({
  id: 'b-t' as BuildId,
  modules: modules.map((rows, m) => ({
    id: `m-${m}` as ModuleId,
    name: `M${m}`,
    repeats: 1,
    lines: rows.map(({ locked, ...row }, i) => ({
      id: `n-${m}-${i}` as LineId,
      ...row,
      ...(locked ? { locked } : {}),
    })),
  })),
  colourways: [{ id: 'c', name: 'C', colours }],
})

const sums = (rows: Iterable<{ item: ItemKey; qty: number }>) => {
  const found = new Map<ItemKey, number>()
  for (const { item: key, qty } of rows) found.set(key, (found.get(key) ?? 0) + qty)
  return [...found].sort()
}

test('a colourway is what exchanging every unlocked piece by hand gives: its own module first, then the whole design', () => {
  fc.assert(
    fc.property(
      fc.tuple(lines, lines),
      fc.array(swap, { maxLength: 3 }),
      fc.array(swap, { maxLength: 2 }),
      (modules, whole, own) => {
        const colours = [...whole, ...own.map((s) => ({ ...s, module: 'm-1' as ModuleId }))]
        const design = designOf(modules, colours)
        const byHand = modules.flatMap((rows, m) =>
          rows.map(({ item: key, qty, locked }) => {
            const { part, colour } = splitItemKey(key)
            const rules = m === 1 ? [...own, ...whole] : whole
            const to: ColourId = locked ? colour : (rules.find((r) => r.from === colour)?.to ?? colour)
            return { item: itemKey(part, to), qty }
          }),
        )
        expect(sums(explode(design, { colourway: 'c' }))).toEqual(sums(byHand))
        expect(sums(explode(design, { colourway: null }))).toEqual(sums(modules.flat()))
      },
    ),
  )
})

test('schemes stand side by side with what changes, what exists, what is short and what that costs', () => {
  const [soot, chalk, spruce] = HUES
  if (!soot || !chalk || !spruce) throw new Error('three colours')
  const key = (part: typeof BRICK, colour: ColourId) => itemKey(part, colour)
  const design: Design = {
    ...designOf(
      [
        [
          { item: key(BRICK, soot), qty: 4, locked: false },
          { item: key(PLATE, soot), qty: 2, locked: true },
        ],
      ],
      [{ from: soot, to: chalk }],
    ),
  }
  const offers: Offer[] = [
    { id: '1', shop: 'x', item: key(BRICK, chalk), price: 7, stock: 9, pack: 2, condition: 'new', source: 'file' },
  ]
  const set: DonorSet = {
    id: 's-k' as SetId,
    name: 'Kiosk',
    stages: [{ id: 'all', name: 'All' }],
    lines: [{ stage: 'all', item: key(PLATE, spruce), qty: 1, spare: false }],
  }
  const snapshot: Snapshot = {
    build: { id: 'b-t' as BuildId, name: 'T', note: '', currency: EUR, rules: defaultRules },
    design,
    sets: [set],
    copies: [],
    places: [{ id: 'l-b' as PlaceId, name: 'Bin', kind: 'bin', parent: null }],
    holdings: [
      {
        id: 'h-1' as HoldingId,
        place: 'l-b' as PlaceId,
        item: key(BRICK, chalk),
        qty: 1,
        estimate: false,
        condition: 'used',
      },
    ],
    parts: new Map(PARTS.map((p) => [p.id, p])),
  }
  const known = knownItems({ ...snapshot, prices: pricesIn({ offers, shops: [shop] }, 'EUR') })
  expect([key(BRICK, chalk), key(BRICK, soot), key(PLATE, spruce)].map((k) => known.standingOf(k).kind)).toEqual([
    'held',
    'never seen',
    'seen',
  ])
  expect(
    knownItems({ ...snapshot, holdings: [], prices: pricesIn({ offers, shops: [shop] }, 'EUR') }).standingOf(
      key(BRICK, chalk),
    ),
  ).toEqual({
    kind: 'offered',
    from: 7,
  })
  // In chalk one brick is there and three are short: two packs of two. The locked plates stay soot, which nobody has.
  const [drawn, scheme] = compareColourways(snapshot, known, goodsPricer(offers, [shop], 'EUR', defaultRules))
  expect(drawn).toMatchObject({ id: null, changed: 0, short: 6, cost: 0, unavailable: 6 })
  expect(drawn?.neverSeen.map((n) => n.qty)).toEqual([4, 2])
  expect(scheme).toMatchObject({ id: 'c', changed: 4, short: 5, cost: 28, unavailable: 2 })
  expect(scheme?.neverSeen).toEqual([{ item: key(PLATE, soot), qty: 2 }])
})

test('goods are bought cheapest first in whole packs, never beyond the stock', () => {
  const offer = fc.record({
    price: fc.integer({ min: 1, max: 30 }),
    stock: fc.integer({ min: 0, max: 12 }),
    pack: fc.constantFrom(1, 1, 2, 5),
  })
  fc.assert(
    fc.property(fc.array(offer, { maxLength: 4 }), fc.integer({ min: 1, max: 15 }), (made, qty) => {
      const brick = itemKey(BRICK, colourId('Soot'))
      const offers = made.map((o, i): Offer => ({
        ...o,
        id: String(i),
        shop: 'x',
        item: brick,
        condition: 'new',
        source: 'file',
      }))
      const { cost, unavailable } = goodsPricer(offers, [shop], 'EUR', defaultRules)(brick, qty)
      const there = offers.reduce((n, o) => n + Math.floor(o.stock / o.pack) * o.pack, 0)
      expect(unavailable).toBe(Math.max(0, qty - there))
      const dearest = Math.max(0, ...offers.map((o) => o.price))
      const largest = Math.max(1, ...offers.map((o) => o.pack))
      expect(cost).toBeLessThanOrEqual(dearest * (qty + largest - 1))
      if (made.every((o) => o.pack === 1)) {
        // Without packs, cheapest first is the least there is: the sum of the cheapest pieces.
        const pieces = made.flatMap((o) => Array.from({ length: o.stock }, () => o.price)).sort((p, q) => p - q)
        expect(cost).toBe(pieces.slice(0, qty).reduce((n, p) => n + p, 0))
      }
    }),
  )
})
