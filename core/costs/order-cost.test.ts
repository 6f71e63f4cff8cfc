import fc from 'fast-check'
import { smallProblem } from '../sourcing/small-problem.test-data.ts'
import { NO_SOLVER } from '../solver/milp.ts'
import { leviesOf } from '../sourcing/problem.ts'
import { solveSourcing } from '../sourcing/solve.ts'
import { verifyPlan } from '../sourcing/verify-plan.ts'
import { orderCost, orderTotal, serviceFee, shippingFee, shortOfMinimum } from './order-cost.ts'

test('an order costs what the verifier says of it, shop by shop', () => {
  let orders = 0
  let levied = 0
  fc.assert(
    fc.property(smallProblem(), (problem) => {
      const plan = solveSourcing(problem, { timeLimit: 2, now: () => performance.now() / 1000, milp: NO_SOLVER })
      const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
      if (!verdict?.ok) return
      const offers = new Map(problem.offers.map((o) => [o.id, o]))
      const massOf = new Map(problem.items.map((i) => [i.id, i.mass]))
      for (const [id, order] of verdict.orders) {
        const shop = problem.shops.find((s) => s.id === id)
        if (!shop) throw new Error('a shop of the problem')
        const own = plan.purchases.flatMap(({ offer, packs }) => {
          const found = offers.get(offer)
          return found?.shop === id && packs > 0 ? [{ ...found, pieces: packs * found.pack }] : []
        })
        const goods = own.reduce((sum, o) => sum + o.pieces * o.price, 0)
        const mass = own.reduce((sum, o) => sum + o.pieces * (massOf.get(o.item) ?? 0), 0)
        const cost = orderCost({ ...shop, levies: leviesOf(problem, shop) }, { goods, mass, lines: own.length })
        if (order.levies > 0) levied++
        const { mass: weighed, ...parts } = order
        expect(cost).toEqual(parts)
        expect(weighed).toBe(mass)
        orders++
      }
    }),
    { numRuns: 500 },
  )
  expect(orders).toBeGreaterThan(50)
  expect(levied).toBeGreaterThan(10)
})

const bands = [
  { maxMass: 100_000, fee: 300 },
  { maxMass: 500_000, fee: 650 },
]

// Common practice: a band takes what weighs just as much as it says; a fee below a threshold is not due at it.
test.each([
  [0, 300],
  [100_000, 300],
  [100_001, 650],
  [500_000, 650],
  [500_001, undefined],
])('a parcel of %i mg costs %s to send', (mass, fee) => {
  expect(shippingFee(bands, mass)).toBe(fee)
})

test('a shop without bands sends for nothing; fees end at their thresholds', () => {
  expect(shippingFee([], 9e9)).toBe(0)
  const service = { threshold: 1000, fee: 150 }
  expect([999, 1000].map((goods) => serviceFee(service, goods))).toEqual([150, 0])
  expect(serviceFee(null, 0)).toBe(0)
  expect([999, 1000, 1001].map((goods) => shortOfMinimum({ minOrder: 1000 }, goods))).toEqual([1, 0, 0])
})

test('a bill in other money by hand: changed once, parts by the largest remainder, tax on what it comes to', () => {
  const terms = { minOrder: 0, bands, service: null, handling: 80, lineFee: 0, rate: 1_064_000_000 }
  const tax = { rate: 2000, on: 'goods and shipping', threshold: 950, fee: 600 } as const
  // 900 + 650 + 80 = 1630 at 1.064: 1734.32. Of 1734 goods are 957.4, shipping 691.5, handling 85.1.
  expect(orderCost({ ...terms, levies: [tax] }, { goods: 900, mass: 200_000, lines: 4 })).toEqual({
    ...{ goods: 957, shipping: 692, handling: 85, lineFees: 0, service: 0, levies: 347 + 600 },
    billed: { goods: 900, shipping: 650, handling: 80, lineFees: 0, service: 0 },
  })
})

test('an order adds up by hand, tax on goods and all fees', () => {
  const terms = { minOrder: 0, bands, service: { threshold: 1000, fee: 150 }, handling: 80, lineFee: 5 }
  const tax = { rate: 2000, on: 'goods and shipping', threshold: 0, fee: 0 } as const
  const cost = orderCost({ ...terms, levies: [tax] }, { goods: 900, mass: 200_000, lines: 4 })
  // 900 + 650 + 80 + 20 + 150 = 1800, and a fifth of it.
  expect(cost && orderTotal(cost)).toBe(2160)
  expect(orderCost(terms, { goods: 900, mass: 900_000, lines: 4 })).toBeUndefined()
})
