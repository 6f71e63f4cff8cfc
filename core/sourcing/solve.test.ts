import { readFileSync, readdirSync } from 'node:fs'
import fc from 'fast-check'
import loadHighs from 'highs'
import { currency } from '../units/money.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import { biggestShopFirst, cheapestLineByLine } from './baselines.ts'
import { parseSourcingProblem, type SourcingProblem } from './problem.ts'
import { solveSourcing, type SolveOptions } from './solve.ts'
import { optimumByYalps, smallProblem } from './small-problem.test-data.ts'
import { verifyPlan } from './verify-plan.ts'

const milp = highsSolver(await loadHighs())
const now = () => performance.now() / 1000
const solve = (problem: SourcingProblem, more: Partial<SolveOptions> = {}) =>
  solveSourcing(problem, { timeLimit: 20, now, milp, ...more })

const cases = new URL('./cases/', import.meta.url)
const load = (file: string): SourcingProblem => {
  const parsed = parseSourcingProblem(JSON.parse(readFileSync(new URL(file, cases), 'utf8')))
  if (!parsed.ok) throw new Error(parsed.error.message)
  return parsed.value
}

// Optima reasoned by hand, step by step, in docs/formats/sourcing.md.
const BY_HAND: Record<string, number> = {
  'tiny-1-shipping.json': 645,
  'tiny-2a-minorder-pad.json': 700,
  'tiny-2b-minorder-switch.json': 690,
  'tiny-3-donorset.json': 1290,
  'tiny-4-split.json': 280,
  'tiny-5-levy.json': 266,
  'tiny-6-one-copy.json': 1380,
}

test.each(readdirSync(cases))('%s has the optimum reasoned by hand, proven', (file) => {
  const plan = solve(load(file))
  expect([plan.status, plan.total, plan.bound, plan.gap]).toEqual(['optimal', BY_HAND[file], BY_HAND[file], 0])
})

test('the habits of the trade cost what the hand calculation says', () => {
  const naive = cheapestLineByLine(load('tiny-1-shipping.json'))
  expect(naive.kind === 'plan' && naive.total).toBe(1200)
  const big = biggestShopFirst(load('tiny-1-shipping.json'))
  expect(big.kind === 'plan' && big.total >= 645).toBe(true)
})

test('random small problems: the optimum of a second solver, to the cent', () => {
  let feasible = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const expected = optimumByYalps(problem)
      const plan = solve(problem)
      if (expected === undefined) {
        expect([plan.status, plan.total]).toEqual(['infeasible', null])
        expect(plan.unreachable.length).toBeGreaterThan(0)
      } else {
        feasible++
        expect([plan.status, plan.total, plan.bound]).toEqual(['optimal', expected, expected])
      }
    }),
    { numRuns: 120, seed: 20261125 },
  )
  expect(feasible).toBeGreaterThan(40)
})

test('a textbook transportation problem', () => {
  // W. L. Winston, Operations Research: Applications and Algorithms, chapter 7, the Powerco example (recalled from
  // memory): supplies 35, 50, 40; demands 45, 20, 30, 30; optimum 1020. A plant's supply is a parcel limit here.
  const cost = [
    [8, 6, 10, 9],
    [9, 12, 13, 7],
    [14, 9, 16, 5],
  ]
  const problem: SourcingProblem = {
    format: 'sourcing-problem',
    version: 1,
    id: 'transport',
    currency: currency('USD'),
    maxShops: null,
    deadlineDays: null,
    items: [0, 1, 2, 3].map((i) => ({ id: `e${i}`, part: 'p', colour: 'c', mass: 1, owned: 0, resale: null })),
    lines: [45, 20, 30, 30].map((qty, i) => ({
      id: `d${i}`,
      qty,
      accepts: [{ id: 'exact', uses: [{ item: `e${i}`, qty: 1 }], penalty: 0 }],
    })),
    shops: [35, 50, 40].map((supply, s) => ({
      id: `s${s}`,
      kind: 'shop',
      minOrder: 0,
      bands: [{ maxMass: supply, fee: 0 }],
      service: null,
      handling: 0,
      lineFee: 0,
      leadDays: 1,
      reliability: 1,
      status: 'free',
    })),
    offers: cost.flatMap((row, s) =>
      row.map((price, i) => ({ id: `o${s}${i}`, shop: `s${s}`, item: `e${i}`, price, stock: 99, pack: 1 })),
    ),
    sets: [],
    onOrder: [],
  }
  const plan = solve(problem)
  expect([plan.status, plan.total]).toEqual(['optimal', 1020])
})

