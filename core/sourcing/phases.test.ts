import fc from 'fast-check'
import loadHighs from 'highs'
import { Coverer, roundToPlan } from './greedy-cover.ts'
import { searchShops, type Choice } from './shop-search.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import { buildModel } from './model.ts'
import { biggestShopFirst, cheapestLineByLine } from './baselines.ts'
import { presolve, findUnreachable } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

const milp = highsSolver(await loadHighs())
const solve = (problem: SourcingProblem) =>
  solveSourcing(problem, { timeLimit: 20, now: () => performance.now() / 1000, milp })
const RUNS = { numRuns: 60, seed: 7 }

/** Problems that have a plan, with their proven optimum. */
const solved = smallProblem().map((problem) => ({ problem, plan: solve(problem) }))

test('the search never undercuts the optimum, and what it settles either verifies or names a broken rule', () => {
  let held = 0
  fc.assert(
    fc.property(solved, ({ problem, plan }) => {
      const net = presolve(problem)
      if (findUnreachable(net).length > 0) return
      const coverer = new Coverer(net)
      let choice: Choice | undefined
      searchShops(
        net,
        coverer,
        () => false,
        (c) => (choice = c),
      )
      if (!choice) throw new Error('the search reports its choice')
      const decisions = roundToPlan(net, coverer.evaluate(choice.open, choice.copies, true), choice.copies)
      if (!decisions) return
      const verdict = verifyPlan(problem, decisions)
      if (!verdict.ok) {
        expect(verdict.faults.length).toBeGreaterThan(0)
        return
      }
      held++
      expect(plan.total).not.toBeNull()
      expect(verdict.total).toBeGreaterThanOrEqual(plan.total ?? Infinity)
    }),
    RUNS,
  )
  expect(held).toBeGreaterThan(20)
})

test('the relaxed model never exceeds the optimum: its optimum is a bound', () => {
  fc.assert(
    fc.property(solved, ({ problem, plan }) => {
      if (plan.total === null) return
      const outcome = milp(buildModel(presolve(problem), { whole: new Set() }).milp, { timeLimit: 10 })
      if (outcome.status !== 'optimal') throw new Error(outcome.status)
      expect(outcome.bound).toBeLessThanOrEqual(plan.total + 1e-6)
    }),
    RUNS,
  )
})

test('a tighter rule never makes it cheaper, a second copy of a shop never dearer', () => {
  fc.assert(
    fc.property(solved, ({ problem, plan }) => {
      if (plan.total === null) return
      const capped = solve({ ...problem, maxShops: 1 })
      if (capped.total !== null && problem.maxShops === null) expect(capped.total).toBeGreaterThanOrEqual(plan.total)
      const twin = problem.shops.map((s) => ({
        ...s,
        id: `${s.id}b`,
        status: s.status === 'pinned' ? ('free' as const) : s.status,
      }))
      const offers = problem.offers.map((o) => ({ ...o, id: `${o.id}b`, shop: `${o.shop}b` }))
      const wider = solve({ ...problem, shops: [...problem.shops, ...twin], offers: [...problem.offers, ...offers] })
      expect(wider.total).not.toBeNull()
      expect(wider.total ?? Infinity).toBeLessThanOrEqual(plan.total)
    }),
    { numRuns: 30, seed: 11 },
  )
})

test('prices doubled with every fee double the optimum', () => {
  const twice = (n: number) => n * 2
  fc.assert(
    fc.property(solved, ({ problem, plan }) => {
      // A rate's share is rounded, of duty as of other money: half a unit doubled is none.
      if (plan.total === null || problem.levies?.some((l) => l.rate % 10_000 !== 0)) return
      if (problem.shops.some((s) => s.rate !== undefined)) return
      const doubled = solve({
        ...problem,
        items: problem.items.map((i) => ({
          ...i,
          resale: i.resale && { ...i.resale, credit: twice(i.resale.credit) },
        })),
        lines: problem.lines.map((l) => ({
          ...l,
          accepts: l.accepts.map((a) => ({ ...a, penalty: twice(a.penalty) })),
        })),
        shops: problem.shops.map((s) => ({
          ...s,
          minOrder: twice(s.minOrder),
          handling: twice(s.handling),
          lineFee: twice(s.lineFee),
          bands: s.bands.map((b) => ({ ...b, fee: twice(b.fee) })),
          service: s.service && { threshold: twice(s.service.threshold), fee: twice(s.service.fee) },
        })),
        offers: problem.offers.map((o) => ({ ...o, price: twice(o.price), penalty: twice(o.penalty ?? 0) })),
        sets: problem.sets.map((s) => ({
          ...s,
          price: twice(s.price),
          figures: (s.figures ?? []).map((f) => ({ ...f, credit: twice(f.credit) })),
        })),
        levies: (problem.levies ?? []).map((l) => ({ ...l, threshold: twice(l.threshold), fee: twice(l.fee) })),
      })
      expect(doubled.total).toBe(twice(plan.total))
    }),
    { numRuns: 60, seed: 13 },
  )
})

// Without minimum orders: filler is counted at face value, which whole pieces cannot always meet.
test('buying by hand never beats the plan while no donor copy is wanted and the cap is free', () => {
  fc.assert(
    fc.property(smallProblem(), (raw) => {
      const problem = {
        ...raw,
        sets: [],
        maxShops: null,
        items: raw.items.map((i) => ({ ...i, resale: null })),
        shops: raw.shops.map((s) => ({ ...s, minOrder: 0 })),
      }
      const plan = solve(problem)
      for (const habit of [cheapestLineByLine(problem), biggestShopFirst(problem)])
        if (habit.kind === 'plan' && plan.total !== null) expect(habit.total).toBeGreaterThanOrEqual(plan.total)
    }),
    RUNS,
  )
})
