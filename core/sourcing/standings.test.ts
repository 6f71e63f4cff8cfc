import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { type LoadedLp, type Milp, type MilpOutcome } from '../solver/milp.ts'
import { buildModel } from './model.ts'
import { dive, heldTo, standingOf } from './standings.ts'
import { searchStandings } from './standing-search.ts'
import { findCuts, withCuts } from './cuts.ts'
import { PackCuts } from './pack-cuts.ts'
import { presolve } from './presolve.ts'
import { optimumByYalps, smallProblem } from './small-problem.test-data.ts'
import { solveSourcing, type Sizes } from './solve.ts'

const milp = highsSolver(await loadHighs())
const solve = (program: Milp): MilpOutcome => milp(program, { timeLimit: 5 })
const load = (program: Milp): LoadedLp => {
  if (!milp.load) throw new Error('this solver keeps programs loaded')
  return milp.load(program)
}
const left = () => 5

const near = (cost: number) => cost + 1e-6 * Math.max(1, Math.abs(cost))

test.each([
  ['by standings, then as a whole', { small: 0, medium: 0, large: 1000 }],
  ['by standings, then as a whole without their cuts', { small: 0, medium: 0, large: 0 }],
  ['relaxed as a whole', { small: 0, medium: 1000, large: 1000 }],
  ['with all work in the bound', { small: 1000, medium: 1000, large: 1000 }],
])('searched %s, random problems have the optimum of a second solver', (_, sizes: Sizes) => {
  let feasible = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const least = optimumByYalps(problem)
      const plan = solveSourcing(problem, { timeLimit: 20, now: () => performance.now() / 1000, milp, sizes })
      expect([plan.status, plan.total]).toEqual(least === undefined ? ['infeasible', null] : ['optimal', least])
      if (least !== undefined) feasible++
    }),
    { numRuns: 60, seed: 41 },
  )
  expect(feasible).toBeGreaterThan(15)
})

test('what is held costs as much or more; a dive ends in shops that have everything', () => {
  let solved = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const net = presolve(problem)
      const model = buildModel(net, { whole: new Set() })
      const best = solve(model.milp)
      if (best.status !== 'optimal') return
      solved++
      const standing = standingOf(model, best.x, best.objective)
      const held = solve(heldTo(standing, model, new Set()))
      // The solution keeps to itself.
      expect(held.status === 'optimal' && Math.abs(held.objective - best.objective)).toBeLessThan(1e-4)
      const lp = load(model.milp)
      const relaxed = lp.solve({ timeLimit: 5 })
      if (!relaxed) throw new Error('what has a solution has a relaxed one')
      const dived = dive(net, model, lp, relaxed, left)
      lp.close()
      const rounded = dived && solve(heldTo(dived, model, new Set(dived.shops.keys())))
      if (rounded?.status === 'optimal') expect(near(rounded.objective)).toBeGreaterThanOrEqual(best.objective)
    }),
    { numRuns: 120, seed: 43 },
  )
  expect(solved).toBeGreaterThan(40)
})

test('where the search ends no other way to use one shop is better, each judged by a program of its own', () => {
  let ended = 0
  let moved = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const net = presolve(problem)
      const options = { whole: new Set<number>() }
      const bare = buildModel(net, options)
      const lp = load(bare.milp)
      const found = findCuts(net, bare, lp, { milp, finder: new PackCuts(net, load), left, over: () => false })
      const dived = found && dive(net, bare, lp, found.solution, left)
      lp.close()
      if (!dived) return
      const model = withCuts(net, bare, options, found.cuts)
      const cost = (shops: typeof dived.shops) => {
        const held = heldTo({ cost: 0, shops }, model, new Set())
        const outcome = solve({ ...held, integer: new Uint8Array(held.integer.length) })
        return outcome.status === 'optimal' ? outcome.objective : Infinity
      }
      const heaviest = [...model.used].flatMap((z, s) =>
        z < 0 ? [] : [[s, { band: (model.bands.get(s)?.length ?? 0) - 1, below: false }] as const],
      )
      for (const start of [dived, { cost: 0, shops: new Map(heaviest) }]) {
        const end = searchStandings(net, model, start, load, { left, over: () => false })?.standing
        if (!end) {
          expect(cost(start.shops)).toBe(Infinity)
          continue
        }
        ended++
        if (end.cost < cost(start.shops) - 0.5) moved++
        expect(end.cost).toBeLessThanOrEqual(near(cost(start.shops)))
        expect(Math.abs(cost(end.shops) - end.cost)).toBeLessThan(1e-4 * Math.max(1, Math.abs(end.cost)))
        for (const [s, z] of model.used.entries()) {
          if (z < 0) continue
          const count = model.bands.get(s)?.length ?? 0
          const bands = count === 0 ? [-1] : Array.from({ length: count }, (_, k) => k)
          const ways = bands.flatMap((band) => [false, true].map((below) => ({ band, below })))
          for (const way of net.shops[s]?.status === 'pinned' ? ways : [undefined, ...ways]) {
            if (way?.below === true && !model.services.has(s)) continue
            const shops = new Map(end.shops)
            if (way) shops.set(s, way)
            else shops.delete(s)
            expect(cost(shops)).toBeGreaterThanOrEqual(end.cost - 0.5 - 1e-3)
          }
        }
      }
    }),
    { numRuns: 120, seed: 47 },
  )
  expect(ended).toBeGreaterThan(40)
  expect(moved).toBeGreaterThan(20)
})

test('a search that is out of time keeps to where it began', () => {
  const [problem] = fc.sample(
    smallProblem().filter((p) => optimumByYalps(p) !== undefined),
    { numRuns: 1, seed: 5 },
  )
  if (!problem) throw new Error('there is a problem')
  const net = presolve(problem)
  const model = buildModel(net, { whole: new Set() })
  const best = solve(model.milp)
  if (best.status !== 'optimal') throw new Error(best.status)
  const start = standingOf(model, best.x, best.objective)
  const end = searchStandings(net, model, start, load, { left, over: () => true })
  expect([...(end?.standing.shops ?? [])]).toEqual([...start.shops])
})
