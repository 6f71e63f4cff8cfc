import { colourKey } from '../colours/colour.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { billTotal } from '../costs/order-cost.ts'
import { chargesOf, orderName, type Order } from '../orders/order.ts'
import { expectedBetween, type SellerDays } from '../orders/expected-day.ts'
import { isOnItsWay } from '../orders/order-states.ts'
import { NOT_STATED } from '../units/condition.ts'
import { decimal, formatMoney } from '../units/money.ts'
import { plural } from '../units/numbers.ts'
import { writeCsv } from './delimited.ts'
import type { CalendarDay } from './calendar.ts'

/** How an item is called: by its part and colour, and in full. */
type NameItem = (item: ItemKey) => {
  readonly name: string
  readonly part: Pick<Part, 'name' | 'aliases'>
  readonly colour: { readonly name: string }
}

/**
 * The seller's own code of a part: of the codes that lists gave it, the one whose column was named after the seller; empty
 * where none was.
 */
export function sellerCode(part: Pick<Part, 'aliases'>, seller: string): string {
  const key = colourKey(seller)
  const own =
    key === '' ? undefined : (part.aliases ?? []).find((a) => a.includes('=') && a.split('=')[0]?.includes(key))
  return own === undefined ? '' : own.slice(own.indexOf('=') + 1)
}

/** An order as rows under a heading, a row a line; money as decimals of the seller's currency, quantities as numbers. */
export function orderRows(order: Order, nameItem: NameItem): (string | number)[][] {
  const { currency, seller } = order
  const codes = order.lines.some(({ item }) => sellerCode(nameItem(item).part, seller.name) !== '')
  return [
    [
      ...(codes ? ['code'] : []),
      ...['part', 'colour', 'pieces', 'condition', 'price each', 'cost', 'currency', 'if there is none'],
    ],
    ...order.lines.map(({ item, qty, condition, price, note = '' }) => {
      const { part, colour } = nameItem(item)
      return [
        ...(codes ? [sellerCode(part, seller.name)] : []),
        ...[part.name, colour.name, qty, condition, decimal(price, currency), decimal(qty * price, currency)],
        ...[currency, note],
      ]
    }),
    ...order.copies.map(({ label, price }) => [
      ...(codes ? [''] : []),
      ...[label, '', 1, '', decimal(price, currency), decimal(price, currency), currency, ''],
    ]),
  ]
}

/** An order as a table (RFC 4180); what a spreadsheet would run as a formula is made plain text. */
export const orderCsv = (order: Order, nameItem: NameItem): string => writeCsv(orderRows(order, nameItem))

/** An order in words for its seller, a line each, to be pasted into a message. */
export function orderText(order: Order, nameItem: NameItem): string {
  const { currency, seller, lines, copies, reference } = order
  const pieces = lines.reduce((n, l) => n + l.qty, 0)
  return [
    `${seller.name}${reference === undefined ? '' : `, your order ${reference}`}: ${plural(pieces + copies.length, lines.length > 0 ? 'piece' : 'set')}, ${formatMoney(billTotal(chargesOf(order)), currency)} with shipping and fees as I reckon`,
    ...lines.map(({ item, qty, condition, price, note }) => {
      const { name, part } = nameItem(item)
      const code = sellerCode(part, seller.name)
      const said = condition === NOT_STATED ? '' : ` (${condition})`
      return `${qty} x ${code === '' ? '' : `${code} `}${name}${said} at ${decimal(price, currency)}${note ? `; ${note}` : ''}`
    }),
    ...copies.map(({ label, price }) => `1 x ${label} at ${decimal(price, currency)}`),
  ].join('\n')
}

/** The days on which orders on their way are expected, for a calendar: the same order is the same event in every file. */
export function expectedDays(
  orders: readonly Order[],
  recordOf: (order: Order) => SellerDays,
  today: string,
): CalendarDay[] {
  return orders.flatMap((order): CalendarDay[] => {
    const expected = isOnItsWay(order) ? expectedBetween(order, recordOf(order), today) : undefined
    if (!expected) return []
    const pieces = order.lines.reduce((n, l) => n + l.qty, 0)
    return [
      {
        uid: `${order.id}@unfinished-brick`,
        day: expected.likely,
        summary: `${orderName(order)}: ${plural(pieces + order.copies.length, order.lines.length > 0 ? 'piece' : 'set')} expected`,
        description: [
          `Late would be after ${expected.late}.`,
          ...(order.tracking === undefined ? [] : [`Tracking number ${order.tracking}`]),
        ].join('\n'),
      },
    ]
  })
}
