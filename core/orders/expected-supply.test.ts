import fc from 'fast-check'
import { fixture, itemArb, linesArb, rulesArb, BUILD } from '../netting/fixture.test-data.ts'
import { tally } from '../netting/count.ts'
import { sourcingTask } from '../sourcing/shortfall-task.ts'
import type { Place } from '../shelf/place.ts'
import type { PlaceId } from '../units/ids.ts'
import { expectedSupply, isExpected, onShelf, orderOfPlace } from './expected-supply.ts'
import { line, orderAt } from './orders.test-data.ts'

const orderedArb = fc.array(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 6 }) }), { maxLength: 6 })

test('what is to be bought beside placed orders is what would be with the same pieces in the post', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, orderedArb, (rules, lines, ordered) => {
      const placed = orderAt('paid', {
        builds: [BUILD],
        lines: ordered.map((l, i) =>
          line({ ...l, id: `${i}`, condition: 'used', for: [{ build: BUILD, qty: l.qty }] }),
        ),
      })
      const expected = expectedSupply([placed])
      const bare = fixture({ ...rules, sources: 'donors, shelf and shops' }, lines, [])
      const withOrders = { ...bare, ...expected }
      const post: Place = { id: 'l-post' as PlaceId, name: 'Post', kind: 'post', parent: null }
      const fixed = fixture(
        { ...rules, sources: 'donors, shelf and shops' },
        lines,
        ordered.map((l) => ({ ...l, place: post.id })),
        { places: [post] },
      )
      const [p, q] = [withOrders, fixed].map((snapshot) => {
        const result = tally(snapshot)
        const { asked, wanted } = sourcingTask(snapshot, result, [], [])
        return [result.coverage, [...result.shortfall], asked.lines, wanted]
      })
      expect(p).toEqual(q)
    }),
    { numRuns: 60 },
  )
})

test('what stands for orders is told apart from what lies on the shelf', () => {
  const { places, holdings } = expectedSupply([orderAt('placed'), orderAt('drafted'), orderAt('lost')])
  expect(places.map((p) => [orderOfPlace(p.id), p.due])).toEqual([['r-1', '2026-03-08']])
  expect(holdings.map(isExpected)).toEqual([true])
  expect(onShelf(holdings)).toEqual([])
})
