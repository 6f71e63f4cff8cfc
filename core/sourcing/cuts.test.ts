import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { type LoadedLp, type Milp } from '../solver/milp.ts'
import { findCuts, NO_CUTS, tightenAmongFew, withCuts } from './cuts.ts'
import { buildModel } from './model.ts'
import { needsOf, PackCuts, packRows } from './pack-cuts.ts'
import { presolve } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'
import { oneLine, smallProblem, type OnlyOffer } from './small-problem.test-data.ts'

const milp = highsSolver(await loadHighs())
const load = (program: Milp): LoadedLp => {
  if (!milp.load) throw new Error('this solver keeps programs loaded')
  return milp.load(program)
}

/** The relaxation with all the cuts that can be found: rounds go on until a solution violates none. */
function tightest(problem: SourcingProblem): number | undefined {
  const net = presolve(problem)
  const model = buildModel(net, { whole: new Set() })
  const finder = new PackCuts(net, load)
  const lp = load(model.milp)
  try {
    for (let round = 0; round < 60; round++) {
      const solution = lp.solve({ timeLimit: 5 })
      if (!solution) return undefined
      const cuts = finder.violated(model, solution.x, () => false)
      if (cuts.length === 0) return solution.objective
      lp.add(packRows(model, cuts))
    }
    throw new Error('the rounds do not end')
  } finally {
    lp.close()
  }
}

/** The least that covers a need in whole packs, by trying every number of every pack. */
function leastByTrying(qty: number, offers: readonly OnlyOffer[]): number {
  const [first, ...rest] = offers
  if (qty <= 0) return 0
  if (!first) return Infinity
  let least = leastByTrying(qty, rest)
  for (let n = 1; n <= first.packs; n++)
    least = Math.min(least, first.fee + n * first.pack * first.price + leastByTrying(qty - n * first.pack, rest))
  return least
}

test('one offer in packs of three: five pieces are two packs, by rounding up (Chvátal, 1973)', () => {
  const problem = oneLine(5, [{ price: 10, pack: 3, packs: 9, fee: 0 }])
  const net = presolve(problem)
  const lp = load(buildModel(net, { whole: new Set() }).milp)
  // 5/3 of a pack of 30.
  expect(lp.solve({ timeLimit: 5 })?.objective).toBeCloseTo(50, 6)
  lp.close()
  expect(tightest(problem)).toBeCloseTo(60, 4)
})

test('packs and fees of one line: with all cuts the relaxation is what trying every way comes to', () => {
  let covered = 0
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 14 }),
      fc.array(
        fc.record({
          price: fc.integer({ min: 1, max: 30 }),
          pack: fc.constantFrom(1, 2, 3, 5, 10),
          packs: fc.integer({ min: 1, max: 4 }),
          fee: fc.constantFrom(0, 0, 15, 60),
        }),
        { minLength: 1, maxLength: 5 },
      ),
      // What is due once is due for the order, or for its only line.
      fc.boolean(),
      (qty, offers, byLine) => {
        const least = leastByTrying(qty, offers)
        const problem = oneLine(qty, offers)
        const shops = problem.shops.map((shop) => ({ ...shop, handling: 0, lineFee: shop.handling }))
        const bound = tightest(byLine ? { ...problem, shops } : problem)
        if (least === Infinity) {
          expect(bound).toBeUndefined()
          return
        }
        covered++
        expect(bound).toBeLessThanOrEqual(least + 1e-6 * least)
        // The hull is cut out exactly, but for what is not worth a row.
        expect(bound).toBeGreaterThanOrEqual(least * 0.994)
      },
    ),
    { numRuns: 300, seed: 71 },
  )
  expect(covered).toBeGreaterThan(150)
})

