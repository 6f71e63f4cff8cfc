import { defaultRules } from '../build/house-rules.ts'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Design, Module } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { readDelimited } from '../formats/delimited.ts'
import { designPart } from '../formats/design-part.ts'
import { jobFileText, readJobFile } from '../formats/job-file.ts'
import { sheetCsv } from '../formats/sheet-csv.ts'
import { newUnit } from '../making/unit.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { Build } from '../build/build.ts'
import type { BuildId, ModuleId, PartId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { buildSheet, withheldModules, type SheetSource } from './build-sheet.ts'

const PARTS = ['plate 2x4', 'brick 1x2', 'tile 1x1', 'hose 16 long'].map(partFromName)
const [PLATE, BRICK, TILE, HOSE] = PARTS.map((p) => itemKey(p.id, PALETTE[0]?.id ?? ('c-x' as never))) as [
  ItemKey,
  ItemKey,
  ItemKey,
  ItemKey,
]
const plan = (share: boolean, author = 'A. Maker') => ({
  ...{ author, licence: 'For oneself', price: { minor: 700, currency: currency('EUR') } },
  permits: { share, sell: false },
})
const module = (id: string, lines: readonly (readonly [ItemKey, number])[], more: Partial<Module> = {}): Module =>
  ({
    ...{ id: `m-${id}`, name: id, repeats: 1 },
    lines: lines.map(([item, qty], i) => ({ id: `n-${id}${i}`, item, qty, note: 'a secret of mine' })),
    ...more,
  }) as unknown as Module
const design: Design = {
  id: 'b-1' as BuildId,
  modules: [
    module(
      'hut',
      [
        [PLATE, 4],
        [BRICK, 3],
      ],
      {
        origin: {
          ...{ kind: 'donor', set: 's-1', stage: 'a', name: 'Hut, A' },
          contents: [
            { item: PLATE, qty: 6 },
            { item: TILE, qty: 2 },
          ],
        },
      },
    ),
    module('arm', [[BRICK, 2]], {
      ...{ repeats: 3, provenance: plan(true), note: 'mine alone' },
      risks: [
        { kind: 'weak hinge', state: 'open', note: 'my worry' },
        { kind: 'heavy', state: 'accepted' },
      ],
    }),
    module('secret', [[HOSE, 5]], { provenance: plan(false, 'B. Other') }),
    module('inner', [[TILE, 9]], { within: 'm-secret' as ModuleId }),
    module('twin', [], { like: 'm-secret' as ModuleId }),
    module('later', [[HOSE, 1]], { later: true }),
  ],
}
const set: DonorSet = {
  ...{ id: 's-1', name: 'Hut', stages: [{ id: 'a', name: 'A' }], retail: { minor: 3000, currency: 'EUR' } },
  lines: [
    { stage: 'a', item: PLATE, qty: 6, spare: false },
    { stage: 'a', item: TILE, qty: 2, spare: false },
    { stage: 'a', item: BRICK, qty: 1, spare: true },
  ],
} as unknown as DonorSet
const copy = (id: string, more: Partial<Copy> = {}): Copy =>
  ({
    ...{ id: `y-${id}`, setId: 's-1', label: 'Bought from a neighbour', buildId: 'b-1', state: 'owned', stages: 'all' },
    ...{ spares: true, missing: [{ item: PLATE, qty: 3 }], paid: { minor: 1234, currency: 'EUR' } },
    ...more,
  }) as unknown as Copy
/** A count's line of each line of the design, with what covers it. */
const lines: TallyLine[] = design.modules.flatMap((m) =>
  m.later
    ? []
    : m.lines.map((l): TallyLine => ({
        ...{ id: l.id, line: l.id, module: m.id, path: [m.id], item: l.item, wanted: l.item, group: undefined },
        ...{ visibility: 'seen', each: l.qty, need: l.qty * m.repeats, estimate: false, interim: undefined },
        ...{ coverage: {} as TallyLine['coverage'], buyInstead: 0 },
        pegs:
          m.id === 'm-hut' && l.item === BRICK
            ? [
                {
                  source: { kind: 'shelf' } as never,
                  ...{ item: TILE, qty: 4, standIn: 'split', uses: [{ item: TILE, qty: 2 }] },
                },
              ]
            : [],
      })),
)
const unit = {
  ...newUnit('b-1' as BuildId, ['m-arm' as ModuleId], 1),
  put: [
    {
      ...{ line: 'n-arm0', item: TILE, qty: 2, covers: 2, condition: 'used' },
      from: { kind: 'place', place: 'l-my-cellar', reserved: 0 },
    },
  ],
} as unknown as SheetSource['units'][number]
const source: SheetSource = {
  ...{ provenance: undefined, design, lines, copies: [copy('1'), copy('2', { state: 'to-buy' })], sets: [set] },
  ...{ parts: new Map(PARTS.map((p) => [p.id, p])), units: [unit] },
  prices: new Map([
    [PLATE, { best: 8, median: 10 }],
    [BRICK, { best: 5, median: 9 }],
  ]),
  priceOf: (item, qty) =>
    item === BRICK ? { cost: Math.min(qty, 8) * 5, unavailable: Math.max(0, qty - 8) } : { cost: 0, unavailable: qty },
}

test('what donors give, what their owner still needs, and what that costs; by hand', () => {
  const sheet = buildSheet(source)
  expect(sheet.modules.map((m) => [m.name, m.pieces])).toEqual([
    ['hut', 7],
    ['arm', 6],
  ])
  expect(sheet.modules[1]).toMatchObject({
    repeats: 3,
    untested: ['weak hinge'],
    lines: [{ item: BRICK, qty: 6, each: 2 }],
  })
  expect(sheet.pieces).toBe(13)
  // A whole donor has six plates, whatever is missing of mine; its spare brick does not count, and neither does the copy
  // that was not bought.
  expect(sheet.donors).toEqual([{ name: 'Hut', copies: 1, pieces: 8 }])
  expect(sheet.all).toEqual([
    { item: BRICK, qty: 9, donors: 0, still: 9 },
    { item: PLATE, qty: 4, donors: 4, still: 0 },
  ])
  // Eight of nine bricks are to be had at 5; at the median they are 9 each.
  expect(sheet.price).toEqual({ low: 40, high: 72, unpriced: 1, drivers: [{ item: BRICK, qty: 8, minor: 40 }] })
})

test('the changes from the donor’s own instructions, stage by stage', () => {
  const { changes } = buildSheet(source)
  expect([changes?.kept, changes?.off, changes?.added]).toEqual([4, 4, 3 + 6])
  expect(changes?.stages[0]).toMatchObject({
    name: 'hut',
    kept: 4,
    off: [
      { item: PLATE, qty: 2 },
      { item: TILE, qty: 2 },
    ],
  })
  expect(buildSheet({ ...source, design: { ...design, modules: design.modules.slice(1) } }).changes).toBeUndefined()
})

test('swaps that were built in are told from those that are only planned', () => {
  expect(buildSheet(source).swaps).toEqual([
    { wanted: BRICK, uses: [{ item: TILE, qty: 1 }], kind: undefined, tested: true, qty: 2 },
    // Four tiles, two for each brick.
    { wanted: BRICK, uses: [{ item: TILE, qty: 2 }], kind: 'split', tested: false, qty: 2 },
  ])
})

test('what a licence forbids to share is left out with all within it and all that is like it, and named', () => {
  expect([...withheldModules(design, undefined)]).toEqual(['m-secret', 'm-inner', 'm-twin'])
  const sheet = buildSheet(source)
  expect(sheet.withheld).toEqual(['secret', 'inner', 'twin'])
  expect(JSON.stringify({ ...sheet, withheld: [] })).not.toContain(HOSE)
  expect(sheet.changes?.stages.map((s) => s.name)).toEqual(['hut', 'arm'])
  // Who made it is credited all the same.
  expect(sheet.credits.map((c) => [c.module, c.author, c.share])).toEqual([
    ['arm', 'A. Maker', true],
    ['secret', 'B. Other', false],
  ])
  // A plan of the whole build that may not be shared leaves nothing to share but credits and cautions.
  const none = buildSheet({ ...source, provenance: plan(false) })
  expect([none.modules, none.all, none.swaps, none.pieces]).toEqual([[], [], [], 0])
  expect(none.credits[0]?.module).toBeUndefined()
})

test('cautions are those that apply', () => {
  const all = (of: Partial<SheetSource>) => buildSheet({ ...source, ...of }).cautions.join(' ')
  expect(all({})).toMatch(/children under three.*brittle.*never test built/)
  expect(all({})).not.toContain('Hose')
  const shared = design.modules.map(({ provenance: _, ...m }): Module => m)
  expect(all({ design: { ...design, modules: shared } })).toContain('what is cut stays cut')
  const sticker = itemKey(PARTS[2]?.id as PartId, PALETTE[0]?.id as never, 'sticker clock')
  expect(all({ lines: lines.map((l) => ({ ...l, wanted: sticker })) })).toContain('hot water scalds')
})

test('nothing personal is in it: no shelf, no copies’ names, no prices paid, no notes', () => {
  const { modules, ...sheet } = buildSheet(source)
  const text = JSON.stringify([sheet, modules.map(({ note: _, ...m }) => m)])
  for (const secret of ['cellar', 'neighbour', '1234', 'a secret of mine', 'mine alone', '700'])
    expect(text).not.toContain(secret)
})

test('parts as a table: module by module, then all, and it reads back', () => {
  const nameItem = (item: ItemKey) => ({
    part: { name: item === PLATE ? '=plate' : 'other' },
    colour: { name: 'Soot' },
  })
  const read = readDelimited(sheetCsv(buildSheet(source), nameItem))
  if (!read.ok) throw new Error(read.error.message)
  const [, first, , , ...rest] = read.value.rows
  // What a spreadsheet would take for a formula is defused.
  expect(first).toEqual(['hut', '1', "'=plate", 'Soot', '4', '4', '', ''])
  expect(rest.at(-1)).toEqual(['', '', "'=plate", 'Soot', '', '4', '4', '0'])
})

test('the design as a part of a job file reads back, without what may not be shared and what is the user’s', () => {
  const build: Build = {
    ...{ id: design.id, name: 'Hut with arms', note: 'for my sister', currency: currency('EUR') },
    rules: { ...defaultRules, budget: 5000 },
    provenance: plan(true),
  }
  const print = { vendor: 'A printer', price: 4321, minRun: 1 }
  const [hut, ...others] = design.modules
  if (!hut) throw new Error('no module')
  const asked: Design = {
    ...design,
    modules: [{ ...hut, lines: hut.lines.map((l) => ({ ...l, print })) }, ...others],
    colourways: [
      {
        ...{ id: 'w', name: 'Winter' },
        colours: ['m-arm', 'm-secret'].map((m) => ({
          ...{
            from: PALETTE[0]?.id ?? ('c-x' as never),
            to: PALETTE[1]?.id ?? ('c-y' as never),
            module: m as ModuleId,
          },
        })),
      },
    ],
    colourway: 'w',
  }
  const part = designPart(build, asked, { parts: PARTS, colours: PALETTE, sets: [set] }, '2026-03-01T00:00:00.000Z')
  const text = [...jobFileText(part)].join('')
  const read = readJobFile(text)
  if (!read.ok) throw new Error(read.error.message)
  const { designs, parts, sets, copies, builds } = read.value
  expect(designs[0]?.modules.map((m) => m.name)).toEqual(['hut', 'arm', 'later'])
  // The scheme it is built in goes with it, as far as it is of modules that do.
  expect(designs[0]?.colourways?.[0]?.colours.map((c) => c.module)).toEqual(['m-arm'])
  expect(parts.map((p) => p.name).sort()).toEqual(PARTS.map((p) => p.name).sort())
  expect([sets.length, copies.length, builds[0]?.rules.budget]).toEqual([1, 0, null])
  for (const secret of ['sister', 'secret', 'mine alone', '"minor":700', '"minor":3000', '5000', 'my worry', '4321'])
    expect(text).not.toContain(secret)
})
