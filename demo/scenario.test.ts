import * as v from 'valibot'
import { RECORD_SCHEMAS, type RecordKind } from '../core/formats/job-file.ts'
import { piecesOf } from '../core/donors/copy-contents.ts'
import { tally } from '../core/planning/tally.ts'
import { demoRecords } from './scenario.ts'

const records = demoRecords()
const [build] = records.builds
const [design] = records.designs
if (!build || !design) throw new Error('the demo has one build and one design')
const result = tally({ ...records, build, design, parts: new Map(records.parts.map((p) => [p.id, p])) })

test('the demo is deterministic and every record passes its schema', () => {
  expect(JSON.stringify(demoRecords())).toBe(JSON.stringify(records))
  for (const [kind, list] of Object.entries(records))
    for (const record of list) {
      const parsed = v.safeParse(RECORD_SCHEMAS[kind as RecordKind], record)
      expect(parsed.issues?.[0]?.message).toBeUndefined()
    }
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
  expect([records.places.length, records.holdings.length]).toEqual([26, 318])
  expect(design.modules.length).toBe(10)
  expect(result.need).toBeGreaterThanOrEqual(900)
  expect(result.need).toBeLessThanOrEqual(1200)
  const handed = design.modules.flatMap((m) => m.lines).filter((l) => /-(left|right)-hand/.test(l.item))
  expect(handed.length).toBeGreaterThan(5)
  expect(result.coverage.standIn).toBeGreaterThan(20)
  expect(result.coverage.onOrder).toBeGreaterThan(0)
  expect(result.proven).toBe(true)
  expect(result.shortfall.size).toBeGreaterThanOrEqual(60)
  expect(result.shortfall.size).toBeLessThanOrEqual(120)
})
