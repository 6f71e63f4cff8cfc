import { readFileSync, readdirSync } from 'node:fs'
import fc from 'fast-check'
import loadHighs from 'highs'
import { currency } from '../units/money.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import { biggestShopFirst, cheapestLineByLine } from './baselines.ts'
import type { Decisions } from './plan.ts'
import { parseSourcingProblem, type SourcingProblem } from './problem.ts'
import { solveSourcing, type SolveOptions } from './solve.ts'
import { optimumByYalps, plainShop, smallProblem } from './small-problem.test-data.ts'
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
  'tiny-7-figure.json': 300,
  'tiny-8-exchange.json': 140,
}

test.each(readdirSync(cases))('%s has the optimum reasoned by hand, proven', (file) => {
  const plan = solve(load(file))
  expect([plan.status, plan.total, plan.bound, plan.gap]).toEqual(['optimal', BY_HAND[file], BY_HAND[file], 0])
})

test('a second copy pays only where its figure is sold whole', () => {
  const problem = load('tiny-7-figure.json')
  const found = solve(problem)
  expect(found.sets).toEqual([{ set: 'k1', copies: 2 }])
  expect(found.figures).toEqual([{ set: 'k1', figure: 'lamplighter', qty: 2 }])
  // In pieces each figure earns 0.30: no copy, sixteen e1 at 0.20 and a parcel.
  const inPieces = solve({ ...problem, sets: problem.sets.map(({ figures: _, ...set }) => set) })
  expect([inPieces.total, inPieces.sets]).toEqual([520, []])
})

test('of figures with one id no more are sold than find a buyer, of whichever sets: by hand 510 instead of 300', () => {
  const problem = load('tiny-7-figure.json')
  // The two copies at prices of their own, one buyer: the second copy leaves its figure in pieces.
  const [set] = problem.sets
  if (!set) throw new Error('there is a set')
  const limited = (id: string) => ({
    ...set,
    id,
    maxCopies: 1,
    figures: (set.figures ?? []).map((f) => ({ ...f, max: 1 })),
  })
  const one = { ...problem, sets: [limited('k1'), limited('k2')] }
  const plan = solve(one)
  expect([plan.status, plan.total, plan.figures?.length]).toEqual(['optimal', 510, 1])
  const both = ['k1', 'k2'].map((k) => ({ set: k, figure: 'lamplighter', qty: 1 }))
  const verdict = verifyPlan(one, {
    ...plan,
    purchases: [],
    sets: ['k1', 'k2'].map((k) => ({ set: k, copies: 1 })),
    figures: both,
  })
  expect(verdict.ok ? [] : verdict.faults).toEqual(['figure "lamplighter": 2 sold in all, at most 1 may be'])
})

