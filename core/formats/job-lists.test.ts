import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { colourIndex, colourKey } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import type { BuildId } from '../units/ids.ts'
import { JobFileSchema, type JobFile } from './job-file.ts'
import { jobLists } from './job-lists.ts'
import { matchColumns, type ListKind } from './list-columns.ts'
import { importDesign, importDonor, importShelf, type ImportContext } from './list-import.ts'
import { readList } from './list-rows.ts'
import * as v from 'valibot'

const PARTS = ['plate 2x4', 'tile 2x2', 'hose 8 long', 'wedge plate 2x4 left hand'].map(partFromName)
const index = colourIndex(PALETTE)
const item = fc
  .tuple(fc.constantFrom(...PARTS), fc.constantFrom(...PALETTE), fc.constantFrom('', 'sticker clock face'))
  .map(([part, colour, decoration]) => itemKey(part.id, colour.id, decoration))
const qty = fc.integer({ min: 1, max: 2000 })
const unique = { selector: (row: { item: string }) => row.item, minLength: 1, maxLength: 6 }

const job = fc
  .record({
    lines: fc.uniqueArray(fc.record({ item, qty, spare: fc.boolean() }), unique),
    holdings: fc.uniqueArray(
      fc.record({
        item,
        qty,
        estimate: fc.boolean(),
        condition: fc.constantFrom('new', 'used', 'worn'),
        length: fc.option(fc.integer({ min: 1, max: 10_000 }), { nil: undefined }),
      }),
      unique,
    ),
    design: fc.uniqueArray(fc.record({ item, qty, visibility: fc.constantFrom('hidden', undefined) }), unique),
    repeats: fc.integer({ min: 1, max: 9 }),
  })
  .map(({ lines, holdings, design, repeats }): JobFile =>
    v.parse(
      JobFileSchema,
      JSON.parse(
        JSON.stringify({
          format: 'unfinished-brick-job',
          version: 1,
          savedAt: '2026-01-01T00:00:00.000Z',
          parts: PARTS,
          colours: PALETTE,
          sets: [
            {
              id: 's-x',
              name: 'X',
              stages: [{ id: 'walls', name: 'Walls' }],
              lines: lines.map((l) => ({ ...l, stage: 'walls' })),
            },
          ],
          copies: [],
          places: [{ id: 'l-bin-1', name: 'Bin 1', kind: 'bin', parent: null }],
          holdings: holdings.map((h, i) => ({ ...h, id: `h-${i}`, place: 'l-bin-1' })),
          builds: [],
          designs: [
            {
              id: 'b-x',
              modules: [{ id: 'm-x', name: 'Roof', repeats, lines: design.map((l, i) => ({ ...l, id: `n-${i}` })) }],
            },
          ],
          shops: [],
          offers: [],
          plans: [],
        }),
      ),
    ),
  )

const read = (file: JobFile, kind: ListKind) => {
  const [list] = jobLists(file, kind)
  if (!list) throw new Error('no list')
  const match = matchColumns(list.table.rows, kind, index)
  const reading = readList(list.table, kind, match, {
    currency: 'EUR',
    knownColours: new Map([...index].map(([key, c]) => [key, c.id])),
    knownCodes: new Map(),
  })
  expect(reading.refused).toEqual([])
  return reading.accepted
}
let serial = 0
const context: ImportContext = {
  colourOf: (key) => index.get(colourKey(key))?.id,
  parts: PARTS,
  fresh: () => `t${serial++}`,
}
const bare = <T extends { id: string }>(rows: readonly T[]) => rows.map(({ id: _, ...rest }) => rest)

test('a list taken from a job file is the list that went in', () => {
  fc.assert(
    fc.property(job, (file) => {
      const [set] = importDonor(read(file, 'donor'), { name: 'X', build: null, addCopy: false }, context).sets
      expect(set).toEqual(file.sets[0])
      const shelf = importShelf(read(file, 'shelf'), { defaultPlace: 'Box', existing: [], mode: 'add' }, context)
      expect(bare(shelf.holdings)).toEqual(bare(file.holdings))
      const [design] = importDesign(
        read(file, 'design'),
        { build: 'b-x' as BuildId, name: '', mode: 'replace', existing: null },
        context,
      ).designs
      const modules = (d: JobFile['designs'][number] | undefined) =>
        d?.modules.map(({ origin: _, ...m }) => ({ ...m, id: '', lines: bare(m.lines) }))
      expect(modules(design)).toEqual(modules(file.designs[0]))
    }),
    { numRuns: 60 },
  )
})
