import fc from 'fast-check'
import { changeSheet } from '../design/change-sheet.ts'
import { explode } from '../design/explode.ts'
import type { PlaceId } from '../units/ids.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { conversionOf, heapOf, keepStage, putDonorBack, stageApart, standing, takeOff } from './conversion.ts'
import { exchange } from './exchange.ts'
import { apart, finish } from './finish.ts'
import { madeOf } from './made.ts'
import { emptyUnit, leaveOut, putIn, takeOut, type MakingChange } from './put-in.ts'
import { takesFor } from './takes.ts'
import { takeApart } from './take-apart.ts'
import {
  after,
  BRICK,
  BUILD,
  census,
  copy,
  design,
  fresh,
  holding,
  ITEMS,
  PARTS,
  places,
  PLATE,
  set,
  SMALL,
  TILE,
  unitAt,
  workOf,
  works,
  type World,
} from './making.test-data.ts'
import { leftOutOf, putOf } from './unit.ts'
import { needOf, openOf, sumsOf, stateOfUnit, stateOfWork, unitsByWork } from './works.ts'

const START: World = {
  holdings: [
    holding('1', 'l-a', BRICK, 4, {
      reserved: [
        { build: 'b-1', qty: 2 },
        { build: 'b-2', qty: 1 },
      ],
    }),
    holding('2', 'l-b', SMALL, 3, { condition: 'new' }),
    holding('3', 'l-a', TILE, 2),
    holding('4', 'l-m', PLATE, 5),
  ],
  copies: [copy],
  units: [],
}
const stockOf = (world: World) => ({ ...world, sets: [set], places })

/** What was found on the table less what was lost, item by item: all that may change how many pieces there are. */
type Books = { readonly world: World; readonly found: ReadonlyMap<ItemKey, number> }
const book = (found: ReadonlyMap<ItemKey, number>, item: ItemKey, qty: number) =>
  new Map(found).set(item, (found.get(item) ?? 0) + qty)

type Step = (books: Books) => Books
const WORKS = works()

const put =
  (at: number, of: number, repeat: number, qty: number): Step =>
  ({ world, found }) => {
    const work = WORKS[at % WORKS.length]
    const line = work?.lines[of % work.lines.length]
    if (!work || !line) return { world, found }
    const n = 1 + (repeat % work.repeats)
    const unit = unitAt(world, work, n)
    const { groups, short } = takesFor(BUILD, line.item, qty, [], stockOf(world))
    const all =
      short > 0
        ? [...groups, { covers: short, takes: [{ kind: 'found' as const, item: line.item, qty: short }] }]
        : groups
    const done = putIn(unit, line.line, needOf(work, line, n), all, world)
    if (!done.ok) return { world, found }
    return { world: after(world, done.value), found: short > 0 ? book(found, line.item, short) : found }
  }

const act =
  (make: (world: World) => MakingChange | undefined): Step =>
  ({ world, found }) => {
    const change = make(world)
    return { world: change ? after(world, change) : world, found }
  }

const out =
  (pick: number, covers: number, fate: number): Step =>
  ({ world, found }) => {
    const unit = world.units[pick % Math.max(1, world.units.length)]
    const line = unit?.put[0]?.line
    if (!unit || line === undefined) return { world, found }
    const to =
      fate === 0
        ? ({ kind: 'back' } as const)
        : fate === 1
          ? ({ kind: 'place', place: 'l-b' as PlaceId, broken: true } as const)
          : ({ kind: 'lost' } as const)
    const done = takeOut(unit, line, covers, to, { copies: world.copies, places })
    if (!done.ok) return { world, found }
    const next = after(world, done.value)
    if (to.kind !== 'lost') return { world: next, found }
    const gone = new Map(found)
    const [was, now] = [census(world), census(next)]
    for (const [item, qty] of was) {
      const less = qty - (now.get(item) ?? 0)
      if (less !== 0) gone.set(item, (gone.get(item) ?? 0) - less)
    }
    return { world: next, found: gone }
  }

