import { postalCheckDigit, readPostalNumber } from './postal-number.ts'

test('the check digit of the example of UPU S10 (recalled from memory): 47312482 has 9', () => {
  // 4·8 + 7·6 + 3·4 + 1·2 + 2·3 + 4·5 + 8·9 + 2·7 = 200; 200 mod 11 = 2; 11 − 2 = 9.
  expect(postalCheckDigit('47312482')).toBe('9')
  expect(readPostalNumber('rr 473124829 at')).toEqual({ kind: 'postal', country: 'AT' })
})

test('10 is written 0 and 11 is written 5', () => {
  // Sums of 1 and 0 beyond a multiple of eleven: 3·4 = 12 and nothing at all.
  expect(postalCheckDigit('00000000')).toBe('5')
  expect(postalCheckDigit('00300000')).toBe('0')
})

test('one mistyped digit is named, but where the standard itself writes two results alike', () => {
  const expected = (text: string) => readPostalNumber(text)
  for (let at = 2; at < 10; at++)
    for (let digit = 0; digit < 10; digit++) {
      const typed = `RR473124829AT`.split('')
      if (typed[at] === String(digit)) continue
      typed[at] = String(digit)
      expect(expected(typed.join(''))).toMatchObject({ kind: 'wrong digit' })
    }
})

test.each(['', '1Z999', '473124829', 'RR47312482AT', 'PARCEL 12'])('%j is some other carrier’s', (text) => {
  expect(readPostalNumber(text)).toEqual({ kind: 'other' })
})
