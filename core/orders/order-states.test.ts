import fc from 'fast-check'
import { addDays } from '../units/instants.ts'
import { allTaken, benchOf, book, marked, withBench, type BenchMark } from './check-in.ts'
import { amissLines, claimedPieces, claimFrom, moveClaim } from './claims.ts'
import { expectedOf } from './expected-supply.ts'
import { accountedFor, openPieces, ORDER_STATES, stateOf, type Order } from './order.ts'
import { isOnItsWay, moveOrder, movesOf, stepBack } from './order-states.ts'
import { BRICK, FIRST, line, order, orderAt, PILES, PLATE, SECOND, TILE } from './orders.test-data.ts'

const DAY = '2026-03-10'

test.each([
  ['drafted', ['placed', 'paid', 'dispatched', 'arrived', 'cancelled']],
  ['placed', ['paid', 'dispatched', 'arrived', 'cancelled']],
  ['paid', ['dispatched', 'arrived', 'cancelled', 'lost']],
  ['dispatched', ['arrived', 'lost', 'returned']],
  ['arrived', ['returned']],
  ['checked in', ['returned']],
  ['lost', ['arrived']],
] as const)('an order that is %s may become %j', (state, next) => {
  expect(movesOf(orderAt(state))).toEqual(next)
})

test('steps that are skipped are dated like the one that was made', () => {
  const moved = moveOrder(orderAt('placed'), 'arrived', DAY, 'by hand')
  expect(moved.ok && moved.value.history.slice(2)).toEqual([
    { state: 'paid', on: DAY },
    { state: 'dispatched', on: DAY },
    { state: 'arrived', on: DAY, note: 'by hand' },
  ])
})

test.each([
  [orderAt('checked in'), 'paid', DAY, 'not from here'],
  [orderAt('dispatched'), 'arrived', '2026-03-03', 'before the step before'],
  [orderAt('arrived'), 'checked in', DAY, 'not all counted'],
  [order({ lines: [] }), 'placed', DAY, 'empty'],
] as const)('what cannot be is refused', (from, to, on, code) => {
  expect(moveOrder(from, to, on)).toMatchObject({ ok: false, error: { code } })
})

test('a step is taken back, but not once pieces are on the shelf', () => {
  const back = stepBack(orderAt('paid'))
  expect(back.ok && stateOf(back.value)).toBe('placed')
  expect(stepBack(orderAt('arrived', { bookings: 1 }))).toMatchObject({ ok: false, error: { code: 'booked' } })
  expect(stepBack(order())).toMatchObject({ ok: false })
})

/** An act on an order; what is impossible changes nothing. */
type Act = (state: Modelled) => Modelled
/** An order with what has left it: pieces on the shelf. */
type Modelled = { readonly order: Order; readonly shelf: ReadonlyMap<string, number>; readonly day: number }

const today = (day: number) => addDays('2026-03-10', day)

const mark: fc.Arbitrary<BenchMark> = fc.oneof(
  fc
    .constantFrom('right', 'short', 'damaged', 'extra')
    .chain((kind) => fc.integer({ min: 0, max: 14 }).map((qty): BenchMark => ({ kind, qty }))),
  fc.integer({ min: 0, max: 6 }).map((qty): BenchMark => ({ kind: 'wrong', item: TILE, qty })),
  fc.constantFrom<BenchMark>({ kind: 'taken' }, { kind: 'clear' }),
)
const at = fc.constantFrom('1', '2')
const act: fc.Arbitrary<Act> = fc.oneof(
  fc.constantFrom(...ORDER_STATES).map((to): Act => (s) => {
    const moved = moveOrder(s.order, to, today(s.day))
    return moved.ok ? { ...s, order: moved.value, day: s.day + 1 } : s
  }),
  fc.constant<Act>((s) => {
    const back = stepBack(s.order)
    return back.ok ? { ...s, order: back.value } : s
  }),
  fc.tuple(at, mark).map(([id, m]): Act => (s) => {
    const of = s.order.lines.find((l) => l.id === id)
    const receipt = of && marked(s.order, of, m)
    return receipt?.ok ? { ...s, order: withBench(s.order, id, receipt.value) } : s
  }),
  fc.constant<Act>((s) => ({ ...s, order: allTaken(s.order) })),
  fc.constant<Act>((s) => {
    const booked = book(s.order, PILES, today(s.day))
    if (!booked.ok) return s
    const shelf = new Map(s.shelf)
    for (const { item, qty } of booked.value.lots) shelf.set(item, (shelf.get(item) ?? 0) + qty)
    return { ...s, order: booked.value.order, shelf }
  }),
  at.map((id): Act => (s) => {
    const of = s.order.lines.find((l) => l.id === id)
    const claimed = claimFrom(s.order, of?.got ? amissLines(id, of.got) : [], today(s.day), `k${s.order.claims.length}`)
    return claimed.ok ? { ...s, order: claimed.value } : s
  }),
)