const STEPS: fc.Arbitrary<Step> = fc.oneof(
  fc.tuple(fc.nat(3), fc.nat(5), fc.nat(3), fc.integer({ min: 1, max: 4 })).map((a) => put(...a)),
  fc.tuple(fc.nat(9), fc.integer({ min: 1, max: 3 }), fc.nat(2)).map((a) => out(...a)),
  fc.nat(9).map((pick) =>
    act((world) => {
      const unit = world.units[pick % Math.max(1, world.units.length)]
      const done = unit && emptyUnit(unit, { kind: 'back' }, { copies: world.copies, places })
      return done?.ok ? done.value : undefined
    }),
  ),
  fc.tuple(fc.nat(2), fc.nat(3)).map(([of, qty]) =>
    act((world) => {
      const work = workOf('m-w')
      const line = work.lines[of]
      const done = line && leaveOut(unitAt(world, work, 1), line.line, qty, needOf(work, line, 1))
      return done?.ok ? done.value : undefined
    }),
  ),
  fc.constant(act(({ copies }) => ({ units: [], takes: [], lots: [], copies: copies.map((c) => standing(c, set)) }))),
  fc.tuple(fc.constantFrom('a', 'b'), fc.nat(3), fc.integer({ min: -2, max: 4 })).map(([stage, of, qty]) =>
    act(({ copies: [own] }) => {
      const done = own && takeOff(own, set, stage, ITEMS[of] ?? PLATE, qty)
      return done?.ok ? { units: [], takes: [], lots: [], copies: [done.value] } : undefined
    }),
  ),
  fc.constant(
    act((world) => {
      const work = workOf('m-a')
      const [own] = world.copies
      const done = own && keepStage(unitAt(world, work, 1), work, own, set, 'a', stockOf(world))
      return done?.ok ? done.value : undefined
    }),
  ),
  fc.constant(
    act((world) => {
      const [own] = world.copies
      return own && putDonorBack(own, set, world.units, { copies: world.copies, places })
    }),
  ),
  fc.nat(9).map((pick) =>
    act((world) => {
      const unit = world.units[pick % Math.max(1, world.units.length)]
      const line = unit?.put[0]?.line
      if (!unit || line === undefined) return undefined
      const { groups } = takesFor(BUILD, TILE, 1, [], stockOf(world))
      const done = groups.length > 0 ? exchange(unit, line, groups, { copies: world.copies, places }) : undefined
      return done?.ok ? done.value : undefined
    }),
  ),
  // Finished as a model of its own, and that taken apart again.
  fc.nat(9).map((pick): Step => ({ world, found }) => {
    const unit = world.units[pick % Math.max(1, world.units.length)]
    const model = { id: `l-model-${unit?.id ?? ''}` as PlaceId, name: 'Cabin', kind: 'model' as const, parent: null }
    const done = unit && finish([unit], model)
    if (!done?.ok) return { world, found }
    return {
      world: after(world, { units: done.value.units, takes: [], lots: done.value.lots, copies: [] }),
      found,
    }
  }),
  fc.nat(9).map((pick): Step => ({ world, found }) => {
    const model = world.units[pick % Math.max(1, world.units.length)]?.standsIn
    if (model === undefined) return { world, found }
    const done = takeApart(
      world.holdings.filter((h) => h.place === model),
      'l-b' as PlaceId,
      { lost: [], damaged: [] },
      world.holdings,
      fresh,
    )
    if (!done.ok) return { world, found }
    const put = new Map(done.value.put.map((h) => [h.id, h]))
    const gone = new Set(done.value.remove)
    const holdings = [
      ...world.holdings.filter((h) => !gone.has(h.id)).map((h) => put.get(h.id) ?? h),
      ...done.value.put.filter((h) => !world.holdings.some((w) => w.id === h.id)),
    ]
    return { world: { ...world, holdings, units: world.units.map((u) => apart([u], model)[0] ?? u) }, found }
  }),
)

test('over any acts at the table no piece appears or vanishes but what is found and what is lost', () => {
  fc.assert(
    fc.property(fc.array(STEPS, { minLength: 1, maxLength: 25 }), (steps) => {
      let books: Books = { world: START, found: new Map() }
      const before = census(START)
      for (const step of steps) {
        books = step(books)
        const now = census(books.world)
        for (const of of ITEMS)
          expect([of, now.get(of) ?? 0]).toEqual([of, (before.get(of) ?? 0) + (books.found.get(of) ?? 0)])
        for (const unit of books.world.units) {
          const work = WORKS.find((w) => w.key === unit.path.join('/'))
          for (const line of work?.lines ?? []) {
            const has = putOf(unit, line.line) + leftOutOf(unit, line.line)
            if (work) expect(has).toBeLessThanOrEqual(needOf(work, line, unit.repeat))
          }
        }
        // What was reserved for another build is never taken.
        const other = books.world.holdings.reduce(
          (n, h) => n + (h.reserved ?? []).reduce((m, r) => m + (r.build === BUILD ? 0 : r.qty), 0),
          0,
        )
        expect(other).toBe(1)
      }
    }),
    { numRuns: 300 },
  )
})

