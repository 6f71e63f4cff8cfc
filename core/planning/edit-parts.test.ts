import fc from 'fast-check'
import { itemKey, splitItemKey } from '../catalogue/item.ts'
import { partFromName, partIndex } from '../catalogue/part.ts'
import type { Design } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, type HoldingId, type PlaceId } from '../units/ids.ts'
import { mergeParts, renamePart, type PartUsers } from './edit-parts.ts'

const PARTS = ['plate 2x4', 'plate 2x4 waffle', 'brick 1x2'].map(partFromName)
const COLOURS = ['Soot', 'Chalk'].map(colourId)
const item = fc
  .tuple(fc.constantFrom(...PARTS), fc.constantFrom(...COLOURS), fc.constantFrom('', 'sticker clock'))
  .map(([part, colour, decoration]) => itemKey(part.id, colour, decoration))
const lines = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 9 }) }), { maxLength: 6 })
const users = fc
  .record({ set: lines, missing: lines, design: lines, shelf: lines })
  .map(({ set, missing, design, shelf }): PartUsers => ({
    sets: [
      {
        id: 's-1' as DonorSet['id'],
        name: 'Set',
        stages: [{ id: 'a', name: 'A' }],
        lines: set.map((l) => ({ ...l, stage: 'a', spare: false })),
      },
    ],
    copies: [
      { id: 'y-1', setId: 's-1', label: 'One', buildId: null, state: 'owned', stages: 'all', spares: true, missing },
    ] as unknown as Copy[],
    designs: [
      {
        id: 'b-1',
        modules: [{ id: 'm-1', name: 'M', repeats: 2, lines: design.map((l, i) => ({ ...l, id: `n-${i}` })) }],
      },
    ] as unknown as Design[],
    holdings: shelf.map((l, i): Holding => ({
      ...l,
      id: `h-${i}` as HoldingId,
      place: 'l-a' as PlaceId,
      estimate: false,
      condition: 'used',
    })),
    offers: [],
    plans: [],
    versions: [],
  }))

/** Pieces per list and colour and decoration, whatever the part. */
function census(u: Pick<PartUsers, 'sets' | 'copies' | 'designs' | 'holdings'>): Map<string, number> {
  const counts = new Map<string, number>()
  const add = (list: string, key: Holding['item'], qty: number) => {
    const { colour, decoration } = splitItemKey(key)
    counts.set(`${list} ${colour} ${decoration}`, (counts.get(`${list} ${colour} ${decoration}`) ?? 0) + qty)
  }
  for (const s of u.sets) for (const l of s.lines) add('set', l.item, l.qty)
  for (const c of u.copies) for (const m of c.missing) add('missing', m.item, m.qty)
  for (const d of u.designs) for (const m of d.modules) for (const l of m.lines) add('design', l.item, l.qty)
  for (const h of u.holdings) add('shelf', h.item, h.qty)
  return counts
}

test('after a merge no list names the merged part, and every piece is still there', () => {
  const [into, from] = PARTS
  if (!into || !from) throw new Error('test data')
  fc.assert(
    fc.property(users, (before) => {
      const merged = mergeParts(from, into, before)
      const replace = <T extends { id: string }>(
        all: readonly T[],
        changed: readonly T[],
        gone: readonly string[] = [],
      ) => all.filter((r) => !gone.includes(r.id)).map((r) => changed.find((c) => c.id === r.id) ?? r)
      const after = {
        sets: replace(before.sets, merged.sets),
        copies: replace(before.copies, merged.copies),
        designs: replace(before.designs, merged.designs),
        holdings: replace(before.holdings, merged.holdings, merged.emptied),
      }
      expect(census(after)).toEqual(census(before))
      expect(JSON.stringify(after)).not.toContain(`${from.id}|`)
      expect(partIndex([merged.part]).get(from.id)).toBe(into.id)
    }),
  )
})

test('a renamed part keeps its id, is shaped anew and answers to both names', () => {
  const part = partFromName('mystery gadget')
  const renamed = renamePart(part, 'arch 1x6, two bricks high')
  expect(renamed).toMatchObject({ id: part.id, shape: { family: 'arch', width: 1, length: 6, height: 6 } })
  const index = partIndex([renamed])
  expect(index.get(partFromName('1x6 arch two bricks high').id)).toBe(part.id)
  expect(index.get(part.id)).toBe(part.id)
})