test('the verifier refuses figures that are not left over, or more of them than copies', () => {
  const problem = load('tiny-7-figure.json')
  const plan = solve(problem)
  const selling = (figures: Decisions['figures'], more: Partial<Decisions> = {}) => {
    const verdict = verifyPlan(problem, { ...plan, ...more, figures })
    return verdict.ok ? verdict.total : verdict.faults[0]
  }
  expect(selling([])).toBe(740)
  expect(selling([{ set: 'k1', figure: 'lamplighter', qty: 1 }])).toBe(520)
  expect(selling([{ set: 'k1', figure: 'lamplighter', qty: 3 }])).toMatch('at most 2')
  expect(selling([{ set: 'k1', figure: 'nobody', qty: 1 }])).toMatch('no figure "nobody"')
  const twice = [1, 1].map((qty) => ({ set: 'k1', figure: 'lamplighter', qty }))
  expect(selling(twice)).toMatch('listed twice')
  const short: SourcingProblem = {
    ...problem,
    sets: problem.sets.map((set) => ({ ...set, contents: set.contents.filter((c) => c.item !== 'legs') })),
  }
  const verdict = verifyPlan(short, plan)
  expect(verdict.ok ? [] : verdict.faults).toContain('item "legs": 2 sold in figures, 0 left over')
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
    shops: [35, 50, 40].map((supply, s) => ({ ...plainShop(`s${s}`), bands: [{ maxMass: supply, fee: 0 }] })),
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

/** A case of version 1 whose offers have a penalty. */
const weighed = (version: 1 | 2): SourcingProblem => {
  const problem = load('tiny-1-shipping.json')
  return { ...problem, version, offers: problem.offers.map((o) => ({ ...o, penalty: o.shop === 's3' ? 1 : 5 })) }
}

/** The case in other money, its shop otherwise, its prices so many times. */
const atRate = (shop: object, times = 1) => {
  const problem = load('tiny-8-exchange.json')
  return {
    ...problem,
    shops: problem.shops.map((s) => ({ ...s, levies: undefined, ...(s.id === 's2' ? shop : {}) })),
    offers: problem.offers.map((o) => ({ ...o, price: o.price * times })),
  }
}

test.each([
  [{}, /format/],
  [{ ...load('tiny-1-shipping.json'), currency: 'QQQ' }, /currency.*ISO 4217/],
  [
    { ...load('tiny-1-shipping.json'), offers: [{ id: 'o', shop: 's1', item: 'gone', price: 1, stock: 1, pack: 1 }] },
    /no item "gone"/,
  ],
  [{ ...load('tiny-1-shipping.json'), lines: [{ id: 'd', qty: 1.5, accepts: [] }] }, /lines\.0\.qty/],
  [atRate({ rate: 0 }), /shops\.1\.rate/],
  [atRate({ rate: 0.95 }), /shops\.1\.rate/],
  [atRate({ rate: undefined }), /shops\.1\.rate: amounts in CHF need a rate to EUR/],
  [atRate({ currency: 'QQQ' }), /shops\.1\.currency.*ISO 4217/],
  [atRate({ rate: 1e15 }, 1e9), /add up to more than can be counted exactly/],
  [{ ...atRate({}), version: 1, levies: undefined }, /shops\.1\.rate: only version 2/],
  [weighed(1), /offers\.0\.penalty: only version 2/],
  [{ ...weighed(2), offers: weighed(2).offers.map((o) => ({ ...o, penalty: -1 })) }, /offers\.0\.penalty/],
])('bad input is refused with its place: %#', (value, message) => {
  const parsed = parseSourcingProblem(value)
  expect(parsed.ok ? '' : parsed.error.message).toMatch(message)
})

test('an offer’s penalty is weighed by the piece and is in no bill', () => {
  // 25 pieces: s1 650 + 125, s2 645 + 125, s3 660 + 25.
  const problem = weighed(2)
  const plan = solve(problem)
  expect(plan).toMatchObject({ total: 685, status: 'optimal', cost: { goods: 360, shipping: 300, penalties: 25 } })
  const verdict = verifyPlan(problem, plan)
  expect(verdict.ok && [...verdict.orders].map(([shop, { goods }]) => [shop, goods])).toEqual([['s3', 360]])
})

test('a bill in other money is changed all at once, its parts add up to that, and a levy is due on what goods come to', () => {
  // 10 × 9 + 33 = 123 at 1.05 is 129.15; goods of 94.5 are 95, just the threshold, of which a fifth is 19.
  const problem = load('tiny-8-exchange.json')
  const bought = (shop: string) =>
    verifyPlan(problem, { purchases: [{ offer: `${shop} e1`, packs: 10 }], sets: [], assignments: [] })
  expect(bought('s3')).toMatchObject({ ok: true, total: 148, cost: { goods: 94, shipping: 35, levies: 19 } })
  // 110 + 37 at 0.95: 139.65, of which goods are 104.76 and shipping 35.24 of 140.
  expect(bought('s2')).toMatchObject({ ok: true, total: 140, cost: { goods: 105, shipping: 35, levies: 0 } })
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
