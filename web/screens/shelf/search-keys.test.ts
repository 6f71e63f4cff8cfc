import fc from 'fast-check'
import { itemKey } from '../../../core/catalogue/item.ts'
import { partFromName } from '../../../core/catalogue/part.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import { PALETTE } from '../../../core/colours/palette.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import type { HoldingId, PlaceId } from '../../../core/units/ids.ts'
import { searchKeys } from './search-keys.ts'

const [SOOT] = PALETTE
if (!SOOT) throw new Error('a palette has colours')
const PARTS = ['plate 2x4', 'Round Brick 1 × 1', 'slope 2x2 45°', 'façade tile'].map(partFromName)

test('a holding is found by every word of its part, colour, decoration and place, whatever their spelling', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...PARTS),
      fc.constantFrom(undefined, 'clock face', 'sticker No. 7'),
      fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' }),
      (part, decoration, placeName) => {
        const place = { id: 'l-1' as PlaceId, name: placeName, kind: 'bin' as const, parent: null }
        const holding: Holding = {
          id: 'h-1' as HoldingId,
          place: place.id,
          item: itemKey(part.id, SOOT.id, decoration),
          qty: 1,
          estimate: false,
          condition: 'new',
        }
        const key = searchKeys([place], () => ({ part, colour: SOOT }))(holding)
        for (const text of [part.name, SOOT.name, decoration ?? '', placeName])
          for (const word of searchKey(text).split(' ')) expect(key).toContain(word)
      },
    ),
  )
})

test('a holding whose place is gone is still found by its part', () => {
  const [part] = PARTS
  if (!part) throw new Error('there are parts')
  const holding = { item: itemKey(part.id, SOOT.id), place: 'l-gone' } as Holding
  expect(searchKeys([], () => ({ part, colour: SOOT }))(holding)).toContain(searchKey(part.name))
})
