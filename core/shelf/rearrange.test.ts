import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import { colourId, partId, type BuildId, type HoldingId, type PlaceId } from '../units/ids.ts'
import type { Holding } from './holding.ts'
import type { ShelfChange } from './lot.ts'
import { countDifferences, move } from './rearrange.ts'

const ITEMS = ['plate 2x4', 'brick 1x2'].map((p) => itemKey(partId(p), colourId('Soot')))
const PLACES = ['l-a', 'l-b', 'l-c'] as PlaceId[]
const holding = fc.record({
  item: fc.constantFrom(...ITEMS),
  place: fc.constantFrom(...PLACES),
  qty: fc.integer({ min: 1, max: 9 }),
  estimate: fc.boolean(),
  condition: fc.constantFrom('new' as const, 'used' as const),
})
const shelf = fc
  .array(holding, { minLength: 1, maxLength: 6 })
  .map((rows) => rows.map((r, i): Holding => ({ id: `h-${i}` as HoldingId, ...r })))

function apply(before: readonly Holding[], change: ShelfChange): Holding[] {
  const after = new Map(before.map((h) => [h.id, h]))
  for (const id of change.remove) after.delete(id)
  for (const h of change.put) after.set(h.id, h)
  return [...after.values()]
}

const total = (holdings: readonly Holding[], item: string, estimate: boolean) =>
  holdings.reduce((n, h) => n + (h.item === item && h.estimate === estimate ? h.qty : 0), 0)

test('no sequence of moves, splits and merges makes or loses a piece', () => {
  const moves = fc.array(
    fc.record({ pick: fc.nat(), qty: fc.integer({ min: 0, max: 12 }), to: fc.constantFrom(...PLACES) }),
    { maxLength: 12 },
  )
  let serial = 0
  fc.assert(
    fc.property(shelf, moves, (start, steps) => {
      let now = start
      for (const { pick, qty, to } of steps) {
        const chosen = now[pick % now.length]
        if (chosen)
          now = apply(
            now,
            move(now, [{ holding: chosen, qty }], to, () => `s${serial++}`),
          )
        expect(now.every((h) => h.qty > 0)).toBe(true)
      }
      for (const item of ITEMS)
        for (const estimate of [true, false]) expect(total(now, item, estimate)).toBe(total(start, item, estimate))
      expect(new Set(now.map((h) => h.id)).size).toBe(now.length)
    }),
  )
})

test('moving many at once is moving them one by one', () => {
  fc.assert(
    fc.property(shelf, fc.array(fc.nat(), { maxLength: 6 }), fc.constantFrom(...PLACES), (start, picks, to) => {
      const chosen = [...new Set(picks.map((p) => start[p % start.length]))].flatMap((h) => (h ? [h] : []))
      let one = start
      for (const h of chosen)
        one = apply(
          one,
          move(one, [{ holding: h, qty: h.qty }], to, () => ''),
        )
      const all = apply(
        start,
        move(
          start,
          chosen.map((h) => ({ holding: h, qty: h.qty })),
          to,
          () => '',
        ),
      )
      // Which of several like holdings in the place takes them in is open: the pieces of each kind there are not.
      const told = (holdings: readonly Holding[]) => {
        const kinds = new Map<string, number>()
        for (const h of holdings) {
          const kind = `${h.place} ${h.item} ${h.condition} ${h.estimate}`
          kinds.set(kind, (kinds.get(kind) ?? 0) + h.qty)
        }
        return [...kinds].sort()
      }
      expect(told(all)).toEqual(told(one))
      expect(all.length).toBe(one.length)
    }),
  )
})

test('a count differs where another number was counted or an estimate was, and nowhere else', () => {
  fc.assert(
    fc.property(
      shelf,
      fc.array(fc.option(fc.integer({ min: 0, max: 12 })), { minLength: 6, maxLength: 6 }),
      (start, numbers) => {
        const counts = new Map(start.flatMap((h, i) => (numbers[i] == null ? [] : [[h.id, numbers[i]] as const])))
        const differences = new Map(countDifferences(start, counts).map((d) => [d.holding, d.now]))
        for (const h of start) {
          const counted = counts.get(h.id)
          const same = counted === undefined || (counted === h.qty && !h.estimate)
          expect(differences.get(h)).toBe(same ? undefined : counted)
        }
      },
    ),
  )
})

test('reservations go with a whole move and join those already there', () => {
  const [item] = ITEMS
  const [a, b] = PLACES
  if (!item || !a || !b) throw new Error('test data')
  const build = 'b-1' as BuildId
  const at = (id: string, place: PlaceId, qty: number): Holding => ({
    id: id as HoldingId,
    place,
    item,
    qty,
    estimate: false,
    condition: 'new',
    reserved: [{ build, qty: 2 }],
  })
  const [from, to] = [at('h-1', a, 4), at('h-2', b, 3)]
  expect(move([from, to], [{ holding: from, qty: 4 }], b, () => 'x')).toEqual({
    put: [{ ...to, qty: 7, reserved: [{ build, qty: 4 }] }],
    remove: ['h-1'],
  })
  expect(move([from, to], [{ holding: from, qty: 1 }], b, () => 'x').put).toEqual([
    { ...from, qty: 3 },
    { ...to, qty: 4 },
  ])
})
