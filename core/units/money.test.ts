import codes from 'currency-codes'
import fc from 'fast-check'
import { currencyCodes, minorDigits } from './currency.ts'
import { decimal, formatMoney, parseMinor } from './money.ts'

test('minor digits agree with ISO 4217 as published in the currency-codes package', () => {
  expect(currencyCodes().length).toBeGreaterThan(150)
  for (const code of currencyCodes()) expect([code, minorDigits(code)]).toEqual([code, codes.code(code)?.digits])
  expect(minorDigits('XYZ')).toBeUndefined()
})

test.each([
  ['12.30', 'EUR', 1230],
  ['1,234.50', 'EUR', 123450],
  ['1.234,50', 'EUR', 123450],
  ['12,5', 'EUR', 1250],
  ['0.08', 'EUR', 8],
  ['€ 3.10', 'EUR', 310],
  ['1500', 'JPY', 1500],
  ['0.125', 'EUR', undefined],
  ['1.234', 'EUR', undefined],
  ['0.125', 'KWD', 125],
  ['12.300', 'EUR', undefined],
  ['1 234 567', 'EUR', 123456700],
  ['abc', 'EUR', undefined],
])('reads %s %s', (text, code, expected) => {
  expect(parseMinor(text, code)).toBe(expected)
})

test('what is written reads back, in every number of digits', () => {
  fc.assert(
    fc.property(fc.integer({ min: -1e12, max: 1e12 }), fc.constantFrom('EUR', 'JPY', 'KWD'), (minor, code) => {
      expect(parseMinor(decimal(minor, code), code)).toBe(minor)
    }),
  )
})

test('grouping is for the eye only', () => {
  expect(formatMoney(123456, 'EUR')).toBe('1\u202f234.56 EUR')
})
