import type { ItemKey } from '../catalogue/item.ts'
import type { LotPieces } from '../shelf/lot.ts'
import type { BuildId, PlaceId } from '../units/ids.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { sharesOfRun } from './expected-supply.ts'
import {
  accountedFor,
  goodsOf,
  NOTHING_GOT,
  openPieces,
  receiptsTogether,
  stateOf,
  type Order,
  type OrderBench,
  type OrderLine,
  type Receipt,
} from './order.ts'
import { moveOrder, turnedUp, type OrderRefusal } from './order-states.ts'

/** What is said of a line at the bench by one key. */
export type BenchMark =
  /** So many are right; what is beyond those ordered is extra. */
  | { readonly kind: 'right'; readonly qty: number }
  | { readonly kind: 'short'; readonly qty: number }
  | { readonly kind: 'damaged'; readonly qty: number }
  | { readonly kind: 'wrong'; readonly item: ItemKey; readonly qty: number }
  | { readonly kind: 'extra'; readonly qty: number }
  /** All that is open of it is right, uncounted. */
  | { readonly kind: 'taken' }
  /** Back to nothing said. */
  | { readonly kind: 'clear' }

/** What is said of a line at the bench so far; nothing before the first key. */
export const benchOf = ({ bench = [] }: Pick<Order, 'bench'>, line: string): Receipt =>
  bench.find((b) => b.id === line) ?? NOTHING_GOT

/** Pieces of a line that nothing is said of, booked or at the bench. */
export const uncountedPieces = (order: Pick<Order, 'bench'>, line: OrderLine): number =>
  Math.max(0, openPieces(line) - accountedFor(benchOf(order, line.id)))

/**
 * A line's receipt at the bench after one more mark. `right`, `short` and `damaged` say how many in all; wrong pieces are
 * added. Together they never come to more than is open: the mark takes from `right` what it needs, and what is right
 * beyond that is extra. Quantities are whole and not negative; a mark of more than is open is refused, but for `right`
 * and `extra`.
 */
export function marked(order: Pick<Order, 'bench'>, line: OrderLine, mark: BenchMark): Result<Receipt, OrderRefusal> {
  const open = openPieces(line)
  const now = benchOf(order, line.id)
  const wrong = now.wrong.reduce((n, w) => n + w.qty, 0)
  if (mark.kind === 'clear') return ok(NOTHING_GOT)
  if (mark.kind === 'taken') {
    const right = Math.max(0, open - now.short - now.damaged - wrong)
    return ok({ ...now, right, ...(right > 0 && { uncounted: true }) })
  }
  if (!Number.isInteger(mark.qty) || mark.qty < 0 || mark.qty > 1_000_000)
    return fail({ code: 'more than ordered', message: 'A whole number of pieces is expected, such as 12.' })
  const { uncounted: _, ...counted } = now
  if (mark.kind === 'extra') return ok({ ...counted, extra: mark.qty })
  if (mark.kind === 'right') {
    const room = Math.max(0, open - now.short - now.damaged - wrong)
    return ok({ ...counted, right: Math.min(room, mark.qty), extra: Math.max(0, mark.qty - room) })
  }
  const others = {
    short: mark.kind === 'short' ? mark.qty : now.short,
    damaged: mark.kind === 'damaged' ? mark.qty : now.damaged,
    wrong: mark.kind === 'wrong' ? withOther(now.wrong, mark.item, mark.qty) : now.wrong,
  }
  const missing = accountedFor({ ...NOTHING_GOT, ...others })
  if (missing > open)
    return fail({
      code: 'more than ordered',
      message: `Only ${open} of this line are open: ${missing} cannot be missing. What came beyond the order is extra.`,
    })
  return ok({ ...counted, ...others, right: Math.min(now.right, open - missing) })
}

const withOther = (wrong: Receipt['wrong'], item: ItemKey, qty: number): Receipt['wrong'] => {
  const others = wrong.filter((w) => w.item !== item)
  return qty > 0 ? [...others, { item, qty }] : others
}

const isNothing = ({ right, short, damaged, wrong, extra }: Receipt): boolean =>
  right + short + damaged + extra === 0 && wrong.length === 0

/** An order with a line's receipt at the bench. */
export function withBench(order: Order, line: string, receipt: Receipt): Order {
  const others = (order.bench ?? []).filter((b) => b.id !== line)
  const bench: OrderBench = isNothing(receipt) ? others : [...others, { id: line, ...receipt }]
  const { bench: _, ...bare } = order
  return bench.length > 0 ? { ...bare, bench } : bare
}

