import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { addUp } from '../units/quantity.ts'
import { fail, ok, type Result } from '../units/result.ts'
import type { Money } from '../units/money.ts'
import { stateOf, type Order } from './order.ts'
import { moveOrder, type OrderRefusal } from './order-states.ts'

/** What was found in a donor copy that came. */
export type CopyFound = {
  /** Unopened: complete, as far as anybody can see. */
  readonly sealed: boolean
  /** Stages that are not there, by id. */
  readonly stagesGone: readonly string[]
  /** Figures that are not there, by name. */
  readonly figuresGone: readonly string[]
  /** Pieces that are missing, or of no use (a bent sheet), beside those. */
  readonly missing: readonly { readonly item: ItemKey; readonly qty: number }[]
}

/** What is missing in a copy: pieces of what is gone and single ones, no more of any than it should hold. */
export function missingIn(set: DonorSet, copy: Copy, found: CopyFound): { item: ItemKey; qty: number }[] {
  if (found.sealed) return [...copy.missing]
  const stages = new Set(found.stagesGone)
  const figures = new Set(found.figuresGone)
  const whole = new Map<ItemKey, number>()
  for (const { item, qty } of copyContents(set, { stages: copy.stages, spares: copy.spares, missing: [] }))
    whole.set(item, (whole.get(item) ?? 0) + qty)
  const gone = set.lines.filter(
    (l) => !l.spare && (stages.has(l.stage) || (l.figure !== undefined && figures.has(l.figure))),
  )
  return addUp([...copy.missing, ...gone, ...found.missing]).flatMap(({ item, qty }) => {
    const held = Math.min(qty, whole.get(item) ?? 0)
    return held > 0 ? [{ item, qty: held }] : []
  })
}

/**
 * A copy that came, as it was found: it is there, what it lacks is noted, and what was paid for it. The order is checked
 * in once nothing else of it is open. `lacks` are the pieces it lacks beyond what was known before: what may be claimed.
 */
export function checkInCopy(
  order: Order,
  copy: Copy,
  set: DonorSet,
  found: CopyFound,
  paid: Money,
  on: string,
): Result<{ readonly order: Order; readonly copy: Copy; readonly lacks: number }, OrderRefusal> {
  const state = stateOf(order)
  if (state !== 'arrived')
    return fail({ code: 'not from here', message: `An order that is ${state} cannot be booked: it has to be here.` })
  if (!order.copies.some((c) => c.id === copy.id && c.checked !== true))
    return fail({ code: 'booked', message: 'This copy was checked in already, or is not of this order.' })
  const missing = missingIn(set, copy, found)
  const pieces = (list: readonly { readonly qty: number }[]) => list.reduce((n, l) => n + l.qty, 0)
  const booked: Order = {
    ...order,
    copies: order.copies.map((c) => (c.id === copy.id ? { ...c, checked: true } : c)),
    bookings: order.bookings + 1,
  }
  const done = moveOrder(booked, 'checked in', on)
  const { askingPrice: _, ...bare } = copy
  return ok({
    order: done.ok ? done.value : booked,
    copy: { ...bare, state: 'owned', paid, missing },
    lacks: Math.max(0, pieces(missing) - pieces(copy.missing)),
  })
}

/** What the copies of an order are while they are not checked in: on order once it is placed, else still to be bought. */
export function copiesWith(order: Order, copies: readonly Copy[]): Copy[] {
  const coming = ['placed', 'paid', 'dispatched', 'arrived'].includes(stateOf(order))
  const open = new Set<string>(order.copies.filter((c) => c.checked !== true).map((c) => c.id))
  return copies.flatMap((copy) => {
    const state = coming ? 'promised' : 'to-buy'
    return open.has(copy.id) && (copy.state === 'to-buy' || copy.state === 'promised') && copy.state !== state
      ? [{ ...copy, state }]
      : []
  })
}
