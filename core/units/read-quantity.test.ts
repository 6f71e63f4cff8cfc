import fc from 'fast-check'
import { isPlainCount, readQuantity } from './read-quantity.ts'

const READ: readonly (readonly [string, number, boolean, string?])[] = [
  ['12', 12, false],
  ['12x', 12, false],
  ['x 12', 12, false],
  ['12 pcs', 12, false],
  ['12 Stk.', 12, false],
  ['12 Stück', 12, false],
  ['12 pièces', 12, false],
  ['12 szt', 12, false],
  ['3 (one chipped)', 3, false, 'one chipped'],
  ['3 [check]', 3, false, 'check'],
  ['12 pcs (~ 40 g)', 12, false, '~ 40 g'],
  ['~60', 60, true],
  ['ca. 60', 60, true],
  ['etwa 60 Stk', 60, true],
  ['10-12', 11, true],
  ['10 – 12', 11, true],
  ['10 to 13 pcs', 11, true],
  ['10 bis 12', 11, true],
  ['12?', 12, true],
  ['12 ?', 12, true],
  ['12+', 12, true],
  ['3+2', 5, false],
  ['3 + 2 + 1', 6, false],
  ['1 200', 1200, false],
  ["1'200", 1200, false],
  ['12pcs', 12, false],
]
test.each(READ.map((row) => [row] as const))('%j', ([text, qty, estimate, note]) => {
  expect(readQuantity(text)).toEqual({ ok: true, value: { qty, estimate, ...(note !== undefined && { note }) } })
})

// Nothing is guessed of what is left over.
test.each([
  ['', 'none'],
  ['-3', 'below one'],
  ['0', 'below one'],
  ['2.5', 'not whole'],
  ['1/2', 'not whole'],
  ['many', 'no number'],
  ['12 red', 'no number'],
  ['plate 2x4', 'no number'],
  ['12 of 20', 'no number'],
  ['12-10', 'no number'],
  ['3 (one) chipped', 'no number'],
  ['12.000', 'two readings'],
  ['2000001', 'too many'],
  ['600000+600000', 'too many'],
] as const)('%j is refused: %s', (text, code) => {
  const read = readQuantity(text)
  expect(read.ok ? 'read' : read.error.code).toBe(code)
  expect(read.ok ? '' : read.error.message).toMatch(/[.]$/)
})

test('1.200 and 1,200 are what the column they stand in says', () => {
  expect(readQuantity('1.200', ',')).toEqual({ ok: true, value: { qty: 1200, estimate: false } })
  expect(readQuantity('1,200', '.')).toEqual({ ok: true, value: { qty: 1200, estimate: false } })
  expect(readQuantity('1.200', '.').ok).toBe(false)
})

test('numbers as eight locales group them, alone, added and as ranges, are what Intl wrote', () => {
  const locale = fc.constantFrom('en-US', 'en-GB', 'de-DE', 'de-CH', 'fr-FR', 'it-IT', 'pl-PL', 'sv-SE')
  const pieces = fc.integer({ min: 1, max: 400_000 })
  fc.assert(
    fc.property(locale, pieces, pieces, (tag, p, q) => {
      const written = (n: number) => new Intl.NumberFormat(tag).format(n)
      // The sign by which this locale divides decimals.
      const style = new Intl.NumberFormat(tag).format(1.5).includes(',') ? ',' : '.'
      const read = (text: string) => {
        const result = readQuantity(text, style)
        return result.ok ? result.value.qty : `${text}: ${result.error.code}`
      }
      expect(read(written(p))).toBe(p)
      expect(read(`${written(p)} + ${written(q)}`)).toBe(p + q)
      const [less, more] = [Math.min(p, q), Math.max(p, q)]
      expect(read(`${written(less)} - ${written(more)}`)).toBe(Math.floor((less + more) / 2))
    }),
    { numRuns: 500 },
  )
})

test('whatever is typed is read as a whole number of pieces or refused in words', () => {
  fc.assert(
    fc.property(fc.oneof(fc.string(), fc.stringMatching(/^[\d\s.,+?~x×()\-–]{0,14}$/)), (text) => {
      const read = readQuantity(text)
      if (read.ok) {
        expect(Number.isInteger(read.value.qty) && read.value.qty >= 1 && read.value.qty <= 1_000_000).toBe(true)
        if (isPlainCount(text)) expect(read.value).toEqual({ qty: Number(text), estimate: false })
      } else expect(read.error.message).not.toBe('')
    }),
    { numRuns: 3000 },
  )
})
