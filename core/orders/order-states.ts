import type { BuildId } from '../units/ids.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { dayOfState, openPieces, ORDER_STATES, stateOf, type Order, type OrderState } from './order.ts'

/** Where an order may go on to from where it is. */
const NEXT: Readonly<Record<OrderState, readonly OrderState[]>> = {
  drafted: ['placed', 'cancelled'],
  placed: ['paid', 'cancelled'],
  paid: ['dispatched', 'cancelled', 'lost'],
  dispatched: ['arrived', 'lost', 'returned'],
  arrived: ['checked in', 'returned'],
  'checked in': ['returned'],
  cancelled: [],
  // What was given up may still turn up.
  lost: ['arrived'],
  returned: [],
}
/** The usual way, step by step. */
const WAY: readonly OrderState[] = ['drafted', 'placed', 'paid', 'dispatched', 'arrived']

export type OrderFault =
  /** It cannot come to that from where it is. */
  | 'not from here'
  /** Earlier than the step before. */
  | 'before the step before'
  /** Pieces are still to be accounted for. */
  | 'not all counted'
  | 'empty'
  /** Pieces of it are on the shelf. */
  | 'booked'
  | 'more than ordered'

export type OrderRefusal = { readonly code: OrderFault; readonly message: string }
const refuse = (code: OrderFault, message: string) => fail<OrderRefusal>({ code, message })

/** What may become of an order next; steps of the usual way may be skipped up to its arrival. */
export function movesOf(order: Order): readonly OrderState[] {
  const now = stateOf(order)
  const at = WAY.indexOf(now)
  const ahead = at < 0 ? [] : WAY.slice(at + 1)
  return ORDER_STATES.filter((s) => ahead.includes(s) || NEXT[now].includes(s)).filter(
    // It is checked in by booking what came.
    (s) => s !== 'checked in' || isAllCounted(order),
  )
}

/** Whether everything ordered is accounted for: nothing of it is still to come. */
export const isAllCounted = ({ lines, copies }: Pick<Order, 'lines' | 'copies'>): boolean =>
  lines.every((l) => openPieces(l) === 0) && copies.every((c) => c.checked === true)

/**
 * An order one or more steps on, dated; steps of the usual way that are skipped are dated the same. Refused where it
 * cannot come to that, where the day is before that of its last step, and checking in while pieces are open.
 */
export function moveOrder(order: Order, to: OrderState, on: string, note?: string): Result<Order, OrderRefusal> {
  const now = stateOf(order)
  const [at, end] = [WAY.indexOf(now), WAY.indexOf(to)]
  const skipped = at >= 0 && end > at ? WAY.slice(at + 1, end) : []
  if (skipped.length === 0 && !NEXT[now].includes(to))
    return refuse('not from here', `An order that is ${now} cannot become ${to}.`)
  const last = order.history.at(-1)?.on ?? on
  if (on < last)
    return refuse('before the step before', `It was ${now} on ${last}: it cannot be ${to} on ${on}, before that.`)
  if (to === 'checked in' && !isAllCounted(order))
    return refuse('not all counted', 'Some of its pieces are neither here nor missed: count them, or mark them short.')
  if (to === 'placed' && order.lines.length === 0 && order.copies.length === 0)
    return refuse('empty', 'Nothing is left in this order: cancel it, or put a line in.')
  return ok({
    ...order,
    history: [
      ...order.history,
      ...skipped.map((state) => ({ state, on })),
      { state: to, on, ...(note !== undefined && note !== '' && { note }) },
    ],
  })
}

/** Takes an order's last step back. Refused once pieces of it are on the shelf: that is undone where it was done. */
export function stepBack(order: Order): Result<Order, OrderRefusal> {
  if (order.history.length < 2) return refuse('not from here', 'There is no step before this one.')
  if (stateOf(order) === 'checked in' || (order.bookings > 0 && stateOf(order) === 'arrived'))
    return refuse('booked', 'Pieces of it are on the shelf: undo the booking (Ctrl Z), or claim what is wrong.')
  return ok({ ...order, history: order.history.slice(0, -1) })
}

/** Before it is paid an order can be changed: lines dropped, prices changed, replaced by what the seller had. */
export const isOpenToChange = (order: Order): boolean => ['drafted', 'placed'].includes(stateOf(order))

/** Whether its pieces are on their way, and none of them is elsewhere: they count as on order. */
export const isOnItsWay = (order: Order): boolean =>
  ['placed', 'paid', 'dispatched', 'arrived'].includes(stateOf(order))

/** Whether it turned up after it had been given up for lost: whatever replaced it has been ordered meanwhile. */
export const turnedUp = (order: Order): boolean =>
  dayOfState(order, 'lost') !== undefined && ['arrived', 'checked in'].includes(stateOf(order))

/** An order without a build that is gone: its pieces are for nobody. */
export function withoutBuild(order: Order, build: BuildId): Order {
  if (!order.builds.includes(build)) return order
  return {
    ...order,
    builds: order.builds.filter((b) => b !== build),
    lines: order.lines.map((line) => ({ ...line, for: line.for.filter((f) => f.build !== build) })),
  }
}
