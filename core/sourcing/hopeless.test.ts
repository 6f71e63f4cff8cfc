import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { type LoadedLp, type Milp } from '../solver/milp.ts'
import { tightenAmongFew } from './cuts.ts'
import { hopelessFor, NOTHING_HOPELESS, withoutHopeless } from './hopeless.ts'
import { buildModel } from './model.ts'
import { PackCuts } from './pack-cuts.ts'
import { presolve, type PresolvedProblem } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { oneLine, smallProblem } from './small-problem.test-data.ts'

const milp = highsSolver(await loadHighs())
const load = (program: Milp): LoadedLp => {
  if (!milp.load) throw new Error('this solver keeps programs loaded')
  return milp.load(program)
}
const never = () => false

/** What is hopeless in a problem of which a plan of this total is known, by its relaxation with or without cuts. */
function hopelessIn(net: PresolvedProblem, totalOf: (least: number) => number, isCut: boolean, over = never) {
  const whole = buildModel(net, { whole: new Set() })
  const lp = load(whole.milp)
  try {
    const solution = lp.solve({ timeLimit: 5 })
    if (!solution) return undefined
    const cutting = { milp, load, finder: new PackCuts(net, load), left: () => 5, over: never }
    const tightened = isCut ? tightenAmongFew(net, whole, lp, solution, cutting) : undefined
    tightened?.few.lp.close()
    const all = tightened?.all ?? { program: whole.milp, solution }
    const { objective } = all.solution
    return { objective, found: hopelessFor(net, whole, all, totalOf(objective), load, over) }
  } finally {
    lp.close()
  }
}

/** Ten pieces of one item, and shops that have them all, at a price each and a fee per order. */
const tenPieces = (shops: readonly { price: number; fee: number }[]): SourcingProblem =>
  oneLine(
    10,
    shops.map((shop) => ({ ...shop, pack: 1, packs: 10 })),
  )

test('by hand: a shop that costs more than the plan known, whatever is bought there, is closed', () => {
  // 10 × 20 + 100 = 300 at the first; the second asks 300 for its order alone; the third comes to 10 × 21 + 100 = 310.
  const net = presolve(
    tenPieces([
      { price: 20, fee: 100 },
      { price: 1, fee: 300 },
      { price: 21, fee: 100 },
    ]),
  )
  const at = (total: number) => hopelessIn(net, () => total, false)?.found
  // The relaxation pays 30 a piece at the first shop, 31 at the others: each of them once used adds 10.
  expect(at(301)).toEqual({ bound: 300, closed: new Set([1, 2]), open: new Set(), offers: new Set([1, 2]) })
  expect(at(312)?.closed).toEqual(new Set())
  // A bound that is the total of the plan leaves nothing.
  expect(at(300)).toMatchObject({ bound: 300, closed: new Set([0, 1, 2]) })
})

test('by hand: a shop that alone has what is needed is open', () => {
  const found = hopelessIn(presolve(tenPieces([{ price: 20, fee: 100 }])), () => 301, false)?.found
  expect(found).toEqual({ bound: 300, closed: new Set(), open: new Set([0]), offers: new Set() })
})

test.each([false, true])('no better plan does what is hopeless, and the bound is one (with cuts: %s)', (isCut) => {
  const seen = { closed: 0, open: 0, offers: 0, tighter: 0 }
  fc.assert(
    fc.property(smallProblem(7), fc.constantFrom(0, 1, 2, 5, 20), (problem, worse) => {
      const net = presolve(problem)
      const exact = buildModel(net, { whole: 'all' })
      const best = milp(exact.milp, { timeLimit: 5 })
      if (best.status !== 'optimal') return
      const least = Math.round(best.objective)
      const of = hopelessIn(net, () => least + worse, isCut)
      if (!of) throw new Error('what has a plan has a relaxation')
      const { found, objective } = of
      // Lagrangian bounds at optimal prices are the relaxation's at least (Geoffrion, 1974), and the optimum at most.
      if (found !== NOTHING_HOPELESS) expect(found.bound).toBeGreaterThanOrEqual(objective - 1e-3)
      expect(found.bound).toBeLessThanOrEqual(least + 1e-3)
      if (found.bound > objective + 0.5) seen.tighter++
      if (worse === 0) return
      const rest = milp(withoutHopeless(exact, found).milp, { timeLimit: 5 })
      expect([rest.status, rest.status === 'optimal' && Math.round(rest.objective)]).toEqual(['optimal', least])
      if (found.closed.size > 0) seen.closed++
      if (found.open.size > 0) seen.open++
      if (found.offers.size > 0) seen.offers++
    }),
    { numRuns: 300, seed: 89 },
  )
  expect(seen.closed).toBeGreaterThan(20)
  expect(seen.open).toBeGreaterThan(5)
  expect(seen.offers).toBeGreaterThan(seen.closed / 2)
})

test('where time is over nothing is hopeless', () => {
  const net = presolve(tenPieces([{ price: 20, fee: 100 }]))
  expect(hopelessIn(net, () => 1, false, () => true)?.found).toBe(NOTHING_HOPELESS) // prettier-ignore
})
