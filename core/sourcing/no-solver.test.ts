import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { NO_SOLVER } from '../solver/milp.ts'
import { solveWithinReach } from './leave-out.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { verifyPlan } from './verify-plan.ts'

const solver = highsSolver(await loadHighs())

test('without a solver every claim is still true: plans hold, bounds are bounds, nothing is proven that is not so', () => {
  const now = () => 0
  const seen = { plans: 0, none: 0 }
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const bare = solveWithinReach(problem, { timeLimit: 5, now, milp: NO_SOLVER })
      const full = solveWithinReach(problem, { timeLimit: 5, now, milp: solver })
      if (bare.plan.total === null) {
        seen.none++
        if (bare.plan.status === 'infeasible') expect(full.plan.total).toBeNull()
        return
      }
      seen.plans++
      const verdict = verifyPlan(bare.problem, bare.plan)
      expect(verdict).toMatchObject({ ok: true, total: bare.plan.total })
      // Plans for the same pieces may be compared.
      if (full.plan.total === null || JSON.stringify(full.problem) !== JSON.stringify(bare.problem)) return
      expect(bare.plan.total).toBeGreaterThanOrEqual(full.plan.total)
      if (bare.plan.status === 'optimal') expect(bare.plan.total).toBe(full.plan.total)
      if (bare.plan.bound !== null && full.plan.status === 'optimal')
        expect(bare.plan.bound).toBeLessThanOrEqual(full.plan.total)
    }),
    { numRuns: 150 },
  )
  expect(seen.plans).toBeGreaterThan(20)
}, 60_000)
