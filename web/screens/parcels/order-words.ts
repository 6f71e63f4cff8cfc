import { expectedBetween } from '../../../core/orders/expected-day.ts'
import { chargesOf, stateOf, type Order, type OrderState } from '../../../core/orders/order.ts'
import { recordFor, type SellerRecord } from '../../../core/orders/seller-record.ts'
import type { Trouble } from '../../../core/orders/trouble.ts'
import { billTotal } from '../../../core/costs/order-cost.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'

/** What a step is called on its button. */
export const STEP_WORDS: Readonly<Record<OrderState, string>> = {
  drafted: 'Back to the draft',
  placed: 'Placed',
  paid: 'Paid',
  dispatched: 'Sent off',
  arrived: 'Arrived',
  'checked in': 'Checked in',
  cancelled: 'Cancelled',
  lost: 'Lost',
  returned: 'Sent back',
}

/** What is wrong with an order and what to do, in a sentence. */
export function troubleWords({ kind, days, act }: Trouble): string {
  const since = plural(days, 'day')
  const what: Readonly<Record<Trouble['kind'], string>> = {
    'not placed': `a draft for ${since}`,
    'not paid': `placed ${since} ago and not paid`,
    overdue: `${since} later than its late day`,
    'nearly overdue': `${since} later than expected, still within what is usual`,
    'not counted': `here for ${since}, not checked in`,
    'claim waits': `no answer to a claim for ${since}`,
    lost: `given up ${since} ago, nothing claimed`,
  }
  const next: Readonly<Record<Trouble['act'], string>> = {
    place: 'place it or cancel it',
    pay: 'pay it or cancel it',
    ask: 'ask the seller where it is',
    wait: 'wait',
    claim: kind === 'lost' ? 'claim it' : 'give it up as lost and claim it',
    'check in': 'check it in, or take it as right',
    remind: 'remind the seller, or settle the claim',
  }
  return `${what[kind]}: ${next[act]}`
}

/** When an order is to be expected, in words. */
export function expectedWords(order: Order, records: ReadonlyMap<string, SellerRecord>, today: string): string {
  const state = stateOf(order)
  if (['cancelled', 'lost', 'returned'].includes(state)) return '–'
  const expected = expectedBetween(order, recordFor(records, order), today)
  if (!expected) return 'not placed'
  if (state === 'arrived' || state === 'checked in') return expected.likely
  return expected.likely
}

/** What an order comes to, in the seller's money. */
export const sumWords = (order: Order): string => formatMoney(billTotal(chargesOf(order)), order.currency)

export const piecesOf = ({ lines }: Pick<Order, 'lines'>): number => lines.reduce((n, l) => n + l.qty, 0)

/** What an order brings. */
export const contentWords = (order: Order): string =>
  [
    ...(order.lines.length > 0 ? [plural(piecesOf(order), 'piece')] : []),
    ...(order.copies.length > 0 ? [plural(order.copies.length, 'donor copy', 'donor copies')] : []),
  ].join(', ') || 'nothing'
