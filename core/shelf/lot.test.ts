import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import { colourId, partId, type BuildId, type HoldingId, type PlaceId } from '../units/ids.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import type { Holding } from './holding.ts'
import { addLots, exchangeLots, lotKey, takePieces, type LotPieces, type ShelfChange } from './lot.ts'
import { move } from './rearrange.ts'

const ITEMS = ['plate 2x4', 'hose', 'brick 1x2'].map((p) => itemKey(partId(p), colourId('Soot')))
const BUILDS = ['b-1', 'b-2'] as BuildId[]
const PLACES = ['l-a', 'l-b'] as PlaceId[]

const lot = fc.record({
  place: fc.constantFrom(...PLACES),
  item: fc.constantFrom(...ITEMS),
  condition: fc.constantFrom('new' as const, 'used' as const, 'worn' as const),
  estimate: fc.boolean(),
  length: fc.option(fc.constantFrom(64, 120), { nil: undefined }),
})
const pieces: fc.Arbitrary<LotPieces> = fc
  .record({ lot, qty: fc.integer({ min: 1, max: 9 }), promised: fc.array(fc.nat(2), { maxLength: 2 }) })
  .map(({ lot: { length, ...rest }, qty, promised }) => {
    const reserved = promised.flatMap((n, i) =>
      n > 0 && n * promised.length <= qty ? [{ build: BUILDS[i] as BuildId, qty: n }] : [],
    )
    return { ...rest, qty, ...(length === undefined ? {} : { length }), ...(reserved.length > 0 ? { reserved } : {}) }
  })
const shelf = fc
  .array(pieces, { minLength: 1, maxLength: 6 })
  .map((all) => all.map((p, i): Holding => ({ ...p, id: `h-${i}` as HoldingId })))

const apply = (before: readonly Holding[], change: ShelfChange): Holding[] => {
  const after = new Map(before.map((h) => [h.id, h]))
  for (const id of change.remove) after.delete(id)
  for (const h of change.put) after.set(h.id, h)
  return [...after.values()]
}
/** Pieces and reservations by what they are; places left out where asked. */
function census(all: readonly LotPieces[], withPlace = true): [string, number][] {
  const sums = new Map<string, number>()
  for (const { qty, reserved, ...rest } of all) {
    const key = lotKey(withPlace ? rest : { ...rest, place: 'l-x' as PlaceId })
    sums.set(key, (sums.get(key) ?? 0) + qty)
    for (const r of reserved ?? []) sums.set(`${key} ${r.build}`, (sums.get(`${key} ${r.build}`) ?? 0) + r.qty)
  }
  return [...sums].sort()
}
let serial = 0
const fresh = () => `f${serial++}`

test('pieces put on a shelf keep condition, length and reservations, and join just what is equal', () => {
  fc.assert(
    fc.property(shelf, fc.array(pieces, { maxLength: 6 }), (before, more) => {
      const change = addLots(before, more, fresh)
      const after = apply(before, change)
      expect(census(after)).toEqual(census([...before, ...more]))
      // What is not equal to anything added is untouched.
      const touched = new Set(more.map(lotKey))
      for (const h of before) if (!touched.has(lotKey(h))) expect(after).toContain(h)
      // One holding for each kind that was not there before.
      const kinds = new Set([...before, ...more].map(lotKey))
      expect(after.length).toBe(before.length + kinds.size - new Set(before.map(lotKey)).size)
    }),
  )
})

test('taking some and putting them back is nothing', () => {
  fc.assert(
    fc.property(shelf, fc.nat(), fc.nat(9), (before, pick, n) => {
      const holding = before[pick % before.length] as Holding
      const qty = Math.min(n, holding.qty)
      const { taken, left } = takePieces(holding, qty)
      expect(taken.qty + (left?.qty ?? 0)).toBe(holding.qty)
      for (const part of [taken, ...(left ? [left] : [])])
        expect((part.reserved ?? []).reduce((s, r) => s + r.qty, 0)).toBeLessThanOrEqual(part.qty)
      const rest = before.flatMap((h) => (h.id === holding.id ? (left ?? []) : h))
      expect(census(apply(rest, addLots(rest, [taken], fresh)))).toEqual(census(before))
    }),
  )
})

test('any run of moves keeps every piece and every reservation; whole holdings keep their ids', () => {
  const step = fc.record({ pick: fc.nat(), qty: fc.nat(9), to: fc.constantFrom(...PLACES), all: fc.boolean() })
  fc.assert(
    fc.property(shelf, fc.array(step, { maxLength: 8 }), (start, steps) => {
      let now = start
      for (const { pick, qty, to, all } of steps) {
        const holding = now[pick % now.length] as Holding
        const takes = all ? now.map((h) => ({ holding: h, qty: h.qty })) : [{ holding, qty }]
        const change = move(now, takes, to, fresh)
        const after = apply(now, change)
        if (
          !all &&
          qty >= holding.qty &&
          to !== holding.place &&
          !now.some((h) => h.id !== holding.id && lotKey(h) === lotKey({ ...holding, place: to }))
        )
          expect(after.find((h) => h.id === holding.id)).toEqual({ ...holding, place: to })
        now = after
      }
      expect(census(now, false)).toEqual(census(start, false))
    }),
  )
})

test('pieces that become another item lose what was reserved of them, the others keep it', () => {
  const [item, , other] = ITEMS
  const [build] = BUILDS
  const [place] = PLACES
  if (!item || !other || !build || !place) throw new Error('test data')
  const holding: Holding = {
    id: 'h-1' as HoldingId,
    place,
    item,
    qty: 5,
    estimate: false,
    condition: 'used',
    reserved: [{ build, qty: 3 }],
  }
  const after = apply(
    [holding],
    exchangeLots([holding], [{ holding, qty: 4 }], (t) => [{ ...t, item: other }], fresh),
  )
  expect(after).toMatchObject([
    { item, qty: 1, reserved: [{ build, qty: 1 }] },
    { item: other, qty: 4 },
  ])
  expect(after[1]?.reserved).toBeUndefined()
})

test('no holding grows beyond what a record may say: the rest begins another', () => {
  const [item] = ITEMS
  const [place] = PLACES
  if (!item || !place) throw new Error('test data')
  const holding: Holding = {
    id: 'h-1' as HoldingId,
    place,
    item,
    qty: MOST_PIECES - 1,
    estimate: false,
    condition: 'new',
  }
  const { place: at, condition } = holding
  const { put } = addLots([holding], [{ place: at, item, qty: 2, estimate: false, condition }], fresh)
  expect(put.map((h) => h.qty)).toEqual([2])
  expect(addLots([holding], [{ place: at, item, qty: 1, estimate: false, condition }], fresh).put).toEqual([
    { ...holding, qty: MOST_PIECES },
  ])
})
