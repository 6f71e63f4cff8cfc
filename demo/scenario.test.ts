import * as v from 'valibot'
import { REGISTRY, type RecordKind } from '../core/records/registry.ts'
import { piecesOf } from '../core/donors/copy-contents.ts'
import { designFaults } from '../core/design/faults.ts'
import { coveredPieces } from '../core/netting/coverage.ts'
import { tally } from '../core/netting/count.ts'
import type { ModuleId } from '../core/units/ids.ts'
import { demoRecords } from './scenario.ts'

const records = demoRecords()
const [build] = records.builds
const [design] = records.designs
if (!build || !design) throw new Error('the demo has one build and one design')
const result = tally({
  ...records,
  build,
  design,
  parts: new Map(records.parts.map((p) => [p.id, p])),
  colourById: new Map(records.colours.map((c) => [c.id, c])),
})

test('the demo is deterministic and every record passes its schema', () => {
  expect(JSON.stringify(demoRecords())).toBe(JSON.stringify(records))
  for (const [kind, list] of Object.entries(records))
    for (const record of list) {
      const parsed = v.safeParse(REGISTRY[kind as RecordKind].schema, record)
      expect(parsed.issues?.[0]?.message).toBeUndefined()
    }
})

test('the remix uses everything a design can say', () => {
  const { modules, colourways } = design
  const lines = modules.flatMap((m) => m.lines)
  expect(designFaults(design, new Map(records.colours.map((c) => [c.id, c])))).toEqual([])
  expect(modules.filter((m) => m.figure)).toHaveLength(4)
  expect(colourways).toHaveLength(3)
  for (const said of ['within', 'like', 'mirrored', 'pair', 'later', 'form', 'risks', 'tested'] as const)
    expect(modules.some((m) => m[said] !== undefined)).toBe(true)
  for (const said of ['steps', 'group', 'freedom', 'instead', 'meanwhile', 'print', 'length', 'slot', 'low'] as const)
    expect(lines.some((l) => l[said] !== undefined)).toBe(true)
  // Both groups are better off in another colour than drawn; the ground is tied from two plates.
  expect([...result.groups.keys()].sort()).toEqual(['Collar', 'Dome rings'])
  expect(result.printRuns.map((r) => r.cost)).toEqual([4 * 180])
  expect(result.byModule.get('m-ground' as ModuleId)?.standIn).toBe(1)
  const wings = ['right', 'left'].map((side) => result.byModule.get(`m-stair-wing-${side}` as ModuleId))
  expect(wings.every((w) => w && coveredPieces(w) + w.short >= 21)).toBe(true)
})

test('the demo has the size a builder would know', () => {
  expect(records.parts.length).toBeGreaterThanOrEqual(200)
  expect(records.parts.every((p) => p.shape.family !== 'unknown')).toBe(true)
  expect(records.colours.length).toBeGreaterThanOrEqual(32)
  expect(records.sets.length).toBe(3)
  for (const set of records.sets) {
    expect(piecesOf(set)).toBeGreaterThanOrEqual(250)
    expect(piecesOf(set)).toBeLessThanOrEqual(900)
    expect(set.lines.some((l) => l.spare)).toBe(true)
    expect(set.lines.some((l) => l.figure)).toBe(true)
    expect(set.lines.some((l) => l.item.startsWith('p-sticker-sheet'))).toBe(true)
  }
  expect(records.copies.length).toBe(5)
  expect([records.places.length, records.holdings.length]).toEqual([26, 335])
  expect(design.modules.length).toBe(23)
  expect(result.need).toBeGreaterThanOrEqual(900)
  expect(result.need).toBeLessThanOrEqual(1400)
  const handed = design.modules.flatMap((m) => m.lines).filter((l) => /-(left|right)-hand/.test(l.item))
  expect(handed.length).toBeGreaterThan(5)
  expect(result.coverage.standIn).toBeGreaterThan(20)
  expect(result.coverage.onOrder).toBeGreaterThan(0)
  expect(result.proven).toBe(true)
  expect(result.shortfall.size).toBeGreaterThanOrEqual(60)
  expect(result.shortfall.size).toBeLessThanOrEqual(120)
})
