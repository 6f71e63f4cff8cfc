import fc from 'fast-check'
import { bandsText, readBands } from './shipping-text.ts'

test('shipping by weight is read as it is written', () => {
  expect(readBands('500 g 3.90; up to 2 kg: 6,90 EUR\n0,25 kg 9', 'EUR')).toMatchObject({ ok: false })
  expect(readBands('250 g 3.90; to 2 kg: 6,90 EUR', 'EUR')).toEqual({
    ok: true,
    value: [
      { maxMass: 250_000, fee: 390 },
      { maxMass: 2_000_000, fee: 690 },
    ],
  })
  expect(readBands('', 'EUR')).toEqual({ ok: true, value: [] })
})

test.each([
  ['3.90', 'no weight'],
  ['0 g 3.90', 'no weight'],
  ['500 g', 'no weight'],
  ['500 g much', 'no fee'],
  ['500 g 3.90 USD', 'no fee'],
  ['2 kg 6.90; 500 g 3.90', 'order'],
  ['500 g 6.90; 2 kg 3.90', 'order'],
] as const)('%j is refused: %s', (text, code) => {
  const read = readBands(text, 'EUR')
  expect(read.ok ? 'read' : read.error.code).toBe(code)
})

test('what is written of shipping reads as it was, in currencies with and without decimals', () => {
  const step = fc.record({ mass: fc.integer({ min: 1, max: 30_000 }), fee: fc.nat(9_999) })
  fc.assert(
    fc.property(fc.array(step, { maxLength: 8 }), fc.constantFrom('EUR', 'JPY', 'CHF'), (steps, currency) => {
      const masses = [...new Set(steps.map((s) => s.mass))].sort((p, q) => p - q)
      const fees = steps.map((s) => s.fee).sort((p, q) => p - q)
      const bands = masses.map((mass, i) => ({ maxMass: mass * 1000, fee: fees[i] ?? 0 }))
      expect(readBands(bandsText(bands, currency), currency)).toEqual({ ok: true, value: bands })
    }),
  )
})
