import fc from 'fast-check'
import { once } from './once.ts'

test('a function made once gives what it gave before, and is asked once for each value', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('', 'a', 'b', 'Soot', '0')), (asked) => {
      const made: string[] = []
      const lengthOf = once((text: string) => {
        made.push(text)
        // Nothing is an answer as well.
        return text === '' ? undefined : text.length
      })
      expect(asked.map(lengthOf)).toEqual(asked.map((text) => (text === '' ? undefined : text.length)))
      expect(made).toEqual([...new Set(asked)])
    }),
  )
})
