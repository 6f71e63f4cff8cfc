import fc from 'fast-check'
import type { ItemKey } from '../catalogue/item.ts'
import type { BuildId, LineId, ModuleId, SetId } from '../units/ids.ts'
import { changeSheet } from './change-sheet.ts'
import type { Design, Module } from './design.ts'
import { modulesFromDonor } from './from-donor.ts'

const ITEMS = ['p-a|c-x', 'p-a|c-y', 'p-b|c-x', 'p-c|c-z'] as ItemKey[]
const piecesArb = fc.array(fc.record({ item: fc.constantFrom(...ITEMS), qty: fc.integer({ min: 1, max: 9 }) }), {
  maxLength: 5,
})
const designArb: fc.Arbitrary<Design> = fc
  .array(
    fc.record({
      contents: fc.option(piecesArb, { nil: undefined }),
      lines: piecesArb,
      repeats: fc.integer({ min: 0, max: 3 }),
    }),
    { minLength: 1, maxLength: 5 },
  )
  .map((modules) => ({
    id: 'b' as BuildId,
    modules: modules.map(({ contents, lines, repeats }, m): Module => ({
      id: `m-${m}` as ModuleId,
      name: `M ${m}`,
      repeats: contents ? 1 : repeats,
      ...(contents && { origin: { kind: 'donor' as const, set: 's', name: 'S', contents } }),
      lines: lines.map((l, i) => ({ id: `n-${m}-${i}` as LineId, ...l })),
    })),
  }))

/** Pieces item by item, summed the plain way. */
function sums(list: readonly { readonly item: ItemKey; readonly qty: number }[], times = 1) {
  const all = Object.fromEntries(ITEMS.map((item) => [item, 0]))
  for (const { item, qty } of list) all[item] = (all[item] ?? 0) + qty * times
  return all
}
const total = (list: readonly { readonly qty: number }[]) => list.reduce((n, p) => n + p.qty, 0)

test('undone, every stage is whole again: what stays and what was taken off are its contents', () => {
  fc.assert(
    fc.property(designArb, (design) => {
      for (const { module, kept, off, added } of changeSheet(design).stages) {
        if (!module) throw new Error('every stage is of a module here')
        const now = sums(module.lines, module.repeats)
        const [plus, minus] = [sums(added), sums(off)]
        const origin = module.origin?.kind === 'donor' ? sums(module.origin.contents) : sums([])
        for (const item of ITEMS) expect((now[item] ?? 0) - (plus[item] ?? 0) + (minus[item] ?? 0)).toBe(origin[item])
        expect(kept + total(off)).toBe(Object.values(origin).reduce((n, q) => n + q, 0))
      }
    }),
  )
})

test('nothing is taken from the heap twice, and nothing asked of elsewhere that still lies on it', () => {
  fc.assert(
    fc.property(designArb, (design) => {
      const sheet = changeSheet(design)
      const heap = sums(sheet.stages.flatMap((s) => s.off))
      const added = sheet.stages.flatMap((s) => s.added)
      const used = sums(added.map(({ item, heap: piles }) => ({ item, qty: total(piles) })))
      const over = sums(sheet.over)
      for (const item of ITEMS) {
        expect((used[item] ?? 0) + (over[item] ?? 0)).toBe(heap[item])
        const lacks = total(added.filter((a) => a.item === item).map((a) => ({ qty: a.rest })))
        expect(Math.min(lacks, over[item] ?? 0)).toBe(0)
      }
      for (const a of added) expect(total(a.heap) + a.rest).toBe(a.qty)
      expect(sheet.off).toBe(sheet.reused + total(sheet.over))
    }),
  )
})

test('the canopy of a stage becomes a tower: four taken off, three of them used, one over, two from elsewhere', () => {
  const [x, y] = ITEMS as [ItemKey, ItemKey]
  const line = (id: string, item: ItemKey, qty: number) => ({ id: id as LineId, item, qty })
  const sheet = changeSheet({
    id: 'b' as BuildId,
    modules: [
      {
        id: 'm-1' as ModuleId,
        name: 'Stage 1',
        repeats: 1,
        origin: { kind: 'donor', set: 's', name: 'S, stage 1', contents: [{ item: x, qty: 10 }] },
        lines: [line('a', x, 6)],
      },
      { id: 'm-2' as ModuleId, name: 'Tower', repeats: 3, lines: [line('b', x, 1), line('c', y, 1)] },
    ],
  })
  expect(sheet).toMatchObject({ kept: 6, off: 4, added: 6, reused: 3, over: [{ item: x, qty: 1 }] })
  expect(sheet.stages[1]?.added).toEqual([
    { item: x, qty: 3, heap: [{ from: 'Stage 1', qty: 3 }], rest: 0 },
    { item: y, qty: 3, heap: [], rest: 3 },
  ])
})

/** A donor of two stages. */
const depot = (() => {
  const [x, y] = ITEMS as [ItemKey, ItemKey]
  const set = {
    id: 's' as SetId,
    name: 'Depot',
    stages: [
      { id: '1', name: 'Hall' },
      { id: '2', name: 'Yard' },
    ],
    lines: [
      { stage: '1', item: x, qty: 2, spare: false },
      { stage: '2', item: y, qty: 5, spare: false },
      { stage: '2', item: y, qty: 1, spare: true },
    ],
  }
  return { x, y, set }
})()

test('a stage of the donor that no module was begun from is taken off whole, and its pieces are the first supply', () => {
  const { x, y, set } = depot
  const sheet = changeSheet(
    {
      id: 'b' as BuildId,
      modules: [
        {
          id: 'm-1' as ModuleId,
          name: 'Hall',
          repeats: 1,
          origin: { kind: 'donor', set: 's', name: 'Depot, Hall', contents: [{ item: x, qty: 2 }] },
          lines: [
            { id: 'a' as LineId, item: x, qty: 2 },
            { id: 'b' as LineId, item: y, qty: 4 },
          ],
        },
      ],
    },
    [set],
  )
  expect(sheet.stages.map((s) => [s.name, s.kept, s.off])).toEqual([
    ['Hall', 2, []],
    ['Depot, Yard', 0, [{ item: y, qty: 5 }]],
  ])
  expect(sheet.stages[0]?.added).toEqual([{ item: y, qty: 4, heap: [{ from: 'Depot, Yard', qty: 4 }], rest: 0 }])
  expect(sheet.over).toEqual([{ item: y, qty: 1 }])
})

test('a set that was renamed since has the same stages: none is taken off that a module was begun from', () => {
  const { set } = depot
  let n = 0
  const modules = modulesFromDonor(set, ['1', '2'], () => `t${n++}`)
  const renamed = { ...set, name: 'Old depot', stages: set.stages.map((s) => ({ ...s, name: `${s.name}, old` })) }
  const sheet = changeSheet({ id: 'b' as BuildId, modules }, [renamed])
  expect(sheet).toMatchObject({ kept: 7, off: 0, added: 0 })
  expect(sheet.stages).toHaveLength(2)
})