test('what cannot be had is named with the reason', () => {
  const problem = load('tiny-1-shipping.json')
  const none = solve({ ...problem, offers: problem.offers.filter((o) => o.item !== 'e3') })
  expect(none.unreachable).toEqual([
    { line: 'd3', short: 5, reason: 'not-offered', detail: expect.stringContaining('no shop offers it') },
  ])
  const slow = solve({ ...problem, deadlineDays: 1 })
  expect(slow.status).toBe('infeasible')
  expect(slow.unreachable.every((u) => u.reason === 'rules')).toBe(true)
  const [shop] = problem.shops
  const scarce = {
    ...problem,
    maxShops: 1,
    offers: problem.offers.filter((o) => (o.shop === shop?.id) === (o.item === 'e1')),
  }
  expect(solve(scarce).unreachable).toEqual([
    {
      line: '',
      short: 0,
      reason: 'joint',
      detail: 'at most 1 shop may be used, but no fewer than 2 together have everything',
    },
  ])
  expect(solve({ ...scarce, maxShops: 2 }).status).toBe('optimal')
})

test('a stopped or hurried run still gives a verified plan and an honest gap', () => {
  const problem = load('tiny-1-shipping.json')
  let reports = 0
  const stopped = solve(problem, { shouldStop: () => reports > 0, onProgress: () => reports++ })
  expect(['cancelled', 'optimal']).toContain(stopped.status)
  const verdict = verifyPlan(problem, stopped)
  expect(verdict.ok && verdict.total).toBe(stopped.total)
  expect(stopped.total).toBeGreaterThanOrEqual(645)
})

test('the verifier rejects every tampered plan', () => {
  const problem = load('tiny-3-donorset.json')
  const plan = solve({ ...problem, sets: [] })
  expect(verifyPlan({ ...problem, sets: [] }, plan).ok).toBe(true)
  for (const [i, purchase] of plan.purchases.entries()) {
    const fewer = plan.purchases.map((p, k) => (k === i ? { ...p, packs: p.packs - 1 } : p))
    expect(verifyPlan(problem, { ...plan, purchases: fewer }).ok).toBe(false)
    const stock = problem.offers.find((o) => o.id === purchase.offer)?.stock ?? 0
    const more = plan.purchases.map((p, k) => (k === i ? { ...p, packs: stock + 1 } : p))
    expect(verifyPlan(problem, { ...plan, purchases: more }).ok).toBe(false)
  }
  expect(verifyPlan({ ...problem, maxShops: 0 }, plan).ok).toBe(false)
  expect(
    verifyPlan({ ...problem, shops: problem.shops.map((s) => ({ ...s, status: 'excluded' as const })) }, plan).ok,
  ).toBe(false)
  expect(verifyPlan({ ...problem, shops: problem.shops.map((s) => ({ ...s, minOrder: 99_999 })) }, plan).ok).toBe(false)
  expect(verifyPlan(problem, { ...plan, sets: [{ set: 'nowhere', copies: 1 }] }).ok).toBe(false)
  expect(verifyPlan(problem, { ...plan, assignments: [{ line: 'd1', accept: 'exact', qty: 1 }] }).ok).toBe(false)
})

test.each([
  [{}, /format/],
  [{ ...load('tiny-1-shipping.json'), currency: 'QQQ' }, /currency.*ISO 4217/],
  [
    { ...load('tiny-1-shipping.json'), offers: [{ id: 'o', shop: 's1', item: 'gone', price: 1, stock: 1, pack: 1 }] },
    /no item "gone"/,
  ],
  [{ ...load('tiny-1-shipping.json'), lines: [{ id: 'd', qty: 1.5, accepts: [] }] }, /lines\.0\.qty/],
])('bad input is refused with its place: %#', (value, message) => {
  const parsed = parseSourcingProblem(value)
  expect(parsed.ok ? '' : parsed.error.message).toMatch(message)
})

test('the costliest mistakes of buying by hand are those of the hand calculation, the costliest first', () => {
  // Three parcels of 3.00: without s3 five e3 cost 0.02 more each, without s1 ten e1, without s2 ten e2 at s3 0.03 more.
  expect(cheapestLineByLine(load('tiny-1-shipping.json'))).toMatchObject({
    mistakes: [
      { kind: 'needless order', of: 's3', saves: 290 },
      { kind: 'needless order', of: 's1', saves: 280 },
      { kind: 'needless order', of: 's2', saves: 270 },
    ],
  })
  // Without s2: 4.00 less a parcel, ten e2 at 0.05 more. A set for 5.00 holds 6 × 0.40 + 4 × 0.30 + 3 × 0.60.
  expect(cheapestLineByLine(load('tiny-3-donorset.json'))).toMatchObject({
    mistakes: [
      { kind: 'needless order', of: 's2', saves: 350 },
      { kind: 'missed copy', of: 'k1', saves: 40 },
    ],
  })
})

test('a plan that is good enough ends the search, with its gap said', () => {
  fc.assert(
    fc.property(smallProblem(), fc.constantFrom(0.1, 0.5), (problem, goodEnough) => {
      const plan = solve(problem, { goodEnough })
      if (plan.total === null || plan.gap === null) return
      expect(plan.gap).toBeLessThanOrEqual(goodEnough)
      const least = optimumByYalps(problem) ?? NaN
      expect([plan.total >= least, (plan.bound ?? Infinity) <= least]).toEqual([true, true])
      if (plan.status === 'optimal') expect(plan.total).toBe(least)
    }),
    { numRuns: 80, seed: 47 },
  )
})
