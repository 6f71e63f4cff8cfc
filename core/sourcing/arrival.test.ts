import fc from 'fast-check'
import { arrivalOf, chanceBy, type Parcel } from './arrival.ts'

const share = fc.double({ min: 0.5, max: 1, noNaN: true })

test('one parcel: the mean of a geometric number of tries', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 40 }), share, (leadDays, reliability) => {
      // A geometric number has the mean 1 / r (any textbook of probability).
      expect(arrivalOf([{ leadDays, reliability }])?.expected).toBeCloseTo(leadDays / reliability, 4)
    }),
  )
})

test('two and three parcels of one speed: the greatest of geometric numbers in closed form', () => {
  fc.assert(
    fc.property(fc.tuple(share, share, share), (shares) => {
      const [p = 1, q = 1, s = 1] = shares
      // By inclusion and exclusion, as the least of geometric numbers is geometric: E max = Σ E one − Σ E min of two + E min of three.
      const mean = (...r: number[]) => 1 / (1 - r.reduce((miss, one) => miss * (1 - one), 1))
      const parcels = (...r: number[]) => r.map((reliability): Parcel => ({ leadDays: 1, reliability }))
      expect(arrivalOf(parcels(p, q))?.expected).toBeCloseTo(mean(p) + mean(q) - mean(p, q), 5)
      const three = mean(p) + mean(q) + mean(s) - mean(p, q) - mean(p, s) - mean(q, s) + mean(p, q, s)
      expect(arrivalOf(parcels(p, q, s))?.expected).toBeCloseTo(three, 5)
    }),
  )
})

test('by hand: a parcel of 5 days at nine in ten and one of 10 days at eight in ten', () => {
  const parcels = [
    { leadDays: 5, reliability: 0.9 },
    { leadDays: 10, reliability: 0.8 },
  ]
  expect([4, 5, 9, 10, 20].map((day) => Number(chanceBy(parcels, day).toFixed(4)))).toEqual([
    0, 0, 0,
    // 0.99 × 0.8; 0.9999 × 0.96.
    0.792, 0.9599,
  ])
  expect(arrivalOf(parcels)).toMatchObject({ onTime: 10, mostly: 20 })
  expect(arrivalOf(parcels)?.chance).toBeCloseTo(0.792)
})

test('a slower or less reliable shop never makes all come sooner; nothing to wait for, or for ever, is said', () => {
  const parcel = fc.record({ leadDays: fc.integer({ min: 1, max: 60 }), reliability: share })
  fc.assert(
    fc.property(fc.array(parcel, { minLength: 1, maxLength: 6 }), fc.nat(200), (parcels, day) => {
      const slower = parcels.map((p) => ({ leadDays: p.leadDays + 1, reliability: p.reliability * 0.95 }))
      expect(chanceBy(slower, day)).toBeLessThanOrEqual(chanceBy(parcels, day) + 1e-12)
      expect(chanceBy(parcels, day + 1)).toBeGreaterThanOrEqual(chanceBy(parcels, day))
    }),
  )
  expect(arrivalOf([])).toBeUndefined()
  expect(arrivalOf([{ leadDays: 3, reliability: 0 }])).toBeUndefined()
})
