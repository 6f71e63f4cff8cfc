import { shopOf } from '../offers/offers.test-data.ts'
import fc from 'fast-check'
import loadHighs from 'highs'
import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import { NO_SOLVER } from '../solver/milp.ts'
import { colourId, type BuildId, type LineId, type ModuleId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Offer } from '../offers/offer.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { compareOrders, orderStudy, rangeOf } from './uncertain.ts'

const milp = highsSolver(await loadHighs())
const options = { milp, now: () => performance.now() / 1000, seconds: 10 }
const PLATE = partFromName('plate 2x4')
const item = itemKey(PLATE.id, colourId('Soot'))
const EUR = currency('EUR')
const shop = shopOf('s', { bands: [{ maxMass: 1e9, fee: 300 }] })
const offer = (price: number, stock: number, id = 'o'): Offer => ({
  id,
  shop: 's',
  item,
  price,
  stock,
  pack: 1,
  condition: 'new',
  source: 'file',
})
const scene = (low: number, likely: number, high: number, offers: readonly Offer[]): Snapshot => ({
  build: { id: 'b-1' as BuildId, name: 'B', note: '', currency: EUR, rules: defaultRules },
  design: {
    id: 'b-1' as BuildId,
    modules: [
      { id: 'm-1' as ModuleId, name: 'M', repeats: 1, lines: [{ id: 'n-1' as LineId, item, qty: likely, low, high }] },
    ],
  },
  sets: [],
  copies: [],
  holdings: [],
  places: [],
  parts: new Map([[PLATE.id, PLATE]]),
  market: { shops: [shop], offers },
})

test('likely 4, high 9: the second order is the 5 pieces between them, with its own shipping; by hand', () => {
  const snapshot = scene(2, 4, 9, [offer(10, 100)])
  expect(rangeOf(snapshot)).toEqual({
    low: { need: 2, short: 2 },
    likely: { need: 4, short: 4 },
    high: { need: 9, short: 9 },
  })
  // 4 × 10 + 300, 9 × 10 + 300, 5 × 10 + 300: ordering the high costs 50 more now, a second order 350 later.
  expect(orderStudy(snapshot, options)).toMatchObject({
    ok: true,
    value: {
      likely: 340,
      high: 390,
      second: 350,
      extraNow: 50,
      extraLater: 300,
      breakEven: 15,
      pieces: 5,
      open: 0,
    },
  })
})

test('the second order finds what the first has left in the shops', () => {
  // The cheap six go first: the likely takes 4, the second order 2 of them and 3 of the dear ones.
  const found = orderStudy(scene(4, 4, 9, [offer(10, 6), offer(40, 100, 'dear')]), options)
  expect(found).toMatchObject({ ok: true, value: { likely: 340, high: 480, second: 440, pieces: 5 } })
})

test('how far the orders may be from the least possible is told; without a solver that is much', () => {
  const found = orderStudy(scene(2, 4, 9, [offer(10, 100)]), { ...options, milp: NO_SOLVER })
  // Without a solver only pieces bound an order, and those of the second may be on order: all its 350 stay open.
  expect(found).toMatchObject({ ok: true, value: { likely: 340, high: 390, second: 350, open: 350 } })
  // A solver that stops as soon as it may: no order is a thousandth above what it proves.
  const many = scene(
    2,
    400,
    900,
    Array.from({ length: 40 }, (_, i) => offer(10 + (i % 7), 25, `o-${i}`)),
  )
  const close = orderStudy(many, options)
  expect(close.ok && close.value.open <= 0.001 * close.value.high).toBe(true)
})

test('what nobody can supply is told, and no offers at all are a reason', () => {
  expect(orderStudy(scene(4, 4, 9, [offer(10, 6)]), options)).toMatchObject({
    ok: true,
    value: { unavailable: { likely: 0, high: 3 } },
  })
  expect(orderStudy(scene(4, 4, 9, []), options)).toEqual({ ok: false, error: 'no offers' })
})

test('the break-even is the newsvendor’s critical ratio: above it ordering more is the cheaper bet', () => {
  const money = fc.integer({ min: 0, max: 5000 })
  fc.assert(
    fc.property(money, money, money, fc.integer({ min: 0, max: 100 }), (likely, extra, second, percent) => {
      const { breakEven, extraNow, extraLater } = compareOrders(likely, likely + extra, second)
      const now = likely + extra
      const later = likely + (percent / 100) * second
      if (percent > breakEven) expect(now).toBeLessThan(later + 1e-9)
      if (percent < breakEven - 1 && breakEven < 100) expect(later).toBeLessThan(now + 1e-9)
      // o / (o + u) by its textbook form, rounded up to a whole percent.
      const [o, u] = [extraNow, extraLater]
      if (o > 0 && u > 0) expect(breakEven).toBe(Math.max(1, Math.ceil((100 * o) / (o + u))))
    }),
  )
  // A textbook's newspaper: cost 20, sold at 25, so overage 20 and underage 5: buy one more while P(sale) > 0.8
  // (W. L. Winston, Operations Research, the news vendor problem; recalled from memory).
  expect(compareOrders(0, 20, 25).breakEven).toBe(80)
  expect(compareOrders(100, 100, 50).breakEven).toBe(0)
  expect(compareOrders(100, 150, 0).breakEven).toBe(100)
})
