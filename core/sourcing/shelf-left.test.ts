import fc from 'fast-check'
import { tally } from '../netting/count.ts'
import { fixture, linesArb, of, rulesArb, shelfArb } from '../netting/fixture.test-data.ts'
import { sourcingTask } from './shortfall-task.ts'
import { shelfLeft } from './shelf-left.ts'

test('by hand: what a build is covered with is taken, and all of what its purchase may still decide to use', () => {
  const [brick, plate, tile] = [of('brick 1x2'), of('plate 1x2'), of('tile 1x2')]
  const snapshot = fixture(
    {},
    [{ item: brick, qty: 3 }],
    [
      { item: brick, qty: 5 },
      { item: plate, qty: 4 },
      { item: tile, qty: 7 },
    ],
  )
  const left = shelfLeft(snapshot.holdings, tally(snapshot), {
    items: [{ id: plate, part: 'p', colour: 'c', mass: 1, owned: 4, resale: null }],
  })
  expect(left.map((h) => [h.item, h.qty])).toEqual([
    [brick, 2],
    [tile, 7],
  ])
})

test('two builds that count one after the other never count on the same piece', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, linesArb, shelfArb(6), (rules, first, second, shelf) => {
      const one = fixture({ ...rules, splits: 'anywhere' }, first, shelf)
      const counted = tally(one)
      const left = shelfLeft(one.holdings, counted, sourcingTask(one, counted, [], []).asked)
      const other = tally({ ...fixture(rules, second, shelf), holdings: left })
      const used = new Map<string, number>()
      for (const { lines } of [counted, other])
        for (const { pegs } of lines)
          for (const { source, qty } of pegs)
            if (source.kind === 'shelf') used.set(source.holding, (used.get(source.holding) ?? 0) + qty)
      for (const { id, qty } of one.holdings) expect(used.get(id) ?? 0).toBeLessThanOrEqual(qty)
    }),
    { numRuns: 60 },
  )
})
