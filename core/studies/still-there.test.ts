import fc from 'fast-check'
import { tally } from '../netting/count.ts'
import { BUILD, fixture, linesArb, OTHER, of, rulesArb, shelfArb } from '../netting/fixture.test-data.ts'
import { newPlanner } from '../netting/planner.ts'
import type { BuildId, PlaceId } from '../units/ids.ts'
import { sightings, stillThere } from './still-there.ts'

const still = (snapshot: ReturnType<typeof fixture>) => {
  const planner = newPlanner()
  const result = tally(snapshot, planner)
  return { result, found: stillThere(snapshot, result, planner) }
}

test('what is used and what is still there come to what counts on the shelf, item by item', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(8), (rules, lines, shelf) => {
      const snapshot = fixture({ ...rules, estimatePercent: 50 }, lines, shelf)
      const { result, found } = still(snapshot)
      const counts = new Map<string, number>()
      const add = (item: string, qty: number) => counts.set(item, (counts.get(item) ?? 0) + qty)
      for (const h of snapshot.holdings) add(h.item, h.estimate ? Math.floor(h.qty / 2) : h.qty)
      for (const line of result.lines) for (const { item, qty } of line.pegs) add(item, -qty)
      const left = [...counts].filter(([, qty]) => qty > 0)
      expect(new Map(found.map((s) => [s.item as string, s.qty]))).toEqual(new Map(left))
      for (const s of found) expect(s.at.reduce((n, p) => n + p.qty, 0)).toBe(s.qty)
    }),
  )
})

test('pieces promised to another build are not there, those in the post are only coming', () => {
  const plate = of('plate 2x4')
  const snapshot = fixture(
    {},
    [{ item: of('brick 2x2'), qty: 1 }],
    [
      { item: plate, qty: 9, reserved: [{ build: 'b-other' as BuildId, qty: 4 }] },
      { item: plate, qty: 3, place: 'l-post' as PlaceId },
    ],
    { places: [{ id: 'l-post' as PlaceId, name: 'Post', kind: 'post', parent: null }] },
  )
  const { found } = still(snapshot)
  expect(found).toEqual([
    {
      item: plate,
      qty: 8,
      coming: 3,
      at: [
        { kind: 'place', place: 'l-bin', qty: 5 },
        { kind: 'place', place: 'l-post', qty: 3 },
      ],
    },
  ])
  expect(
    sightings(
      [
        { item: plate, qty: 8 },
        { item: plate, qty: 2 },
        { item: of('plate 2x4', OTHER), qty: 1 },
      ],
      found,
    ).map((s) => [s.there, s.target]),
  ).toEqual([
    [5, 8],
    [2, 2],
    [0, 1],
  ])
  expect(snapshot.build.id).toBe(BUILD)
})
