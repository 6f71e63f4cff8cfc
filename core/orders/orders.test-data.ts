import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { colourId, partId, type BuildId, type OrderId, type PlaceId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import type { Order, OrderLine } from './order.ts'
import { pileIdOf } from './piles.ts'

export const [PLATE, BRICK, TILE] = ['plate 2x4', 'brick 1x2', 'tile 1x1'].map((name) =>
  itemKey(partId(name), colourId('Soot')),
) as [ItemKey, ItemKey, ItemKey]
export const [FIRST, SECOND] = ['b-1', 'b-2'] as unknown as [BuildId, BuildId]
export const PILES = {
  pileOf: pileIdOf,
  surplus: 'l-surplus' as PlaceId,
}

/** A line of an order, ten pieces of a plate for the first build where nothing else is said. */
export const line = (more: Partial<OrderLine> = {}): OrderLine => ({
  id: '1',
  item: PLATE,
  qty: 10,
  price: 12,
  condition: 'new',
  for: [{ build: FIRST, qty: more.qty ?? 10 }],
  ...more,
})

/** A draft of one line, made on 1 March. */
export const order = (more: Partial<Order> = {}): Order => ({
  id: 'r-1' as OrderId,
  number: 7,
  seller: { shop: 'a', name: 'A' },
  builds: [FIRST],
  currency: currency('EUR'),
  home: currency('EUR'),
  lines: [line()],
  copies: [],
  history: [{ state: 'drafted', on: '2026-03-01' }],
  leadDays: 6,
  bookings: 0,
  claims: [],
  ...more,
})

/** An order that went the usual way up to a state, a day a step. */
export function orderAt(state: Order['history'][number]['state'], more: Partial<Order> = {}): Order {
  const way = ['drafted', 'placed', 'paid', 'dispatched', 'arrived', 'checked in'] as const
  const steps = state === 'lost' ? [...way.slice(0, 4), 'lost' as const] : way.slice(0, way.indexOf(state as never) + 1)
  return order({ history: steps.map((s, i) => ({ state: s, on: `2026-03-0${i + 1}` })), ...more })
}
