import fc from 'fast-check'
import { partFromName } from '../catalogue/part.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import type { HoldingId, PlaceId } from '../units/ids.ts'
import { editHolding, holdingText, HOLDING_CELLS } from './edit-holding.ts'
import type { Holding } from './holding.ts'

const place = (name: string) => ({ id: `l-${name}` as PlaceId, name })
const PLACES = ['Drawer 1', 'Drawer 10', 'Cellar', 'cellar shelf', 'Twin', 'twin'].map(place)
const hose = partFromName('hose 12')
const plate = partFromName('plate 2x4')
const holding: Holding = {
  id: 'h' as HoldingId,
  place: 'l-Cellar' as PlaceId,
  item: 'p|c' as ItemKey,
  qty: 8,
  estimate: false,
  condition: 'used',
}
const edited = (cell: (typeof HOLDING_CELLS)[number], text: string, part = plate) =>
  editHolding(holding, cell, text, { places: PLACES, part })

test('what a cell shows is what it takes, and typing it again changes nothing', () => {
  fc.assert(
    fc.property(
      fc.record({
        qty: fc.integer({ min: 1, max: 999_999 }),
        estimate: fc.boolean(),
        condition: fc.constantFrom(...STATED_CONDITIONS),
        length: fc.option(fc.integer({ min: 1, max: 10_000 }), { nil: undefined }),
        place: fc.constantFrom(...PLACES.slice(0, 4)),
      }),
      ({ length, place: { id, name }, ...own }) => {
        const h: Holding = { ...holding, ...own, place: id, ...(length === undefined ? {} : { length }) }
        for (const cell of HOLDING_CELLS) {
          const read = editHolding(h, cell, holdingText(h, cell, name), { places: PLACES, part: hose })
          expect(read.ok).toBe(true)
          if (!read.ok) continue
          const { value } = read
          if (value.kind === 'count') expect(value).toEqual({ kind: 'count', qty: h.qty, estimate: h.estimate })
          else if (value.kind === 'move') expect(value.to).toBe(h.place)
          else expect(value.next).toEqual(h)
        }
      },
    ),
  )
})

test('a place is called whole or by a beginning that is its own; two of one name are not told apart', () => {
  const to = (text: string) => {
    const read = edited('place', text)
    return read.ok && read.value.kind === 'move' ? read.value.to : undefined
  }
  expect(to('drawer 1')).toBe('l-Drawer 1')
  expect(to('drawer 10')).toBe('l-Drawer 10')
  expect(to('cellar')).toBe('l-Cellar')
  expect(to('cellar s')).toBe('l-cellar shelf')
  for (const text of ['drawer', 'twin', '', 'attic']) expect(to(text)).toBeUndefined()
})

test('conditions by their beginnings; nothing is not stated; a word of none is refused with what would do', () => {
  const condition = (text: string) => {
    const read = edited('condition', text)
    return read.ok && read.value.kind === 'change' ? read.value.next.condition : undefined
  }
  expect(['n', 'New', 'u', 'w', '', 'not', 'not stated'].map(condition)).toEqual([
    'new',
    'new',
    'used',
    'worn',
    'not stated',
    'not stated',
    'not stated',
  ])
  expect(edited('condition', 'mint')).toMatchObject({ ok: false, error: { code: 'condition' } })
})

test('only what comes by the length has one: 12 cm is 120 mm', () => {
  expect(edited('length', '12 cm', hose)).toMatchObject({ ok: true, value: { next: { length: 120 } } })
  expect(edited('length', '120', hose)).toMatchObject({ ok: true, value: { next: { length: 120 } } })
  expect(edited('length', '120')).toMatchObject({ ok: false, error: { code: 'no length of its own' } })
  expect(edited('length', '')).toMatchObject({ ok: true, value: { next: holding } })
})
