import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { readLength } from '../units/read-length.ts'
import { colourId, type BuildId, type LineId, type ModuleId, type SetId } from '../units/ids.ts'
import { compareDesigns } from './compare-designs.ts'
import type { Design, DesignLine, Module } from './design.ts'
import { cellText, editLine, LINE_CELLS, type LineCell } from './edit-line.ts'
import { explode } from './explode.ts'
import { secondFaceShows } from './figure.ts'
import { footprint, sizeOf } from './footprint.ts'
import { freedPieces, modulesFromDonor } from './from-donor.ts'
import { copyModules } from './copy-modules.ts'
import { asBuilt, leftOverOf } from './as-built.ts'
import { sumItems } from './sum-items.ts'

const of = (name: string, colour = 'Soot') => itemKey(partFromName(name).id, colourId(colour))
let count = 0
const fresh = () => String(++count)
const line = (item: ItemKey, qty: number, id = fresh()): DesignLine => ({ id: `n-${id}` as LineId, item, qty })
const module = (name: string, lines: DesignLine[], more: Partial<Module> = {}): Module => ({
  id: `m-${name}` as ModuleId,
  name,
  repeats: 1,
  lines,
  ...more,
})
const design = (...modules: Module[]): Design => ({ id: 'b-t' as BuildId, modules })

const item = fc.constantFrom(of('brick 2x4'), of('plate 2x4'), of('plate 1x2', 'Chalk'))
const pieces = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 9 }) }), { maxLength: 5 })

test('counting either side gives the same build: donors are what is built and left over, less what was added', () => {
  fc.assert(
    fc.property(pieces, pieces, (held, built) => {
      const { left, added } = leftOverOf(held, built)
      const found = asBuilt(held, left, added)
      if (!found.ok) throw new Error('leftovers of a build are never more than the donors held')
      expect([...found.pieces].sort()).toEqual([...sumItems(built)].sort())
    }),
  )
  const excess = asBuilt([{ item: of('brick 2x4'), qty: 2 }], [{ item: of('brick 2x4'), qty: 3 }], [])
  expect(excess).toEqual({ ok: false, excess: [{ item: of('brick 2x4'), held: 2, left: 3 }] })
})

test('a design begun from donor stages frees just what is taken out', () => {
  const set: DonorSet = {
    id: 's-x' as SetId,
    name: 'Kiosk',
    stages: [
      { id: 'a', name: 'Walls' },
      { id: 'b', name: 'Roof' },
    ],
    lines: [
      { stage: 'a', item: of('brick 2x4'), qty: 8, spare: false },
      { stage: 'a', item: of('brick 2x4'), qty: 1, spare: true },
      { stage: 'b', item: of('plate 2x4'), qty: 3, spare: false },
    ],
  }
  const [walls, ...others] = modulesFromDonor(set, ['a'], fresh)
  expect(others).toEqual([])
  expect(walls?.lines.map((l) => [l.item, l.qty])).toEqual([[of('brick 2x4'), 8]])
  const thinner = walls && { ...walls, lines: walls.lines.map((l) => ({ ...l, qty: 5 })) }
  expect(thinner && freedPieces(thinner)).toEqual([{ item: of('brick 2x4'), qty: 3 }])
})

test('a copied module needs what the first needs, under ids of its own', () => {
  const tower = design(
    module('tower', [line(of('brick 2x4'), 2)], { repeats: 3 }),
    module('room', [line(of('plate 2x4'), 1)], { within: 'm-tower' as ModuleId, repeats: 2 }),
    module('twin', [], { within: 'm-tower' as ModuleId, like: 'm-room' as ModuleId }),
  )
  const copy = copyModules(tower.modules, 'm-tower' as ModuleId, fresh)
  const needs = (d: Design) => [...sumItems(explode(d))].sort()
  expect(needs(design(...copy))).toEqual(needs(tower))
  const ids = [...tower.modules, ...copy].map((m) => m.id)
  expect(new Set(ids).size).toBe(ids.length)
})

test('two versions differ by what was added, removed, counted anew, recoloured or exchanged', () => {
  const nameOf = () => 'M'
  const before = design(
    module('M', [
      line(of('brick 2x4'), 4),
      line(of('plate 2x4'), 2),
      line(of('tile 2x2'), 3),
      line(of('arch 1x6'), 1, 'kept'),
      line(of('cone 2x2'), 5),
    ]),
  )
  const after = design(
    module('M', [
      line(of('brick 2x4'), 6),
      line(of('plate 2x4', 'Chalk'), 2),
      line(of('arch 1x8'), 1, 'kept'),
      line(of('dome 2x2'), 7),
      line(of('tile 2x2'), 3),
    ]),
  )
  const found = compareDesigns(explode(before), explode(after), nameOf)
  expect(found.differences.map((d) => [d.kind, d.before?.item, d.before?.qty, d.after?.item, d.after?.qty])).toEqual([
    ['quantity', of('brick 2x4'), 4, of('brick 2x4'), 6],
    ['colour', of('plate 2x4'), 2, of('plate 2x4', 'Chalk'), 2],
    ['part', of('arch 1x6'), 1, of('arch 1x8'), 1],
    ['removed', of('cone 2x2'), 5, undefined, undefined],
    ['added', undefined, undefined, of('dome 2x2'), 7],
  ])
  expect([found.pieces, found.items]).toEqual([
    [15, 19],
    [5, 5],
  ])
})

