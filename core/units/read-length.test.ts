import { readLength } from './read-length.ts'

// 1 inch is 25.4 mm by definition (international inch, 1959); the stud pitch of 8 mm is common practice.
test.each([
  ['120 mm', 120],
  ['120mm', 120],
  ['12 cm', 120],
  ['12,5 cm', 125],
  ['1.2 m', 1200],
  ['15 studs', 120],
  ['1 stud', 8],
  ['4 in', 102],
  ['10 inches', 254],
  ['4"', 102],
  ['10000 mm', 10_000],
])('%s is %i mm', (text, mm) => {
  expect(readLength(text)).toEqual({ ok: true, value: mm })
})

test.each(['', 'long', '120', '0 mm', '12.5 mm', '12.55 cm', '10001 mm', '11 m', '-3 mm', '1e3 mm', '3 ft'])(
  '"%s" is no length',
  (text) => {
    expect(readLength(text).ok).toBe(false)
  },
)

test('in a column of millimetres a bare number is one of them', () => {
  expect(readLength('120', 'mm')).toEqual({ ok: true, value: 120 })
  expect(readLength('12 cm', 'mm')).toEqual({ ok: true, value: 120 })
  expect(readLength('12.5', 'mm').ok).toBe(false)
})
