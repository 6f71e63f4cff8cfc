import { shopOf } from './offers.test-data.ts'
import fc from 'fast-check'
import { CONDITIONS, STATED_CONDITIONS } from '../units/condition.ts'
import { currency } from '../units/money.ts'
import { defaultRules, type Rules } from '../build/house-rules.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'
import * as v from 'valibot'
import { ExchangeRatesSchema } from '../build/exchange-rates.ts'
import { goodsPricer } from './goods-cost.ts'
import { lowestPrices, offerFilter, usableOffers, weighsMoney } from './market.ts'
import { itemArb, of } from '../netting/fixture.test-data.ts'

const SHOPS = [shopOf('near'), shopOf('far'), shopOf('abroad', { currency: currency('CHF') })]
const offerArb: fc.Arbitrary<Offer> = fc.record({
  id: fc.uuid(),
  shop: fc.constantFrom('near', 'far', 'abroad', 'gone'),
  item: itemArb,
  price: fc.nat(500),
  stock: fc.nat(9),
  pack: fc.integer({ min: 1, max: 4 }),
  condition: fc.constantFrom(...STATED_CONDITIONS),
  thirdParty: fc.boolean(),
  source: fc.constant('file' as const),
})

test('the lowest price of an item is the least of the offers that a build may take, and none where there is no such offer', () => {
  fc.assert(
    fc.property(
      fc.array(offerArb, { maxLength: 40 }),
      fc.constantFrom(...CONDITIONS),
      fc.constantFrom(...CONDITIONS),
      fc.boolean(),
      fc.boolean(),
      (offers, condition, unstated, thirdParty, barred) => {
        const shops: Rules['shops'] = barred ? { far: 'excluded' } : {}
        const rules = { ...defaultRules, condition, unstated, thirdParty, shops }
        const prices = lowestPrices({ offers, shops: SHOPS }, 'EUR', rules)
        for (const item of new Set(offers.map((o) => o.item))) {
          const may = offers.filter(
            (o) =>
              o.item === item &&
              (o.shop === 'near' || (o.shop === 'far' && !barred)) &&
              (thirdParty || !o.thirdParty) &&
              CONDITIONS.indexOf(o.condition === 'not stated' ? unstated : o.condition) <=
                CONDITIONS.indexOf(condition) &&
              o.stock >= o.pack,
          )
          expect(prices.get(item)).toBe(may.length === 0 ? undefined : Math.min(...may.map((o) => o.price)))
        }
      },
    ),
    { numRuns: 300 },
  )
})

const offer: Offer = {
  id: 'o',
  shop: 'near',
  item: of('plate 2x4'),
  price: 12,
  stock: 5,
  pack: 1,
  condition: 'new',
  source: 'file',
}

test('the same offers are priced anew when a shop turns to another currency, or is excluded', () => {
  const offers = [offer]
  const at = (shops: readonly Shop[], rules = defaultRules) =>
    lowestPrices({ offers, shops }, 'EUR', rules).get(offer.item)
  expect(at([shopOf('near')])).toBe(12)
  expect(at([shopOf('near', { currency: currency('CHF') })])).toBeUndefined()
  expect(at([shopOf('near')])).toBe(12)
  expect(at([shopOf('near')], { ...defaultRules, shops: { near: 'excluded' } })).toBeUndefined()
})

test('offers of shops in other money count once there is a rate for it, at what they come to', () => {
  const abroad = [{ ...offer, shop: 'abroad', price: 15 }]
  const chf = { currency: currency('CHF'), on: '2026-11-20' }
  const rules = { ...defaultRules, rates: [{ ...chf, rate: 950_000_000 }] }
  const at = (own: Rules) => lowestPrices({ offers: abroad, shops: SHOPS }, 'EUR', own).get(offer.item)
  expect([at(defaultRules), at(rules)]).toEqual([undefined, 14])
  expect(usableOffers({ offers: [...abroad, offer], shops: SHOPS }, 'EUR', rules).map((o) => o.price)).toEqual([14, 12])
  // 9 at 14 (14.25 each) and none at home.
  expect(goodsPricer([{ ...abroad[0], stock: 9 } as Offer], SHOPS, 'EUR', rules)(offer.item, 10)).toEqual({
    cost: 9 * 14,
    unavailable: 1,
  })
  expect(
    v.is(ExchangeRatesSchema, [
      { ...chf, rate: 1 },
      { ...chf, rate: 2 },
    ]),
  ).toBe(false)
  expect(v.is(ExchangeRatesSchema, [{ ...chf, rate: 0 }])).toBe(false)
  expect(v.is(ExchangeRatesSchema, [{ ...chf, rate: 1, on: 'yesterday' }])).toBe(false)
})

test('an offer whose stock does not fill one pack is none', () => {
  expect(lowestPrices({ offers: [{ ...offer, stock: 3, pack: 4 }], shops: SHOPS }, 'EUR', defaultRules).size).toBe(0)
  expect(offerFilter(SHOPS, 'EUR', defaultRules)(offer)).toBe(true)
})

test('compromise is weighed against money just where pieces may be bought and spending is the aim', () => {
  const ways = (['donors, shelf and shops', 'donors and shelf', 'donors'] as const).flatMap((sources) =>
    (['least spending', 'least compromise', 'use up the donors'] as const).map((aim) => ({ sources, aim })),
  )
  expect(ways.filter((way) => weighsMoney(way))).toEqual([
    { sources: 'donors, shelf and shops', aim: 'least spending' },
  ])
})
