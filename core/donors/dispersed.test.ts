import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, partId, type BuildId, type CopyId, type HoldingId, type PlaceId, type SetId } from '../units/ids.ts'
import { compareSets } from './compare-sets.ts'
import { copyContents } from './copy-contents.ts'
import { gather, matchDispersed } from './dispersed.ts'
import type { DonorSet } from './donor-set.ts'

const ITEMS = ['plate 2x4', 'brick 1x2', 'tile 1x4'].map((p) => itemKey(partId(p), colourId('Soot')))
const item = fc.constantFrom(...ITEMS)
const qty = fc.integer({ min: 1, max: 9 })
const set = fc
  .array(fc.record({ item, qty, spare: fc.boolean() }), { minLength: 1, maxLength: 5 })
  .map((lines): DonorSet => ({
    id: 's-x' as SetId,
    name: 'X',
    stages: [{ id: 'one', name: 'One' }],
    lines: lines.map((l) => ({ stage: 'one', ...l })),
  }))
const holdings = fc
  .array(fc.record({ item, qty, estimate: fc.boolean() }), { maxLength: 6 })
  .map((rows) =>
    rows.map((row, i): Holding => ({ id: `h-${i}` as HoldingId, place: 'l-x' as PlaceId, condition: 'used', ...row })),
  )
const sum = (rows: readonly { qty: number }[]) => rows.reduce((n, r) => n + r.qty, 0)

test('gathering conserves pieces: what leaves the shelf is what the copy holds, item by item', () => {
  fc.assert(
    fc.property(set, holdings, (donor, shelf) => {
      const match = matchDispersed(donor, shelf, null)
      const { copy, kept, emptied } = gather(donor, match, { id: 'y-1' as CopyId, label: 'Gathered', buildId: null })
      const touched = new Set([...kept.map((h) => h.id as string), ...emptied])
      const after = [...shelf.filter((h) => !touched.has(h.id)), ...kept]
      for (const key of ITEMS) {
        const of = <T extends { item: string; qty: number }>(rows: readonly T[]) =>
          sum(rows.filter((r) => r.item === key))
        expect(of(after) + of(copyContents(donor, copy))).toBe(of(shelf))
      }
      expect(match.found + sum(copy.missing)).toBe(match.need)
      expect(kept.every((h) => h.qty > 0)).toBe(true)
    }),
  )
})

test('a set is as complete as the shelf allows: nothing is missing while a piece of it lies there', () => {
  fc.assert(
    fc.property(set, holdings, (donor, shelf) => {
      for (const line of matchDispersed(donor, shelf, null).lines) {
        const there = sum(shelf.filter((h) => h.item === line.item))
        expect(line.missing).toBe(Math.max(0, line.need - there))
      }
    }),
  )
})

test('comparing two sets: shared and own items together are each set, colours add up, sides swap', () => {
  fc.assert(
    fc.property(set, set, (first, second) => {
      const both = compareSets(first, second)
      const plain = (s: DonorSet) => sum(s.lines.filter((l) => !l.spare))
      expect(both.shared.reduce((n, r) => n + r.first, 0) + sum(both.onlyFirst)).toBe(plain(first))
      expect(both.colours.reduce((n, c) => n + c.second, 0)).toBe(plain(second))
      const swapped = compareSets(second, first)
      expect(swapped.onlyFirst).toEqual(both.onlySecond)
      expect(new Set(swapped.shared.map((r) => r.item))).toEqual(new Set(both.shared.map((r) => r.item)))
    }),
  )
})

test('pieces reserved for another build are not gathered', () => {
  const [item] = ITEMS
  if (!item) throw new Error('an item')
  const donor: DonorSet = {
    id: 's-x' as SetId,
    name: 'X',
    stages: [],
    lines: [{ stage: 'one', item, qty: 9, spare: false }],
  }
  const other = 'b-other' as BuildId
  const shelf: Holding[] = [
    {
      id: 'h-1' as HoldingId,
      place: 'l-x' as PlaceId,
      item,
      qty: 6,
      estimate: false,
      condition: 'new',
      reserved: [{ build: other, qty: 4 }],
    },
  ]
  expect(matchDispersed(donor, shelf, null).found).toBe(2)
  expect(matchDispersed(donor, shelf, other).found).toBe(6)
})
