import { daysTo } from '../units/instants.ts'
import { quantile, type SellerDays } from './expected-day.ts'
import { claimState, dayOfState, stateOf, type ClaimState, type Order } from './order.ts'

/** What one seller's orders came to so far. */
export type SellerRecord = {
  /** Orders that have ended: checked in, lost or sent back. */
  readonly orders: number
  /** Days from placing to the door, of those that came, shortest first. */
  readonly days: SellerDays
  /** Of those that ended: without anything short, wrong, damaged or lost. */
  readonly complete: number
  readonly lost: number
  readonly lines: number
  readonly shortLines: number
  readonly damagedLines: number
  readonly wrongLines: number
  readonly claims: Readonly<Record<ClaimState, number>>
  /** The usual days, and those within which nine of ten came; undefined before anything came. */
  readonly typical: number | undefined
  readonly slow: number | undefined
  /** Ended orders that came complete, in whole thousandths; undefined before one ended. Rounded half up. */
  readonly reliability: number | undefined
}

const sellerKey = ({ seller }: Pick<Order, 'seller'>): string => seller.shop ?? seller.name

/** What every seller did, by shop, or by name where it is none; linear. */
export function sellerRecords(orders: readonly Order[]): Map<string, SellerRecord> {
  const bySeller = new Map<string, Order[]>()
  for (const order of orders) {
    // What a seller sent in place of something says nothing of its usual days.
    if (order.replaces !== undefined) continue
    const key = sellerKey(order)
    bySeller.set(key, [...(bySeller.get(key) ?? []), order])
  }
  return new Map([...bySeller].map(([key, own]) => [key, recordOf(own)]))
}

/** The record of a shop; also of orders that name it without being from a shop that is known. */
export const sellerRecordOf = (
  records: ReadonlyMap<string, SellerRecord>,
  { id, name }: { readonly id: string; readonly name: string },
): SellerRecord | undefined => records.get(id) ?? records.get(name)

/** The record of an order's seller. */
export const recordFor = (records: ReadonlyMap<string, SellerRecord>, order: Order): SellerDays =>
  records.get(sellerKey(order))?.days ?? []

function recordOf(orders: readonly Order[]): SellerRecord {
  const ended = orders.filter((o) => ['checked in', 'lost', 'returned'].includes(stateOf(o)))
  const days = orders
    .flatMap((o) => {
      const [placed, arrived] = [dayOfState(o, 'placed'), dayOfState(o, 'arrived')]
      return placed === undefined || arrived === undefined ? [] : [daysTo(placed, arrived)]
    })
    .sort((p, q) => p - q)
  const lines = ended.flatMap((o) => o.lines)
  const claims = { open: 0, promised: 0, 'sent again': 0, refunded: 0, refused: 0 }
  for (const order of orders) for (const claim of order.claims) claims[claimState(claim)]++
  const amiss = (order: Order) =>
    stateOf(order) !== 'checked in' ||
    dayOfState(order, 'lost') !== undefined ||
    order.lines.some(({ got }) => got && got.short + got.damaged + got.wrong.length > 0)
  const complete = ended.filter((o) => !amiss(o)).length
  return {
    orders: ended.length,
    days,
    complete,
    lost: orders.filter((o) => dayOfState(o, 'lost') !== undefined).length,
    lines: lines.length,
    shortLines: lines.filter((l) => (l.got?.short ?? 0) > 0).length,
    damagedLines: lines.filter((l) => (l.got?.damaged ?? 0) > 0).length,
    wrongLines: lines.filter((l) => (l.got?.wrong.length ?? 0) > 0).length,
    claims,
    typical: quantile(days, 50),
    slow: quantile(days, 90),
    reliability: ended.length === 0 ? undefined : Math.floor((2 * complete * 1000 + ended.length) / (2 * ended.length)),
  }
}
