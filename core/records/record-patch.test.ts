import fc from 'fast-check'
import { patchBetween, patched } from './record-patch.ts'

test('a list patched is the other list, and an edit of one thing sends one thing', () => {
  const list = fc.array(fc.nat(4), { maxLength: 8 })
  fc.assert(
    fc.property(list, list, (before, after) => {
      expect(patched(before, patchBetween(before, after))).toEqual(after)
    }),
  )
  const many = Array.from({ length: 20_000 }, (_, i) => ({ i }))
  const edited = many.map((r) => (r.i === 777 ? { i: -1 } : r))
  expect(patchBetween(many, edited)).toEqual({ at: 777, removed: 1, added: [{ i: -1 }] })
})
