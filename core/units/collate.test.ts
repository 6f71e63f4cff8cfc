import fc from 'fast-check'
import { compareNames, orderKey } from './collate.ts'

const nameArb = fc
  .array(fc.oneof(fc.constantFrom('plate', 'brick', 'tile', 'x', ' '), fc.integer({ min: 0, max: 9999 }).map(String)), {
    minLength: 1,
    maxLength: 6,
  })
  .map((parts) => parts.join(' '))

test('numbers in names count by their value: 2x4 before 2x10, drawer 9 before drawer 10', () => {
  const names = ['plate 2x10', 'plate 10x2', 'plate 2x4', 'Drawer 10', 'drawer 9']
  const sorted = ['drawer 9', 'Drawer 10', 'plate 2x4', 'plate 2x10', 'plate 10x2']
  expect([...names].sort(compareNames)).toEqual(sorted)
  expect([...names].sort((p, q) => (orderKey(p) < orderKey(q) ? -1 : 1))).toEqual(sorted)
})

test('the quick key orders plain names as the collator of ECMA-402 does', () => {
  fc.assert(
    fc.property(nameArb, nameArb, (p, q) => {
      const [a, b] = [orderKey(p), orderKey(q)]
      if (a !== b) expect(Math.sign(compareNames(p, q))).toBe(a < b ? -1 : 1)
    }),
  )
})
