import fc from 'fast-check'
import { levyOn, leviesOn, type LevyTerms } from './levy.ts'

const levy = (rate: number, on: LevyTerms['on'], threshold = 0, fee = 0): LevyTerms => ({ rate, on, threshold, fee })

// By hand, halves up: a tax of 20 % on 187.50 is 37.50, on 187.49 it is 37.498.
test.each([
  [levy(2000, 'goods'), 18_750, 20_000, 3750],
  [levy(2000, 'goods'), 18_749, 20_000, 3750],
  [levy(2000, 'goods'), 18_747, 20_000, 3749],
  [levy(2500, 'goods'), 150, 900, 38],
  [levy(2500, 'goods'), 149, 900, 37],
  // With shipping of 4.00: 20 % of 154.00.
  [levy(2000, 'goods and shipping'), 15_000, 15_400, 3080],
  // Duty of 4.7 % from 150.00 on, and 10.00 to the carrier: not at 149.99.
  [levy(470, 'goods', 15_000, 1000), 14_999, 15_600, 0],
  [levy(470, 'goods', 15_000, 1000), 15_000, 15_600, 1705],
  [levy(0, 'goods', 0, 600), 0, 0, 600],
])('%j on goods of %i, %i asked in all, is %i', (terms, goods, asked, expected) => {
  expect(levyOn(terms, goods, asked)).toBe(expected)
})

test('a levy is exact to the minor unit for all sums, as whole numbers without a bound say', () => {
  fc.assert(
    fc.property(fc.maxSafeNat(), fc.nat(10_000), (sum, rate) => {
      const exact = (BigInt(sum) * BigInt(rate) * 2n + 10_000n) / 20_000n
      expect(BigInt(levyOn(levy(rate, 'goods'), sum, 0))).toBe(exact)
    }),
    { numRuns: 2000 },
  )
})

test('duty and tax are each due by themselves, not one on the other', () => {
  expect(leviesOn([levy(1000, 'goods', 100), levy(2000, 'goods and shipping')], 100, 150)).toBe(10 + 30)
  expect(leviesOn([], 100, 150)).toBe(0)
})
