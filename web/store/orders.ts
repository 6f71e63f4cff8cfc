import { dequal } from 'dequal'
import { useMemo } from 'react'
import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import { changingInto } from '../../core/build/exchange-rates.ts'
import type { Copy, DonorSet } from '../../core/donors/donor-set.ts'
import { withNews } from '../../core/orders/carrier-news.ts'
import { book, type BookTo } from '../../core/orders/check-in.ts'
import { amissLines, claimFrom, moveClaim, sentAgain } from '../../core/orders/claims.ts'
import { checkInCopy, copiesWith, type CopyFound } from '../../core/orders/copy-check-in.ts'
import { expectedBetween } from '../../core/orders/expected-day.ts'
import { placeOfOrder } from '../../core/orders/expected-supply.ts'
import { foundLater, type FoundLater } from '../../core/orders/found-later.ts'
import {
  COPY_DAYS,
  copyOrder,
  nextNumber,
  ordersOfShared,
  type OrderMaking,
  type SharedShop,
} from '../../core/orders/make-orders.ts'
import { dayOfState, orderName, stateOf, type Claim, type ClaimLine, type Order } from '../../core/orders/order.ts'
import { isOnItsWay, moveOrder, stepBack, type OrderRefusal } from '../../core/orders/order-states.ts'
import { PARCEL_SURPLUS, pileIdOf, pileOf } from '../../core/orders/piles.ts'
import type { DueDays } from '../../core/orders/readiness.ts'
import { recordFor, sellerRecords, type SellerRecord } from '../../core/orders/seller-record.ts'
import { exchanged } from '../../core/units/exchange.ts'
import type { BuildId } from '../../core/units/ids.ts'
import type { SharedPurchase } from '../../core/sourcing/joint-shares.ts'
import type { SourcingPlan } from '../../core/sourcing/plan.ts'
import { NOT_STATED } from '../../core/units/condition.ts'
import { currency, type Currency } from '../../core/units/money.ts'
import { plural } from '../../core/units/numbers.ts'
import type { Result } from '../../core/units/result.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit, editAll, rearrange, shelve } from '../../storage/journal.ts'
import { askCarrier } from '../../workers/market.ts'
import { fresh } from './database.ts'
import { perform, wordsOf } from './perform.ts'
import { useRecords, type RecordsView } from './records.tsx'

/** The orders of a build, or all; the newest first. */
export function useOrders(build: BuildId | undefined): readonly Order[] {
  const { orders } = useRecords()
  return useMemo(
    () =>
      orders
        .filter((o) => build === undefined || o.builds.includes(build))
        .sort((p, q) => q.number - p.number || (p.id < q.id ? -1 : 1)),
    [orders, build],
  )
}

/** What every seller did so far. */
export function useSellerRecords(): ReadonlyMap<string, SellerRecord> {
  const { orders } = useRecords()
  return useMemo(() => sellerRecords(orders), [orders])
}

/** When what is on order is here, as counts ask it: by places and copies. */
export function dueDays(orders: readonly Order[], records: ReadonlyMap<string, SellerRecord>, today: string): DueDays {
  return orders.filter(isOnItsWay).flatMap((order) => {
    const expected = expectedBetween(order, recordFor(records, order), today)
    if (!expected) return []
    // What has arrived is at hand as soon as it is checked in.
    const { likely, late } = stateOf(order) === 'arrived' ? { likely: today, late: today } : expected
    return [placeOfOrder(order.id) as string, ...order.copies.map((c) => c.id as string)].map((of) => ({
      of,
      likely,
      late,
    }))
  })
}

/** What new orders are made with. */
export const orderMaking = (orders: readonly Order[], home: Currency, on: string): OrderMaking => ({
  home,
  on,
  firstNumber: nextNumber(orders),
  fresh,
})

/** Does something with an order that may be refused, and says why where it is. */
function tried<T>(result: Result<T, OrderRefusal>, then: (value: T) => Promise<boolean>): Promise<boolean> {
  if (result.ok) return then(result.value)
  toast.error(result.error.message, { duration: 15_000 })
  return Promise.resolve(false)
}

const copyEdits = (order: Order, copies: readonly Copy[]): Change[] => {
  const changed = copiesWith(order, copies)
  return changed.length > 0 ? editAll('copies', copies, changed) : []
}

/** An order one or more steps on; copies that it brings go with it. */
export const moveTo = (
  order: Order,
  { copies }: Pick<RecordsView, 'copies'>,
  to: Parameters<typeof moveOrder>[1],
  on: string,
): Promise<boolean> =>
  tried(moveOrder(order, to, on), (next) =>
    perform(`${orderName(order)}: ${to}`, [edit('orders', order, next), ...copyEdits(next, copies)]),
  )