test('the difference of two designs turns the one into the other', () => {
  const lines = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 5 }) }), { maxLength: 6 })
  fc.assert(
    fc.property(lines, lines, (p, q) => {
      const [old, now] = ([p, q] as const).map((rows) =>
        design(
          module(
            'M',
            rows.map((r) => line(r.item, r.qty)),
          ),
        ),
      ) as [Design, Design]
      const { differences } = compareDesigns(explode(old), explode(now), () => 'M')
      const state = sumItems(p)
      for (const { before, after } of differences) {
        if (before) state.set(before.item, (state.get(before.item) ?? 0) - before.qty)
        if (after) state.set(after.item, (state.get(after.item) ?? 0) + after.qty)
      }
      expect([...state].filter(([, n]) => n !== 0).sort()).toEqual([...sumItems(q)].sort())
    }),
  )
})

test('a second face shows under a cap or nothing, not under long hair', () => {
  const parts = new Map(
    ['figure head two faces', 'figure hat flat cap', 'figure hair long', 'figure head plain']
      .map(partFromName)
      .map((p) => [p.id, p]),
  )
  const figure = (...names: string[]) =>
    module(
      'f',
      names.map((n) => line(of(n), 1)),
    )
  expect(secondFaceShows(figure('figure head two faces', 'figure hat flat cap'), parts)?.under).toBe(
    of('figure hat flat cap'),
  )
  expect(secondFaceShows(figure('figure head two faces'), parts)).toEqual({
    head: of('figure head two faces'),
    under: undefined,
  })
  expect(secondFaceShows(figure('figure head two faces', 'figure hair long'), parts)).toBeUndefined()
  expect(secondFaceShows(figure('figure head plain'), parts)).toBeUndefined()
})

// Common practice: stud pitch 8 mm, plate 3.2 mm, three plates a brick of 9.6 mm, a figure 40 mm high.
test('footprints add up on the ground and in stacks; sizes are those of common practice', () => {
  const form = (width: number, depth: number, height: number, stacked = false) => ({
    form: { width, depth, height, stacked },
  })
  const build = design(
    module('drum', [], form(16, 16, 30)),
    module('dome', [], { ...form(16, 16, 12, true), repeats: 2 }),
    module('track', [], { ...form(8, 40, 3), repeats: 2 }),
    module('people', []),
  )
  const found = footprint(build, { width: 32, depth: 24, height: 50 })
  expect([found.area, found.height, found.open]).toEqual([256 + 640, 54, ['m-people']])
  expect(found.faults).toHaveLength(3)
  const size = sizeOf({ width: 10, depth: 5, height: 3, stacked: false }, 45)
  expect(size.mm).toEqual([80, 40, 9.6])
  expect(size.metres).toEqual([3.6, 1.8, 0.43])
  expect(sizeOf({ width: 1, depth: 1, height: 25, stacked: false }, null).figures).toBe(2)
})

// International inch: 25.4 mm exactly (ISO 31-1 Annex, 1959 agreement).
test('lengths need a unit', () => {
  const mm = (text: string) => {
    const read = readLength(text)
    return read.ok ? read.value : read.error.message
  }
  expect(['120 mm', '12cm', '15 studs', '4 in', '0.5 m', '12,5 cm'].map(mm)).toEqual([120, 120, 120, 102, 500, 125])
  expect(mm('120')).toContain('mm, cm, in or studs')
  expect(mm('long')).toContain('with its unit')
  expect(mm('0 mm')).toContain('Between')
})

test('cells are typed as they read: quantities, ranges, tapers, marks; what is refused says what would do', () => {
  const base = line(of('brick 2x4'), 3, 'cell')
  const typed = (cell: LineCell, text: string) => {
    const read = editLine(base, cell, text)
    return read.ok ? read.value : read.error.message
  }
  expect(typed('qty', '8')).toMatchObject({ qty: 8 })
  expect(typed('qty', '4-6-9')).toMatchObject({ low: 4, qty: 6, high: 9 })
  expect(typed('qty', '12 10 8')).toMatchObject({ steps: [12, 10, 8] })
  expect(typed('qty', '0')).toBeNull()
  expect(typed('qty', '9-6-4')).toContain('no smaller')
  for (const bad of ['1.5', 'many', '-3', '2-4']) expect(typeof typed('qty', bad)).toBe('string')
  expect(typed('length', '120')).toContain('Say the unit')
  fc.assert(
    fc.property(
      fc.record(
        {
          qty: fc.integer({ min: 1, max: 99 }),
          visibility: fc.constantFrom('hidden' as const, 'structural' as const),
          freedom: fc.constantFrom('exact' as const, 'near' as const, 'palette' as const, 'free' as const),
          length: fc.integer({ min: 1, max: 9000 }),
          locked: fc.constant(true),
          group: fc.stringMatching(/^[a-z]{1,9}$/),
          steps: fc.array(fc.nat(20), { minLength: 2, maxLength: 5 }),
        },
        { requiredKeys: ['qty'] },
      ),
      (marks) => {
        const marked: DesignLine = { ...base, ...marks }
        for (const cell of LINE_CELLS) {
          const read = editLine(marked, cell, cellText(marked, cell))
          const again = read.ok && read.value ? read.value : base
          expect(cellText(again, cell)).toBe(cellText(marked, cell))
          expect(again).toMatchObject(marks.steps ? { ...marks, qty: again.qty } : marks)
        }
      },
    ),
  )
})
