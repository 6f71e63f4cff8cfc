import { newPlanner } from '../netting/planner.ts'
import { tallied } from '../netting/count.ts'
import { openTally } from '../netting/tally.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import { changesDonor } from '../design/change-sheet.ts'
import { currency } from '../units/money.ts'
import { atWork, lineState, type AtWork, type LineAt } from './at-work.ts'
import { standing } from './conversion.ts'
import { fetchList } from './fetch-list.ts'
import { madeOf } from './made.ts'
import { newMaking } from './making.ts'
import type { WayOut } from './missing.ts'
import { nextOf, progressOf } from './progress.ts'
import { stayingOf } from './staying.ts'
import { booked, claimables, copyOrdered, taken } from './take-way-out.ts'
import type { Unit } from './unit.ts'
import { wantedFor } from './wanted.ts'
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
  works,
  type World,
} from './making.test-data.ts'
import type { Order } from '../orders/order.ts'

const build = { id: BUILD, name: 'B', currency: currency('EUR'), rules: defaultRules } as Build
const NOW = '2026-01-02T12:00:00.000Z'

/** The table in a world, with a count of just that. */
function tableOf(world: World): AtWork {
  const planner = newPlanner()
  const snapshot = {
    build,
    design,
    sets: [set],
    copies: world.copies,
    holdings: world.holdings,
    places,
    parts: PARTS,
    made: madeOf(world.units)[0]?.lines ?? [],
  }
  const { lines } = openTally(snapshot, tallied(snapshot, planner), planner.memory)
  return atWork({
    build: BUILD,
    works: works(),
    units: world.units,
    making: newMaking(BUILD),
    lines,
    stock: { ...world, sets: [set], places },
  })
}
const lineAt = (at: AtWork, module: number, line: number, repeat = 1): LineAt => {
  const work = at.works[module]
  const own = work?.lines[line]
  if (!work || !own) throw new Error('no such line')
  return { at, work, repeat, line: own }
}
const START: World = {
  holdings: [holding('1', 'l-a', BRICK, 2), holding('2', 'l-m', BRICK, 4), holding('3', 'l-b', TILE, 3)],
  copies: [copy],
  units: [],
}
const time = (from: string, to: string) => ({
  id: from,
  kind: 'building' as const,
  from: `2026-01-02T${from}:00.000Z`,
  to: `2026-01-02T${to}:00.000Z`,
})

test('what can be built next: the repeats of which all is here first, what is short of the others', () => {
  const at = tableOf(START)
  // Seven bricks: two for the base and five of six for the walls; small plates and tiles are enough.
  const next = nextOf(at, progressOf(at, NOW))
  expect(next.map((n) => [n.work.module.name, n.repeat, n.open, n.missing])).toEqual([
    ['Base', 1, 8, 0],
    ['Wall', 1, 4, 0],
  ])
  const none = tableOf({ ...START, holdings: [], copies: [] })
  expect(nextOf(none, progressOf(none, NOW)).map((n) => n.missing)).toEqual([4, 8])
})

test('progress adds up, a forecast rests on what was timed, and what stays in a donor that stands takes no time', () => {
  const base = tableOf(START)
  const built = (repeat: number, minutes: string): Unit => {
    const work = base.works[1]
    if (!work) throw new Error('no wall')
    return {
      ...base.unitAt(work, repeat),
      put: work.lines.map((l) => ({
        line: l.line,
        item: l.item,
        qty: l.each,
        covers: l.each,
        from: { kind: 'found' as const },
        condition: 'used' as const,
      })),
      times: [time('10:00', `10:${minutes}`)],
    }
  }
  const at = tableOf({ ...START, units: [built(1, '08'), built(2, '12')] })
  const progress = progressOf(at, NOW)
  expect([progress.done, progress.repeats, progress.put, progress.need]).toEqual([2, 4, 8, 20])
  expect(progress.minutes).toEqual({ building: 20, designing: 0, failed: 0 })
  // Walls of four pieces took ten minutes in the middle; the base of eight takes as long for each piece.
  expect(progress.forecast.each.get('m-w')?.likely).toBeCloseTo(10)
  expect(progress.forecast.each.get('m-a')?.likely).toBeCloseTo(20)
  expect(progress.forecast.low).toBeLessThan(30)
  expect(changesDonor(design)).toBe(true)
  const stands = { ...at, stock: { ...at.stock, copies: [standing(copy, set)] } }
  const staying = stayingOf(stands, design, PARTS)
  expect([...staying]).toEqual([['m-a', 6]])
  // Two bricks are added to what stays.
  expect(progressOf(stands, NOW, staying).forecast.each.get('m-a')?.likely).toBeCloseTo(5)
})

