import fc from 'fast-check'
import type { Holding } from '../shelf/holding.ts'
import type { HoldingId, OrderId, PlaceId } from '../units/ids.ts'
import { foundLater, uncountedOf } from './found-later.ts'
import { openPieces } from './order.ts'
import { line, orderAt, PLATE, TILE } from './orders.test-data.ts'

const held = (id: string, qty: number, more: Partial<Holding> = {}): Holding => ({
  id: id as HoldingId,
  place: 'l-pile' as PlaceId,
  item: PLATE,
  qty,
  estimate: false,
  condition: 'new',
  ...more,
})
const booked = orderAt('checked in', {
  lines: [line({ got: { right: 10, short: 0, damaged: 0, wrong: [], extra: 0, uncounted: true } })],
})
const uncounted = { uncounted: 'r-1' as OrderId }
const fresh = () => 'new'

test('pieces that turn out missing leave the shelf, those taken with this order uncounted first', () => {
  const shelf = [held('h-1', 40), held('h-2', 10, uncounted)]
  const found = foundLater(booked, '1', { reason: 'short', qty: 4 }, shelf, fresh)
  if (!found.ok) throw new Error(found.error.message)
  expect(found.value.shelf.put).toEqual([held('h-2', 6, uncounted)])
  expect(found.value.order.lines[0]?.got).toMatchObject({ right: 6, short: 4 })
  expect(uncountedOf(booked, shelf).map((h) => h.id)).toEqual(['h-2'])
})

test('other pieces come in their place, and are counted', () => {
  const found = foundLater(booked, '1', { reason: 'wrong', qty: 10, item: TILE }, [held('h-2', 10, uncounted)], fresh)
  if (!found.ok) throw new Error(found.error.message)
  expect(found.value.shelf.remove).toEqual(['h-2'])
  expect(found.value.shelf.put).toEqual([expect.objectContaining({ item: TILE, qty: 10, place: 'l-pile' })])
  expect(found.value.shelf.put[0]).not.toHaveProperty('uncounted')
})

test.each([
  [{ reason: 'short', qty: 11 }, [held('h-1', 40)], 'more than ordered'],
  [{ reason: 'damaged', qty: 3 }, [held('h-1', 2)], 'more than ordered'],
  [{ reason: 'damaged', qty: 0 }, [held('h-1', 2)], 'not from here'],
] as const)('%j of what lies there is refused', (what, shelf, code) => {
  expect(foundLater(booked, '1', what, shelf, fresh)).toMatchObject({ ok: false, error: { code } })
})

test('what leaves the shelf is what the order says is missing, however it lies about', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ qty: fc.integer({ min: 1, max: 6 }), own: fc.boolean() }), { maxLength: 5 }),
      fc.integer({ min: 1, max: 10 }),
      fc.constantFrom('short' as const, 'damaged' as const),
      (rows, qty, reason) => {
        const shelf = rows.map((r, i) => held(`h-${i}`, r.qty, r.own ? uncounted : {}))
        const found = foundLater(booked, '1', { reason, qty }, shelf, fresh)
        if (!found.ok) return
        const after = new Map(shelf.map((h) => [h.id, h]))
        for (const id of found.value.shelf.remove) after.delete(id)
        for (const h of found.value.shelf.put) after.set(h.id, h)
        const sum = (list: Iterable<Holding>) => [...list].reduce((n, h) => n + h.qty, 0)
        expect(sum(shelf) - sum(after.values())).toBe(qty)
        const [next] = found.value.order.lines
        expect(next && openPieces(next)).toBe(0)
        expect(next?.got?.[reason]).toBe(qty)
      },
    ),
  )
})
