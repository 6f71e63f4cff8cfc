import fc from 'fast-check'
import { exchanged, exchangeText, minorRate, readExchange, WHOLE_EXCHANGE } from './exchange.ts'

const rate = (text: string): number => readExchange(text) ?? NaN

// Council Regulation (EC) No 1103/97, articles 4 and 5: six significant figures, one rounding at the end, a half goes up.
// The fixed rates are those of Regulation (EC) No 2866/98; both from memory. By hand: 100.00 DEM / 1.95583 = 51.129…
test.each([
  // 1 EUR = 1.95583 DEM: 51.13 EUR are 100.0015… DEM.
  ['1.95583', 5113, 10_000],
  ['1.95583', 1, 2],
  ['6.55957', 1000, 6560],
  ['13.7603', 100, 1376],
  // Just a half goes up.
  ['0.5', 1, 1],
  ['0.5', 3, 2],
  ['1', 12_345, 12_345],
  ['0.499999999', 1, 0],
])('at %s, %i are %i', (text, amount, expected) => {
  expect(exchanged(amount, rate(text))).toBe(expected)
})

// ISO 4217: yen have no minor unit, euros and francs two digits, Kuwaiti dinars three.
test.each([
  ['JPY', 'EUR', '0.0061', 0.61],
  ['CHF', 'EUR', '1.0640', 1.064],
  ['KWD', 'EUR', '2.81', 0.281],
  ['EUR', 'JPY', '163.5', 1.635],
  ['EUR', 'KWD', '0.355', 3.55],
] as const)('a unit of %s for %s at %s is so many minor units', (theirs, ours, text, expected) => {
  expect(minorRate(rate(text), theirs, ours) / WHOLE_EXCHANGE).toBeCloseTo(expected, 9)
})

test('changing an amount agrees with exact fractions', () => {
  fc.assert(
    fc.property(fc.nat(1_000_000_000), fc.integer({ min: 1, max: 5_000_000_000 }), (amount, r) => {
      const [product, whole] = [BigInt(amount) * BigInt(r), BigInt(WHOLE_EXCHANGE)]
      const got = BigInt(exchanged(amount, r))
      // Nearest, and the upper of two that are as near.
      expect(2n * (got * whole - product) <= whole).toBe(true)
      expect(2n * (got * whole - product) > -whole).toBe(true)
    }),
    { numRuns: 2000 },
  )
})

test('a rate reads as it is shown; what is none, nothing or absurd is refused', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 999_999 * WHOLE_EXCHANGE }), (r) => {
      expect(readExchange(exchangeText(r))).toBe(r)
    }),
  )
  expect(['1,0640', ' 0.94 ', '25'].map(readExchange)).toEqual([1_064_000_000, 940_000_000, 25_000_000_000])
  for (const text of ['', '0', '0,000', 'one', '-1', '1.2.3', '1.0000000001', '10000000'])
    expect(readExchange(text)).toBeUndefined()
})