/** Everything nothing is said of taken as right, uncounted; what was counted stays as it was counted. */
export function allTaken(order: Order): Order {
  let next = order
  for (const line of order.lines) {
    if (uncountedPieces(order, line) === 0) continue
    const receipt = marked(order, line, { kind: 'taken' })
    if (receipt.ok) next = withBench(next, line.id, receipt.value)
  }
  return next
}

/** Where booked pieces go. */
export type BookTo = {
  /** The pile of each build. */
  readonly pileOf: (build: BuildId) => PlaceId
  /** What is for no build. */
  readonly surplus: PlaceId
}

export type Booking = {
  readonly order: Order
  /** Pieces for the shelf. */
  readonly lots: readonly LotPieces[]
  /** What is short, wrong or damaged by it. */
  readonly amiss: readonly { readonly line: OrderLine; readonly receipt: Receipt }[]
}

/**
 * Books what lies on the bench: right pieces go to the piles of their builds, reserved for them, the first that come to
 * the first build; what is for none, what came beyond the order and other pieces go to the surplus. What turned up after
 * it was given up is surplus as a whole. Pieces taken as right say with which order they came. The order is checked in
 * once nothing of it is open. Refused where it is not there, or nothing lies on the bench. Every piece on the bench is
 * booked once: the order counts its bookings, and storage refuses a second of the same state.
 */
export function book(order: Order, to: BookTo, on: string): Result<Booking, OrderRefusal> {
  const state = stateOf(order)
  if (state !== 'arrived')
    return fail({ code: 'not from here', message: `An order that is ${state} cannot be booked: it has to be here.` })
  const bench = new Map((order.bench ?? []).map(({ id, ...receipt }) => [id, receipt as Receipt]))
  if (bench.size === 0)
    return fail({ code: 'empty', message: 'Nothing has been counted: count the lines, or take all as right.' })
  const lots: LotPieces[] = []
  const amiss: Booking['amiss'][number][] = []
  const free = turnedUp(order)
  const lines = order.lines.map((line) => {
    const receipt = bench.get(line.id)
    if (!receipt) return line
    lots.push(...lotsOf(order, line, receipt, to, free))
    if (receipt.short + receipt.damaged + receipt.wrong.length > 0) amiss.push({ line, receipt })
    return { ...line, got: receiptsTogether(line.got ?? NOTHING_GOT, receipt) }
  })
  const { bench: _, ...bare } = order
  const booked: Order = { ...bare, lines, bookings: order.bookings + 1 }
  const done = moveOrder(booked, 'checked in', on)
  return ok({ order: done.ok ? done.value : booked, lots, amiss })
}

function lotsOf(order: Order, line: OrderLine, receipt: Receipt, to: BookTo, free: boolean): LotPieces[] {
  const { item, condition } = line
  const lot = (place: PlaceId, of: ItemKey, qty: number, more: Partial<LotPieces> = {}): LotPieces[] =>
    qty > 0 ? [{ place, item: of, qty, estimate: false, condition, ...more }] : []
  const from = line.qty - openPieces(line)
  const shares = free ? [] : sharesOfRun(line, from, from + receipt.right)
  const uncounted = receipt.uncounted === true ? { uncounted: order.id } : {}
  const dealt = shares.reduce((n, s) => n + s.qty, 0)
  return [
    ...shares.flatMap(({ build, qty }) =>
      lot(to.pileOf(build), item, qty, { ...uncounted, reserved: [{ build, qty }] }),
    ),
    ...lot(to.surplus, item, receipt.right - dealt, uncounted),
    ...lot(to.surplus, item, receipt.extra),
    ...receipt.wrong.flatMap((w) => lot(to.surplus, w.item, w.qty)),
  ]
}

/** What a parcel should hold and what is said of it so far, in pieces; `mass` of what is right, milligrams. */
export type BenchSums = {
  readonly open: number
  readonly counted: number
  readonly right: number
  readonly missing: number
  readonly extra: number
  readonly mass: number
}

export function benchSums(order: Order, massOf: (item: ItemKey) => number): BenchSums {
  const sums = { open: 0, counted: 0, right: 0, missing: 0, extra: 0, mass: 0 }
  for (const line of order.lines) {
    const receipt = benchOf(order, line.id)
    const counted = accountedFor(receipt)
    sums.open += Math.max(0, openPieces(line) - counted)
    sums.counted += counted
    sums.right += receipt.right
    sums.missing += counted - receipt.right
    sums.extra += receipt.extra
    sums.mass += (receipt.right + receipt.extra) * massOf(line.item)
  }
  return sums
}

/**
 * What the lines come to against what the seller says it charged for goods, minor units of its money: sellers' lists that
 * do not add up are common practice. 0 where they agree, or nothing was charged yet.
 */
export const goodsDifference = (order: Order): number =>
  order.charged === undefined ? 0 : order.charged.goods - goodsOf(order)