test('over any history no piece is in two places: what was ordered is on the shelf, missing, on order or given up', () => {
  const start = order({
    builds: [FIRST, SECOND],
    lines: [
      line({
        for: [
          { build: FIRST, qty: 4 },
          { build: SECOND, qty: 5 },
        ],
      }),
      line({ id: '2', item: BRICK, qty: 3, for: [{ build: SECOND, qty: 3 }] }),
    ],
  })
  fc.assert(
    fc.property(fc.array(act, { maxLength: 60 }), (acts) => {
      let state: Modelled = { order: start, shelf: new Map(), day: 0 }
      for (const step of acts) {
        state = step(state)
        const { order: now, shelf } = state
        const expected = expectedOf(now).holdings
        const claimed = claimedPieces(now)
        for (const l of now.lines) {
          const { right = 0, extra = 0 } = l.got ?? {}
          const missing = (l.got ? accountedFor(l.got) : 0) - right
          const coming = expected.find((h) => h.item === l.item)
          expect(right + missing + openPieces(l)).toBe(l.qty)
          expect(coming?.qty ?? 0).toBe(isOnItsWay(now) ? openPieces(l) : 0)
          expect(shelf.get(l.item) ?? 0).toBe(right + extra)
          expect(accountedFor(benchOf(now, l.id))).toBeLessThanOrEqual(openPieces(l))
          expect(claimed.get(l.id) ?? 0).toBeLessThanOrEqual(l.qty)
          // Nobody is promised more than there is.
          expect((coming?.reserved ?? []).reduce((n, r) => n + r.qty, 0)).toBeLessThanOrEqual(coming?.qty ?? 0)
        }
        const days = now.history.map((h) => h.on)
        expect(days).toEqual([...days].sort())
        if (stateOf(now) === 'checked in') expect(now.lines.every((l) => openPieces(l) === 0)).toBe(true)
      }
    }),
    { numRuns: 300 },
  )
})

test('each build gets its share as pieces come, the first build first; what is for none is surplus', () => {
  const two = orderAt('arrived', {
    builds: [FIRST, SECOND],
    lines: [
      line({
        for: [
          { build: FIRST, qty: 4 },
          { build: SECOND, qty: 5 },
        ],
      }),
    ],
  })
  const [of] = two.lines
  const some = of && marked(two, of, { kind: 'right', qty: 6 })
  const booked = book(some?.ok ? withBench(two, '1', some.value) : two, PILES, DAY)
  expect(booked.ok && booked.value.lots.map((l) => [l.place, l.qty, l.reserved])).toEqual([
    ['l-pile-b-1', 4, [{ build: FIRST, qty: 4 }]],
    ['l-pile-b-2', 2, [{ build: SECOND, qty: 2 }]],
  ])
  const rest = booked.ok ? booked.value.order : two
  expect(expectedOf(rest).holdings.map((h) => [h.qty, h.reserved])).toEqual([[4, [{ build: SECOND, qty: 3 }]]])
  const all = book(allTaken(rest), PILES, DAY)
  expect(all.ok && all.value.lots.map((l) => [l.place, l.qty, l.uncounted])).toEqual([
    ['l-pile-b-2', 3, 'r-1'],
    ['l-surplus', 1, 'r-1'],
  ])
  expect(all.ok && stateOf(all.value.order)).toBe('checked in')
})

test('a parcel that turns up after it was given up is surplus as a whole, and counts for nobody before', () => {
  const lost = orderAt('lost')
  expect(expectedOf(lost).holdings).toEqual([])
  const back = moveOrder(lost, 'arrived', DAY)
  if (!back.ok) throw new Error(back.error.message)
  expect(expectedOf(back.value).holdings[0]).not.toHaveProperty('reserved')
  const booked = book(allTaken(back.value), PILES, DAY)
  expect(booked.ok && booked.value.lots.map((l) => [l.place, l.qty, l.reserved])).toEqual([
    ['l-surplus', 10, undefined],
  ])
})

test.each([
  [
    { kind: 'right', qty: 12 },
    { right: 10, extra: 2 },
  ],
  [
    { kind: 'right', qty: 7 },
    { right: 7, extra: 0 },
  ],
  [
    { kind: 'short', qty: 3 },
    { short: 3, right: 0 },
  ],
  [{ kind: 'taken' }, { right: 10, uncounted: true }],
] as const)('%j at the bench', (m, says) => {
  const receipt = marked(order(), line(), m)
  expect(receipt.ok && receipt.value).toMatchObject(says)
})

test('more missing than was ordered is refused; counting again takes from what was right', () => {
  expect(marked(order(), line(), { kind: 'short', qty: 11 })).toMatchObject({ ok: false })
  expect(marked(order(), line(), { kind: 'right', qty: 1.5 })).toMatchObject({ ok: false })
  const right = marked(order(), line(), { kind: 'right', qty: 10 })
  const held = right.ok ? withBench(order(), '1', right.value) : order()
  expect(marked(held, line(), { kind: 'wrong', item: TILE, qty: 2 })).toMatchObject({
    ok: true,
    value: { right: 8, wrong: [{ item: TILE, qty: 2 }] },
  })
})

test('a parcel that is not here, or of which nothing was counted, cannot be booked', () => {
  expect(book(orderAt('dispatched'), PILES, DAY)).toMatchObject({ ok: false, error: { code: 'not from here' } })
  expect(book(orderAt('arrived'), PILES, DAY)).toMatchObject({ ok: false, error: { code: 'empty' } })
})

test('a claim goes its way; more cannot come back than was paid', () => {
  const short = claimFrom(orderAt('arrived'), [{ line: '1', reason: 'short', qty: 3 }], DAY, 'k')
  if (!short.ok) throw new Error(short.error.message)
  expect(short.value.claims[0]).toMatchObject({ asked: 36 })
  expect(moveClaim(short.value, 'k', 'refunded', DAY, 121)).toMatchObject({ ok: false })
  const back = moveClaim(short.value, 'k', 'refunded', DAY, 30)
  expect(back.ok && back.value.claims[0]).toMatchObject({ refunded: 30 })
  expect(back.ok && moveClaim(back.value, 'k', 'refused', DAY).ok).toBe(false)
  expect(claimFrom(short.value, [{ line: '1', reason: 'lost', qty: 8 }], DAY, 'l')).toMatchObject({ ok: false })
  expect(PLATE).not.toBe(BRICK)
})
