import { itemKey } from '../catalogue/item.ts'
import { placeTree } from '../shelf/place-tree.ts'
import type { Place } from '../shelf/place.ts'
import { colourId, partId, type BuildId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import { moduleTree } from './arrange-modules.ts'
import type { Design, Module } from './design.ts'
import { explode, MOST_PLACES } from './explode.ts'
import { designFaults } from './faults.ts'
import { circularModules, placesOfLines } from './nesting.ts'

const item = itemKey(partId('plate 2x4'), colourId('Soot'))
const line = (id: string, qty = 1) => ({ id: id as LineId, item, qty })
const module = (id: string, more: Partial<Module> = {}): Module => ({
  id: id as ModuleId,
  name: id,
  repeats: 1,
  lines: [],
  ...more,
})
const design = (...modules: Module[]): Design => ({ id: 'b-1' as BuildId, modules })

test('5,000 modules, each within the last, are counted, shown and checked', () => {
  const many = 5000
  const deep = design(
    ...Array.from({ length: many }, (_, i) =>
      module(`m-${i}`, {
        ...(i === 0 ? {} : { within: `m-${i - 1}` as ModuleId }),
        ...(i === 3 ? { repeats: 2 } : {}),
        lines: i % 500 === 0 || i === many - 1 ? [line(`n-${i}`, 3)] : [],
      }),
    ),
  )
  const found = explode(deep)
  // One in the outermost, doubled from the fourth module on: 3 + 10 × 6.
  expect(found.reduce((n, r) => n + r.qty, 0)).toBe(63)
  expect(new Set(found.map((r) => r.id)).size).toBe(found.length)
  expect(found.at(-1)?.path.length).toBe(many)
  expect(moduleTree(deep).at(-1)?.depth).toBe(many - 1)
  expect(circularModules(deep).size).toBe(0)
  expect(designFaults(deep)).toEqual([])
})

test('5,000 places, each in the last, are told with all they contain', () => {
  const places = Array.from({ length: 5000 }, (_, i): Place => ({
    id: `l-${i}` as PlaceId,
    name: `${i}`,
    kind: 'box',
    parent: i === 0 ? null : (`l-${i - 1}` as PlaceId),
  }))
  const held = { id: 'h', place: 'l-4999', item, qty: 7, estimate: false, condition: 'new' }
  const rows = placeTree(places, [held] as never)
  expect([rows.length, rows[0]?.count, rows[0]?.places, rows.at(-1)?.depth]).toEqual([5000, 7, 5000, 4999])
})

test('a module like its own inner module keeps requirement ids unique', () => {
  const odd = design(
    module('m-a', { like: 'm-b' as ModuleId, lines: [line('n-a')] }),
    module('m-b', { within: 'm-a' as ModuleId, repeats: 3, lines: [line('n-b', 2)] }),
  )
  const found = explode(odd)
  expect(new Set(found.map((r) => r.id)).size).toBe(found.length)
  // Its own 1, the 2 it has as B, and 3 × 2 in the B within it.
  expect(found.map((r) => r.qty)).toEqual([1, 2, 6])
})

test.each([true, false])(
  '40 modules that double, with lines or without, are known to be too many before any is made',
  (withLines) => {
    const doubling = design(
      module('m-0', { lines: withLines ? [line('n-0')] : [] }),
      ...Array.from({ length: 40 }, (_, i) => [
        module(`m-${i + 1}`, { like: `m-${i}` as ModuleId }),
        module(`x-${i + 1}`, { within: `m-${i + 1}` as ModuleId, like: `m-${i}` as ModuleId }),
      ]).flat(),
    )
    const from = performance.now()
    const found = explode(doubling)
    expect(found.length).toBeLessThanOrEqual(MOST_PLACES)
    expect(performance.now() - from).toBeLessThan(5000)
    expect(placesOfLines(doubling).get('m-40' as ModuleId)).toBe(1e12)
    expect(
      designFaults(doubling)
        .filter((f) => f.code === 'places')
        .map((f) => f.module),
    ).toContain('m-40')
  },
)
