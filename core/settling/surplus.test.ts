import fc from 'fast-check'
import { defaultRules } from '../build/house-rules.ts'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import {
  after,
  BRICK,
  BUILD,
  census,
  copy,
  design,
  holding,
  ITEMS,
  PARTS,
  places,
  PLATE,
  set,
  SMALL,
  TILE,
  type World,
} from '../making/making.test-data.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { PARCEL_SURPLUS, pileIdOf } from '../orders/piles.ts'
import type { Drawn } from '../shelf/drawn.ts'
import type { Place } from '../shelf/place.ts'
import type { BuildId, CopyId, HoldingId, PlaceId, SaleId } from '../units/ids.ts'
import { sumItems } from '../design/sum-items.ts'
import { currency } from '../units/money.ts'
import { listForSale, moveSale, piecesBack, putAwayLeft, saleMoves, type SurplusChange } from './leave.ts'
import { piecesOfSale, saleState, type Sale } from './sale.ts'
import {
  bareOfStickers,
  completedBy,
  ideasNeed,
  mayBring,
  piecesLeft,
  surplusOf,
  takersOf,
  type Left,
} from './surplus.ts'

const PILE: Place = { id: pileIdOf(BUILD), name: 'Pile', kind: 'box', parent: null }
const PLACES = [...places, PILE, PARCEL_SURPLUS]
const from = (copyId: CopyId) => ({ kind: 'copy' as const, copy: copyId })
const draws = (...pegs: Drawn['lines'][number]['pegs']): Drawn => ({ lines: [{ pegs }] })
const keyed = (left: readonly Left[]) => left.map((l) => [l.key, ...l.pieces.map((p) => p.qty)])

/** The donor with a keeper of two plates and a brick, whose brick is like those of the walls. */
const peopled: DonorSet = {
  ...set,
  lines: [
    { stage: 'a', item: PLATE, qty: 2, spare: false, figure: 'Keeper' },
    { stage: 'a', item: BRICK, qty: 1, spare: false, figure: 'Keeper' },
    { stage: 'b', item: BRICK, qty: 5, spare: false },
    { stage: 'b', item: TILE, qty: 3, spare: true },
  ],
}

test('what copies, the pile and reservations leave over; figures stay whole as long as they can', () => {
  const holdings = [
    holding('pile', PILE.id, SMALL, 6, { reserved: [{ build: 'b-2', qty: 1 }] }),
    holding('bin', 'l-a', TILE, 9, { reserved: [{ build: BUILD, qty: 4 }] }),
    holding('free', 'l-b', TILE, 9),
    holding('parcel', PARCEL_SURPLUS.id, PLATE, 2),
  ]
  const drawn = draws(
    { source: from(copy.id), item: BRICK, qty: 5 },
    { source: { kind: 'shelf', holding: 'h-pile' as HoldingId }, item: SMALL, qty: 2 },
    { source: { kind: 'shelf', holding: 'h-bin' as HoldingId }, item: TILE, qty: 3 },
  )
  const left = surplusOf(BUILD, { copies: [copy], holdings, sets: [peopled] }, drawn)
  expect(keyed(left)).toEqual([
    ['y-1 figure Keeper', 2, 1],
    // Of the pile's six one is another build's and two are used; of the bin only what was kept for the build counts.
    ['h-pile', 3],
    ['h-bin', 1],
    ['h-parcel', 2],
  ])
  expect(left[0]?.figure).toEqual({ name: 'Keeper', lacks: [] })
  // One brick more is used: the keeper loses its own.
  const short = surplusOf(
    BUILD,
    { copies: [copy], holdings: [], sets: [peopled] },
    draws({ source: from(copy.id), item: BRICK, qty: 6 }),
  )
  expect(short[0]?.figure).toEqual({ name: 'Keeper', lacks: [{ item: BRICK, qty: 1 }] })
  // A copy that is not there yet, and one of another build, leave nothing over.
  for (const other of [{ state: 'to-buy' as const }, { buildId: 'b-2' as BuildId }])
    expect(surplusOf(BUILD, { copies: [{ ...copy, ...other }], holdings: [], sets: [peopled] }, draws())).toEqual([])
})

