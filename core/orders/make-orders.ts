import type { Build } from '../build/build.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { Bill } from '../costs/order-cost.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { PrintOrder } from '../netting/print-orders.ts'
import type { Basket } from '../sourcing/baskets.ts'
import type { SharedOrder } from '../sourcing/joint-shares.ts'
import type { KeptPlan } from '../sourcing/kept-plan.ts'
import { coveredBy, pieceOf } from '../sourcing/plan-pieces.ts'
import type { BuildId, OrderId } from '../units/ids.ts'
import type { Currency } from '../units/money.ts'
import type { Charges, Order, OrderedCopy, OrderLine } from './order.ts'

/** What orders are made with: the builds' money, the day, the next running number and fresh ids. */
export type OrderMaking = {
  readonly home: Currency
  readonly on: string
  readonly firstNumber: number
  readonly fresh: () => string
}

/** The next running number: one more than the highest there is. */
export const nextNumber = (orders: readonly Pick<Order, 'number'>[]): number =>
  orders.reduce((most, o) => Math.max(most, o.number), 0) + 1

/** An order by what is said of it, drafted on the day it is made. */
type Draft = Pick<Order, 'seller' | 'builds' | 'currency' | 'lines' | 'copies' | 'leadDays'> &
  Partial<Pick<Order, 'rate' | 'planned' | 'planOf' | 'replaces' | 'note'>>

/** Drafts as orders, numbered in their order. */
export const draftOrders = (drafts: readonly Draft[], { home, on, firstNumber, fresh }: OrderMaking): Order[] =>
  drafts.map((draft, i) => ({
    id: `r-${fresh()}` as OrderId,
    number: firstNumber + i,
    home,
    history: [{ state: 'drafted', on }],
    bookings: 0,
    claims: [],
    ...draft,
  }))

/** A bill in the seller's money, with duty and tax in the user's. */
const chargesBy = (bill: Bill, levies: number): Charges => {
  const { goods, shipping, handling, lineFees, service } = bill
  return { goods, shipping, handling, lineFees, service, levies }
}

/** Deals out what a plan needs of each item to the lines that bring it, in their order; the rest is for nobody. */
function dealer(needed: ReadonlyMap<ItemKey, number>, build: BuildId) {
  const left = new Map(needed)
  return (item: ItemKey, pieces: number): OrderLine['for'] => {
    const qty = Math.min(pieces, left.get(item) ?? 0)
    left.set(item, (left.get(item) ?? 0) - qty)
    return qty > 0 ? [{ build, qty }] : []
  }
}

/** Of each item the pieces that a kept plan takes for its lines. */
export function takenByPlan({ problem, plan }: Pick<KeptPlan, 'problem' | 'plan'>): Map<ItemKey, number> {
  const pieces = new Map(problem.items.map((i) => [i.id, pieceOf(i)]))
  const taken = new Map<ItemKey, number>()
  for (const { accept, qty } of coveredBy(problem, plan))
    for (const use of accept.uses) {
      const item = pieces.get(use.item) ?? pieceOf({ id: use.item })
      taken.set(item, (taken.get(item) ?? 0) + qty * use.qty)
    }
  return taken
}

/**
 * The orders of a build's kept plan: one for each shop, as its basket says, one for each donor copy that it buys, one for
 * each maker of prints. Pieces beyond those the plan uses (packs) are for no build. `copies` are the copies to be bought,
 * those that are one set in the plan in the order in which they are bought.
 */
