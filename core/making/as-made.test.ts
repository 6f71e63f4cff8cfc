import { explode } from '../design/explode.ts'
import type { Design } from '../design/design.ts'
import { departures, designAsMade } from './as-made.ts'
import { exchange, forShow } from './exchange.ts'
import { fetchList } from './fetch-list.ts'
import { madeOf } from './made.ts'
import { putIn } from './put-in.ts'
import { takesFor } from './takes.ts'
import { hiddenSpots } from './missing.ts'
import {
  after,
  BRICK,
  BUILD,
  copy,
  design,
  fresh,
  holding,
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

const found = (item: typeof PLATE, qty: number) => [{ covers: qty, takes: [{ kind: 'found' as const, item, qty }] }]

/** A world in which pieces were put in, line by line: the module, the repeat, the place of the line, the piece, how many. */
function built(
  steps: readonly (readonly [string, number, number, typeof PLATE, number])[],
  of: Design = design,
): World {
  let world: World = { holdings: [], copies: [], units: [] }
  for (const [module, repeat, line, item, qty] of steps) {
    const work = workOf(module, of)
    const put = putIn(unitAt(world, work, repeat), work.lines[line]?.line, 99, found(item, qty), world)
    if (put.ok) world = after(world, put.value)
  }
  return world
}

const needs = (of: Design) => {
  const sums = new Map<string, number>()
  for (const { item, qty } of explode(of, { parts: PARTS })) sums.set(item, (sums.get(item) ?? 0) + qty)
  return sums
}

test('what was built otherwise becomes lines of the design, repeat by repeat; the count of the model fits them', () => {
  // Of three walls the second has tiles where bricks were drawn, and the first goes without its small plate.
  const world = built([
    ['m-w', 1, 0, BRICK, 2],
    ['m-w', 1, 2, TILE, 1],
    ['m-w', 2, 0, TILE, 2],
    ['m-w', 2, 1, SMALL, 1],
    ['m-w', 2, 2, TILE, 1],
  ])
  const units = world.units.map((u) => (u.repeat === 1 ? { ...u, leftOut: [{ line: 'n-5' as never, qty: 1 }] } : u))
  expect(
    departures(design, works(), units).map((d) => [d.line, d.used.map((p) => p.qty), d.leftOut, d.shared]),
  ).toEqual([
    ['n-4', [2], 0, false],
    ['n-5', [], 1, false],
  ])
  const made = designAsMade(design, works(), units, PARTS, fresh)
  const wall = made.design.modules[1]
  expect(wall?.lines.map((l) => [l.item, l.steps ?? l.qty])).toEqual([
    [BRICK, [2, 0, 2]],
    [SMALL, [0, 1, 1]],
    [TILE, 1],
    [TILE, [0, 2, 0]],
  ])
  const before = needs(design)
  const now = needs(made.design)
  expect([now.get(BRICK), now.get(SMALL), now.get(TILE)]).toEqual([
    (before.get(BRICK) ?? 0) - 2,
    (before.get(SMALL) ?? 0) - 1,
    (before.get(TILE) ?? 0) + 2,
  ])
  // Nothing departs any more, and the two walls need nothing.
  const next = world.units.map((u) => made.units.find((m) => m.id === u.id) ?? u)
  expect(departures(made.design, works(made.design), next)).toEqual([])
  const lines = madeOf(next)[0]?.lines ?? []
  const open = explode(made.design, { parts: PARTS, made: lines }).filter((r) => r.module === 'm-w')
  expect(open.reduce((n, r) => n + r.qty - r.built, 0)).toBe(4)
})

test('a mirrored module gets the counterpart drawn; what serves together is listed piece by piece; modules in two places stay', () => {
  const left = [...PARTS.keys()].find((p) => p.includes('left'))
  const right = [...PARTS.keys()].find((p) => p.includes('right'))
  const wing = (part: string | undefined) => `${part}|c-1` as typeof PLATE
  const mirrored = {
    ...design,
    modules: [{ id: 'm-x', name: 'Wing', repeats: 1, mirrored: true, lines: [{ id: 'n-9', item: PLATE, qty: 2 }] }],
  } as unknown as Design
  const world = built([['m-x', 1, 0, wing(right), 1]], mirrored)
  const made = designAsMade(mirrored, works(mirrored), world.units, PARTS, fresh)
  expect(made.design.modules[0]?.lines.map((l) => [l.item, l.qty, l.locked])).toEqual([
    [PLATE, 1, undefined],
    [wing(left), 1, true],
  ])
  expect(explode(made.design, { parts: PARTS }).map((r) => r.item)).toEqual([PLATE, wing(right)])

  const work = workOf('m-a')
  const kit = putIn(
    unitAt({ units: [] }, work, 1),
    work.lines[0]?.line,
    4,
    [{ covers: 1, takes: [{ kind: 'found', item: SMALL, qty: 4 }] }],
    { copies: [] },
  )
  const asKit = designAsMade(design, works(), kit.ok ? kit.value.units : [], PARTS, fresh)
  expect(asKit.design.modules[0]?.lines.map((l) => [l.item, l.qty])).toEqual([
    [PLATE, 3],
    [SMALL, 2],
    [BRICK, 2],
    [SMALL, 4],
  ])

  const twice = {
    ...design,
    modules: [...design.modules, { id: 'm-y', name: 'Twin', repeats: 1, like: 'm-w', lines: [] }],
  } as unknown as Design
  const odd = built([['m-w', 1, 0, TILE, 2]], twice)
  expect(departures(twice, works(twice), odd.units)).toMatchObject([{ shared: true }])
  expect(designAsMade(twice, works(twice), odd.units, PARTS, fresh)).toEqual({ design: twice, units: [] })
})

test('for show: what belongs there is remembered, put back, and is no departure', () => {
  const start = built([['m-w', 1, 0, BRICK, 2]])
  const world = { ...start, holdings: [holding('t', 'l-a', TILE, 5)] }
  const stock = { ...world, sets: [set], places }
  const unit = unitAt(world, workOf('m-w'), 1)
  const line = workOf('m-w').lines[0]
  const shown = exchange(
    unit,
    'n-4' as never,
    takesFor(BUILD, TILE, 2, [], stock).groups,
    { copies: [], places },
    '2026-12-24',
  )
  if (!shown.ok || !line) throw new Error('not exchanged')
  const now = after(world, shown.value)
  expect(forShow(now.units)).toMatchObject([{ was: BRICK, on: '2026-12-24', put: { item: TILE, qty: 2 } }])
  expect(departures(design, works(), now.units)).toEqual([])
  // The bricks lie where pieces out of models lie: nobody knew where they were from.
  expect(now.holdings.map((h) => [h.place, h.item, h.qty])).toEqual([
    ['l-a', TILE, 3],
    ['l-out-of-models', BRICK, 2],
  ])
  const back = exchange(
    unitAt(now, workOf('m-w'), 1),
    'n-4' as never,
    takesFor(BUILD, BRICK, 2, [], { ...now, sets: [set], places }).groups,
    { copies: [], places },
  )
  if (!back.ok) throw new Error('not put back')
  const again = after(now, back.value)
  expect(forShow(again.units)).toEqual([])
  expect(again.holdings.map((h) => [h.place, h.item, h.qty])).toEqual([['l-a', TILE, 5]])
})

test('a fetch list walks copies, then places by name; each piece is fetched once, what stands in says for what', () => {
  const world: World = {
    holdings: [holding('1', 'l-b', BRICK, 3), holding('2', 'l-a', BRICK, 1), holding('3', 'l-a', TILE, 2)],
    copies: [{ ...copy, missing: [{ item: BRICK, qty: 5 }] }],
    units: [],
  }
  const stock = { ...world, sets: [set], places }
  const wanted = works().flatMap((work) => work.lines.map((line) => ({ work, line, qty: line.total, pegs: [] })))
  const list = fetchList(BUILD, wanted, stock, ({ at }) => (at.kind === 'place' ? at.place : at.copy))
  expect(list.rows.map((r) => [r.from, r.item, r.qty, r.uses.map((u) => [u.work.module.name, u.qty])])).toEqual(
    [
      ['y-1', PLATE, 4, [['Base', 4]]],
      [
        'y-1',
        SMALL,
        4,
        [
          ['Base', 2],
          ['Wall', 2],
        ],
      ],
      ['y-1', TILE, 3, [['Wall', 3]]],
      ['h-2', BRICK, 1, [['Wall', 1]]],
      [
        'h-1',
        BRICK,
        3,
        [
          ['Base', 2],
          ['Wall', 1],
        ],
      ],
    ].sort((p, q) => (p[0] === q[0] ? (String(p[1]) < String(q[1]) ? -1 : 1) : 0)),
  )
  // Two small plates and four bricks of the walls are nowhere.
  expect(list.missing.map((m) => [m.wanted.line.item, m.qty])).toEqual([
    [BRICK, 4],
    [SMALL, 1],
  ])
})

test('pieces where they are hidden are told of, but not those of a finished model', () => {
  const world = built([
    ['m-w', 1, 0, BRICK, 2],
    ['m-a', 1, 2, BRICK, 1],
  ])
  const spots = hiddenSpots(world.units, BRICK, (l) => l === 'n-3', 'n-4' as never)
  expect(spots.map((s) => [s.line, s.qty])).toEqual([['n-3', 1]])
  const finished = world.units.map((u) => ({ ...u, standsIn: 'l-m' as never }))
  expect(hiddenSpots(finished, BRICK, () => true, 'n-4' as never)).toEqual([])
})
