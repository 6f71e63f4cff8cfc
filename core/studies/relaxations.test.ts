import fc from 'fast-check'
import type { Rules } from '../build/house-rules.ts'
import { tally } from '../netting/count.ts'
import { fixture, linesArb, rulesArb, shelfArb } from '../netting/fixture.test-data.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { relaxations } from './relaxations.ts'

/** Ways to let more be done: each allows all that was allowed before. */
const LOOSER: readonly Partial<Rules>[] = [
  { condition: 'worn' },
  { wornHidden: true },
  { moulds: 'anywhere' },
  { splits: 'structural too' },
  { thirdParty: true },
  { altering: 'allowed' },
  { estimatePercent: 100 },
]

const relaxed = (snapshot: Snapshot, rules: Partial<Rules>): Snapshot => ({
  ...snapshot,
  build: { ...snapshot.build, rules: { ...snapshot.build.rules, ...rules } },
})

test('a rule that allows more never leaves more short, where nothing is bought', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(6), fc.constantFrom(...LOOSER), (rules, lines, shelf, looser) => {
      const snapshot = fixture({ ...rules, sources: 'donors and shelf' }, lines, shelf)
      expect(tally(relaxed(snapshot, looser)).coverage.short).toBeLessThanOrEqual(tally(snapshot).coverage.short)
    }),
    { numRuns: 300 },
  )
})

test('what relaxing a rule is said to bring is what the design then has, and always something', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(6), (rules, lines, shelf) => {
      const snapshot = fixture(rules, lines, shelf)
      const now = tally(snapshot)
      let before = -1
      for (const { change, short, saved } of relaxations(snapshot, now)) {
        expect(tally(relaxed(snapshot, change)).coverage.short).toBe(short)
        expect(short).toBeLessThan(now.coverage.short)
        expect(short).toBeGreaterThanOrEqual(before)
        expect(saved).toBeGreaterThanOrEqual(0)
        before = short
      }
    }),
    { numRuns: 100 },
  )
})