test('a complete figure is a figure; one that lacks a piece names it and its price; else the pieces count', () => {
  const market = {
    prices: new Map([[PLATE, { best: 8, median: 10 }]]),
    priceOf: (item: ItemKey, qty: number) =>
      item === BRICK ? { cost: qty * 35, unavailable: 0 } : { cost: 0, unavailable: qty },
  }
  const rules = {
    ...defaultRules,
    ...{ resalePercent: 33, hopedPercent: 50 },
    resalePrices: [
      { kind: 'figure' as const, name: 'Keeper', price: 450 },
      { kind: 'item' as const, item: TILE, price: 7 },
    ],
  }
  const bring = mayBring(market, rules)
  const pieces = [
    { item: PLATE, qty: 3 },
    { item: TILE, qty: 2 },
    { item: SMALL, qty: 5 },
  ]
  expect(bring({ pieces, figure: { name: 'Keeper', lacks: [] } })).toEqual({
    ...{ likely: 450, hoped: 450, asked: 450, unpriced: 0 },
  })
  // Three plates at a third and at half of 10, rounded down; two tiles at 7; nothing is known of the others.
  const loose = { likely: 3 * 3 + 2 * 7, hoped: 3 * 5 + 2 * 7, asked: 3 * 10 + 2 * 7, unpriced: 5 }
  expect(bring({ pieces, figure: { name: 'Keeper', lacks: [{ item: BRICK, qty: 1 }] } })).toEqual(loose)
  expect(bring({ pieces })).toEqual(loose)
  const lacking = (...lacks: { item: ItemKey; qty: number }[]) => completedBy({ figure: { name: 'K', lacks } }, market)
  expect(lacking({ item: BRICK, qty: 1 })).toEqual({ item: BRICK, cost: 35 })
  expect(lacking({ item: TILE, qty: 1 })).toEqual({ item: TILE, cost: undefined })
  expect([lacking(), lacking({ item: BRICK, qty: 2 }), completedBy({}, market)]).toEqual([
    undefined,
    undefined,
    undefined,
  ])
})

test('what was bought for its sticker is known by its bare piece, once the sticker is off', () => {
  const { part, colour } = splitItemKey(TILE)
  const stickered = itemKey(part, colour, 'sticker clock face')
  const stickers = (state: 'peeled' | 'on the sheet', of?: ItemKey) => ({
    stickers: [{ id: 's', name: '1', state, ...(of !== undefined && { of }) }],
  })
  expect([...bareOfStickers(stickers('peeled', stickered))]).toEqual([TILE])
  for (const none of [undefined, stickers('on the sheet', stickered), stickers('peeled', TILE), stickers('peeled')])
    expect(bareOfStickers(none).size).toBe(0)
})

test('who would use it: builds that are short of it, then those that look out for it, then ideas for later', () => {
  const takers = takersOf([
    {
      ...{ build: 'b-2' as BuildId, shortfall: new Map([[PLATE, 2]]), lookout: [{ item: TILE, qty: 1 }] },
      ideas: [
        { item: TILE, qty: 1 },
        { item: TILE, qty: 1 },
      ],
    },
    { build: 'b-3' as BuildId, shortfall: new Map([[PLATE, 9]]), lookout: [], ideas: [] },
  ])
  expect(
    takers([
      { item: PLATE, qty: 4 },
      { item: TILE, qty: 3 },
    ]),
  ).toEqual([
    { build: 'b-2', pieces: 2, why: 'short' },
    { build: 'b-3', pieces: 4, why: 'short' },
    { build: 'b-2', pieces: 1, why: 'lookout' },
    { build: 'b-2', pieces: 2, why: 'idea' },
  ])
  expect(takers([{ item: SMALL, qty: 1 }])).toEqual([])
})

test('what ideas for later need is what they would take if they were built, repeats and all', () => {
  const [base, ...walls] = design.modules
  const modules = [...(base ? [base] : []), ...walls.map((m) => ({ ...m, later: true }))]
  // Three walls of two bricks, a small plate and a tile.
  expect(sumItems(ideasNeed({ ...design, modules }, PARTS))).toEqual(
    new Map([
      [BRICK, 6],
      [SMALL, 3],
      [TILE, 3],
    ]),
  )
  expect(ideasNeed(design, PARTS)).toEqual([])
})

type Books = { readonly world: World; readonly sales: readonly Sale[] }

/** Pieces of each item wherever they are, sales among them. */
function all({ world, sales }: Books): Map<ItemKey, number> {
  const sums = census(world)
  for (const sale of sales)
    if (saleState(sale) !== 'withdrawn')
      for (const { item, qty } of sale.lots) sums.set(item, (sums.get(item) ?? 0) + qty)
  return sums
}
const written = (world: World, change: Partial<SurplusChange>): World =>
  after(world, { units: [], takes: [], lots: [], copies: [], ...change })

const act = fc.record({
  kind: fc.constantFrom('away', 'hold', 'sell', 'move', 'remove'),
  pick: fc.array(fc.nat(12), { minLength: 1, maxLength: 4 }),
  way: fc.constantFrom('price' as const, 'auction' as const, 'gift' as const),
  to: fc.constantFrom<PlaceId[]>('l-a' as PlaceId, 'l-b' as PlaceId, PILE.id),
  step: fc.nat(2),
  used: fc.array(fc.nat(4), { minLength: 4, maxLength: 4 }),
})

