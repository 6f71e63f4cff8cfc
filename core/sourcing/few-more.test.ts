import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { fewMore, withMore } from './few-more.ts'
import type { SourcingProblem } from './problem.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { currency } from '../units/money.ts'

const milp = highsSolver(await loadHighs())
const solve = (problem: SourcingProblem) =>
  solveSourcing(problem, { timeLimit: 20, now: () => performance.now() / 1000, milp })

const shop = (id: string, more: Partial<SourcingProblem['shops'][number]> = {}) => ({
  id,
  kind: 'shop' as const,
  minOrder: 0,
  bands: [
    { maxMass: 20_000, fee: 300 },
    { maxMass: 50_000, fee: 400 },
  ],
  service: null,
  handling: 0,
  lineFee: 0,
  leadDays: 3,
  reliability: 1,
  status: 'free' as const,
  ...more,
})
const problem: SourcingProblem = {
  format: 'sourcing-problem',
  version: 2,
  id: 'more',
  currency: currency('EUR'),
  maxShops: null,
  deadlineDays: null,
  items: ['p-rare|c-x', 'p-plain|c-x'].map((id) => ({ id, part: id, colour: 'c', mass: 2000, owned: 0, resale: null })),
  lines: [3, 7].map((qty, i) => ({
    id: `d${i}`,
    qty,
    accepts: [{ id: 'exact', uses: [{ item: i === 0 ? 'p-rare|c-x' : 'p-plain|c-x', qty: 1 }], penalty: 0 }],
  })),
  shops: [shop('a'), shop('b', { minOrder: 500 })],
  offers: [
    { id: 'rare', shop: 'a', item: 'p-rare|c-x', price: 40, stock: 9, pack: 1 },
    { id: 'plain', shop: 'a', item: 'p-plain|c-x', price: 10, stock: 99, pack: 1 },
    { id: 'other', shop: 'b', item: 'p-plain|c-x', price: 12, stock: 99, pack: 1 },
  ],
  sets: [],
  onOrder: [],
  levies: [],
}

test('by hand: one more of what one shop alone has fills the parcel beyond a band, and costs an order later', () => {
  const plan = solve(problem)
  // 3 × 40 + 7 × 10 + 300 for 20 g: the next piece is 40 or 10 and the next band 100 dearer.
  expect(plan.total).toBe(490)
  expect(fewMore({ problem, plan }, new Map(), false)).toEqual([
    {
      item: 'p-rare|c-x',
      offer: 'rare',
      shop: 'a',
      reasons: ['one shop'],
      bought: 3,
      more: 1,
      costs: 140,
      later: 340,
      // 140 of 340: from 42 % on.
      paysFrom: 42,
    },
  ])
  // Seven to ten; later at b at least its minimum and a parcel, at a 10 and a parcel.
  const [, plain] = fewMore({ problem, plan }, new Map(), true).sort((p, q) => (p.offer < q.offer ? 1 : -1))
  expect(plain).toMatchObject({ offer: 'plain', bought: 7, more: 3, costs: 130, later: 310, reasons: ['round number'] })
})

test('one more is a plan that holds, dearer by just what was said, with its distance from the least', () => {
  let asked = 0
  fc.assert(
    fc.property(smallProblem(), (some) => {
      const plain = { ...some, maxPieces: null }
      const plan = solve(plain)
      if (plan.total === null) return
      for (const one of fewMore({ problem: plain, plan }, new Map(), true)) {
        const more = withMore(plain, plan, one.offer, one.more)
        if (!more) throw new Error('it does not hold')
        asked++
        expect(more.total).toBe(plan.total + one.costs)
        expect(more.bound).toBe(plan.bound)
        expect(more.status === 'optimal').toBe(one.costs <= 0)
      }
    }),
    { numRuns: 80, seed: 3 },
  )
  expect(asked).toBeGreaterThan(20)
})

test('more than there is, or a broken pack, is no plan', () => {
  const plan = solve(problem)
  expect(withMore(problem, plan, 'rare', 7)).toBeUndefined()
  expect(withMore(problem, plan, 'nobody', 1)).toBeUndefined()
  const packs = { ...problem, offers: problem.offers.map((o) => ({ ...o, pack: 3 })) }
  expect(withMore(packs, solve(packs), 'rare', 1)).toBeUndefined()
})
