import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { currency } from '../units/money.ts'
import { bestFew } from './best-few.ts'
import { traceFrontier } from './frontier.ts'
import type { SourcingProblem } from './problem.ts'
import { solveSourcing } from './solve.ts'

const options = { timeLimit: 20, now: () => performance.now() / 1000, milp: highsSolver(await loadHighs()) }

/** Two a and four b: loose at 10 each, or a donor with an a for 300, and one with two b for 100. */
const problem: SourcingProblem = {
  format: 'sourcing-problem',
  version: 2,
  id: 'few',
  currency: currency('EUR'),
  maxShops: null,
  deadlineDays: null,
  items: ['a', 'b'].map((id) => ({ id, part: id, colour: 'c', mass: 1000, owned: 0, resale: null })),
  lines: [
    { id: 'da', qty: 2, accepts: [{ id: 'exact', uses: [{ item: 'a', qty: 1 }], penalty: 0 }] },
    { id: 'db', qty: 4, accepts: [{ id: 'exact', uses: [{ item: 'b', qty: 1 }], penalty: 0 }] },
  ],
  shops: [
    {
      id: 's',
      kind: 'shop',
      minOrder: 0,
      bands: [],
      service: null,
      handling: 0,
      lineFee: 0,
      leadDays: 2,
      reliability: 1,
      status: 'free',
    },
  ],
  offers: ['a', 'b'].map((item) => ({ id: `o ${item}`, shop: 's', item, price: 10, stock: 9, pack: 1 })),
  sets: [
    { id: 'sa', price: 300, maxCopies: 2, contents: [{ item: 'a', qty: 1 }] },
    { id: 'sb', price: 100, maxCopies: 2, contents: [{ item: 'b', qty: 2 }] },
  ],
  onOrder: [],
  levies: [],
}

test('by hand: beyond the fewest loose pieces, none, the two a save most for each piece', () => {
  const base = solveSourcing(problem, options)
  expect(base.total).toBe(60)
  const { points } = traceFrontier(problem, base, 'maxPieces', options)
  // Six loose 60, four 220 − …: without any 800; with one a 510, with both 220.
  const best = bestFew(points)
  expect(points.at(-1)).toMatchObject({ limit: 0, plan: { total: 800 } })
  expect(best).toMatchObject({ from: 0, items: [{ item: 'a' }] })
  expect((best?.saves ?? 0) / (best?.pieces ?? 1)).toBe(290)
})

test('no step, or none that saves anything, is nothing to tell', () => {
  const plan = solveSourcing(problem, options)
  expect(bestFew([])).toBeUndefined()
  expect(bestFew([{ limit: 6, problem, plan }])).toBeUndefined()
  expect(
    bestFew([
      { limit: 6, problem, plan },
      { limit: 4, problem, plan },
    ]),
  ).toBeUndefined()
})