/** Several orders one step on, in one act; those that cannot come to that stay as they are. */
export function moveAll(
  orders: readonly Order[],
  { copies }: Pick<RecordsView, 'copies'>,
  to: Parameters<typeof moveOrder>[1],
  on: string,
): Promise<boolean> {
  const moved = orders.flatMap((order) => {
    const next = moveOrder(order, to, on)
    return next.ok ? [{ order, next: next.value }] : []
  })
  return perform(`${plural(moved.length, 'order')}: ${to}`, [
    ...moved.map(({ order, next }) => edit('orders', order, next)),
    ...moved.flatMap(({ next }) => copyEdits(next, copies)),
  ])
}

export const takeStepBack = (order: Order, { copies }: Pick<RecordsView, 'copies'>): Promise<boolean> =>
  tried(stepBack(order), (next) =>
    perform(`${orderName(order)}: back to ${stateOf(next)}`, [edit('orders', order, next), ...copyEdits(next, copies)]),
  )

/** Writes what is said of an order beside its steps. */
export const saveOrder = (
  order: Order,
  next: Order,
  label: string,
  quiet = false,
  more: readonly Change[] = [],
): Promise<boolean> => perform(label, [...more, edit('orders', order, next)], { quiet })

/**
 * Books what lies on the bench; with a claim for what is amiss where that is wanted. Gives whether it was booked: another
 * tab may have been first.
 */
export function bookBench(
  order: Order,
  { builds }: Pick<RecordsView, 'builds'>,
  on: string,
  claiming: boolean,
  /** The record as it is stored, where the bench is ahead of it. */
  stored: Order = order,
): Promise<boolean> {
  const to: BookTo = { pileOf: pileIdOf, surplus: PARCEL_SURPLUS.id }
  return tried(book(order, to, on), ({ order: booked, lots, amiss }) => {
    const lines = amiss.flatMap(({ line, receipt }) => amissLines(line.id, receipt))
    const claimed = claiming && lines.length > 0 ? claimFrom(booked, lines, on, fresh()) : undefined
    const used = new Set(lots.map((l) => l.place))
    const places = [...builds.map(pileOf), PARCEL_SURPLUS].filter((p) => used.has(p.id))
    const pieces = lots.reduce((n, l) => n + l.qty, 0)
    return perform(`Booked ${plural(pieces, 'piece')} of ${orderName(order)}`, [
      edit('orders', stored, claimed?.ok ? claimed.value : booked),
      ...(places.length > 0 ? [add('places', places)] : []),
      ...(lots.length > 0 ? [shelve(lots)] : []),
    ])
  })
}

/** Books a donor copy as it was found. */
export function bookCopy(
  order: Order,
  copy: Copy,
  set: DonorSet,
  found: CopyFound,
  on: string,
  claim: { readonly note: string; readonly damaged: boolean } | undefined,
): Promise<boolean> {
  const price = order.copies.find((c) => c.id === copy.id)?.price ?? 0
  const paid = {
    minor: order.rate === undefined ? price : exchanged(price, order.rate),
    currency: order.home,
  }
  return tried(checkInCopy(order, copy, set, found, paid, on), (booked) => {
    const line: ClaimLine = {
      copy: copy.id,
      reason: claim?.damaged === true ? 'damaged' : 'short',
      qty: 1,
      ...(claim && { note: claim.note }),
    }
    const claimed = claim ? claimFrom(booked.order, [line], on, fresh()) : undefined
    return perform(`Checked in ${copy.label}`, [
      edit('orders', order, claimed?.ok ? claimed.value : booked.order),
      edit('copies', copy, booked.copy),
    ])
  })
}

/** Claims lines of an order. */
export const openClaim = (order: Order, lines: readonly ClaimLine[], on: string): Promise<boolean> =>
  tried(claimFrom(order, lines, on, fresh()), (next) =>
    perform(`Opened a claim on ${orderName(order)}`, [edit('orders', order, next)]),
  )

/** What a claim comes to; what is sent again is a parcel of its own. */
export function settleClaim(
  order: Order,
  claim: Claim,
  to: Parameters<typeof moveClaim>[2],
  on: string,
  orders: readonly Order[],
  refunded?: number,
): Promise<boolean> {
  return tried(moveClaim(order, claim.id, to, on, refunded), (next) => {
    const again = to === 'sent again' ? sentAgain(order, claim, orderMaking(orders, order.home, on)) : undefined
    return perform(`Claim on ${orderName(order)}: ${to}`, [
      edit('orders', order, next),
      ...(again ? [add('orders', [again])] : []),
    ])
  })
}

/** Another amount for a claim, minor units of the seller's money. */
export const askAmount = (order: Order, claim: Claim, asked: number): Promise<boolean> =>
  perform(
    `Asked for another amount from ${order.seller.name}`,
    [
      edit('orders', order, {
        ...order,
        claims: order.claims.map((c) => (c.id === claim.id ? { ...claim, asked } : c)),
      }),
    ],
    { quiet: true },
  )

