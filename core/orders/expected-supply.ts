import type { Holding } from '../shelf/holding.ts'
import { withReserved } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import type { HoldingId, OrderId, PlaceId } from '../units/ids.ts'
import { expectedOn } from './expected-day.ts'
import { openPieces, orderName, type Order, type OrderLine } from './order.ts'
import { isOnItsWay, turnedUp } from './order-states.ts'

/** What orders on their way add to what there is: a place in the post each, with what is still open of it. */
export type ExpectedSupply = { readonly places: readonly Place[]; readonly holdings: readonly Holding[] }

const PLACE = 'l-order~'
const HOLDING = 'h-order~'

/** The place that stands for an order while it is on its way. */
export const placeOfOrder = (order: OrderId): PlaceId => `${PLACE}${order}` as PlaceId

/** The order that a place stands for; undefined of a place on the shelf. */
export const orderOfPlace = (place: PlaceId): OrderId | undefined =>
  place.startsWith(PLACE) ? (place.slice(PLACE.length) as OrderId) : undefined

/** Whether a holding stands for pieces of an order: there is no such record, and nothing to edit. */
export const isExpected = ({ id }: Pick<Holding, 'id'>): boolean => id.startsWith(HOLDING)

/** The holdings that lie on the shelf: those that can be edited. */
export const onShelf = (holdings: readonly Holding[]): readonly Holding[] =>
  holdings.some(isExpected) ? holdings.filter((h) => !isExpected(h)) : holdings

/**
 * What an order adds while it is on its way: its open pieces, each reserved for the builds it is for, those that came
 * first being the first build's. What turned up after it was given up is free for whoever needs it. Linear.
 */
export function expectedOf(order: Order): ExpectedSupply {
  if (!isOnItsWay(order)) return { places: [], holdings: [] }
  const place = placeOfOrder(order.id)
  const due = expectedOn(order)
  return {
    places: [{ id: place, name: orderName(order), kind: 'post', parent: null, ...(due !== undefined && { due }) }],
    holdings: order.lines.flatMap((line): Holding[] => {
      const qty = openPieces(line)
      if (qty === 0) return []
      const id = `${HOLDING}${order.id}~${line.id}` as HoldingId
      const { item, condition } = line
      const reserved = turnedUp(order) ? [] : stillFor(line)
      return [withReserved<Holding>({ id, place, item, qty, estimate: false, condition }, reserved)]
    }),
  }
}

/** What orders on their way add, in their order. */
export function expectedSupply(
  orders: readonly Order[],
  of: (order: Order) => ExpectedSupply = expectedOf,
): ExpectedSupply {
  const all = orders.map(of)
  return { places: all.flatMap((e) => e.places), holdings: all.flatMap((e) => e.holdings) }
}

/** Whom the open pieces of a line are for: the first pieces that came, or went missing, were the first build's. */
export const stillFor = (line: OrderLine): OrderLine['for'] => sharesOfRun(line, line.qty - openPieces(line), line.qty)

/** Whom the pieces of a line from one to another are for, when they are dealt out in the order of its builds. */
export function sharesOfRun(line: Pick<OrderLine, 'for'>, from: number, to: number): OrderLine['for'] {
  const shares: { build: OrderLine['for'][number]['build']; qty: number }[] = []
  let at = 0
  for (const { build, qty } of line.for) {
    const share = Math.min(to, at + qty) - Math.max(from, at)
    if (share > 0) shares.push({ build, qty: share })
    at += qty
  }
  return shares
}