test('what is built in is needed no more: the count’s need is the design’s less what is in and left out', () => {
  fc.assert(
    fc.property(fc.array(STEPS, { maxLength: 15 }), (steps) => {
      const { world } = steps.reduce<Books>((b, s) => s(b), { world: START, found: new Map() })
      const made = madeOf(world.units).find((m) => m.id === BUILD)?.lines ?? []
      const all = explode(design, { parts: PARTS })
      const open = explode(design, { parts: PARTS, made })
      const units = unitsByWork(world.units)
      for (const work of WORKS) {
        const state = stateOfWork(work, units.get(work.key))
        const now = open.filter((r) => r.path.join('/') === work.key)
        const need = all.filter((r) => r.path.join('/') === work.key).reduce((n, r) => n + r.qty, 0)
        expect(state.need).toBe(need)
        expect(now.reduce((n, r) => n + r.qty, 0)).toBe(need - state.leftOut)
        expect(now.reduce((n, r) => n + r.built, 0)).toBe(state.put)
        const done = [...Array(work.repeats).keys()].filter(
          (i) => stateOfUnit(work, i + 1, units.get(work.key)?.get(i + 1)).done,
        )
        expect(state.done).toBe(done.length)
      }
    }),
    { numRuns: 100 },
  )
})

test('a stage is converted: what stays is booked, what comes off is the first supply, and undone the donor is whole', () => {
  const sheet = changeSheet(design, [set], PARTS)
  let world: World = { ...START, copies: [standing(copy, set)] }
  const own = () => world.copies[0] ?? copy
  const [first, second] = conversionOf(own(), set, sheet, WORKS, world.units)
  // 4 of 6 plates and 2 of 4 small plates stay; stage B is in no module: it comes off whole.
  expect([first?.kept, first?.off.map((o) => o.qty), first?.added]).toEqual([6, [2, 2], 2])
  expect([second?.kept, second?.off.map((o) => o.qty)]).toEqual([0, [5, 3]])

  const kept = keepStage(unitAt(world, workOf('m-a'), 1), workOf('m-a'), own(), set, 'a', stockOf(world))
  expect(kept.ok).toBe(true)
  if (kept.ok) world = after(world, kept.value)
  expect(unitAt(world, workOf('m-a'), 1).put.map((p) => [p.item, p.qty, p.stayed])).toEqual([
    [PLATE, 4, true],
    [SMALL, 2, true],
  ])
  for (const [item, qty] of [
    [BRICK, 5],
    [TILE, 3],
  ] as const) {
    const off = takeOff(own(), set, 'b', item, qty)
    if (off.ok) world = { ...world, copies: [off.value] }
  }
  expect(heapOf(own(), world.units)).toEqual([
    { item: BRICK, qty: 5 },
    { item: TILE, qty: 3 },
  ])
  // The copy's own bricks go in before those of the shelf.
  const bricks = takesFor(BUILD, BRICK, 2, [], stockOf(world))
  expect(bricks.groups.flatMap((g) => g.takes.map((t) => t.kind))).toEqual(['copy'])
  const added = putIn(unitAt(world, workOf('m-a'), 1), workOf('m-a').lines[2]?.line, 2, bricks.groups, world)
  if (added.ok) world = after(world, added.value)
  expect(heapOf(own(), world.units)[0]).toEqual({ item: BRICK, qty: 3 })
  expect(conversionOf(own(), set, sheet, WORKS, world.units)[0]).toMatchObject({
    keptDone: 6,
    addedDone: 2,
    done: false,
  })

  expect(takeOff(own(), set, 'b', BRICK, 1)).toMatchObject({ ok: false, error: { code: 'beyond its need' } })
  world = after(world, putDonorBack(own(), set, world.units, { copies: world.copies, places }))
  expect(own()).toEqual(standing(copy, set))
  expect(world.units.flatMap((u) => u.put)).toEqual([])
  expect(stageApart(stageApart(own(), 'a'), 'b')).toEqual(copy)
})