test('a shop that must send everything is paid for the band that holds it', () => {
  // 8 pieces of 1 kg, bands up to 5 kg for 100 and up to 20 kg for 400, and 1 piece of another shop's at 900.
  const base = oneLine(8, [
    { price: 10, pack: 1, packs: 8, fee: 0 },
    { price: 900, pack: 1, packs: 1, fee: 0 },
  ])
  const problem: SourcingProblem = {
    ...base,
    items: base.items.map((item) => ({ ...item, mass: 1_000_000 })),
    shops: base.shops.map(
      (shop, s) =>
      s === 0 ? { ...shop, bands: [{ maxMass: 5_000_000, fee: 100 }, { maxMass: 20_000_000, fee: 400 }] } : shop, // prettier-ignore
    ),
  }
  const net = presolve(problem)
  const model = buildModel(net, { whole: new Set() })
  const lp = load(model.milp)
  const relaxed = lp.solve({ timeLimit: 5 })?.objective ?? NaN
  const found = findCuts(net, model, lp, { milp, finder: new PackCuts(net, load), left: () => 5, over: () => false })
  lp.close()
  // All eight weigh 8 kg; the second band is cut to them: 80 + 400, where the relaxation has none of it whole.
  expect(relaxed).toBeLessThanOrEqual(80 + 400)
  expect(found?.solution.objective).toBeCloseTo(480, 4)
})

test('with the cuts a model has the same optimum, and their bound never exceeds it', () => {
  let cut = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const net = presolve(problem)
      const options = { whole: new Set<number>() }
      const model = buildModel(net, options)
      const lp = load(model.milp)
      const found = findCuts(net, model, lp, {
        milp,
        finder: new PackCuts(net, load),
        left: () => 5,
        over: () => false,
      })
      lp.close()
      for (const whole of [new Set<number>(), 'all' as const]) {
        const plain = buildModel(net, { whole })
        const best = milp(plain.milp, { timeLimit: 5 })
        if (!found) {
          expect(best.status).toBe('infeasible')
          continue
        }
        const tight = milp(withCuts(net, plain, { whole }, found.cuts).milp, { timeLimit: 5 })
        expect(tight.status).toBe(best.status)
        if (best.status !== 'optimal' || tight.status !== 'optimal') continue
        if (found.cuts.packs.length + found.cuts.parcels.length > 0) cut++
        expect(Math.abs(tight.objective - best.objective)).toBeLessThan(1e-3)
        expect(found.solution.objective).toBeLessThanOrEqual(best.objective + 1e-3)
      }
    }),
    { numRuns: 250, seed: 73 },
  )
  expect(cut).toBeGreaterThan(40)
})

test('cuts found among some shops are true of all, and round after round the bound rises to the optimum at most', () => {
  let carried = 0
  let risen = 0
  fc.assert(
    fc.property(smallProblem(), fc.nat(), (problem, dropped) => {
      const net = presolve(problem)
      const options = { whole: new Set<number>() }
      const finder = new PackCuts(net, load)
      const common = { milp, finder, left: () => 5, over: () => false }
      const only = new Set([...net.shops.keys()].filter((s) => s !== dropped % net.shops.length))
      const some = buildModel(net, { ...options, only })
      const part = load(some.milp)
      const known = findCuts(net, some, part, common)?.cuts
      part.close()
      const whole = buildModel(net, options)
      const lp = load(whole.milp)
      const relaxed = lp.solve({ timeLimit: 5 })
      const bounds: number[] = []
      const found = findCuts(net, whole, lp, { ...common, ...(known && { known }), onBound: (b) => bounds.push(b) })
      lp.close()
      const best = milp(buildModel(net, { whole: 'all' }).milp, { timeLimit: 5 })
      if (!relaxed || !found) {
        expect([best.status, found]).toEqual(['infeasible', undefined])
        return
      }
      // What whole packs cannot do broken ones may.
      if (best.status !== 'optimal') return
      if (known && known.packs.length + known.parcels.length > 0) carried++
      if (found.solution.objective > relaxed.objective + 0.5) risen++
      const rising = [relaxed.objective, ...bounds, best.objective]
      for (const [i, bound] of bounds.entries()) {
        expect(bound).toBeGreaterThanOrEqual((rising[i] ?? 0) - 1e-3)
        expect(bound).toBeLessThanOrEqual(best.objective + 1e-3)
      }
      expect(bounds.at(-1)).toBe(found.solution.objective)
    }),
    { numRuns: 400, seed: 79 },
  )
  expect(carried).toBeGreaterThan(20)
  expect(risen).toBeGreaterThan(20)
})

/** The shops that a solution of a model of all shops uses. */
const usedIn = (used: Int32Array, x: Float64Array) =>
  [...used].flatMap((z, s) => (z >= 0 && (x[z] ?? 0) > 0 ? [s] : []))

