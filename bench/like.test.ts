import fc from 'fast-check'
import { parseSourcingProblem, type SourcingProblem } from '../core/sourcing/problem.ts'
import { smallProblem } from '../core/sourcing/small-problem.test-data.ts'
import { drawnLike } from './like.ts'

const offersOf = ({ offers }: SourcingProblem, shop: string) => offers.filter((o) => o.shop === shop)

test('a problem drawn like another: its shops with as many offers, in stock for every line; the same for the same seed', () => {
  let redealt = 0
  fc.assert(
    fc.property(smallProblem(7), fc.nat(), (problem, seed) => {
      const drawn = drawnLike(problem, seed)
      expect(drawnLike(problem, seed)).toEqual(drawn)
      expect(parseSourcingProblem(JSON.parse(JSON.stringify(drawn)))).toMatchObject({ ok: true })
      expect(drawn.shops).toEqual(problem.shops)
      for (const { id } of problem.shops) expect(offersOf(drawn, id)).toHaveLength(offersOf(problem, id).length)
      for (const line of drawn.lines) {
        const enough = line.accepts.some(({ uses }) =>
          uses.every(({ item, qty }) => {
            const own = drawn.offers.filter((o) => o.item === item)
            return own.reduce((sum, o) => sum + Math.floor(o.stock / o.pack) * o.pack, 0) >= line.qty * qty
          }),
        )
        expect([line.id, enough]).toEqual([line.id, true])
      }
      if (drawn.offers.some((o, i) => o.item !== problem.offers[i]?.item)) redealt++
    }),
    { numRuns: 100, seed: 107 },
  )
  expect(redealt).toBeGreaterThan(40)
})