test('ticks beyond the need, negative counts and pieces that are not there are named', () => {
  const work = workOf('m-w')
  const line = work.lines[0]
  if (!line) throw new Error('no line')
  const unit = unitAt(START, work, 1)
  const take = (qty: number) => [{ covers: qty, takes: [{ kind: 'found' as const, item: BRICK, qty }] }]
  expect(putIn(unit, line.line, 2, take(3), START)).toMatchObject({
    error: { message: 'This line needs 2 more, not 3.' },
  })
  expect(putIn(unit, line.line, 2, take(-1), START)).toMatchObject({ error: { code: 'bad number' } })
  expect(putIn(unit, line.line, 2, take(0.5), START)).toMatchObject({ error: { code: 'bad number' } })
  expect(takeOut(unit, line.line, 1, { kind: 'lost' }, { copies: [], places })).toMatchObject({
    error: { code: 'not there' },
  })
  expect(leaveOut(unit, line.line, -1, 2)).toMatchObject({ error: { code: 'bad number' } })
  expect(leaveOut(unit, line.line, 3, 2)).toMatchObject({ error: { code: 'beyond its need' } })
  const all = putIn(unit, line.line, 2, take(2), START)
  const full = all.ok ? all.value.units[0] : undefined
  expect(full && putIn(full, line.line, 2, take(1), START)).toMatchObject({ error: { code: 'beyond its need' } })
  expect(full && openOf(work, line, 1, sumsOf(full))).toBe(0)
  const standsFinished = { ...unit, standsIn: 'l-m' as PlaceId }
  expect(putIn(standsFinished, line.line, 2, take(1), START)).toMatchObject({ error: { code: 'stands finished' } })
})

test('pieces that serve together go in and come out together', () => {
  const unit = unitAt(START, workOf('m-a'), 1)
  const line = workOf('m-a').lines[0]?.line
  const kit = { covers: 1, takes: [{ kind: 'found' as const, item: SMALL, qty: 4 }] }
  const plain = { covers: 1, takes: [{ kind: 'found' as const, item: PLATE, qty: 1 }] }
  const pair = {
    covers: 1,
    takes: [
      { kind: 'found' as const, item: BRICK, qty: 1 },
      { kind: 'found' as const, item: TILE, qty: 1 },
    ],
  }
  const done = putIn(unit, line, 4, [plain, kit, pair, plain], START)
  const next = done.ok ? done.value.units[0] : undefined
  if (!next || line === undefined) throw new Error('not put in')
  expect(next.put.map((p) => [p.item, p.qty, p.covers])).toEqual([
    [PLATE, 2, 2],
    [SMALL, 4, 1],
    [BRICK, 1, 1],
    [TILE, 1, 0],
  ])
  const out = takeOut(next, line, 1, { kind: 'lost' }, { copies: [], places })
  expect(out.ok && out.value.units[0]?.put.map((p) => p.item)).toEqual([PLATE, SMALL])
  const more = takeOut(next, line, 3, { kind: 'place', place: 'l-b' as PlaceId, broken: false }, { copies: [], places })
  expect(more.ok && more.value.lots.map((l) => [l.item, l.qty])).toEqual([
    [PLATE, 1],
    [SMALL, 4],
    [BRICK, 1],
    [TILE, 1],
  ])
})

test('a model is taken apart with what was lost and damaged; more than it holds is refused', () => {
  const model = START.holdings.filter((h) => h.place === 'l-m')
  const done = takeApart(
    model,
    'l-b' as PlaceId,
    { lost: [{ item: PLATE, qty: 1 }], damaged: [{ item: PLATE, qty: 2 }] },
    START.holdings,
    fresh,
  )
  expect(done.ok && done.value.put.map((h) => [h.place, h.qty, h.condition])).toEqual([
    ['l-b', 2, 'used'],
    ['l-b', 2, 'worn'],
  ])
  expect(
    takeApart(model, 'l-b' as PlaceId, { lost: [{ item: PLATE, qty: 6 }], damaged: [] }, START.holdings, fresh),
  ).toMatchObject({
    error: { code: 'beyond what it holds' },
  })
  expect(
    takeApart(model, 'l-b' as PlaceId, { lost: [{ item: PLATE, qty: -1 }], damaged: [] }, START.holdings, fresh),
  ).toMatchObject({
    error: { code: 'bad number' },
  })
})
