import { withPrice, type Resale } from '../build/resale.ts'
import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { colourId, partId, type SetId } from '../units/ids.ts'
import { copiesCurve, copyValue, shortfallAfter, type LooseMarket } from './donor-worth.ts'
import { loosePrices } from '../offers/loose-prices.ts'
import { goodsFor, type PriceOf } from '../offers/goods-cost.ts'

const [A, B, C] = ['plate 2x4', 'brick 1x2', 'figure head plain'].map((p) => itemKey(partId(p), colourId('Chalk'))) as [
  ItemKey,
  ItemKey,
  ItemKey,
]
const setOf = (lines: DonorSet['lines']): DonorSet => ({
  id: 's-x' as SetId,
  name: 'X',
  stages: [{ id: 'one', name: 'One' }],
  lines,
})
const line = (item: ItemKey, qty: number, figure?: string): DonorSet['lines'][number] => ({
  stage: 'one',
  item,
  qty,
  spare: false,
  ...(figure ? { figure } : {}),
})

/** A market of offers without end. */
function marketOf(offers: readonly { item: ItemKey; price: number }[]): LooseMarket {
  const prices = loosePrices(offers)
  const priceOf: PriceOf = (item, qty) => {
    const best = prices.get(item)?.best
    return best === undefined ? { cost: 0, unavailable: qty } : { cost: best * qty, unavailable: 0 }
  }
  return { prices, priceOf }
}
const NO_MARKET = marketOf([])

/** A share of the median price for all leftovers. */
const share = (resalePercent: number): Resale => ({ resalePercent, resalePrices: [] })

test('the worth of a copy, by hand', () => {
  // 6 A of 4 short: 4 covered, 2 left over. 3 B, none short: all left over. The figure's head is short: it lacks it.
  const set = setOf([line(A, 6), line(B, 3), line(C, 1, 'Keeper'), line(B, 1, 'Keeper')])
  const prices = marketOf([
    { item: A, price: 10 },
    { item: A, price: 14 },
    { item: A, price: 30 },
    { item: B, price: 20 },
  ])
  const value = copyValue(
    set,
    new Map([
      [A, 4],
      [C, 1],
    ]),
    prices,
    100,
    share(50),
  )
  // Leftovers at the median: 2 A × 14 + 4 B × 20 = 108, half of it 54. Loose at best: 4 × 10; C is not offered.
  expect(value).toEqual({
    covers: 5,
    looseBest: 40,
    looseMedian: 56,
    unpriced: 1,
    leftOver: 6,
    figures: [{ name: 'Keeper', pieces: 2, lacks: [C], worth: 20 }],
    resale: 54,
    net: 46,
    saves: -6,
  })
  expect(copyValue(set, new Map(), prices, undefined, share(50))).toMatchObject({
    covers: 0,
    net: undefined,
    saves: undefined,
  })
})

test('each further copy covers no more than the one before, and covered and short add up', () => {
  const item = fc.constantFrom(A, B, C)
  const lines = fc.array(
    fc.tuple(item, fc.integer({ min: 1, max: 5 })).map(([i, q]) => line(i, q)),
    { minLength: 1, maxLength: 4 },
  )
  const shortfall = fc
    .array(fc.tuple(item, fc.integer({ min: 1, max: 30 })), { maxLength: 3 })
    .map((rows) => new Map(rows))
  fc.assert(
    fc.property(lines, shortfall, (rows, short) => {
      const set = setOf(rows)
      const total = [...short.values()].reduce((n, q) => n + q, 0)
      const curve = copiesCurve(set, short, NO_MARKET, 100, share(0), 6)
      let before = Infinity
      for (let n = 0; n < 6; n++) {
        const gain = copyValue(set, shortfallAfter(set, short, n), NO_MARKET, 100, share(0)).covers
        expect(gain).toBeLessThanOrEqual(before)
        expect((curve[n]?.short ?? NaN) - (curve[n + 1]?.short ?? NaN)).toBe(gain)
        before = gain
      }
      expect(curve[0]?.short).toBe(total)
      expect(curve[3]?.cost).toBe(300)
    }),
  )
})

test('what is short has one goods price: no copy costs what the shortfall costs, each copy saves what it covers', () => {
  const item = fc.constantFrom(A, B, C)
  const shortfall = fc
    .array(fc.tuple(item, fc.integer({ min: 1, max: 30 })), { maxLength: 3 })
    .map((rows) => new Map(rows))
  fc.assert(
    fc.property(shortfall, fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 4, maxLength: 4 }), (short, cuts) => {
      // Two offers of each item: a few cheap pieces, then dear ones, in packs of 2.
      const priceOf: PriceOf = (of, qty) => {
        const cheap = cuts[of === A ? 0 : of === B ? 1 : 2] ?? 1
        const first = Math.min(qty, cheap)
        return { cost: first * 10 + Math.ceil((qty - first) / 2) * 2 * 25, unavailable: 0 }
      }
      const market = { prices: loosePrices([]), priceOf }
      const set = setOf([line(A, 3), line(B, 2), line(A, 2)])
      const goods = goodsFor(short, priceOf).cost
      const [none, one] = copiesCurve(set, short, market, 100, share(0), 1)
      expect(none?.cost).toBe(goods)
      expect(goods - (one?.looseLeft ?? NaN)).toBe(copyValue(set, short, market, 100, share(0)).looseBest)
    }),
  )
})

test('a price of one’s own counts as it is: for a complete figure instead of its pieces, for a piece instead of its share', () => {
  // Left over: 4 B loose and the keeper of one A and one B; medians 10 and 20.
  const set = setOf([line(B, 4), line(A, 1, 'Keeper'), line(B, 1, 'Keeper')])
  const market = marketOf([
    { item: A, price: 10 },
    { item: B, price: 20 },
  ])
  const worth = (resale: Resale, short = new Map<ItemKey, number>()) => copyValue(set, short, market, 100, resale)
  expect(worth(share(50)).resale).toBe(55)
  const figure = withPrice([], { kind: 'figure', name: 'Keeper' }, 90)
  // 4 B at half the median, and the figure as one.
  expect(worth({ resalePercent: 50, resalePrices: figure })).toMatchObject({
    resale: 40 + 90,
    figures: [{ price: 90 }],
  })
  const both = withPrice(figure, { kind: 'item', item: B }, 7)
  expect(worth({ resalePercent: 50, resalePrices: both }).resale).toBe(4 * 7 + 90)
  // The design uses its A: what is left of the figure counts loose.
  const used = new Map([[A, 1]])
  expect(worth({ resalePercent: 50, resalePrices: both }, used).resale).toBe(5 * 7)
  expect(withPrice(both, { kind: 'figure', name: 'Keeper' }, undefined)).toEqual([{ kind: 'item', item: B, price: 7 }])
})
