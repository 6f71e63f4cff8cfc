import fc from 'fast-check'
import { currencyCodes, minorDigits } from './currency.ts'
import { decimalStyle } from './decimal-style.ts'
import { decimal, formatMoney, parseMinor, readAmount } from './money.ts'

// ISO 4217, list one (recalled from memory).
test.each([
  ['EUR', 2],
  ['JPY', 0],
  ['ISK', 0],
  ['KWD', 3],
  ['TND', 3],
  ['HUF', 2],
  ['XOF', 0],
  ['XAU', undefined],
  ['XYZ', undefined],
])('%s has %s digits after the point', (code, digits) => {
  expect(minorDigits(code)).toBe(digits)
})

test('all money there is can be chosen, and metals cannot', () => {
  const codes = currencyCodes()
  expect(codes.length).toBeGreaterThan(150)
  expect(codes).toEqual([...codes].sort())
  for (const code of ['XAU', 'XTS', 'CLF']) expect(codes).not.toContain(code)
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
  ['.12', 'EUR', 12],
  [',12', 'EUR', 12],
  ['0,500', 'EUR', 50],
  ['12 ct', 'EUR', 12],
  ['50 cents', 'USD', 50],
  ['50¢', 'USD', 50],
  ['12.5 ct', 'EUR', undefined],
  ['30p', 'GBP', 30],
  ['5 Rp.', 'CHF', 5],
  ['Fr. 3.20', 'CHF', 320],
  ['12,-', 'EUR', undefined],
  ['12 kr', 'SEK', 1200],
  ['$0.12', 'EUR', undefined],
  ['$0.12', 'USD', 12],
  ['0.12 USD', 'EUR', undefined],
  ['£1', 'EUR', undefined],
  ['12 pence', 'EUR', undefined],
  ['0.12 each', 'EUR', 12],
  ['1.20 €/pc', 'EUR', 120],
  ['2 euros', 'EUR', 200],
  ['-3,50 €', 'EUR', -350],
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

// Which of the two readings of a lone sign before three digits stands is the column's to say.
test.each<[string, readonly string[], number | string]>([
  ['12.000', ['12.000'], 'two readings'],
  ['12.000', ['12.000', '3,50'], 1_200_000],
  ['12.000', ['12.000', '3.50'], 1200],
  ['12.000', ['12.000', '3.50', '3,50'], 'two readings'],
  ['0.500', ['0.500'], 50],
  ['1,234,567', ['1,234,567'], 123_456_700],
])('%s in a column of %j', (text, column, expected) => {
  const read = readAmount(text, 'EUR', decimalStyle(column))
  expect(read.ok ? read.value : read.error).toBe(expected)
})

test('amounts as eight locales write them are read, with the sign and the grouping of each', () => {
  const locales = ['en-US', 'en-GB', 'de-DE', 'de-AT', 'fr-FR', 'it-IT', 'pl-PL', 'sv-SE']
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 99_999_999 }), fc.constantFrom(...locales), (minor, locale) => {
      const text = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' }).format(minor / 100)
      expect([locale, text, parseMinor(text, 'EUR')]).toEqual([locale, text, minor])
    }),
    { numRuns: 400 },
  )
})

test('no amount in one currency is read as another’s', () => {
  const codes_ = ['EUR', 'USD', 'GBP', 'JPY', 'SEK', 'PLN', 'CHF']
  for (const own of codes_)
    for (const other of codes_)
      for (const currencyDisplay of ['symbol', 'code'] as const) {
        const text = new Intl.NumberFormat('en', { style: 'currency', currency: other, currencyDisplay }).format(12)
        expect([own, text, parseMinor(text, own) !== undefined]).toEqual([own, text, own === other])
      }
})
