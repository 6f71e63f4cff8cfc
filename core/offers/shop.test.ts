import { currency } from '../units/money.ts'
import { termsOf, unknownShop, withExperience, type Shop } from './shop.ts'

const shop = (id: string, more: Partial<Shop> = {}): Shop => ({
  ...unknownShop({ id, name: id, country: 'AT', currency: currency('EUR') }),
  ...more,
})

test('what own orders taught of a shop stays when the market tells it anew; all else is the market’s', () => {
  const known = [
    shop('a', { leadDays: 12, reliability: 0.5, experienced: true, lineFee: 9 }),
    shop('b', { leadDays: 30 }),
  ]
  const told = [shop('a', { leadDays: 4, lineFee: 3 }), shop('b', { leadDays: 5 }), shop('c')]
  expect(withExperience(told, known)).toEqual([
    shop('a', { leadDays: 12, reliability: 0.5, experienced: true, lineFee: 3 }),
    shop('b', { leadDays: 5 }),
    shop('c'),
  ])
})

test('the terms of a shop hold nothing that a purchase is not decided by', () => {
  expect(Object.keys(termsOf(shop('a', { experienced: true }))).sort()).toEqual(
    ['bands', 'handling', 'id', 'kind', 'leadDays', 'lineFee', 'minOrder', 'reliability', 'service'].sort(),
  )
})