export function ordersOfPlan(
  kept: KeptPlan,
  basketsOf: readonly Basket[],
  prints: readonly PrintOrder[],
  copies: readonly { readonly set: string; readonly copy: Copy }[],
  build: Pick<Build, 'id'>,
  making: OrderMaking,
): Order[] {
  const deal = dealer(takenByPlan(kept), build.id)
  const common = { builds: [build.id], planOf: kept.madeAt }
  const fromShops = basketsOf.map(({ shop, lines, cost }): Draft => ({
    ...common,
    seller: { shop: shop.id, name: shop.name, country: shop.country },
    currency: shop.currency,
    ...(shop.rate !== undefined && { rate: shop.rate }),
    copies: [],
    lines: lines.map(({ offer, item, pieces }, i) => ({
      id: `${i + 1}`,
      item,
      qty: pieces,
      price: offer.price,
      condition: offer.condition,
      for: deal(item, pieces),
    })),
    planned: chargesBy(cost.billed, cost.levies),
    leadDays: shop.leadDays,
  }))
  const ofSets = copies.map(({ set, copy }): Draft => ({
    ...draftOfCopy(copy, kept.problem.sets.find((s) => s.id === set)?.price ?? 0, making.home),
    ...common,
  }))
  const fromMakers = prints.map(({ vendor, runs, total, days }): Draft => ({
    ...common,
    seller: { name: vendor },
    currency: making.home,
    copies: [],
    lines: runs.map(({ item, qty, minRun, price, side, artwork }, i) => ({
      id: `${i + 1}`,
      item,
      qty: Math.max(qty, minRun),
      price,
      condition: 'new',
      print: true,
      for: [{ build: build.id, qty }],
      ...((side !== undefined || artwork !== undefined) && {
        note: [side && `${side} version`, artwork && `artwork ${artwork}`].filter(Boolean).join(', '),
      }),
    })),
    planned: chargesBy({ goods: total, shipping: 0, handling: 0, lineFees: 0, service: 0 }, 0),
    leadDays: days ?? COPY_DAYS,
  }))
  return draftOrders([...fromShops, ...ofSets, ...fromMakers], making)
}

/** A donor copy as an order of its own, at a price in the builds' money. */
function draftOfCopy(copy: Copy, price: number, home: Currency): Draft {
  const own: OrderedCopy = { id: copy.id, label: copy.label, price }
  return {
    builds: copy.buildId === null ? [] : [copy.buildId],
    seller: { name: `Seller of ${copy.label}`.slice(0, 120) },
    currency: home,
    lines: [],
    copies: [own],
    planned: chargesBy({ goods: price, shipping: 0, handling: 0, lineFees: 0, service: 0 }, 0),
    leadDays: COPY_DAYS,
  }
}

/**
 * The order of one copy that is to be bought, at its asking price; where that is in other money, changed at a rate in
 * billionths. None without a rate: nobody could say what it costs.
 */
export function copyOrder(copy: Copy, making: OrderMaking, rate: number | undefined): Order[] {
  const { minor = 0, currency: theirs = making.home } = copy.askingPrice ?? {}
  const other = theirs !== making.home
  if (other && rate === undefined) return []
  return draftOrders([{ ...draftOfCopy(copy, minor, theirs), ...(other && { rate }) }], making)
}

/** Days that a parcel from someone who says nothing of them is expected to take; common practice. */
export const COPY_DAYS = 7

/** The shop of a shared order as it is known now. */
export type SharedShop = Order['seller'] & Pick<Order, 'currency' | 'rate' | 'leadDays'>

/**
 * The orders of one purchase for several builds, with the bills of that purchase: a line says how many pieces are whose;
 * what is beyond them is for none.
 */
export function ordersOfShared(
  shared: readonly SharedOrder[],
  builds: readonly BuildId[],
  shopOf: (id: string) => SharedShop,
  /** The condition of what a shop offers at a price. */
  conditionOf: (shop: string, item: ItemKey, price: number) => OrderLine['condition'],
  making: OrderMaking,
): Order[] {
  return draftOrders(
    shared.map(({ shop, cost, lines }): Draft => {
      const { currency, rate, leadDays, ...seller } = shopOf(shop)
      return {
        seller,
        builds: builds.filter((_, p) => lines.some((l) => (l.dealt[p] ?? 0) > 0)),
        currency,
        ...(rate !== undefined && { rate }),
        copies: [],
        lines: lines.map(({ item, pieces, price, dealt }, i) => ({
          id: `${i + 1}`,
          item,
          qty: pieces,
          price,
          condition: conditionOf(shop, item, price),
          for: dealt.flatMap((qty, p) => {
            const build = builds[p]
            return build !== undefined && qty > 0 ? [{ build, qty }] : []
          }),
        })),
        planned: chargesBy(cost.billed, cost.levies),
        leadDays,
      }
    }),
    making,
  )
}

/** An order made elsewhere, as it is typed in: a draft without a plan. */
export const typedOrder = (draft: Omit<Draft, 'planned' | 'planOf'>, making: OrderMaking): Order | undefined =>
  draftOrders([draft], making)[0]
