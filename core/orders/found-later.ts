import type { ItemKey } from '../catalogue/item.ts'
import type { Holding } from '../shelf/holding.ts'
import { exchangeLots, type ShelfChange } from '../shelf/lot.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { NOTHING_GOT, receiptsTogether, type Order, type OrderLine, type Receipt } from './order.ts'
import type { OrderRefusal } from './order-states.ts'

/** What turned out at the table, weeks later perhaps: pieces that were taken as right and are not. */
export type FoundLater =
  | { readonly reason: 'short' | 'damaged'; readonly qty: number }
  | { readonly reason: 'wrong'; readonly qty: number; readonly item: ItemKey }

/** Pieces of a line that lie on the shelf as taken from it, by order and item. */
const stillThere = (order: Order, line: OrderLine, holdings: readonly Holding[]): Holding[] => {
  const own = holdings.filter((h) => h.item === line.item && h.uncounted === order.id)
  return own.length > 0 ? own : holdings.filter((h) => h.item === line.item)
}

/**
 * An order of which pieces booked as right turned out short, damaged or other ones, and what that changes on the shelf:
 * they leave it, those still marked as uncounted first; other pieces come in their place. Refused where fewer were booked
 * as right, or lie on the shelf.
 */
export function foundLater(
  order: Order,
  lineId: string,
  found: FoundLater,
  holdings: readonly Holding[],
  fresh: () => string,
): Result<{ readonly order: Order; readonly shelf: ShelfChange }, OrderRefusal> {
  const line = order.lines.find((l) => l.id === lineId)
  const got = line?.got
  if (!line || !got || found.qty < 1 || !Number.isInteger(found.qty))
    return fail({ code: 'not from here', message: 'Nothing of this line was booked: count it at the bench.' })
  if (found.qty > got.right)
    return fail({ code: 'more than ordered', message: `Only ${got.right} of this line were booked as right.` })
  const there = stillThere(order, line, holdings)
  const pieces = there.reduce((n, h) => n + h.qty, 0)
  if (pieces < found.qty)
    return fail({
      code: 'more than ordered',
      message: `Only ${pieces} such pieces lie on the shelf: correct the count there first, or claim fewer.`,
    })
  let left = found.qty
  const takes = there.flatMap((holding) => {
    const qty = Math.min(left, holding.qty)
    left -= qty
    return qty > 0 ? [{ holding, qty }] : []
  })
  const other = found.reason === 'wrong' ? found.item : undefined
  const shelf = exchangeLots(
    there,
    takes,
    (taken) => {
      if (other === undefined) return []
      const { uncounted: _, ...counted } = taken
      return [{ ...counted, item: other }]
    },
    fresh,
  )
  const receipt: Receipt = {
    ...NOTHING_GOT,
    ...(found.reason === 'wrong' ? { wrong: [{ item: found.item, qty: found.qty }] } : { [found.reason]: found.qty }),
  }
  const next: OrderLine = { ...line, got: receiptsTogether({ ...got, right: got.right - found.qty }, receipt) }
  return ok({ order: { ...order, lines: order.lines.map((l) => (l.id === lineId ? next : l)) }, shelf })
}

/** Holdings of pieces that were taken as right with an order and have not been counted since. */
export const uncountedOf = (order: Pick<Order, 'id'>, holdings: readonly Holding[]): Holding[] =>
  holdings.filter((h) => h.uncounted === order.id)