test('whatever is put away, held, listed, sold, sent and withdrawn, no piece appears or vanishes', () => {
  fc.assert(
    fc.property(fc.array(act, { maxLength: 14 }), (acts) => {
      let books: Books = {
        world: {
          holdings: [
            holding('1', PILE.id, SMALL, 6, { reserved: [{ build: BUILD, qty: 2 }] }),
            holding('2', 'l-a', TILE, 5, { reserved: [{ build: BUILD, qty: 5 }] }),
            holding('3', PARCEL_SURPLUS.id, PLATE, 2, { condition: 'new', reserved: [{ build: 'b-2', qty: 1 }] }),
          ],
          copies: [copy],
          units: [],
        },
        sales: [],
      }
      const start = all(books)
      for (const [i, { kind, pick, way, to, step, used }] of acts.entries()) {
        const { world } = books
        const drawn = draws(...ITEMS.map((item, n) => ({ source: from(copy.id), item, qty: used[n] ?? 0 })))
        const found = surplusOf(BUILD, { ...world, sets: [set] }, drawn)
        const chosen = [...new Set(pick.flatMap((n) => found[n % Math.max(1, found.length)] ?? []))]
        const day = `2026-03-${String(i + 1).padStart(2, '0')}`
        if (kind === 'away' || kind === 'hold') {
          const done = putAwayLeft(chosen, BUILD, to, kind === 'hold' ? ('b-2' as BuildId) : undefined)
          expect(done.ok).toBe(chosen.length > 0)
          if (done.ok) books = { ...books, world: written(world, done.value) }
        } else if (kind === 'sell') {
          const how = { title: 'Lot', way, currency: currency('EUR') }
          const done = listForSale(chosen, BUILD, how, `z-${i}` as SaleId, day)
          if (!done.ok) continue
          expect(piecesOfSale(done.value.sale)).toBe(chosen.reduce((n, l) => n + piecesLeft(l), 0))
          books = { world: written(world, done.value), sales: [...books.sales, done.value.sale] }
        } else {
          const sale = books.sales[pick[0] ?? 0]
          if (!sale) continue
          if (kind === 'remove') {
            // The build is gone: what was not sent goes back.
            if (['sent', 'withdrawn'].includes(saleState(sale))) continue
            const back = piecesBack(sale, { copies: world.copies, places: PLACES })
            books = { world: written(world, back), sales: books.sales.filter((s) => s !== sale) }
          } else {
            const moves = saleMoves(sale)
            const next = moves[step % Math.max(1, moves.length)] ?? 'sold'
            const done = moveSale(sale, next, day, { got: 100 }, { copies: world.copies, places: PLACES })
            expect(done.ok).toBe(moves.length > 0)
            if (!done.ok) continue
            books = {
              world: written(world, done.value),
              sales: books.sales.map((s) => (s === sale ? done.value.sale : s)),
            }
          }
        }
        expect(all(books)).toEqual(start)
        for (const h of books.world.holdings)
          expect(h.qty).toBeGreaterThanOrEqual((h.reserved ?? []).reduce((n, r) => n + r.qty, 0))
      }
    }),
    { numRuns: 150 },
  )
})

test('a sale goes one step at a time; what is refused says why', () => {
  const [left] = surplusOf(BUILD, { copies: [copy], holdings: [], sets: [set] }, draws())
  if (!left) throw new Error('nothing is left over')
  const how = { title: 'Plates', way: 'price' as const, currency: currency('EUR'), ask: 900 }
  const codeOf = (result: ReturnType<typeof listForSale> | ReturnType<typeof moveSale>) =>
    result.ok ? 'done' : result.error.code
  expect(codeOf(listForSale([], BUILD, how, 'z-1' as SaleId, '2026-03-01'))).toBe('nothing')
  expect(codeOf(listForSale([left], BUILD, { ...how, likely: 9, hoped: 3 }, 'z-1' as SaleId, '2026-03-01'))).toBe(
    'no amount',
  )
  const listed = listForSale([left], BUILD, how, 'z-1' as SaleId, '2026-03-02')
  if (!listed.ok) throw new Error(listed.error.message)
  const { sale, seen } = listed.value
  // It rests on the copy as it was counted, whatever became of that since.
  expect(seen).toEqual([copy])
  const stock = { copies: listed.value.copies, places: PLACES }
  expect(codeOf(moveSale(sale, 'sent', '2026-03-03', undefined, stock))).toBe('not from here')
  expect(codeOf(moveSale(sale, 'sold', '2026-03-03', undefined, stock))).toBe('no amount')
  expect(codeOf(moveSale(sale, 'sold', '2026-03-01', { got: 5 }, stock))).toBe('before the step before')
  const sold = moveSale(sale, 'sold', '2026-03-03', { got: 850, costs: 60 }, stock)
  if (!sold.ok) throw new Error(sold.error.message)
  expect(sold.value.sale).toMatchObject({ got: 850, costs: 60 })
  // The buyer steps back: the money goes back with the pieces.
  const back = moveSale(sold.value.sale, 'withdrawn', '2026-03-04', undefined, stock)
  expect(back.ok && [back.value.sale.got, back.value.copies[0]?.missing]).toEqual([undefined, []])
  expect(saleMoves({ ...sale, way: 'gift' })).toEqual(['sent', 'withdrawn'])
})
