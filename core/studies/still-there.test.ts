import fc from 'fast-check'
import { tally } from '../netting/count.ts'
import { BUILD, fixture, linesArb, OTHER, of, rulesArb, shelfArb } from '../netting/fixture.test-data.ts'
import { newPlanner } from '../netting/planner.ts'
import type { BuildId, PlaceId } from '../units/ids.ts'
import { freed, sightings, stillThere } from './still-there.ts'

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

test('what has come free is told once, of pieces that were looked out for before', () => {
  const [plate, tile, brick] = [of('plate 2x4', OTHER), of('tile 1x4', OTHER), of('brick 2x4', OTHER)]
  const at = (item: typeof plate, there: number, target = 8) => ({ item, target, there, at: [] })
  const before = [at(plate, 3), at(tile, 0), at(brick, 2)]
  expect(freed(before, [at(plate, 5), at(tile, 0), at(brick, 1)]).map((s) => s.item)).toEqual([plate])
  // Another target, or a piece that is looked out for from now on, is the user's act and no news.
  expect(freed(before, [at(plate, 5, 9), at(of('slope 2x2 45°', OTHER), 4)])).toEqual([])
  expect(freed(before, before)).toEqual([])
})
