import * as v from 'valibot'
import { colourIndex, colourKey } from '../core/colours/colour.ts'
import { changeSheet } from '../core/design/change-sheet.ts'
import { readDelimited } from '../core/formats/delimited.ts'
import { matchColumns } from '../core/formats/list-columns.ts'
import type { ListKind } from '../core/formats/list-fields.ts'
import { readList } from '../core/formats/list-rows.ts'
import { REGISTRY, type RecordKind } from '../core/records/registry.ts'
import { piecesOf } from '../core/donors/copy-contents.ts'
import { designFaults } from '../core/design/faults.ts'
import { coveredPieces } from '../core/netting/coverage.ts'
import { tally } from '../core/netting/count.ts'
import type { ModuleId } from '../core/units/ids.ts'
import { practiceOffers, practiceShelf } from './practice.ts'
import { demoRecords } from './scenario.ts'

const records = demoRecords()
const [build] = records.builds
const [design] = records.designs
if (!build || !design) throw new Error('the demo has builds and designs')
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
  expect(records.copies.length).toBe(6)
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

test('the second build converts a donor in part: some stays, some comes off and is used again, little is short', () => {
  const [, conversion] = records.builds
  const [, changed] = records.designs
  if (!conversion || !changed) throw new Error('the demo has two builds')
  const sheet = changeSheet(changed, records.sets)
  const set = records.sets.find((s) => s.id === records.copies.find((c) => c.buildId === conversion.id)?.setId)
  // Undone it gives the set back, without its spares.
  const all = set?.lines.reduce((n, l) => n + (l.spare ? 0 : l.qty), 0)
  expect(sheet.kept + sheet.off).toBe(all)
  expect(sheet.kept).toBeGreaterThan(200)
  expect(sheet.reused).toBeGreaterThan(15)
  expect(sheet.stages.map((s) => [s.off.length > 0, s.added.length > 0, s.module?.change])).toContainEqual([
    false,
    false,
    'turned',
  ])
  const counted = tally({
    ...records,
    build: conversion,
    design: changed,
    copies: records.copies.filter((c) => c.buildId === conversion.id),
    parts: new Map(records.parts.map((p) => [p.id, p])),
    colourById: new Map(records.colours.map((c) => [c.id, c])),
  })
  expect(counted.proven).toBe(true)
  expect(counted.coverage.short).toBeGreaterThan(0)
  expect(counted.coverage.short).toBeLessThan(10)
  expect(counted.coverage.shelf).toBe(0)
})

function read(text: string, kind: ListKind) {
  const list = readDelimited(text)
  if (!list.ok) throw new Error(list.error.message)
  const index = colourIndex(records.colours)
  const knownColours = new Map([...index].map(([key, c]) => [key, c.id]))
  const match = matchColumns(list.value.rows, kind, index)
  return readList(list.value, kind, match, { currency: 'EUR', knownColours, knownCodes: new Map() })
}

test('the practice files are read as they are meant: sections are places, all rows come in', () => {
  const colours = colourIndex(records.colours)
  const shelf = read(practiceShelf(), 'shelf')
  expect(shelf.leftOut.some((r) => r.kind === 'total')).toBe(true)
  expect(shelf.accepted).toHaveLength(72)
  expect(new Set(shelf.accepted.map((r) => r.place)).size).toBe(6)
  expect(shelf.refused).toEqual([])
  const offers = read(practiceOffers(), 'offers')
  expect(offers.refused).toEqual([])
  expect(offers.accepted.length).toBeGreaterThan(200)
  for (const { colourName } of [...shelf.accepted, ...offers.accepted])
    expect(colours.has(colourKey(colourName))).toBe(true)
  expect(practiceShelf()).toBe(practiceShelf())
})
