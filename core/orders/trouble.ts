import { daysTo } from '../units/instants.ts'
import { claimAge, isClaimOpen } from './claims.ts'
import { expectedBetween, type SellerDays } from './expected-day.ts'
import { dayOfState, stateOf, type Order } from './order.ts'

/** What is wrong with an order, since how many days, and what to do next. */
export type Trouble = {
  readonly order: Order
  readonly kind: 'not placed' | 'not paid' | 'overdue' | 'nearly overdue' | 'not counted' | 'claim waits' | 'lost'
  readonly days: number
  readonly act: 'place' | 'pay' | 'ask' | 'wait' | 'claim' | 'check in' | 'remind'
}

/** Days after which a draft, a bill, or a parcel that lies unopened is told; common practice. */
const SOON = 7

/** How long the user waits for a late parcel before it is to be claimed, and for an answer before the seller is reminded. */
export type PatienceDays = number

/**
 * What is in trouble with an order, and the next act; undefined where all is well. An order past its late day is to be
 * asked about, past the user's patience beyond that to be claimed.
 */
export function troubleOf(
  order: Order,
  record: SellerDays,
  patience: PatienceDays,
  today: string,
): Trouble | undefined {
  const state = stateOf(order)
  const since = (of: typeof state) => daysTo(dayOfState(order, of) ?? today, today)
  const told = (kind: Trouble['kind'], days: number, act: Trouble['act']): Trouble => ({ order, kind, days, act })
  const waiting = order.claims.filter(isClaimOpen)
  if (state === 'lost' && order.claims.length === 0) return told('lost', since('lost'), 'claim')
  if (waiting.length > 0) {
    const days = Math.max(...waiting.map((c) => claimAge(c, today)))
    if (days > patience) return told('claim waits', days, 'remind')
  }
  if (state === 'drafted' && since('drafted') > SOON) return told('not placed', since('drafted'), 'place')
  if (state === 'placed' && since('placed') > SOON) return told('not paid', since('placed'), 'pay')
  if (state === 'arrived' && since('arrived') > SOON) return told('not counted', since('arrived'), 'check in')
  if (state !== 'paid' && state !== 'dispatched') return undefined
  const due = lateDay(order, record)
  const days = due === undefined ? 0 : daysTo(due.late, today)
  if (days > patience) return told('overdue', days, 'claim')
  if (days > 0) return told('overdue', days, 'ask')
  return due !== undefined && daysTo(due.likely, today) > 0
    ? told('nearly overdue', daysTo(due.likely, today), 'wait')
    : undefined
}

/** Likely and late days as they were expected, today left aside. */
const lateDay = (order: Order, record: SellerDays) => expectedBetween(order, record, '0001-01-01')
