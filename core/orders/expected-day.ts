import { addDays, daysTo } from '../units/instants.ts'
import { dayOfState, stateOf, type Order } from './order.ts'

/** How long a seller's parcels took so far, days from ordering to the door. */
export type SellerDays = readonly number[]

/** So many parcels of one seller tell more than what the seller says. */
const ENOUGH = 3
/** Where nothing is known of a seller, a late parcel takes so much longer, percent; common practice. */
const LATE_PERCENT = 150

/**
 * The day on which an order is to be expected: what the seller or carrier says, else as many days after it was placed as
 * was expected; undefined of a draft without a day. What has arrived came when it did.
 */
export function expectedOn(order: Order): string | undefined {
  const here = dayOfState(order, 'arrived')
  if (here !== undefined) return here
  if (order.due !== undefined) return order.due
  const placed = dayOfState(order, 'placed')
  return placed === undefined ? undefined : addDays(placed, order.leadDays)
}

/** The days between which an order is to be expected. */
export type Expected = {
  readonly likely: string
  readonly late: string
  /** By what the seller's earlier parcels took; else by what was said when it was ordered. */
  readonly by: 'record' | 'said'
}

/** The value of a sorted list below which so many percent of it lie, by the nearest rank (ISO 3534-1 names it a quantile). */
export const quantile = (sorted: readonly number[], percent: number): number | undefined =>
  sorted[Math.max(0, Math.ceil((sorted.length * percent) / 100) - 1)]

/**
 * When an order comes, likely and late (nine times in ten earlier). A day that seller or carrier named is likely; the late
 * one is as much later as the seller's parcels spread. Never before `today` while it is still out. Undefined of drafts
 * without a day.
 */
export function expectedBetween(order: Order, record: SellerDays, today: string): Expected | undefined {
  const said = expectedOn(order)
  if (stateOf(order) === 'arrived' || stateOf(order) === 'checked in')
    return said === undefined ? undefined : { likely: said, late: said, by: 'said' }
  const placed = dayOfState(order, 'placed')
  const sorted = [...record].sort((p, q) => p - q)
  const known = sorted.length >= ENOUGH
  const typical = known ? (quantile(sorted, 50) ?? order.leadDays) : order.leadDays
  const slow = known ? (quantile(sorted, 90) ?? order.leadDays) : Math.ceil((order.leadDays * LATE_PERCENT) / 100)
  const likely = order.due ?? (placed === undefined ? undefined : addDays(placed, typical))
  if (likely === undefined) return undefined
  const late = addDays(likely, Math.max(0, slow - typical))
  const from = (day: string) => (daysTo(day, today) > 0 ? today : day)
  return { likely: from(likely), late: from(late), by: known ? 'record' : 'said' }
}
