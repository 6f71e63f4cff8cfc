import { REGISTRY, type RecordsByKind } from '../core/records/registry.ts'
import fc from 'fast-check'
import { itemKey, splitItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import { mergeParts } from '../core/catalogue/merge-parts.ts'
import type { Holding } from '../core/shelf/holding.ts'
import { countDifferences } from '../core/shelf/rearrange.ts'
import { applySticker, isSticker, peel } from '../core/shelf/stickers.ts'
import { colourId, type HoldingId, type PlaceId } from '../core/units/ids.ts'
import { Database } from './database.ts'
import type { Change } from './journal-entry.ts'
import { act, moveTo, rearrange, recount, redo, undo } from './journal.ts'

const SOOT = colourId('Soot')
const PARTS = ['plate 2x4', 'tile 2x2', 'tile 2x2 with groove'].map(partFromName)
const ITEMS = [
  ...PARTS.map((p) => itemKey(p.id, SOOT)),
  ...PARTS.slice(0, 2).map((p) => itemKey(p.id, SOOT, 'sticker clock face')),
]
const PLACES = ['l-a', 'l-b', 'l-c'] as PlaceId[]
const at = '2026-01-01T00:00:00.000Z'

const start = fc.array(
  fc.record({
    item: fc.constantFrom(...ITEMS),
    place: fc.constantFrom(...PLACES),
    qty: fc.integer({ min: 1, max: 9 }),
    estimate: fc.boolean(),
    condition: fc.constantFrom('new' as const, 'used' as const),
  }),
  { minLength: 2, maxLength: 6 },
)
const step = fc.record({
  kind: fc.constantFrom('move', 'count', 'peel', 'stick', 'merge', 'undo', 'redo'),
  pick: fc.nat(),
  other: fc.nat(),
  qty: fc.integer({ min: 0, max: 9 }),
  to: fc.constantFrom(...PLACES),
})

/** Pieces and stickers, a stickered piece being one of each. */
function census(holdings: readonly Holding[]): { pieces: number; stickers: number } {
  let pieces = 0
  let stickers = 0
  for (const { item, qty } of holdings) {
    const { part, decoration } = splitItemKey(item)
    if (part.startsWith('p-sticker-')) stickers += qty
    else pieces += qty
    if (isSticker(decoration)) stickers += qty
  }
  return { pieces, stickers }
}

test('no sequence of moves, splits, merges, counts, peelings, undos and redos makes or loses a piece', async () => {
  let serial = 0
  const fresh = () => `t${serial++}`
  await fc.assert(
    fc.asyncProperty(start, fc.array(step, { maxLength: 10 }), async (rows, steps) => {
      const db = new Database(`shelf-${fresh()}`)
      await db.records('holdings').bulkPut(rows.map((r) => ({ ...r, id: `h-${fresh()}` as HoldingId })))
      let expected = census(await db.records('holdings').toArray())
      const done: (typeof expected)[] = []
      let undone: (typeof expected)[] = []
      for (const { kind, pick, other, qty, to } of steps) {
        const shelf = await db.records('holdings').toArray()
        const holding = shelf[pick % shelf.length]
        const second = shelf[other % shelf.length]
        const before = expected
        if (kind === 'undo' || kind === 'redo') {
          const [from, onto] = kind === 'undo' ? [done, undone] : [undone, done]
          const result = await (kind === 'undo' ? undo(db) : redo(db))
          const there = from.pop()
          expect(result.ok && result.value?.label).toBe(there === undefined ? undefined : 'step')
          if (there !== undefined) {
            onto.push(before)
            expected = there
          }
        } else if (holding && second) {
          let changes: Change[] = []
          const write = (change: { put: readonly Holding[]; remove: readonly HoldingId[] } | undefined) => {
            if (change) changes = rearrange(shelf, change)
          }
          if (kind === 'move') changes = [moveTo(to, [{ seen: holding, qty }])]
          if (kind === 'peel') write(peel(holding, qty, shelf, fresh))
          if (kind === 'stick') {
            const part = partFromName(splitItemKey(holding.item).part.slice(2).replace(/-/g, ' '))
            write(applySticker({ holding, part }, second, qty, shelf, fresh))
          }
          if (kind === 'count') {
            const differences = countDifferences(shelf, new Map([[holding.id, qty]]))
            changes = [recount(differences.map((d) => ({ seen: d.holding, qty: d.now, estimate: false })))]
            const found = census(differences.map((d) => ({ ...d.holding, qty: d.now })))
            const missed = census(differences.map((d) => d.holding))
            expected = {
              pieces: before.pieces + found.pieces - missed.pieces,
              stickers: before.stickers + found.stickers - missed.stickers,
            }
          }
          if (kind === 'merge') {
            const [, tile, grooved] = PARTS
            if (!tile || !grooved) throw new Error('test data')
            const { put, remove } = mergeParts<RecordsByKind>(grooved, tile, { holdings: shelf }, REGISTRY).changes
              .holdings
            changes = rearrange(shelf, { put, remove: remove as HoldingId[] })
          }
          const acted = await act(db, 'step', changes, at)
          expect(acted.ok).toBe(true)
          if (acted.ok && acted.value !== undefined) {
            done.push(before)
            undone = []
          }
        }
        const after = await db.records('holdings').toArray()
        expect(census(after)).toEqual(expected)
        expect(after.every((h) => h.qty > 0)).toBe(true)
      }
      await db.delete()
    }),
    { numRuns: 60 },
  )
})
