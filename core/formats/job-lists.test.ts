import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { colourIndex, colourKey } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import type { BuildId } from '../units/ids.ts'
import { JobFileSchema, type JobFile } from './job-file.ts'
import { shopOf } from '../offers/offers.test-data.ts'
import { currency } from '../units/money.ts'
import { readDelimited, writeCsv } from './delimited.ts'
import { jobLists } from './job-lists.ts'
import { matchColumns } from './list-columns.ts'
import { type ListKind } from './list-fields.ts'
import { importDesign, importDonor, importOffers, importShelf, type ImportContext } from './list-import.ts'
import { readList } from './list-rows.ts'
import * as v from 'valibot'

const PARTS = ['plate 2x4', 'tile 2x2', 'hose 8 long', 'wedge plate 2x4 left hand'].map(partFromName)
const index = colourIndex(PALETTE)
const item = fc
  .tuple(fc.constantFrom(...PARTS), fc.constantFrom(...PALETTE), fc.constantFrom('', 'sticker clock face'))
  .map(([part, colour, decoration]) => itemKey(part.id, colour.id, decoration))
const qty = fc.integer({ min: 1, max: 2000 })
/** Names as people give them: quotes, signs that part cells, signs that begin a formula, other scripts. */
const NAMES = ['Bin 1', 'Kiste "groß"', 'A, B; C', '=1+1', '-5 and +3', '@home', 'полка', 'd’été 50 %'] as const
const word = fc.constantFrom(...NAMES)
const note = fc.oneof(fc.constant(undefined), word, fc.stringMatching(/^[!-~]{1,8}( [!-~]{1,8}){0,2}$/))
const unique = { selector: (row: { item: string }) => row.item, minLength: 1, maxLength: 6 }

const job = fc
  .record({
    lines: fc.uniqueArray(
      fc.record({ item, qty, spare: fc.boolean(), figure: fc.option(word, { nil: undefined }) }),
      unique,
    ),
    stage: word,
    place: word,
    module: word,
    shop: word,
    offers: fc.uniqueArray(
      fc.record({
        item,
        price: fc.integer({ min: 1, max: 99_999 }),
        stock: fc.integer({ min: 1, max: 900 }),
        pack: fc.constantFrom(1, 1, 4, 10),
        condition: fc.constantFrom('new', 'used', 'worn'),
        thirdParty: fc.boolean(),
      }),
      unique,
    ),
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
    design: fc.uniqueArray(fc.record({ item, qty, visibility: fc.constantFrom('hidden', undefined), note }), unique),
    repeats: fc.integer({ min: 1, max: 9 }),
  })
  .map(({ lines, holdings, design, repeats, stage, place, module, shop, offers }): JobFile =>
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
              stages: [{ id: 'walls', name: stage }],
              lines: lines.map((l) => ({ ...l, stage: 'walls' })),
            },
          ],
          copies: [],
          places: [{ id: 'l-bin-1', name: place, kind: 'bin', parent: null }],
          holdings: holdings.map((h, i) => ({ ...h, id: `h-${i}`, place: 'l-bin-1' })),
          builds: [],
          designs: [
            {
              id: 'b-x',
              modules: [{ id: 'm-x', name: module, repeats, lines: design.map((l, i) => ({ ...l, id: `n-${i}` })) }],
            },
          ],
          shops: [{ ...SHOP, name: shop }],
          offers: offers.map((o, i) => ({ ...o, id: `o-${i}`, shop: SHOP.id, source: 'file' })),
          plans: [],
        }),
      ),
    ),
  )

const read = (file: JobFile, kind: ListKind) => {
  const [list] = jobLists(file, kind)
  if (!list) throw new Error('no list')
  // As it is written to a file and read from it.
  const table = readDelimited(writeCsv(list.table.rows))
  if (!table.ok) throw new Error(table.error.message)
  const match = matchColumns(table.value.rows, kind, index)
  const reading = readList(table.value, kind, match, {
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
/** The shop that offers are of. */
const SHOP = shopOf('file-x', { leadDays: 7, country: 'DE', shippingUnknown: true })
const bare = <T extends { id: string }>(rows: readonly T[]) => rows.map(({ id: _, ...rest }) => rest)

test('a list taken from a job file is the list that went in', () => {
  fc.assert(
    fc.property(job, (file) => {
      const [set] = importDonor(read(file, 'donor'), { name: 'X', build: null, addCopy: false }, context).sets
      // Its stages have ids of their own.
      const named = (s: JobFile['sets'][number] | undefined) => [
        s?.stages.map((stage) => stage.name),
        s?.lines.map(({ stage: _, ...line }) => line),
      ]
      expect(named(set)).toEqual(named(file.sets[0]))
      const shelf = importShelf(read(file, 'shelf'), { defaultPlace: 'Box', existing: [], mode: 'add' }, context)
      expect(shelf.places.map((p) => p.name)).toEqual(file.places.map((p) => p.name))
      const lying = (rows: readonly JobFile['holdings'][number][]) => bare(rows).map(({ place: _, ...h }) => h)
      expect(lying(shelf.holdings)).toEqual(lying(file.holdings))
      const [design] = importDesign(
        read(file, 'design'),
        { build: 'b-x' as BuildId, name: '', mode: 'replace', existing: null },
        context,
      ).designs
      const modules = (d: JobFile['designs'][number] | undefined) =>
        d?.modules.map(({ origin: _, ...m }) => ({ ...m, id: '', lines: bare(m.lines) }))
      expect(modules(design)).toEqual(modules(file.designs[0]))
      const market = importOffers(
        read(file, 'offers'),
        { currency: currency('EUR'), country: 'DE', knownShops: [] },
        context,
      )
      expect(bare(market.shops)).toEqual(bare(file.shops))
      const offer = ({ item, price, stock, pack, condition, thirdParty }: JobFile['offers'][number]) =>
        [item, price, stock, pack, condition, thirdParty ?? false].join()
      expect(market.offers.map(offer)).toEqual(file.offers.map(offer))
    }),
    { numRuns: 60 },
  )
})
