import fc from 'fast-check'
import { PALETTE } from '../colours/palette.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import { newPlanner } from '../netting/planner.ts'
import { tallied } from '../netting/count.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { openTally } from '../netting/tally.ts'
import { dueBy } from '../orders/readiness.ts'
import type { Place } from '../shelf/place.ts'
import { lineChoices } from '../studies/line-choices.ts'
import { currency } from '../units/money.ts'
import { copiesAfter, lose, NO_CHANGE, together } from './amiss.ts'
import { waysOut } from './missing.ts'
import { moveWithin, putIn, takeOut } from './put-in.ts'
import { Ledger, takesFor } from './takes.ts'
import {
  after,
  BRICK,
  BUILD,
  census,
  copy,
  design,
  holding,
  PARTS,
  places,
  set,
  SMALL,
  TILE,
  unitAt,
  workOf,
  type World,
} from './making.test-data.ts'

const build = { id: BUILD, name: 'B', currency: currency('EUR'), rules: defaultRules } as Build
const post = { id: 'l-p', name: 'Parcel', kind: 'post', parent: null } as unknown as Place

function snapshotOf(holdings: Snapshot['holdings'], rules: Partial<Build['rules']> = {}): Snapshot {
  return {
    build: { ...build, rules: { ...build.rules, ...rules } },
    design,
    sets: [set],
    copies: [{ ...copy, missing: [{ item: BRICK, qty: 5 }] }],
    holdings,
    places: [...places, post],
    parts: PARTS,
    colourById: new Map(PALETTE.map((c) => [c.id, c])),
  }
}

/** The ways out for the bricks of the base, which needs two; the walls need six. */
function ways(snapshot: Snapshot, qty: number) {
  const planner = newPlanner()
  const result = openTally(snapshot, tallied(snapshot, planner), planner.memory)
  const line = result.lines.find((l) => l.line === ('n-3' as never))
  if (!line) throw new Error('no line')
  const price = (_: unknown, n: number) => ({ cost: 7 * n, unavailable: n > 5 ? n - 5 : 0 })
  const due = dueBy([{ of: 'l-p', likely: '2026-03-01', late: '2026-03-09' }])
  return waysOut(snapshot, result, line, qty, lineChoices(snapshot, result, line, planner), price, due)
}

test('every way out is told with what it gives and costs', () => {
  const found = ways(
    snapshotOf([holding('1', 'l-a', BRICK, 9), holding('2', 'l-m', BRICK, 3), holding('3', 'l-p', BRICK, 4)]),
    2,
  )
  // Nine are here: two for the base, six for the walls, one left over.
  expect(found.map((w) => [w.kind, w.qty])).toEqual([
    ['leftover', 1],
    ['later module', 2],
    ['model', 2],
    ['buy', 2],
  ])
  expect(found[1]).toMatchObject({ module: 'm-w', price: 14 })
  expect(found.at(-1)).toMatchObject({ price: 14, unavailable: 0 })
})

test('what is on its way is told with its days; what nobody sells says so; what the rules leave out is marked', () => {
  const waiting = ways(snapshotOf([holding('3', 'l-p', BRICK, 8)]), 6)
  expect(waiting.map((w) => w.kind)).toEqual(['on order', 'buy'])
  expect(waiting[0]).toMatchObject({ likely: '2026-03-01', late: '2026-03-09', from: 'l-p', qty: 8 })
  expect(waiting[1]).toMatchObject({ unavailable: 1 })
  const donors = ways(snapshotOf([holding('1', 'l-a', BRICK, 9)], { sources: 'donors' }), 1)
  expect(donors.map((w) => [w.kind, w.qty])).toEqual([
    ['against the rules', 1],
    ['buy', 1],
  ])
})

const start: World = {
  holdings: [holding('1', 'l-a', BRICK, 9), holding('2', 'l-b', SMALL, 3)],
  copies: [copy],
  units: [],
}
const stockOf = (world: World) => ({ ...world, sets: [set], places })

