import fc from 'fast-check'
import { colourIndex, colourKey, type Colour } from '../colours/colour.ts'
import { newColour } from '../colours/new-colour.ts'
import { knownColours, PALETTE } from '../colours/palette.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Design } from '../design/design.ts'
import type { Holding } from '../shelf/holding.ts'
import { RECORD_KINDS, REGISTRY, type Records, type RecordsByKind } from '../records/registry.ts'
import { SAMPLES } from '../records/records.test-data.ts'
import { colourId } from '../units/ids.ts'
import { itemKey } from './item.ts'
import { partFromName } from './part.ts'
import { mergeColours, renameColour, withNames } from './merge-colours.ts'
import type { TakenOver } from './merge-parts.ts'

const named = (name: string): Colour => PALETTE.find((c) => c.name === name) ?? newColour(name)
const [soot, chalk] = [named('Soot'), named('Chalk')]

/** Records of every kind as they are once a colour is merged into another. */
function merged(from: Colour, into: Colour, records: Partial<Records>): Partial<Records> {
  const { changes } = mergeColours<RecordsByKind>(from, into, records, REGISTRY)
  const after = <R extends { readonly id: string }>(all: readonly R[], { put, remove }: TakenOver<R>): R[] => [
    ...all.filter((r) => !remove.includes(r.id) && !put.some((p) => p.id === r.id)),
    ...put,
  ]
  return Object.fromEntries(
    RECORD_KINDS.flatMap((kind) =>
      records[kind] ? [[kind, after(records[kind], changes[kind] as TakenOver<{ id: string }>)]] : [],
    ),
  )
}

test('after a merge no record of any kind names the merged colour, wherever a colour can stand', () => {
  const plate = itemKey(partFromName('plate 2x4').id, soot.id)
  const design = {
    ...SAMPLES.designs,
    modules: SAMPLES.designs.modules.map((m) => ({
      ...m,
      colours: [
        { from: soot.id, to: chalk.id },
        { from: colourId('Gentian'), to: soot.id },
      ],
      lines: m.lines.map((l) => ({ ...l, item: plate, palette: [soot.id, chalk.id], meanwhile: plate })),
    })),
  } as Design
  const records = {
    ...Object.fromEntries(RECORD_KINDS.map((kind) => [kind, [SAMPLES[kind]]])),
    designs: [design],
    versions: [{ ...SAMPLES.versions, design }],
    builds: [{ ...SAMPLES.builds, rules: { ...defaultRules, palette: [soot.id, chalk.id, colourId('Peat')] } }],
    colours: [],
  } as unknown as Records
  const after = merged(soot, chalk, records)
  expect(JSON.stringify(after)).not.toContain(soot.id)
  // One colour stands once in a palette, and is not exchanged for itself.
  expect(after.builds?.[0]?.rules.palette).toEqual([chalk.id, colourId('Peat')])
  expect(after.designs?.[0]?.modules[0]?.colours).toEqual([{ from: colourId('Gentian'), to: chalk.id }])
})

test('no piece appears or vanishes with a merge', () => {
  const item = fc
    .tuple(fc.constantFrom('plate 2x4', 'brick 1x1'), fc.constantFrom(soot, chalk, named('Peat')))
    .map(([part, colour]) => itemKey(partFromName(part).id, colour.id))
  fc.assert(
    fc.property(fc.array(fc.tuple(item, fc.integer({ min: 1, max: 50 })), { maxLength: 12 }), (lots) => {
      const holdings = lots.map(([of, qty], i) => ({ ...SAMPLES.holdings, id: `h-${i}`, item: of, qty }) as Holding)
      const pieces = (list: readonly Holding[] = []) => list.reduce((n, h) => n + h.qty, 0)
      expect(pieces(merged(soot, chalk, { holdings }).holdings)).toBe(pieces(holdings))
    }),
  )
})

test('a colour known from the start that was merged does not come back beside the one it became', () => {
  const { colour } = mergeColours<RecordsByKind>(soot, chalk, {}, REGISTRY)
  const known = knownColours([colour])
  expect(known.map((c) => c.id)).not.toContain(soot.id)
  expect(known).toHaveLength(PALETTE.length - 1)
  // Untouched, all are there once.
  expect(knownColours([chalk])).toHaveLength(PALETTE.length)
})

test('names of a merged or renamed colour lead to it', () => {
  const { colour } = mergeColours<RecordsByKind>(withNames(soot, ['coal']), chalk, {}, REGISTRY)
  const index = colourIndex([colour])
  expect(['Soot', 'coal', 'Chalk'].map((name) => index.get(colourKey(name))?.id)).toEqual([
    chalk.id,
    chalk.id,
    chalk.id,
  ])
  const renamed = renameColour(soot, '  Lamp  black ')
  expect(renamed).toMatchObject({ id: soot.id, name: 'Lamp black' })
  expect(colourIndex([renamed]).get(colourKey('soot'))?.id).toBe(soot.id)
})
