import { newPlanner } from './planner.ts'
import { Memory } from '../units/memory.ts'
import fc from 'fast-check'
import type { LineId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import type { Decision } from '../build/decision.ts'
import { BUILD, decision, of, OTHER, fixture } from './fixture.test-data.ts'
import type { Snapshot } from './snapshot.ts'
import { tallied, tally } from './count.ts'
import { openTally } from './tally.ts'

/** The same state of affairs in records that nothing is remembered of. */
const forgotten = (s: Snapshot): Snapshot => ({
  ...s,
  holdings: [...s.holdings],
  design: { ...s.design, modules: [...s.design.modules] },
})

// Few items, so that nearly everything competes with everything.
const item = fc.constantFrom(of('plate 2x4'), of('plate 2x4', OTHER), of('plate 2x4 with hole'), of('brick 2x2'))
const lines = fc.array(
  fc.record({
    item,
    qty: fc.integer({ min: 1, max: 4 }),
    visibility: fc.constantFrom('seen' as const, 'hidden' as const),
  }),
  { minLength: 4, maxLength: 10 },
)
const shelf = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 3 }) }), { minLength: 4, maxLength: 14 })
const rules: fc.Arbitrary<Partial<Rules>> = fc.constantFrom(
  { colours: 'free where hidden', moulds: 'anywhere' },
  { colours: 'free where hidden', moulds: 'never', splits: 'anywhere' },
)
/** What may be decided: of a line and a holding or two items, by their numbers. */
const decisions = fc.array(
  fc.record({
    kind: fc.constantFrom('pin' as const, 'pin' as const, 'forbid' as const, 'accept' as const),
    line: fc.nat(9),
    holding: fc.nat(13),
    qty: fc.integer({ min: 1, max: 3 }),
    item,
    use: item,
  }),
  { maxLength: 2 },
)

test('a tally that builds on the last one is the tally made from nothing, whatever was decided in between', () => {
  fc.assert(
    fc.property(
      lines,
      shelf,
      fc.array(fc.tuple(rules, decisions), { minLength: 2, maxLength: 8 }),
      (wanted, held, turns) => {
        const start = fixture({}, wanted, held)
        const planner = newPlanner()
        for (const [changed, decided] of turns) {
          const made = decided.map((d, i): Decision => {
            const line = `n-${d.line}` as LineId
            const holding = start.holdings[d.holding % start.holdings.length]
            if (d.kind === 'pin' && holding) {
              const source = { kind: 'shelf' as const, holding: holding.id, item: holding.item }
              return decision({ kind: 'pin', line, qty: d.qty, source }, BUILD, `d-${i}`)
            }
            const uses = [{ item: d.use, qty: 1 }]
            const kind = d.kind === 'accept' ? 'accept' : 'forbid'
            return decision({ kind, line, item: d.item, uses }, BUILD, `d-${i}`)
          })
          const build = { ...start.build, rules: { ...start.build.rules, ...changed } }
          const now = { ...start, build, decisions: made }
          const found = tally(now, planner)
          expect(found).toEqual(tally(now))
          // Its sheet reads the same elsewhere: copied, and beside records that are copies too.
          const copy = structuredClone(tallied(now, planner))
          expect(openTally(forgotten(now), copy, new Memory())).toEqual(found)
        }
      },
    ),
    { numRuns: 500 },
  )
})
