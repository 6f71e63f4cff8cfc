import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import type { Design } from '../design/design.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { countsFor, type Holding } from '../shelf/holding.ts'
import {
  colourId,
  partId,
  type BuildId,
  type CopyId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PlaceId,
  type SetId,
} from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { type Build } from '../build/build.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Snapshot } from './snapshot.ts'
import { coveredPieces } from './coverage.ts'
import { tally } from './count.ts'

const A = itemKey(partId('plate 2x4'), colourId('Soot'))
const B = itemKey(partId('brick 1x2'), colourId('Chalk'))
const item = fc.constantFrom(A, B)
const small = fc.integer({ min: 1, max: 6 })

const build: Build = { id: 'b-t' as BuildId, name: 'Test', note: '', currency: currency('EUR'), rules: defaultRules }
const place = 'l-bin' as PlaceId

const snapshot: fc.Arbitrary<Snapshot> = fc
  .record({
    modules: fc.array(
      fc.record({
        repeats: fc.integer({ min: 0, max: 3 }),
        lines: fc.array(fc.record({ item, qty: small }), { maxLength: 3 }),
      }),
      {
        maxLength: 3,
      },
    ),
    setLines: fc.array(fc.record({ stage: fc.constantFrom('one', 'two'), item, qty: small, spare: fc.boolean() }), {
      maxLength: 4,
    }),
    copies: fc.array(
      fc.record({
        stages: fc.constantFrom<Copy['stages']>('all', ['one'], []),
        spares: fc.boolean(),
        missing: fc.array(fc.record({ item, qty: small }), { maxLength: 2 }),
        state: fc.constantFrom('owned' as const, 'gift' as const, 'promised' as const, 'to-buy' as const),
      }),
      { maxLength: 3 },
    ),
    holdings: fc.array(
      fc.record({
        item,
        qty: small,
        estimate: fc.boolean(),
        condition: fc.constantFrom('new' as const, 'used' as const, 'worn' as const),
      }),
      { maxLength: 4 },
    ),
    sources: fc.constantFrom('donors' as const, 'donors and shelf' as const),
  })
  .map((raw) => {
    const design: Design = {
      id: build.id,
      modules: raw.modules.map((m, i) => ({
        id: `m-${i}` as ModuleId,
        name: `M${i}`,
        repeats: m.repeats,
        lines: m.lines.map((l, k) => ({ id: `n-${i}-${k}` as LineId, ...l })),
      })),
    }
    const set: DonorSet = {
      id: 's-x' as SetId,
      name: 'X',
      stages: [
        { id: 'one', name: 'One' },
        { id: 'two', name: 'Two' },
      ],
      lines: raw.setLines,
    }
    return {
      build: { ...build, rules: { ...defaultRules, sources: raw.sources } },
      design,
      sets: [set],
      copies: raw.copies.map((c, i) => ({
        id: `y-${i}` as CopyId,
        setId: set.id,
        label: `C${i}`,
        buildId: build.id,
        ...c,
      })),
      holdings: raw.holdings.map((h, i): Holding => ({ id: `h-${i}` as HoldingId, place, ...h })),
      places: [],
      parts: new Map(),
    }
  })

const count = (pairs: readonly { item: ItemKey; qty: number }[], key: ItemKey) =>
  pairs.reduce((n, p) => n + (p.item === key ? p.qty : 0), 0)

test('short is exactly what the rules leave uncovered, item by item; coverage adds up at every level', () => {
  fc.assert(
    fc.property(snapshot, (s) => {
      const result = tally(s)
      const needs = s.design.modules.flatMap((m) => m.lines.map((l) => ({ item: l.item, qty: l.qty * m.repeats })))
      const supply = [
        ...s.copies.filter((c) => c.state !== 'to-buy').flatMap((c) => (s.sets[0] ? copyContents(s.sets[0], c) : [])),
        ...(s.build.rules.sources === 'donors'
          ? []
          : s.holdings.filter((h) => h.condition !== 'worn').map((h) => ({ item: h.item, qty: countsFor(h, 75) }))),
      ]
      for (const key of [A, B])
        expect(result.shortfall.get(key) ?? 0).toBe(Math.max(0, count(needs, key) - count(supply, key)))
      expect(coveredPieces(result.coverage) + result.coverage.short).toBe(result.need)
      const promised = s.copies.filter((c) => c.state === 'promised')
      const pieces = promised
        .flatMap((c) => (s.sets[0] ? copyContents(s.sets[0], c) : []))
        .reduce((n, c) => n + c.qty, 0)
      expect(result.coverage.onOrder).toBeLessThanOrEqual(pieces)
      for (const line of result.lines) {
        expect(coveredPieces(line.coverage) + line.coverage.short).toBe(line.need)
        expect(line.pegs.reduce((n, p) => n + p.qty, 0)).toBe(coveredPieces(line.coverage))
      }
      const modules = [...result.byModule.values()].reduce((n, c) => n + c.short, 0)
      expect(modules).toBe(result.coverage.short)
    }),
  )
})

test('a copy gives its chosen stages, its spares only if asked, and never its missing pieces', () => {
  const set: DonorSet = {
    id: 's-x' as SetId,
    name: 'X',
    stages: [
      { id: 'one', name: 'One' },
      { id: 'two', name: 'Two' },
    ],
    lines: [
      { stage: 'one', item: A, qty: 5, spare: false },
      { stage: 'one', item: A, qty: 1, spare: true },
      { stage: 'two', item: A, qty: 3, spare: false },
      { stage: 'two', item: B, qty: 2, spare: false },
    ],
  }
  const held = (copy: Pick<Copy, 'stages' | 'spares' | 'missing'>) =>
    [A, B].map((key) => count(copyContents(set, copy), key))
  expect(held({ stages: 'all', spares: true, missing: [] })).toEqual([9, 2])
  expect(held({ stages: 'all', spares: false, missing: [] })).toEqual([8, 2])
  expect(held({ stages: ['two'], spares: true, missing: [] })).toEqual([3, 2])
  expect(
    held({
      stages: 'all',
      spares: true,
      missing: [
        { item: A, qty: 7 },
        { item: B, qty: 99 },
      ],
    }),
  ).toEqual([2, 0])
})
