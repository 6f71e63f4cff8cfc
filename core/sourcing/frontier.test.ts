import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { currency } from '../units/money.ts'
import {
  PRICED_RULES,
  neededBy,
  restricted,
  settledFrontier,
  stepCost,
  traceFrontier,
  type FrontierPoint,
} from './frontier.ts'
import type { SourcingPlan } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { optimumByYalps, smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

const milp = highsSolver(await loadHighs())
const now = () => performance.now() / 1000
const options = { timeLimit: 20, now, milp }

/** Problems whose shops are free, well stocked, cheap to order from and of different speed: many have something to trade. */
const roomy = smallProblem().map((problem): SourcingProblem => ({
  ...problem,
  maxShops: null,
  deadlineDays: null,
  sets: [],
  shops: problem.shops.map((shop, s) => ({
    ...shop,
    status: 'free',
    leadDays: [40, 20, 3][s] ?? 3,
    minOrder: 0,
    service: null,
    bands: shop.bands.map((band) => ({ ...band, fee: Math.round(band.fee / 10) })),
  })),
  offers: problem.offers.map((offer) => ({ ...offer, stock: offer.stock + 12 })),
}))

test('every value of a rule costs what a second solver finds for it, and the end is where it finds none', () => {
  let steps = 0
  fc.assert(
    fc.property(fc.oneof(smallProblem(), roomy, roomy), fc.constantFrom(...PRICED_RULES), (problem, rule) => {
      const base = solveSourcing(problem, options)
      if (base.total === null) return
      const { points, end } = traceFrontier(problem, base, rule, options)
      steps += points.length - 1
      // Of loose pieces not every value is asked for, but those that are cost just that.
      const values =
        rule === 'maxShops' ? [1, 2, 3] : rule === 'deadlineDays' ? [3, 19, 20, 40] : points.map((p) => p.limit)
      for (const value of values) {
        const serving = points.find((p) => p.limit <= value)
        const least = optimumByYalps(restricted(problem, rule, value))
        expect([rule, value, serving?.plan.total]).toEqual([rule, value, least])
      }
      expect(['none can exist', 'tightest']).toContain(end)
      const tightest = points.at(-1)?.limit ?? 0
      if (rule === 'maxPieces' && tightest > 0)
        expect([tightest, optimumByYalps(restricted(problem, rule, tightest - 1))]).toEqual([tightest, undefined])
      for (const { problem: asked, plan, limit } of points) {
        const verdict = verifyPlan(asked, plan)
        expect(verdict.ok && verdict.total).toBe(plan.total)
        expect([plan.status, neededBy(asked, plan, rule)]).toEqual(['optimal', limit])
      }
    }),
    { numRuns: 120 },
  )
  // Some eighteen are to be expected.
  expect(steps).toBeGreaterThan(2)
})

/** Two shops each cheap for one piece, with a parcel of 2.00 each; a third has both, dearer and sooner. */
const threeShops: SourcingProblem = {
  format: 'sourcing-problem',
  version: 1,
  id: 'three shops',
  currency: currency('EUR'),
  maxShops: null,
  deadlineDays: null,
  items: ['e1', 'e2'].map((id) => ({ id, part: id, colour: 'c', mass: 1000, owned: 0, resale: null })),
  lines: ['e1', 'e2'].map((id) => ({
    id: `d ${id}`,
    qty: 10,
    accepts: [{ id: 'exact', uses: [{ item: id, qty: 1 }], penalty: 0 }],
  })),
  shops: [
    { id: 's1', leadDays: 20 },
    { id: 's2', leadDays: 9 },
    { id: 's3', leadDays: 4 },
  ].map((shop) => ({
    ...shop,
    kind: 'shop',
    minOrder: 0,
    bands: [{ maxMass: 50_000, fee: 200 }],
    service: null,
    handling: 0,
    lineFee: 0,
    reliability: 1,
    status: 'free',
  })),
  offers: [
    { id: 'o1', shop: 's1', item: 'e1', price: 10 },
    { id: 'o2', shop: 's2', item: 'e2', price: 10 },
    { id: 'o3', shop: 's3', item: 'e1', price: 30 },
    { id: 'o4', shop: 's3', item: 'e2', price: 40 },
  ].map((offer) => ({ ...offer, stock: 100, pack: 1 })),
  sets: [],
  onOrder: [],
}

test('fewer orders and sooner parcels cost what the hand calculation says', () => {
  const base = solveSourcing(threeShops, options)
  // 10 × 0.10 + 10 × 0.10 + 2 × 2.00.
  expect(base.total).toBe(600)
  const orders = traceFrontier(threeShops, base, 'maxShops', options)
  // One order: 10 × 0.30 + 10 × 0.40 + 2.00.
  expect(orders.points.map((p) => [p.limit, p.plan.total])).toEqual([
    [2, 600],
    [1, 900],
  ])
  expect(orders.end).toBe('tightest')
  const [two, one] = orders.points as [FrontierPoint, FrontierPoint]
  expect(stepCost(two, one)).toEqual({ least: 300, most: 300 })
  // A set of five e1 for 9.00 spares five loose pieces; both lines need twenty.
  const withSet = { ...threeShops, sets: [{ id: 'x', price: 900, maxCopies: 1, contents: [{ item: 'e1', qty: 5 }] }] }
  const pieces = traceFrontier(withSet, base, 'maxPieces', options)
  expect([pieces.points.map((p) => [p.limit, p.plan.total]), pieces.end]).toEqual([
    [
      [20, 600],
      // 5 × 0.10 + 10 × 0.10 + 4.00 + 9.00.
      [15, 1450],
    ],
    'tightest',
  ])
  const days = traceFrontier(threeShops, base, 'deadlineDays', options)
  // Within 9 days: e1 from s3, e2 from s2, 3.00 + 1.00 + 4.00; within 4 days all from s3.
  expect(days.points.map((p) => [p.limit, p.plan.total])).toEqual([
    [20, 600],
    [9, 800],
    [4, 900],
  ])
  // Nobody sends sooner.
  expect(days.end).toBe('none can exist')
  // With s3 left out nobody has both within 9.
  const without = {
    ...threeShops,
    shops: threeShops.shops.map((s) => (s.id === 's3' ? { ...s, status: 'excluded' as const } : s)),
  }
  expect(traceFrontier(without, base, 'deadlineDays', options)).toMatchObject({
    points: [{ limit: 20 }],
    end: 'none can exist',
  })
})

/** A point without its plan's contents. */
const point = (limit: number, total: number, bound: number | null): FrontierPoint => ({
  limit,
  problem: threeShops,
  plan: { total, bound, gap: null, status: 'feasible' } as SourcingPlan,
})

test('what is not proven is made to agree: tighter plans serve looser values, looser bounds hold for tighter ones', () => {
  const { points } = settledFrontier({
    rule: 'maxShops',
    points: [point(6, 1000, 950), point(5, 990, 900), point(4, 1010, 980), point(3, 1010, null), point(2, 1200, 1100)],
    end: 'stopped',
  })
  expect(points.map(({ limit, plan: { total, bound } }) => [limit, total, bound])).toEqual([
    [5, 990, 950],
    [3, 1010, 980],
    [2, 1200, 1100],
  ])
  expect(points.map((p) => stepCost(points[0] as FrontierPoint, p))).toEqual([
    { least: 0, most: 40 },
    { least: 0, most: 60 },
    { least: 110, most: 250 },
  ])
  // A bound that reaches a plan's total proves it.
  const proven = settledFrontier({
    rule: 'maxShops',
    points: [point(3, 500, 480), point(2, 480, 400)],
    end: 'tightest',
  })
  expect(proven.points.map((p) => [p.limit, p.plan.status, p.plan.gap])).toEqual([[2, 'optimal', 0]])
})

test('a search that is stopped keeps the points it has', () => {
  const base = solveSourcing(threeShops, options)
  let found = 0
  const asked: number[] = []
  const { points, end } = traceFrontier(threeShops, base, 'deadlineDays', {
    ...options,
    onAsk: (limit) => asked.push(limit),
    onPoint: () => found++,
    shouldStop: () => found > 0,
  })
  expect([points.map((p) => p.limit), end, asked]).toEqual([[20, 9], 'stopped', [9]])
})