test('what is wanted: the next repeats, one module whole or its next repeat alone, or everything', () => {
  const at = tableOf(START)
  const progress = progressOf(at, NOW)
  const asked = { at, progress, next: nextOf(at, progress) }
  const pieces = (scope: string, once = false) => wantedFor(asked, scope, once).reduce((n, w) => n + w.qty, 0)
  expect([pieces('next'), pieces('all'), pieces('m-w'), pieces('m-w', true), pieces('m-none')]).toEqual([
    12, 20, 12, 4, 0,
  ])
  const list = fetchList(BUILD, wantedFor(asked, 'all', false), at.stock, (r) => r.from)
  // Stage by stage of the box, then the drawers; one brick of eight and one small plate of five are nowhere.
  expect(list.rows.map((r) => [r.from, r.qty])).toEqual([
    ['y-1~a', 4],
    ['y-1~a', 4],
    ['y-1~b', 5],
    ['y-1~b', 3],
    ['h-1', 2],
  ])
  expect(list.missing.map((m) => [m.wanted.line.item, m.qty])).toEqual([
    [BRICK, 1],
    [SMALL, 1],
  ])
})

test('a way out taken: what is amiss is booked and what the way brings goes in, each piece once', () => {
  const at = tableOf(START)
  const row = lineAt(at, 0, 2)
  expect(lineState(row)).toEqual({ need: 2, put: 0, leftOut: 0, open: 2 })
  const before = census(START)
  const done = (way: WayOut) => {
    const change = taken(row, 1, { kind: 'missing' }, way)
    if (!change.ok) throw new Error(change.error.message)
    return after(START, change.value)
  }
  const later = done({ kind: 'later module', module: 'm-w' as never, line: '', item: BRICK, qty: 1, price: 3 })
  expect([census(later).get(BRICK), later.units[0]?.put[0]?.qty]).toEqual([(before.get(BRICK) ?? 0) - 1, 1])
  const tower = START.holdings[1]
  if (!tower) throw new Error('no tower')
  const model = done({ kind: 'model', place: 'l-m' as never, holding: tower, qty: 1 })
  expect(model.holdings.find((h) => h.place === ('l-m' as never))?.qty).toBe(3)
  const standIn = done({ kind: 'stand-in', uses: [{ item: SMALL, qty: 2 }], standIn: 'split', points: 3, qty: 1 })
  expect(standIn.units[0]?.put.map((p) => [p.item, p.qty, p.covers])).toEqual([[SMALL, 2, 1]])
  const bought = done({ kind: 'buy', qty: 1, price: 3, unavailable: 0 })
  expect([bought.units.length, census(bought).get(BRICK)]).toEqual([0, (before.get(BRICK) ?? 0) - 1])
})

test('what breaks in the model comes out of it; what is claimed names its order', () => {
  const full: World = after(
    START,
    (() => {
      const at = tableOf(START)
      const change = taken(lineAt(at, 0, 2), 1, { kind: 'missing' }, { kind: 'leftover', item: BRICK, qty: 2 })
      if (!change.ok) throw new Error('not put in')
      return change.value
    })(),
  )
  const row = lineAt(tableOf(full), 0, 2)
  const broken = after(full, booked(row, 1, { kind: 'broken', kept: true }).change)
  expect(broken.units[0]?.put.reduce((n, p) => n + p.qty, 0)).toBe(1)
  expect(broken.holdings.filter((h) => h.condition === 'worn').map((h) => h.qty)).toEqual([1])
  const order = {
    id: 'r-1',
    lines: [{ id: '1', item: BRICK, qty: 4, got: { right: 3, uncounted: true } }],
    copies: [{ id: 'y-1', checked: true }],
    claims: [],
  } as unknown as Order
  expect(claimables([order], BRICK).map((c) => [c.line, c.right, c.uncounted])).toEqual([['1', 3, true]])
  expect(claimables([order], TILE)).toEqual([])
  expect(copyOrdered([order], row.at.pegsOf(lineAt(tableOf(START), 0, 0).line.id))?.copy).toBe('y-1')
})
