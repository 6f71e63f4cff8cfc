import fc from 'fast-check'
import * as v from 'valibot'
import { colourId, partId } from '../units/ids.ts'
import { PLATE_UM, platesToMm, STUD_UM, studsToMm } from '../units/length.ts'
import { itemKey, ItemKeySchema, splitItemKey } from './item.ts'

test('an item key comes apart into what it was made of, whatever the names', () => {
  const name = fc.string({ unit: 'grapheme', maxLength: 40 })
  fc.assert(
    fc.property(name, name, (part, colour) => {
      const key = itemKey(partId(part), colourId(colour))
      expect(v.is(ItemKeySchema, key)).toBe(true)
      expect(splitItemKey(key)).toEqual({ part: partId(part), colour: colourId(colour), decoration: '' })
    }),
  )
})

test('dimensions of the system (common practice): three plates a brick, five plates two studs', () => {
  expect([studsToMm(1), platesToMm(1), platesToMm(3)]).toEqual([8, 3.2, 9.6])
  expect(platesToMm(3)).toBe(9.6)
  expect(5 * PLATE_UM).toBe(2 * STUD_UM)
})