test('cuts found among the few shops that a relaxation uses: it is said of all shops only what is true of all', () => {
  let more = 0
  fc.assert(
    fc.property(smallProblem(7), (problem) => {
      const net = presolve(problem)
      const whole = buildModel(net, { whole: new Set() })
      const lp = load(whole.milp)
      const first = lp.solve({ timeLimit: 5 })
      const best = milp(buildModel(net, { whole: 'all' }).milp, { timeLimit: 5 })
      const bounds: number[] = []
      const tightened = first && tightenAmongFew(net, whole, lp, first, { milp, load, finder: new PackCuts(net, load), left: () => 5, over: () => false, onBound: (b) => bounds.push(b) }) // prettier-ignore
      if (!tightened) {
        lp.close()
        expect(best.status).toBe('infeasible')
        return
      }
      const { few, all } = tightened
      // What it came to is what its program comes to.
      const again = load(all.program)
      expect(again.solve({ timeLimit: 5 })?.objective).toBeCloseTo(all.solution.objective, 3)
      again.close()
      few.lp.close()
      lp.close()
      const started = usedIn(whole.used, first.x)
      const among = few.model.used.filter((z) => z >= 0).length
      if (among > started.length) more++
      expect(among).toBeGreaterThanOrEqual(started.length)
      expect(bounds.at(-1)).toBe(all.solution.objective)
      expect(all.solution.objective).toBeGreaterThanOrEqual(first.objective - 1e-3)
      expect(few.solution.objective).toBeGreaterThanOrEqual(all.solution.objective - 1e-3)
      if (best.status !== 'optimal') return
      for (const bound of bounds) expect(bound).toBeLessThanOrEqual(best.objective + 1e-3)
      const exact = { whole: 'all' as const }
      const tight = milp(withCuts(net, buildModel(net, exact), exact, few.cuts).milp, { timeLimit: 5 })
      expect(tight.status === 'optimal' && Math.abs(tight.objective - best.objective)).toBeLessThan(1e-3)
    }),
    { numRuns: 400, seed: 83 },
  )
  // Others come in, so that what the few came to before was no bound.
  expect(more).toBeGreaterThan(5)
})

test('where there is no time for cuts the relaxation of all shops stays as it was', () => {
  const problem = oneLine(5, [{ price: 10, pack: 3, packs: 9, fee: 0 }])
  const net = presolve(problem)
  const whole = buildModel(net, { whole: new Set() })
  const lp = load(whole.milp)
  const first = lp.solve({ timeLimit: 5 })
  if (!first) throw new Error('one offer is enough')
  const tightened = tightenAmongFew(net, whole, lp, first, { milp, load, finder: new PackCuts(net, load), left: () => 5, over: () => true }) // prettier-ignore
  expect(tightened?.few.cuts).toEqual(NO_CUTS)
  expect(tightened?.all.solution.objective).toBeCloseTo(50, 6)
  tightened?.few.lp.close()
  lp.close()
})

test('a need is what all lines on the same items ask for, less what is owned; items that sets hold are left out', () => {
  const base = oneLine(8, [{ price: 10, pack: 1, packs: 20, fee: 0 }])
  const twice: SourcingProblem = {
    ...base,
    items: base.items.map((item) => ({ ...item, owned: 3 })),
    lines: [...base.lines, { id: 'm', qty: 2, accepts: [{ id: 'b', uses: [{ item: 'i', qty: 2 }], penalty: 0 }] }],
  }
  expect(needsOf(presolve(twice))).toEqual([{ pieces: 8 + 2 * 2 - 3, offers: [0] }])
  const set = { id: 'x', price: 100, maxCopies: 1, contents: [{ item: 'i', qty: 1 }] }
  expect(needsOf(presolve({ ...twice, sets: [set] }))).toEqual([])
})

test('needs that take too long to look at are left alone', () => {
  const offer = { price: 7, pack: 3, packs: 200, fee: 5 }
  const cutsOf = (count: number) => {
    const net = presolve(
      oneLine(
        200,
        Array.from({ length: count }, () => offer),
      ),
    )
    const model = buildModel(net, { whole: new Set() })
    const lp = load(model.milp)
    const x = lp.solve({ timeLimit: 20 })?.x
    lp.close()
    return x && new PackCuts(net, load).violated(model, x, () => false).length
  }
  // 67 packs at most of each offer, for 200 pieces.
  expect(cutsOf(200)).toBe(1)
  expect(cutsOf(300)).toBe(0)
})
