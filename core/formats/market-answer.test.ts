import fc from 'fast-check'
import * as v from 'valibot'
import { offersFor } from '../../market/offers.ts'
import { OffersResponseSchema, WireOfferSchema, WireShopSchema } from '../../market/wire.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { currency } from '../units/money.ts'
import { acceptMarketAnswer } from './market-answer.ts'
import { MOST_PRICE, OfferSchema } from '../offers/offer.ts'
import { ShopSchema } from '../offers/shop.ts'

const EUR = currency('EUR')
const ITEM = 'p-plate-2x4|c-soot' as ItemKey
const ASKED = new Set([ITEM])
const answer = () =>
  offersFor({ items: [{ item: ITEM, part: 'plate 2x4', finish: 'opaque' }], currency: 'EUR' }, 20261125, 0)

test('what the market that ships with the app answers is taken whole', () => {
  const made = answer()
  expect(made.offers.length).toBeGreaterThan(3)
  const taken = acceptMarketAnswer(made, ASKED, EUR, new Set())
  expect(taken).toMatchObject({
    ok: true,
    value: { shops: { length: made.shops.length }, offers: { length: made.offers.length } },
  })
})

type Answer = ReturnType<typeof answer>
const withShop = (over: object) => (a: Answer) => ({
  ...a,
  shops: a.shops.map((s, i) => (i === 0 ? { ...s, ...over } : s)),
})
const withOffer = (over: object) => (a: Answer) => ({
  ...a,
  offers: a.offers.map((o, i) => (i === 0 ? { ...o, ...over } : o)),
})

/** Answers that are well formed by the wire and must reach no record, with what is said of them. */
const HOSTILE: readonly (readonly [string, (a: Answer) => Answer, RegExp])[] = [
  ['a name of 400 characters', withShop({ name: 'x'.repeat(400) }), /name of the shop .* longer than 120/],
  ['a name that turns the line around', withShop({ name: 'Shop\u202egnp.exe' }), /cannot be shown/],
  ['a name of nothing but spaces', withShop({ name: '   ' }), /cannot be shown/],
  ['a minimum order of ten billion', withShop({ minOrder: 1e12 }), /fees that nobody pays/],
  ['a shipping fee of ten billion', withShop({ bands: [{ maxMass: 1000, fee: 1e12 }] }), /fees that nobody pays/],
  [
    'shipping that falls with mass',
    withShop({
      bands: [
        { maxMass: 9, fee: 9 },
        { maxMass: 10, fee: 1 },
      ],
    }),
    /bands/,
  ],
  ['the place of a shop of the user', withShop({ id: 'mine' }), /not name|place of a shop of yours/],
  ['the id of a list', withShop({ id: 'file-corner-shop' }), /place of a shop of yours/],
  ['a price that nobody pays', withOffer({ price: MOST_PRICE + 1 }), /price that nobody pays/],
  ['a stock above what is kept', withOffer({ stock: 1e12 }), /stock of the offer is above/],
  ['a pack of a million', withOffer({ pack: 1e6 }), /pack of the offer is above/],
  [
    'sums that are not exact',
    (a) => ({ ...a, offers: a.offers.map((o) => ({ ...o, price: MOST_PRICE, stock: 1_000_000 })) }),
    /added up exactly/,
  ],
  ['an item nobody asked for', withOffer({ item: 'p-other|c-soot' }), /not asked for/],
  ['an item that is none', withOffer({ item: '../../etc' }), /not asked for/],
  ['an offer of nobody', withOffer({ shop: 'nobody' }), /does not name/],
  ['an offer twice', (a) => ({ ...a, offers: [...a.offers, ...a.offers.slice(0, 1)] }), /twice/],
  ['a shop twice', (a) => ({ ...a, shops: [...a.shops, ...a.shops.slice(0, 1)] }), /two shops/],
  [
    'a thousand shops',
    (a) => ({
      ...a,
      shops: Array.from({ length: 1000 }, (_, i) => ({ ...(a.shops[0] as Answer['shops'][number]), id: `s${i}` })),
    }),
    /1000 shops/,
  ],
  [
    'offers without end',
    (a) => ({ ...a, offers: Array.from({ length: 500 }, () => a.offers[0] as Answer['offers'][number]) }),
    /500 offers for 1 items/,
  ],
]

test.each(HOSTILE)('%s: nothing of the answer is taken, and it is said why', (_, spoil, words) => {
  const hostile = spoil(answer())
  expect(v.is(OffersResponseSchema, hostile)).toBe(true)
  const taken = acceptMarketAnswer(hostile, ASKED, EUR, new Set(['mine']))
  expect(taken.ok ? 'taken' : taken.error.message).toMatch(words)
  expect(taken.ok ? '' : taken.error.message.length).toBeLessThan(300)
})

test('whatever the wire allows: what is taken fits the records, and sums of it are exact', () => {
  const text = fc.oneof(fc.string({ minLength: 1, maxLength: 400 }), fc.constantFrom('a', 'b', ITEM as string))
  const count = fc.oneof(fc.nat(1000), fc.constantFrom(0, 1, 1e6, 1e9, 1e12))
  const shop = fc.record({
    id: text,
    name: text,
    country: fc.constant('AT'),
    kind: fc.constantFrom('shop' as const, 'counter' as const),
    minOrder: count,
    bands: fc.array(fc.record({ maxMass: count, fee: count }), { maxLength: 2 }),
    service: fc.option(fc.record({ threshold: count, fee: count })),
    handling: count,
    lineFee: count,
    leadDays: count,
    reliability: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  const offer = fc.record({
    shop: fc.constantFrom('a', 'b'),
    item: fc.constant(ITEM as string),
    price: count,
    stock: count,
    pack: count.filter((n) => n > 0),
    condition: fc.constantFrom('new' as const, 'used' as const),
  })
  let took = 0
  fc.assert(
    fc.property(fc.array(shop, { maxLength: 3 }), fc.array(offer, { maxLength: 3 }), (shops, offers) => {
      fc.pre(shops.every((s) => v.is(WireShopSchema, s)) && offers.every((o) => v.is(WireOfferSchema, o)))
      const taken = acceptMarketAnswer({ shops, offers }, ASKED, EUR, new Set())
      if (!taken.ok) return
      took++
      for (const s of taken.value.shops) expect(v.is(ShopSchema, s)).toBe(true)
      for (const o of taken.value.offers) expect(v.is(OfferSchema, o)).toBe(true)
      const sum = taken.value.offers.reduce((n, o) => n + BigInt(o.price) * BigInt(o.stock), 0n)
      expect(sum < BigInt(Number.MAX_SAFE_INTEGER)).toBe(true)
    }),
    { numRuns: 1000 },
  )
  expect(took).toBeGreaterThan(50)
})
