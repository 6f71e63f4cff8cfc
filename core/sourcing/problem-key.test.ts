import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import type { SourcingProblem } from './problem.ts'
import { problemKey } from './problem-key.ts'

const problem = JSON.parse(readFileSync('core/sourcing/cases/tiny-3-donorset.json', 'utf8')) as SourcingProblem

test('the same problem has the same key, whatever it was made from', () => {
  expect(problemKey(JSON.parse(JSON.stringify(problem)) as SourcingProblem)).toBe(problemKey(problem))
})

test('a problem that differs by one quantity, price or name has another key', () => {
  const keys = new Map<string, string>()
  fc.assert(
    fc.property(fc.nat(9999), fc.nat(9999), fc.string({ maxLength: 12 }), (qty, price, id) => {
      const changed: SourcingProblem = {
        ...problem,
        id,
        lines: problem.lines.map((l) => ({ ...l, qty })),
        offers: problem.offers.map((o) => ({ ...o, price })),
      }
      const text = JSON.stringify(changed)
      const key = problemKey(changed)
      expect(keys.get(key) ?? text).toBe(text)
      keys.set(key, text)
    }),
    { numRuns: 2000 },
  )
})
