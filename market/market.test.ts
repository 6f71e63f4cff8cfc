import * as v from 'valibot'
import { offersFor } from './offers.ts'
import { normal } from './random.ts'
import { makeShops, SHOP_COUNT } from './shops.ts'
import { OffersResponseSchema } from './wire.ts'

const items = Array.from({ length: 300 }, (_, i) => ({
  item: `p-plate-${i}|c-x`,
  part: ['plate 2x4', 'brick 1x2', 'tile 1x4', 'round brick 2x2'][i % 4] ?? 'plate',
  finish: 'opaque' as const,
}))
const answer = offersFor({ items, currency: 'EUR' }, 7, 0)

test('the same seed and items give the same answer; another seed another', () => {
  expect(offersFor({ items, currency: 'EUR' }, 7, 0)).toEqual(answer)
  expect(offersFor({ items, currency: 'EUR' }, 8, 0)).not.toEqual(answer)
  expect(v.is(OffersResponseSchema, answer)).toBe(true)
})

test('an item is offered alike whatever else is asked for', () => {
  const one = offersFor({ items: items.slice(5, 6), currency: 'EUR' }, 7, 0)
  expect(one.offers).toEqual(answer.offers.filter((o) => o.item === items[5]?.item))
})

test('forty shops in eight countries, three that trade in other money, and one slow counter with about a third of all items', () => {
  const shops = makeShops(7).map((s) => s.terms)
  expect(shops.length).toBe(SHOP_COUNT + 4)
  expect(new Set(shops.map((s) => s.name)).size).toBe(SHOP_COUNT + 4)
  expect(shops.flatMap((s) => s.currency ?? [])).toEqual(['CHF', 'CHF', 'CZK'])
  expect(new Set(shops.map((s) => s.country)).size).toBe(8)
  const counter = shops.find((s) => s.kind === 'counter')
  expect(counter?.leadDays).toBeGreaterThanOrEqual(30)
  expect(counter?.leadDays).toBeLessThanOrEqual(60)
  const carried = answer.offers.filter((o) => o.shop === 'counter').length / items.length
  expect(Math.abs(carried - 1 / 3)).toBeLessThan(0.1)
})

test('from one day to the next some offers change and most stay, and a day is the same whenever it is asked about', () => {
  const on = (day: number) =>
    new Map(offersFor({ items, currency: 'EUR' }, 7, day).offers.map((o) => [`${o.shop} ${o.item}`, o]))
  const [first, second] = [on(0), on(1)]
  expect(on(1)).toEqual(second)
  const kept = [...first].filter(([id, o]) => second.get(id)?.stock === o.stock && second.get(id)?.price === o.price)
  const share = kept.length / first.size
  // A tenth of the stocks and three in a hundred prices change: some 87 in 100 offers stay as they are.
  expect(share).toBeGreaterThan(0.82)
  expect(share).toBeLessThan(0.92)
  expect([...on(60)].filter(([id, o]) => first.get(id)?.stock === o.stock).length / first.size).toBeLessThan(0.3)
})

test('three in ten items of a metal finish have one shop alone, beside those of any finish that are so by chance', () => {
  const shareOf = (finish: 'opaque' | 'metal') => {
    const asked = items.map((i) => ({ ...i, finish }))
    const { offers } = offersFor({ items: asked, currency: 'EUR' }, 7, 0)
    return asked.filter(({ item }) => offers.filter((o) => o.item === item).length === 1).length / items.length
  }
  // Give or take three deviations of 300 draws.
  expect(Math.abs(shareOf('metal') - shareOf('opaque') - 0.29)).toBeLessThan(0.09)
})

test('prices are log-normal: their logarithms have the mean and spread asked for', () => {
  // Box–Muller normals: mean 0, variance 1; with 20,000 draws the mean is within 0.03 and the variance within 0.05.
  const draws = Array.from({ length: 20_000 }, (_, i) => normal('test', i))
  const mean = draws.reduce((s, x) => s + x, 0) / draws.length
  const variance = draws.reduce((s, x) => s + (x - mean) ** 2, 0) / draws.length
  expect(Math.abs(mean)).toBeLessThan(0.03)
  expect(Math.abs(variance - 1)).toBeLessThan(0.05)
})
