import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { currency } from '../units/money.ts'
import { scarcities, solveWithinReach } from './leave-out.ts'
import { presolve } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

const milp = highsSolver(await loadHighs())
const options = { timeLimit: 20, now: () => performance.now() / 1000, milp }

test('one scarce item never blocks the rest: 6 seen and 2 hidden of 6, beside 100 bricks', () => {
  const item = (id: string) => ({ id, part: 'p', colour: 'c', mass: 1000, owned: 0, resale: null })
  const line = (id: string, qty: number, use: string, penalty = 0) => ({
    id,
    qty,
    accepts: [{ id: 'exact', uses: [{ item: use, qty: 1 }], penalty }],
  })
  const problem: SourcingProblem = {
    format: 'sourcing-problem',
    version: 1,
    id: 'scarce',
    currency: currency('EUR'),
    maxShops: null,
    deadlineDays: null,
    items: [item('lamp'), item('brick')],
    lines: [line('lamp seen', 6, 'lamp'), line('lamp hidden', 2, 'lamp'), line('bricks', 100, 'brick')],
    shops: [
      {
        id: 's',
        kind: 'shop',
        minOrder: 0,
        bands: [{ maxMass: 1e9, fee: 300 }],
        service: null,
        handling: 0,
        lineFee: 0,
        leadDays: 3,
        reliability: 1,
        status: 'free',
      },
    ],
    offers: [
      { id: 'o1', shop: 's', item: 'lamp', price: 50, stock: 6, pack: 1 },
      { id: 'o2', shop: 's', item: 'brick', price: 5, stock: 400, pack: 1 },
    ],
    sets: [],
    onOrder: [],
  }
  expect(solveSourcing(problem, options).status).toBe('infeasible')
  const { plan, problem: asked, leftOut } = solveWithinReach(problem, options)
  expect([plan.status, plan.total, plan.bound]).toEqual(['optimal', 1100, 1100])
  expect(leftOut.reduce((n, u) => n + u.short, 0)).toBe(2)
  expect(leftOut.every((u) => u.line.startsWith('lamp') && u.reason === 'joint')).toBe(true)
  const verdict = verifyPlan(asked, plan)
  expect(verdict.ok && verdict.total).toBe(1100)
})

/** Every way to leave pieces out of the lines, as the quantities that are left. */
function* ways(lines: SourcingProblem['lines']): Generator<number[]> {
  const [first, ...rest] = lines
  if (!first) yield []
  else for (let qty = first.qty; qty >= 0; qty--) for (const more of ways(rest)) yield [qty, ...more]
}

test('the fewest pieces are left out, and that at the least cost: every choice tried', () => {
  let scarce = 0
  fc.assert(
    fc.property(smallProblem(), (raw) => {
      const problem = {
        ...raw,
        lines: raw.lines.slice(0, 2).map((l) => ({ ...l, qty: Math.min(3, l.qty) })),
        offers: raw.offers.map((o) => ({ ...o, stock: Math.min(o.stock, 4) })),
      }
      const { plan, leftOut, problem: asked } = solveWithinReach(problem, options)
      let best: { out: number; total: number } | undefined
      const all = problem.lines.reduce((n, l) => n + l.qty, 0)
      for (const left of ways(problem.lines)) {
        const out = all - left.reduce((n, q) => n + q, 0)
        if (best && out > best.out) continue
        const lines = problem.lines.flatMap((l, i) => ((left[i] ?? 0) > 0 ? [{ ...l, qty: left[i] ?? 0 }] : []))
        const { total } = solveSourcing({ ...problem, lines }, options)
        if (total === null) continue
        if (!best || out < best.out || total < best.total) best = { out, total }
      }
      if (!best) {
        expect(plan.status).toBe('infeasible')
        return
      }
      const out = leftOut.reduce((n, u) => n + u.short, 0)
      if (out > 0) scarce++
      expect([out, plan.total, plan.bound]).toEqual([best.out, best.total, best.total])
      const verdict = verifyPlan(asked, plan)
      expect(verdict.ok && verdict.total).toBe(plan.total)
    }),
    { numRuns: 90, seed: 31 },
  )
  expect(scarce).toBeGreaterThan(10)
})

test('what stocks leave out is never more than what any plan leaves out', () => {
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const { groups, proven } = scarcities(presolve(problem))
      const { plan, leftOut } = solveWithinReach(problem, options)
      if (plan.total === null || !proven) return
      const least = groups.reduce((n, g) => n + g.short, 0)
      expect(leftOut.reduce((n, u) => n + u.short, 0)).toBeGreaterThanOrEqual(least)
    }),
    { numRuns: 100, seed: 17 },
  )
})
