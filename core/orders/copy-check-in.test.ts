import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { CopyId, SetId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { checkInCopy, copiesWith } from './copy-check-in.ts'
import { book } from './check-in.ts'
import { stateOf } from './order.ts'
import { moveOrder } from './order-states.ts'
import { BRICK, FIRST, order, orderAt, PILES, PLATE, TILE } from './orders.test-data.ts'

const set: DonorSet = {
  id: 's-1' as SetId,
  name: 'Hut',
  stages: [
    { id: 'a', name: 'A' },
    { id: 'b', name: 'B' },
  ],
  lines: [
    { stage: 'a', item: PLATE, qty: 6, spare: false },
    { stage: 'b', item: PLATE, qty: 4, spare: false },
    { stage: 'b', item: BRICK, qty: 2, spare: false, figure: 'Guard' },
    { stage: 'b', item: TILE, qty: 1, spare: false },
  ],
}
const copy: Copy = {
  id: 'y-1' as CopyId,
  setId: set.id,
  label: 'Hut, used',
  buildId: FIRST,
  state: 'promised',
  askingPrice: { minor: 900, currency: currency('EUR') },
  stages: 'all',
  spares: true,
  missing: [{ item: PLATE, qty: 1 }],
}
const here = orderAt('arrived', { lines: [], copies: [{ id: copy.id, label: copy.label, price: 900 }] })
const paid = { minor: 900, currency: currency('EUR') }
const NONE = { sealed: false, stagesGone: [], figuresGone: [], missing: [] }

test('a copy is there as it was found: what of it is gone is missing, and no more than it holds', () => {
  const found = checkInCopy(
    here,
    copy,
    set,
    { ...NONE, stagesGone: ['b'], missing: [{ item: TILE, qty: 5 }] },
    paid,
    '2026-03-09',
  )
  if (!found.ok) throw new Error(found.error.message)
  expect(found.value.copy).toMatchObject({
    state: 'owned',
    paid,
    missing: [
      { item: PLATE, qty: 5 },
      { item: BRICK, qty: 2 },
      { item: TILE, qty: 1 },
    ],
  })
  expect(found.value.lacks).toBe(7)
  expect(found.value.copy).not.toHaveProperty('askingPrice')
  expect(stateOf(found.value.order)).toBe('checked in')
})

test.each([
  [{ ...NONE, sealed: true }, 0],
  [NONE, 0],
  [{ ...NONE, figuresGone: ['Guard'] }, 2],
  [{ ...NONE, missing: [{ item: TILE, qty: 1 }] }, 1],
])('%j lacks %i pieces more than was said', (what, lacks) => {
  const found = checkInCopy(here, copy, set, what, paid, '2026-03-09')
  expect(found.ok && found.value.lacks).toBe(lacks)
})

test('a copy is checked in once, and only when it is here', () => {
  const once = checkInCopy(here, copy, set, NONE, paid, '2026-03-09')
  expect(once.ok && checkInCopy(once.value.order, copy, set, NONE, paid, '2026-03-09').ok).toBe(false)
  expect(checkInCopy({ ...here, history: here.history.slice(0, 3) }, copy, set, NONE, paid, '2026-03-09').ok).toBe(
    false,
  )
  expect(book(here, PILES, '2026-03-09').ok).toBe(false)
})

test('copies are on order while their order is, and to be bought again when it is cancelled or lost', () => {
  const toBuy: Copy = { ...copy, state: 'to-buy' }
  const draft = order({ lines: [], copies: here.copies })
  expect(copiesWith(draft, [toBuy])).toEqual([])
  const placed = moveOrder(draft, 'placed', '2026-03-02')
  if (!placed.ok) throw new Error(placed.error.message)
  expect(copiesWith(placed.value, [toBuy])).toEqual([copy])
  const cancelled = moveOrder(placed.value, 'cancelled', '2026-03-03')
  expect(cancelled.ok && copiesWith(cancelled.value, [copy])).toEqual([toBuy])
  // One that came is the user's, whatever becomes of the rest.
  expect(copiesWith(placed.value, [{ ...copy, state: 'owned' }])).toEqual([])
})
