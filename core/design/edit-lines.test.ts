import fc from 'fast-check'
import { itemKey, splitItemKey } from '../catalogue/item.ts'
import type { BuildId, ColourId, LineId, ModuleId, PartId } from '../units/ids.ts'
import { NO_ITEM, type Design } from './design.ts'
import { changeLines, inColour, moveLines, swapPart, withoutLines } from './edit-lines.ts'

const PARTS = ['p-a', 'p-b', 'p-c'] as PartId[]
const COLOURS = ['c-x', 'c-y'] as ColourId[]
const itemArb = fc.oneof(
  {
    weight: 9,
    arbitrary: fc.tuple(fc.constantFrom(...PARTS), fc.constantFrom(...COLOURS), fc.constantFrom('', 'face')),
  },
  { weight: 1, arbitrary: fc.constant(null) },
)
const designArb: fc.Arbitrary<Design> = fc
  .array(fc.array(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 20 }) }), { maxLength: 6 }), {
    minLength: 1,
    maxLength: 4,
  })
  .map((modules) => ({
    id: 'b' as BuildId,
    modules: modules.map((lines, m) => ({
      id: `m-${m}` as ModuleId,
      name: `M ${m}`,
      repeats: m + 1,
      lines: lines.map(({ item, qty }, l) => ({
        id: `n-${m}-${l}` as LineId,
        item: item ? itemKey(...item) : NO_ITEM,
        qty,
      })),
    })),
  }))
const linesOf = (design: Design) => design.modules.flatMap((m) => m.lines)
const someLines = (design: Design, picks: readonly boolean[]) =>
  new Set(linesOf(design).flatMap((l, i) => (picks[i % picks.length] ? [l.id] : [])))
const picksArb = fc.array(fc.boolean(), { minLength: 1, maxLength: 8 })

test('moving lines loses none, changes none, and brings all that were chosen into the module', () => {
  fc.assert(
    fc.property(designArb, picksArb, fc.nat(), (design, picks, at) => {
      const ids = someLines(design, picks)
      const to = design.modules[at % design.modules.length]
      if (!to) return
      const moved = moveLines(design, ids, to.id)
      const byId = (d: Design) => [...linesOf(d)].sort((p, q) => (p.id < q.id ? -1 : 1))
      expect(byId(moved)).toEqual(byId(design))
      const home = moved.modules.find((m) => m.id === to.id)
      expect([...ids].every((id) => home?.lines.some((l) => l.id === id))).toBe(true)
      // What was there before comes first, in its order.
      expect(home?.lines.slice(0, to.lines.length)).toEqual(to.lines)
    }),
  )
})

test('swapping a part and swapping it back gives the design as it was, where the other part was not used', () => {
  fc.assert(
    fc.property(designArb, (design) => {
      const [a, , other] = [PARTS[0], PARTS[1], 'p-other' as PartId]
      if (!a) return
      const there = swapPart(design, a, other)
      const count = linesOf(design).filter((l) => l.item !== NO_ITEM && splitItemKey(l.item).part === a)
      expect(there.lines).toBe(count.length)
      expect(there.pieces).toBe(count.reduce((n, l) => n + l.qty, 0))
      expect(linesOf(there.design).some((l) => l.item !== NO_ITEM && splitItemKey(l.item).part === a)).toBe(false)
      expect(swapPart(there.design, other, a).design).toEqual(design)
    }),
  )
})

test('what is not chosen stays the very same, and a line without a part has no colour to change', () => {
  fc.assert(
    fc.property(designArb, picksArb, (design, picks) => {
      const ids = someLines(design, picks)
      const next = changeLines(design, ids, (l) => ({ ...l, item: inColour(l.item, 'c-z' as ColourId) }))
      for (const [i, line] of linesOf(design).entries()) {
        const now = linesOf(next)[i]
        if (!ids.has(line.id)) expect(now).toBe(line)
        else if (line.item === NO_ITEM) expect(now?.item).toBe(NO_ITEM)
        else expect(splitItemKey(now?.item ?? line.item)).toEqual({ ...splitItemKey(line.item), colour: 'c-z' })
      }
      expect(linesOf(withoutLines(design, ids))).toEqual(linesOf(design).filter((l) => !ids.has(l.id)))
    }),
  )
})
