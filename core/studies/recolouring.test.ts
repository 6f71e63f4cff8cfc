import fc from 'fast-check'
import { differenceCiede2000 } from 'culori'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Module } from '../design/design.ts'
import { exchanged } from '../design/recolour.ts'
import { colourId, type BuildId, type HoldingId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { colourCounts, lookAlikes, recolourings } from './recolouring.ts'
import { nearestColours, otherParts, partsInColours } from '../catalogue/availability.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'

const colours = new Map(PALETTE.map((c) => [c.id, c]))
const NAMES = ['brick 2x4', 'plate 2x4', 'plate 2x2', 'plate 2x4 with hole'] as const
const parts = new Map(NAMES.map(partFromName).map((p) => [p.id, p]))
const of = (name: string, colour: string) => itemKey(partFromName(name).id, colourId(colour))
const HUES = ['Soot', 'Chalk', 'Spruce'] as const

const scene = (
  lines: readonly (readonly [ItemKey, number])[],
  stock: readonly (readonly [ItemKey, number])[],
): Snapshot => ({
  build: { id: 'b-t' as BuildId, name: 'T', note: '', currency: currency('EUR'), rules: defaultRules },
  design: {
    id: 'b-t' as BuildId,
    modules: [
      {
        id: 'm-a' as ModuleId,
        name: 'A',
        repeats: 1,
        lines: lines.map(([item, qty], i) => ({ id: `n-${i}` as LineId, item, qty })),
      },
    ],
  },
  sets: [],
  copies: [],
  places: [{ id: 'l-b' as PlaceId, name: 'Bin', kind: 'bin', parent: null }],
  holdings: stock.map(([item, qty], i) => ({
    id: `h-${i}` as HoldingId,
    place: 'l-b' as PlaceId,
    item,
    qty,
    estimate: false,
    condition: 'used',
  })),
  parts,
  colourById: colours,
})

const piece = fc.tuple(fc.constantFrom(...NAMES), fc.constantFrom(...HUES)).map(([n, c]) => of(n, c))
const pieces = fc.array(fc.tuple(piece, fc.integer({ min: 1, max: 5 })), { minLength: 1, maxLength: 5 })

test('the best recolouring is no worse than any exchange of one colour, no better than any map of all, and true', () => {
  fc.assert(
    fc.property(pieces, pieces, (lines, stock) => {
      const snapshot = scene(lines, stock)
      const result = tally(snapshot)
      const { found, proven } = recolourings(snapshot, result, 'm-a' as ModuleId)
      expect(proven).toBe(true)
      // Every map of the three colours, by writing it into the lines; and the best that exchanges one colour alone.
      let [one, all] = [result.coverage.short, result.coverage.short]
      for (const soot of HUES)
        for (const chalk of HUES)
          for (const spruce of HUES) {
            const map = new Map([
              [colourId('Soot'), soot],
              [colourId('Chalk'), chalk],
              [colourId('Spruce'), spruce],
            ])
            const swapped = lines.map(([item, qty]): readonly [ItemKey, number] => {
              const { part, colour } = splitItemKey(item)
              return [itemKey(part, colourId(map.get(colour) ?? '')), qty]
            })
            const { short } = tally(scene(swapped, stock)).coverage
            all = Math.min(all, short)
            if ([...map].filter(([from, to]) => from !== colourId(to)).length === 1) one = Math.min(one, short)
          }
      const best = found[0]?.short ?? result.coverage.short
      expect(best).toBeLessThanOrEqual(one)
      expect(best).toBeGreaterThanOrEqual(all)
      for (const r of found) {
        const again = tally({ ...snapshot, design: exchanged(snapshot.design, 'm-a' as ModuleId, r.swaps) })
        expect([again.coverage.short, result.coverage.short - r.gain]).toEqual([r.short, r.short])
      }
    }),
    { numRuns: 60 },
  )
})

test('two colours exchanged at once do what no single exchange does', () => {
  const lines = [
    [of('brick 2x4', 'Soot'), 4],
    [of('plate 2x4', 'Chalk'), 3],
  ] as const
  const stock = [
    [of('brick 2x4', 'Chalk'), 4],
    [of('plate 2x4', 'Soot'), 3],
  ] as const
  const snapshot = scene(lines, stock)
  const { found } = recolourings(snapshot, tally(snapshot), 'm-a' as ModuleId)
  const [soot, chalk] = [colourId('Soot'), colourId('Chalk')]
  expect(found.map((r) => [r.swaps.map((s) => s.from), r.short, r.gain, r.pieces])).toEqual([
    [[soot, chalk], 0, 7, 7],
    [[soot], 3, 4, 4],
    [[chalk], 4, 3, 3],
  ])
})

test('exchanges chain: a colour that was exchanged before is exchanged on', () => {
  const module = (colours: Module['colours']): Module => ({
    id: 'm-a' as ModuleId,
    name: 'A',
    repeats: 1,
    lines: [],
    ...(colours ? { colours } : {}),
  })
  const [a, b, c] = HUES.map(colourId)
  if (!a || !b || !c) throw new Error('three colours')
  const design = { id: 'b-t' as BuildId, modules: [module([{ from: a, to: b }])] }
  expect(exchanged(design, 'm-a' as ModuleId, [{ from: b, to: c }]).modules[0]?.colours).toEqual([
    { from: a, to: c },
    { from: b, to: c },
  ])
})

// CIEDE2000 as the reference library `culori` has it.
test('look-alikes and nearest colours are those of the reference distance', () => {
  const distance = differenceCiede2000()
  const items = PALETTE.map((c) => itemKey(partFromName('brick 2x4').id, c.id))
  const found = lookAlikes(items, colours)
  const expected = PALETTE.flatMap((p) =>
    PALETTE.filter((q) => p.id < q.id && p.finish === q.finish && distance(p.hex, q.hex) < 12).map((q) => [p.id, q.id]),
  )
  expect(found.map((f) => [...f.colours]).sort()).toEqual(expected.sort())
  expect(expected.length).toBeGreaterThan(0)
  const known = { coloursOf: new Map([[partFromName('brick 2x4').id, new Set(HUES.map(colourId))]]) }
  const wanted = of('brick 2x4', 'Oatmeal')
  const oat = colours.get(colourId('Oatmeal'))?.hex ?? ''
  const near = HUES.map((h) => [colourId(h), distance(oat, colours.get(colourId(h))?.hex ?? '')] as const)
  expect(nearestColours(wanted, known, colours).map((n) => n.colour)).toEqual(
    [...near].sort((p, q) => p[1] - q[1]).map(([id]) => id),
  )
})

test('the palette counts every piece once, and what there is of each colour', () => {
  fc.assert(
    fc.property(pieces, pieces, (lines, stock) => {
      const snapshot = scene(lines, stock)
      const result = tally(snapshot)
      const counts = colourCounts(snapshot, result)
      const sum = (key: 'need' | 'short' | 'shelf') => counts.reduce((n, c) => n + c[key], 0)
      expect([sum('need'), sum('short'), sum('shelf')]).toEqual([
        result.need,
        result.coverage.short,
        stock.reduce((n, [, qty]) => n + qty, 0),
      ])
      for (const c of counts) expect([...c.byModule.values()].reduce((n, q) => n + q, 0)).toBe(c.need)
    }),
  )
})

test('what would do for an item never seen: moulds of the same size, or two halves; tight parts come last', () => {
  const soot = colourId('Soot')
  const known = {
    coloursOf: new Map([
      [partFromName('plate 2x2').id, new Set([soot])],
      [partFromName('plate 2x4 with hole').id, new Set([soot, colourId('Chalk')])],
    ]),
  }
  expect(otherParts(of('plate 2x4', 'Soot'), known, parts)).toEqual([
    { item: of('plate 2x4 with hole', 'Soot'), qty: 1 },
    { item: of('plate 2x2', 'Soot'), qty: 2 },
  ])
  const rows = partsInColours([soot, colourId('Chalk')], known, parts)
  expect(rows.map((r) => [r.part.name, r.missing.length])).toEqual([
    ['plate 2x4 with hole', 0],
    ['plate 2x2', 1],
  ])
})
