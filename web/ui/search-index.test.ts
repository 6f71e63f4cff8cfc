import fc from 'fast-check'
import { searchIndex } from './search-index.ts'

test('however far an index is made ready, it finds what a search of all rows finds', () => {
  const rows = Array.from({ length: 4000 }, (_, i) => `plate ${i % 13} bin ${i % 7}`)
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom('plate', '1', 'bin 3', '12', 'x'), { maxLength: 3 }),
      fc.nat(4),
      (words, steps) => {
        const index = searchIndex(rows, (r) => r)
        for (let i = 0; i < steps; i++) index.advance()
        expect(index.find(words)).toEqual(rows.filter((r) => words.every((w) => r.includes(w))))
      },
    ),
  )
  const index = searchIndex(rows, (r) => r)
  expect(Array.from({ length: 4 }, () => index.advance())).toEqual([true, true, true, false])
})