test('what is amiss leaves where it should have lain; broken it may stay as worn, and what lay there is counted', () => {
  const { groups } = takesFor(BUILD, BRICK, 7, [], stockOf(start))
  const pieces = (world: World) => census(world).get(BRICK) ?? 0
  expect(pieces(after(start, lose(groups, { kind: 'missing' }, BUILD, start.copies)))).toBe(pieces(start) - 7)
  const broken = after(start, lose(groups, { kind: 'broken', kept: true }, BUILD, start.copies))
  expect(pieces(broken)).toBe(pieces(start))
  expect(broken.holdings.filter((h) => h.condition === 'worn').reduce((n, h) => n + h.qty, 0)).toBe(7)
  const wrong = after(start, lose(groups, { kind: 'wrong', instead: TILE }, BUILD, start.copies))
  expect((census(wrong).get(TILE) ?? 0) - (census(start).get(TILE) ?? 0)).toBe(7)
  // What lay in the drawer instead lies there, what lay in the box with what comes out of models.
  expect(wrong.holdings.filter((h) => h.item === TILE).map((h) => [h.place, h.qty])).toEqual([
    ['l-out-of-models', 5],
    ['l-a', 2],
  ])
  expect(lose([], { kind: 'missing' }, BUILD, [])).toEqual(NO_CHANGE)
})

test('a loss and what goes in instead are one act: together they take no piece twice', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 2 }), (lost, put) => {
      const ledger = new Ledger(stockOf(start))
      const gone = takesFor(BUILD, BRICK, lost, [], stockOf(start), ledger)
      const first = lose(gone.groups, { kind: 'missing' }, BUILD, start.copies)
      const work = workOf('m-a')
      const { groups } = takesFor(BUILD, BRICK, put, [], stockOf(start), ledger)
      const second = putIn(unitAt(start, work, 1), work.lines[2]?.line, 2, groups, {
        copies: copiesAfter(start.copies, first),
      })
      if (!second.ok) throw new Error(second.error.message)
      const world = after(start, together(first, second.value))
      expect(census(world).get(BRICK)).toBe((census(start).get(BRICK) ?? 0) - lost)
      expect(world.units[0]?.put.reduce((n, p) => n + p.qty, 0)).toBe(put)
    }),
  )
})

test('a piece moves from where it is hidden to where it is seen, and its place is open again', () => {
  const [base, wall] = [workOf('m-a'), workOf('m-w')]
  const put = putIn(
    unitAt(start, base, 1),
    base.lines[2]?.line,
    2,
    takesFor(BUILD, BRICK, 2, [], stockOf(start)).groups,
    start,
  )
  if (!put.ok) throw new Error('not put in')
  const world = after(start, put.value)
  const from = unitAt(world, base, 1)
  const [hidden, seen] = [base.lines[2]?.line, wall.lines[0]?.line]
  if (hidden === undefined || seen === undefined) throw new Error('no lines')
  const moved = moveWithin(from, hidden, unitAt(world, wall, 1), seen, 1, 2)
  if (!moved.ok) throw new Error('not moved')
  const now = after(world, moved.value)
  expect(census(now)).toEqual(census(world))
  expect(unitAt(now, wall, 1).put.map((p) => [p.line, p.covers])).toEqual([[seen, 1]])
  expect(unitAt(now, base, 1).put.map((p) => [p.line, p.covers])).toEqual([[hidden, 1]])
  expect(moveWithin(from, hidden, unitAt(world, wall, 1), seen, 3, 2)).toMatchObject({ error: { code: 'not there' } })
  expect(moveWithin(from, hidden, unitAt(now, wall, 1), seen, 2, 2)).toMatchObject({
    error: { code: 'beyond its need' },
  })
  // Out again, it goes to where it first came from.
  const out = takeOut(unitAt(now, wall, 1), seen, 1, { kind: 'back' }, { copies: now.copies, places })
  expect(out.ok && census(after(now, out.value))).toEqual(census(start))
})
