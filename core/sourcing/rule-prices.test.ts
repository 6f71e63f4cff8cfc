import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { loosened, loosenings, priceRules, savingOf } from './rule-prices.ts'
import { optimumByYalps, smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

const options = { timeLimit: 30, now: () => performance.now() / 1000, milp: highsSolver(await loadHighs()) }

test('every loosening saves what a second solver finds, never less than nothing, and what saves most comes first', () => {
  let priced = 0
  let saving = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const base = solveSourcing(problem, options)
      if (base.total === null) return
      const prices = priceRules(problem, base, options)
      expect(prices).toHaveLength(loosenings(problem).length)
      for (const price of prices) {
        const looser = loosened(problem, price.loosening)
        const total = price.plan.total ?? NaN
        expect([price.loosening, total]).toEqual([price.loosening, optimumByYalps(looser)])
        expect(verifyPlan(looser, price.plan).ok).toBe(true)
        // Both ends are proven: the saving is a number.
        expect(savingOf(base, price)).toEqual({ least: base.total - total, most: base.total - total })
        expect(total).toBeLessThanOrEqual(base.total)
        priced++
        if (total < base.total) saving++
      }
      const totals = prices.map((p) => p.plan.total ?? 0)
      expect(totals).toEqual([...totals].sort((p, q) => p - q))
    }),
    { numRuns: 150, seed: 53 },
  )
  expect([priced > 40, saving > 5]).toEqual([true, true])
})

test('rules that are not told as costing anything do not cost anything', () => {
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const base = solveSourcing(problem, options)
      if (base.total === null) return
      const told = loosenings(problem).map((l) => l.rule)
      if (problem.maxShops !== null && !told.includes('maxShops'))
        expect(optimumByYalps({ ...problem, maxShops: problem.maxShops + 1 })).toBe(base.total)
      if (problem.deadlineDays !== null && !told.includes('deadlineDays'))
        expect(optimumByYalps({ ...problem, deadlineDays: null })).toBe(base.total)
    }),
    { numRuns: 80, seed: 59 },
  )
})
