import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import type { Design } from '../design/design.ts'
import type { Holding } from './holding.ts'
import {
  colourId,
  partId,
  type BuildId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PlaceId,
} from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { findConflicts, release, reserve, reservedFor } from './reservations.ts'
import { tally } from '../netting/count.ts'

const ITEMS = ['plate 2x4', 'brick 1x2'].map((p) => itemKey(partId(p), colourId('Soot')))
const item = fc.constantFrom(...ITEMS)
const qty = fc.integer({ min: 1, max: 9 })
const holdings = fc
  .array(fc.record({ item, qty, estimate: fc.boolean() }), { maxLength: 5 })
  .map((rows) =>
    rows.map((row, i): Holding => ({ id: `h-${i}` as HoldingId, place: 'l-x' as PlaceId, condition: 'used', ...row })),
  )
const needs = fc.array(fc.array(fc.record({ item, qty }), { maxLength: 3 }), { minLength: 2, maxLength: 3 })

const count = (
  build: BuildId,
  lines: readonly { item: (typeof ITEMS)[number]; qty: number }[],
  shelf: readonly Holding[],
) => {
  const design: Design = {
    id: build,
    modules: [
      { id: 'm-1' as ModuleId, name: 'M', repeats: 1, lines: lines.map((l, i) => ({ id: `n-${i}` as LineId, ...l })) },
    ],
  }
  const record = { id: build, name: build, note: '', currency: currency('EUR'), rules: defaultRules }
  return {
    build,
    tally: tally({ build: record, design, sets: [], copies: [], holdings: shelf, places: [], parts: new Map() }),
  }
}

const apply = (shelf: readonly Holding[], changed: readonly Holding[]) =>
  shelf.map((h) => changed.find((c) => c.id === h.id) ?? h)

test('once each build has reserved in turn, no piece is counted twice, and releasing brings the shelf back', () => {
  fc.assert(
    fc.property(holdings, needs, (shelf, designs) => {
      const builds = designs.map((_, i) => `b-${i}` as BuildId)
      let now: readonly Holding[] = shelf
      for (const [i, build] of builds.entries())
        now = apply(now, reserve(build, count(build, designs[i] ?? [], now).tally, now))
      const tallies = builds.map((build, i) => count(build, designs[i] ?? [], now))
      expect(findConflicts(tallies, now)).toEqual([])
      for (const { build, tally: t } of tallies) expect(reservedFor(build, now)).toBe(t.coverage.shelf)
      for (const h of now) expect((h.reserved ?? []).reduce((n, r) => n + r.qty, 0)).toBeLessThanOrEqual(h.qty)
      for (const build of builds) now = apply(now, release(build, now))
      expect(now).toEqual(shelf)
    }),
  )
})

test('a conflict names both builds and what there is', () => {
  const [first] = ITEMS
  if (!first) throw new Error('an item')
  const shelf: Holding[] = [
    { id: 'h-1' as HoldingId, place: 'l-x' as PlaceId, item: first, qty: 5, estimate: false, condition: 'new' },
  ]
  const tallies = ['b-one', 'b-two'].map((b) => count(b as BuildId, [{ item: first, qty: 4 }], shelf))
  expect(findConflicts(tallies, shelf)).toEqual([
    {
      item: first,
      have: 5,
      builds: [
        { build: 'b-one', qty: 4 },
        { build: 'b-two', qty: 4 },
      ],
    },
  ])
})
