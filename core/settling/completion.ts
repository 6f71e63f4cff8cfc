import type { ItemKey } from '../catalogue/item.ts'
import type { PriceOf } from '../offers/goods-cost.ts'
import { stateOf, type Order } from '../orders/order.ts'
import type { BuildId } from '../units/ids.ts'
import { costOf, type Posting } from './postings.ts'

/** What is still to be bought beyond all orders, minor units, and what that figure rests on. */
export type Rest = {
  readonly minor: number
  /** Pieces that nothing is known to cost: in no sum. */
  readonly unpriced: number
  /** Nothing is short; a kept plan at the door; or goods alone, at the cheapest offers known. */
  readonly basis: 'nothing' | 'plan' | 'goods'
}

/**
 * What is short beyond the drafts of orders, at the plan's landed cost where one is kept for just this count and none of
 * its orders is made, else loose at the cheapest offers, goods alone. `prints` is what custom prints still cost.
 */
export function restToBuy(
  build: BuildId,
  shortfall: ReadonlyMap<ItemKey, number>,
  orders: readonly Order[],
  planned: { readonly minor: number; readonly unavailable: number } | undefined,
  priceOf: PriceOf,
  prints: number,
): Rest {
  if (shortfall.size > 0 && planned !== undefined)
    return { minor: planned.minor + prints, unpriced: planned.unavailable, basis: 'plan' }
  const drafted = new Map<ItemKey, number>()
  for (const order of orders)
    if (stateOf(order) === 'drafted')
      for (const line of order.lines)
        for (const f of line.for) if (f.build === build) drafted.set(line.item, (drafted.get(line.item) ?? 0) + f.qty)
  let [minor, unpriced, short] = [prints, 0, 0]
  for (const [item, qty] of shortfall) {
    const open = Math.max(0, qty - (drafted.get(item) ?? 0))
    if (open === 0) continue
    short += open
    const goods = priceOf(item, open)
    minor += goods.cost
    unpriced += goods.unavailable
  }
  return { minor, unpriced, basis: short + prints === 0 ? 'nothing' : 'goods' }
}

/** What a build comes to; minor units. */
export type Completion = {
  /** Paid so far, less what came back and came in. */
  readonly soFar: number
  /** Ordered and not paid yet. */
  readonly due: number
  /** Drafts of orders that are not placed. */
  readonly drafts: number
  readonly rest: Rest
  readonly total: number
  /** Of one piece of the design, rounded to the nearest minor unit; undefined while it needs none. */
  readonly perPiece: number | undefined
  /** Beyond the budget; below 0 within it; undefined without one. */
  readonly overBudget: number | undefined
  /** More than the official set that it is built in place of costs new; undefined where none is named. */
  readonly overReplaced: number | undefined
}

/**
 * The postings that a build's cost at completion is made of: what was paid and came back, what is ordered and not paid yet,
 * and drafts of orders. Of each order just one of the three.
 */
export function countedPostings(postings: readonly Posting[]): Posting[] {
  const paid = new Set(postings.flatMap((p) => (p.stage === 'paid' ? [sourceOf(p)] : [])))
  return postings.filter((p) => {
    if (p.stage === 'paid' || p.stage === 'back') return true
    if (p.of.kind !== 'order') return false
    // Of an order that was placed what it was planned at says nothing any more.
    const state = stateOf(p.of.order)
    // What never came and was not paid for is not owed.
    if (p.stage === 'ordered') return !paid.has(sourceOf(p)) && state !== 'lost' && state !== 'returned'
    return state === 'drafted'
  })
}

const sourceOf = ({ of, key }: Posting): string => (of.kind === 'order' ? of.order.id : key)

/** What a build will have cost: paid, to be paid, drafted, and what is still to be bought. */
export function completionOf(
  postings: readonly Posting[],
  rest: Rest,
  pieces: number,
  { budget, replaced }: { readonly budget: number | null | undefined; readonly replaced: number | undefined },
): Completion {
  const sums = { soFar: 0, due: 0, drafts: 0 }
  for (const p of countedPostings(postings))
    sums[p.stage === 'ordered' ? 'due' : p.stage === 'planned' ? 'drafts' : 'soFar'] += costOf(p)
  const total = sums.soFar + sums.due + sums.drafts + rest.minor
  return {
    ...sums,
    rest,
    total,
    perPiece: pieces === 0 ? undefined : Math.round(total / pieces),
    overBudget: budget === null || budget === undefined ? undefined : total - budget,
    overReplaced: replaced === undefined ? undefined : total - replaced,
  }
}
