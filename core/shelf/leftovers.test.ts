import fc from 'fast-check'
import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from './holding.ts'
import { addLots } from './lot.ts'
import { colourId, type CopyId, type PlaceId, type SetId } from '../units/ids.ts'
import { CONDITIONS } from '../units/condition.ts'
import { isThere, leftovers, putAway } from './leftovers.ts'
import { BUILD, itemArb, linesArb, of, fixture, shelfArb } from '../netting/fixture.test-data.ts'
import { tally } from '../netting/count.ts'

const BOX = 'l-leftovers' as PlaceId
const setArb: fc.Arbitrary<DonorSet> = fc
  .array(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 6 }), spare: fc.boolean(), second: fc.boolean() }), {
    minLength: 1,
    maxLength: 8,
  })
  .map((lines) => ({
    id: 's-t' as SetId,
    name: 'T',
    stages: [
      { id: 'one', name: 'One' },
      { id: 'two', name: 'Two' },
    ],
    lines: lines.map(({ second, ...line }) => ({ ...line, stage: second ? 'two' : 'one' })),
  }))
const copyArb: fc.Arbitrary<Copy> = fc
  .record({
    stages: fc.constantFrom('all' as const, ['one'], ['two']),
    spares: fc.boolean(),
    missing: fc.array(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 4 }) }), { maxLength: 3 }),
    condition: fc.constantFrom(undefined, ...CONDITIONS),
    state: fc.constantFrom('owned' as const, 'gift' as const),
  })
  .map(({ condition, ...copy }) => ({
    id: 'y-t' as CopyId,
    setId: 's-t' as SetId,
    label: 'T',
    buildId: BUILD,
    ...copy,
    ...(condition ? { condition } : {}),
  }))

const sums = (pieces: readonly { readonly item: ItemKey; readonly qty: number }[]): Map<ItemKey, number> => {
  const all = new Map<ItemKey, number>()
  for (const { item, qty } of pieces) all.set(item, (all.get(item) ?? 0) + qty)
  return all
}

test('what a copy holds is what the design takes of it and what is left over, piece by piece', () => {
  fc.assert(
    fc.property(setArb, copyArb, linesArb, shelfArb(4), (set, copy, lines, shelf) => {
      const result = tally(fixture({}, lines, shelf, { sets: [set], copies: [copy] }))
      const taken = result.lines.flatMap((l) => l.pegs).filter((p) => p.source.kind === 'copy')
      const parted = sums([...leftovers(set, copy, result), ...taken])
      expect(new Map([...parted].sort())).toEqual(new Map([...sums(copyContents(set, copy))].sort()))
      expect(leftovers(set, copy, result).every((l) => l.qty > 0)).toBe(true)
    }),
    { numRuns: 200 },
  )
})

test('putting leftovers away makes and loses no piece, keeps the condition, and leaves the design as well covered', () => {
  fc.assert(
    fc.property(setArb, copyArb, linesArb, (set, copy, lines) => {
      const before = fixture({}, lines, [], { sets: [set], copies: [copy] })
      const result = tally(before)
      const away = putAway(set, copy, result, BOX)
      const left = leftovers(set, copy, result)
      if (!away) {
        expect(left).toEqual([])
        return
      }
      expect(away.pieces).toBe(left.reduce((n, l) => n + l.qty, 0))
      expect(away.lots.every((l) => l.condition === (copy.condition ?? 'not stated') && l.place === BOX)).toBe(true)
      const all = sums([...away.lots, ...copyContents(set, away.copy)])
      expect(new Map([...all].sort())).toEqual(new Map([...sums(copyContents(set, copy))].sort()))
      // A second time there is nothing more to put away, and what is covered is covered still.
      let serial = 0
      const holdings = addLots([], away.lots, () => `n${serial++}`).put as Holding[]
      const after = tally({ ...before, copies: [away.copy], holdings })
      expect(after.coverage.short).toBe(result.coverage.short)
      expect(putAway(set, away.copy, tally({ ...before, copies: [away.copy] }), BOX)).toBeUndefined()
    }),
    { numRuns: 200 },
  )
})

test('a box that notes the same missing item twice loses both when its leftovers go to the shelf', () => {
  const [item, other] = [of('brick 1x2', colourId('Soot')), of('plate 2x4', colourId('Chalk'))]
  const set: DonorSet = {
    id: 's-t' as SetId,
    name: 'T',
    stages: [{ id: 'one', name: 'One' }],
    lines: [item, other].map((i) => ({ item: i, qty: 3, stage: 'one', spare: false })),
  }
  const missing = [1, 1].map((qty) => ({ item, qty }))
  const copy = { id: 'y-t', setId: 's-t', label: 'T', buildId: BUILD, stages: 'all', spares: true, missing } as Copy
  const away = putAway(
    set,
    { ...copy, state: 'owned' },
    tally(fixture({}, [], [], { sets: [set], copies: [copy] })),
    BOX,
  )
  expect(away?.pieces).toBe(4)
  expect(copyContents(set, away?.copy ?? copy)).toEqual([])
})

test.each(['promised', 'to-buy'] as const)('a copy that is %s offers nothing to put away', (state) => {
  const set: DonorSet = {
    id: 's-t' as SetId,
    name: 'T',
    stages: [{ id: 'one', name: 'One' }],
    lines: [{ stage: 'one', item: of('plate 2x4'), qty: 5, spare: false }],
  }
  const copy: Copy = {
    id: 'y-t' as CopyId,
    setId: set.id,
    label: 'T',
    buildId: BUILD,
    state,
    stages: 'all',
    spares: true,
    missing: [],
  }
  expect(isThere(copy)).toBe(false)
  expect(putAway(set, copy, tally(fixture({}, [], [], { sets: [set], copies: [copy] })), BOX)).toBeUndefined()
})
