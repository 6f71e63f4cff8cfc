import { addDays } from '../units/instants.ts'
import { stateOf, type CarrierEvent, type Order } from './order.ts'
import { moveOrder } from './order-states.ts'

/** What a carrier says of a parcel, oldest first, and when it expects to bring it; undefined where it says no more. */
export type CarrierNews = {
  readonly events: readonly CarrierEvent[]
  readonly due: string | undefined
}
/**
 * An order as a carrier's news have it: dispatched once the carrier has it, arrived once delivered, expected on the day
 * that the carrier names. What cannot be (a day before the last step) stays as it is. The same order where nothing is new.
 */
export function withNews(order: Order, { events, due }: CarrierNews): Order {
  let next = order
  const step = (state: 'dispatched' | 'arrived' | 'returned', on: string) => {
    const last = next.history.at(-1)?.on ?? on
    const moved = moveOrder(next, state, on < last ? last : on)
    if (moved.ok) next = moved.value
  }
  for (const { kind, on } of events) {
    const state = stateOf(next)
    if (kind === 'accepted' && (state === 'placed' || state === 'paid')) step('dispatched', on)
    if (kind === 'delivered' && state === 'dispatched') step('arrived', on)
    if (kind === 'sent back' && state === 'dispatched') step('returned', on)
  }
  return due === undefined || due === next.due || stateOf(next) !== 'dispatched' ? next : { ...next, due }
}

/** The day on which a carrier is asked, so many simulated days ahead of the real one. */
export const simulatedDay = (today: string, ahead: number): string => (ahead === 0 ? today : addDays(today, ahead))