/** Pieces that were booked as right and turned out otherwise: they leave the shelf, and are claimed. */
export function claimLater(
  order: Order,
  line: string,
  found: FoundLater,
  { holdings }: Pick<RecordsView, 'holdings'>,
  on: string,
  more: readonly Change[] = [],
): Promise<boolean> {
  return tried(foundLater(order, line, found, holdings, fresh), ({ order: next, shelf }) => {
    const claimed = claimFrom(next, [{ line, reason: found.reason, qty: found.qty }], on, fresh())
    return perform(`Found ${plural(found.qty, 'piece')} of ${orderName(order)} ${found.reason}`, [
      ...more,
      edit('orders', order, claimed.ok ? claimed.value : next),
      ...rearrange(holdings, shelf),
    ])
  })
}

/** Asks the carrier about all parcels that are out and have a number, and takes in what it says. */
export async function askAfterParcels(
  orders: readonly Order[],
  { copies, builds }: Pick<RecordsView, 'copies' | 'builds'>,
  today: string,
): Promise<void> {
  const out = orders.filter((o) => o.tracking !== undefined && ['paid', 'dispatched'].includes(stateOf(o)))
  if (out.length === 0) {
    toast('No parcel that is out has a tracking number.')
    return
  }
  const country = (order: Order) => builds.find((b) => order.builds.includes(b.id))?.rules.shipTo ?? 'AT'
  try {
    const answer = await askCarrier(
      out.map((o) => ({
        number: o.tracking ?? '',
        ...(o.seller.country !== undefined && { from: o.seller.country }),
        to: country(o),
        handed: dayOfState(o, 'paid') ?? today,
      })),
      today,
    )
    if (!answer.ok) {
      toast.error(answer.error.message, { duration: 15_000 })
      return
    }
    const news = new Map(answer.value.map((p) => [p.number, { events: p.events, due: p.due ?? undefined }]))
    const moved = out.flatMap((order) => {
      const said = news.get(order.tracking ?? '')
      const next = said ? { ...withNews(order, said), news: said.events } : order
      return next === order || sameNews(order, next) ? [] : [{ order, next }]
    })
    if (moved.length === 0) {
      toast('The carrier has no news.')
      return
    }
    await perform(`The carrier’s news of ${plural(moved.length, 'parcel')}`, [
      ...moved.map(({ order, next }) => edit('orders', order, next)),
      ...moved.flatMap(({ next }) => copyEdits(next, copies)),
    ])
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}

const sameNews = (p: Order, q: Order): boolean =>
  p.due === q.due && p.history.length === q.history.length && (p.news ?? []).length === (q.news ?? []).length

/** The first so many of copies to be bought that are like one; fewer where there are no more. */
export function copiesToBuy(copies: readonly Copy[], id: string, n: number): Copy[] {
  const like = copies.find((c) => c.id === id)
  if (!like) return []
  const alike = copies.filter(
    (c) =>
      c.id !== id &&
      c.state === 'to-buy' &&
      c.buildId === like.buildId &&
      c.setId === like.setId &&
      dequal(
        [c.askingPrice, c.missing, c.stages, c.spares],
        [like.askingPrice, like.missing, like.stages, like.spares],
      ),
  )
  return [like, ...alike].slice(0, n)
}

/** Makes the orders of one purchase for several builds, in one act. */
export function makeSharedOrders(
  shared: SharedPurchase,
  together: Pick<SourcingPlan, 'sets'>,
  builds: readonly Build[],
  { shops, offers, orders, copies }: Pick<RecordsView, 'shops' | 'offers' | 'orders' | 'copies'>,
  today: string,
): Promise<boolean> {
  const home = builds[0]?.currency ?? currency('EUR')
  const rate = changingInto(home, builds[0]?.rules.rates ?? [])
  const shopOf = (id: string): SharedShop => {
    const shop = shops.find((s) => s.id === id)
    const theirs = shop?.currency ?? home
    const changed = theirs === home ? undefined : rate(theirs)
    return {
      shop: id,
      name: shop?.name ?? id,
      ...(shop && { country: shop.country }),
      currency: theirs,
      ...(changed !== undefined && { rate: changed }),
      leadDays: shop?.leadDays ?? COPY_DAYS,
    }
  }
  const making = orderMaking(orders, home, today)
  const fromShops = ordersOfShared(
    shared.orders,
    builds.map((b) => b.id),
    shopOf,
    (shop, item, price) =>
      offers.find((o) => o.item === item && o.shop === shop && o.price === price)?.condition ?? NOT_STATED,
    making,
  )
  // A set of a joint plan is named by the place of its build and the copy.
  const bought = together.sets.flatMap(({ set, copies: n }) => copiesToBuy(copies, set.slice(set.indexOf(':') + 1), n))
  const ofCopies = bought.flatMap((copy, i) =>
    copyOrder(
      copy,
      { ...making, firstNumber: making.firstNumber + fromShops.length + i },
      rate(copy.askingPrice?.currency ?? home),
    ),
  )
  const made = [...fromShops, ...ofCopies]
  return perform(`Made ${plural(made.length, 'order')} for ${plural(builds.length, 'build')}`, [add('orders', made)])
}
