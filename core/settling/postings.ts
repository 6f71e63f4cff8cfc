import type { Build } from '../build/build.ts'
import { changingInto } from '../build/exchange-rates.ts'
import { billAtRate } from '../costs/order-cost.ts'
import type { Module } from '../design/design.ts'
import type { Copy } from '../donors/donor-set.ts'
import { isThere } from '../shelf/leftovers.ts'
import type { PlanCost } from '../sourcing/plan.ts'
import { chargesOf, dayOfState, orderName, stateOf, type Charges, type Order } from '../orders/order.ts'
import { exchanged } from '../units/exchange.ts'
import type { BuildId, CopyId, ModuleId } from '../units/ids.ts'
import { formatMoney } from '../units/money.ts'
import { sharesOf } from '../units/share-out.ts'
import { isIncome, SPENDING, type Category, type Entry } from './entry.ts'
import { saleState, type Sale } from './sale.ts'

/** What is said of money: planned, ordered and so to be paid, paid or come in, and paid back by a seller. */
export const STAGES = ['planned', 'ordered', 'paid', 'back'] as const
export type Stage = (typeof STAGES)[number]

/** What a posting rests on. */
export type PostingOf =
  | { readonly kind: 'order'; readonly order: Order }
  | { readonly kind: 'copy'; readonly copy: CopyId }
  | { readonly kind: 'plan' }
  /** What a kept purchase plan would buy: planned, and nothing more. */
  | { readonly kind: 'purchase' }
  | { readonly kind: 'sale'; readonly sale: Sale }
  | { readonly kind: 'entry'; readonly entry: Entry }

/** One movement of a build's money, or what one will be. */
export type Posting = {
  /** Unique among the postings of a build, and the same as long as what it rests on is there. */
  readonly key: string
  /** Undefined where nobody said on which day. */
  readonly on: string | undefined
  readonly stage: Stage
  readonly category: Category
  /** Minor units of the build's money; of income, and of what is paid back, what came in. */
  readonly minor: number
  readonly text: string
  readonly of: PostingOf
  readonly module?: ModuleId
}

/** What a build's ledger is made of. */
export type LedgerRecords = {
  readonly orders: readonly Order[]
  readonly copies: readonly Copy[]
  readonly sales: readonly Sale[]
  readonly entries: readonly Entry[]
}

export type Postings = {
  readonly postings: readonly Posting[]
  /** What is in money for which the build has no rate, and so in no sum: in words, with the amount. */
  readonly unchanged: readonly string[]
}

/** Charges in the user's money, as bills are changed everywhere; duty and tax are in it already. */
const atHome = (order: Order, charges: Charges): Charges => ({
  ...billAtRate(charges, order.rate),
  levies: charges.levies,
})

/** A build's share of an order's amounts, by the value of its pieces in it; shares of all builds add up. */
function shareOf(order: Order, build: BuildId, amounts: readonly number[]): number[] {
  const at = order.builds.indexOf(build)
  if (at < 0) return amounts.map(() => 0)
  // What is for none is shared like the rest.
  const value = new Map<BuildId, number>()
  for (const line of order.lines)
    for (const { build: of, qty } of line.for) value.set(of, (value.get(of) ?? 0) + qty * line.price)
  const by = order.builds.map((b) => value.get(b) ?? 0)
  return amounts.map((amount) => sharesOf(amount, by)[at] ?? 0)
}

/** An order's amounts by category, minor units of its builds' money, in the order of `SPENDING`. */
function byCategory(order: Order, charges: Charges): number[] {
  const { goods, shipping, handling, lineFees, service, levies } = atHome(order, charges)
  const prints = order.lines.reduce((sum, l) => sum + (l.print === true ? l.qty * l.price : 0), 0)
  const loose = order.lines.reduce((sum, l) => sum + (l.print === true ? 0 : l.qty * l.price), 0)
  const copies = order.copies.reduce((sum, c) => sum + c.price, 0)
  const [ofLoose = 0, ofPrints = 0, ofCopies = 0] =
    // Goods that no line names are loose pieces.
    loose + prints + copies === 0 ? [goods, 0, 0] : sharesOf(goods, [loose, prints, copies])
  const sums: Partial<Record<Category, number>> = {
    'donor copies': ofCopies,
    'loose pieces': ofLoose,
    shipping,
    fees: handling + lineFees + service,
    'duty and tax': levies,
    prints: ofPrints,
  }
  return SPENDING.map((category) => sums[category] ?? 0)
}

/** Whether an order was paid, as far as it went. */
const isPaid = (order: Order): boolean => dayOfState(order, 'paid') !== undefined
const isPlaced = (order: Order): boolean =>
  dayOfState(order, 'placed') !== undefined && (stateOf(order) !== 'cancelled' || isPaid(order))

function postingsOfOrder(build: BuildId, order: Order): Posting[] {
  const text = orderName(order)
  const of = { kind: 'order' as const, order }
  const post = (stage: Stage, on: string | undefined, charges: Charges): Posting[] => {
    const shares = shareOf(order, build, byCategory(order, charges))
    return SPENDING.flatMap((category, i) => {
      const minor = shares[i] ?? 0
      return minor === 0 ? [] : [{ key: `${order.id} ${stage} ${category}`, on, stage, category, minor, text, of }]
    })
  }
  const cancelled = stateOf(order) === 'cancelled'
  const refunds = order.claims.flatMap((claim): Posting[] => {
    const { refunded = 0 } = claim
    const home = order.rate === undefined ? refunded : exchanged(refunded, order.rate)
    const [minor = 0] = shareOf(order, build, [home])
    if (minor === 0) return []
    return [
      {
        key: `${order.id} back ${claim.id}`,
        on: claim.history.findLast((s) => s.state === 'refunded')?.on,
        stage: 'back',
        // A refund goes against loose pieces, or copies where the order has no pieces.
        category: order.lines.length > 0 ? 'loose pieces' : 'donor copies',
        minor,
        text: `${text}: paid back`,
        of,
      },
    ]
  })
  return [
    ...(order.planned && !cancelled ? post('planned', order.history[0]?.on, order.planned) : []),
    ...(isPlaced(order) ? post('ordered', dayOfState(order, 'placed'), chargesOf(order)) : []),
    ...(isPaid(order) ? post('paid', dayOfState(order, 'paid'), chargesOf(order)) : []),
    ...refunds,
  ]
}

/** An amount in the build's money; undefined, and noted, where there is no rate. */
type AtRate = (
  money: { readonly minor: number; readonly currency: string },
  text: string,
  rate?: number,
) => number | undefined

function postingsOfPlans(
  build: Build,
  modules: readonly Pick<Module, 'id' | 'name' | 'provenance'>[],
  atRate: AtRate,
): Posting[] {
  const plans = [
    { name: 'The plan', id: undefined, provenance: build.provenance },
    ...modules.map((m) => ({ ...m, name: `The plan of ${m.name}` })),
  ]
  return plans.flatMap(({ name, id, provenance }, i) => {
    const minor = provenance?.price && atRate(provenance.price, name)
    if (minor === undefined || minor === 0) return []
    return (['planned', 'ordered', 'paid'] as const).map((stage): Posting => ({
      ...{ key: `plan ${id ?? i} ${stage}`, on: undefined, stage, category: 'plans', minor, text: name },
      ...{ of: { kind: 'plan' }, ...(id !== undefined && { module: id }) },
    }))
  })
}

function postingOfSale(sale: Sale, atRate: AtRate): Posting[] {
  if (sale.got === undefined || !['sold', 'sent'].includes(saleState(sale))) return []
  const net = { minor: sale.got - (sale.costs ?? 0), currency: sale.currency }
  const minor = atRate(net, sale.title, sale.rate)
  if (minor === undefined) return []
  return [
    {
      key: `${sale.id} paid`,
      on: sale.history.find((s) => s.state === 'sold')?.on,
      stage: 'paid',
      category: 'resale',
      minor,
      text: `Sold: ${sale.title}`,
      of: { kind: 'sale', sale },
    },
  ]
}

/**
 * All postings of a build: those that come by themselves of its orders, claims, copies, plans and sales, and those that were
 * typed. An order for several builds is shared by the value of their pieces in it, to the minor unit. What is in other money
 * is changed at the rate of its order, entry or sale; prices of copies and plans at the rate the build has. What there is no
 * rate for is told in `unchanged` and in no sum. Linear in the records.
 */
export function postingsOf(
  build: Build,
  modules: readonly Pick<Module, 'id' | 'name' | 'provenance'>[],
  { orders, copies, sales, entries }: LedgerRecords,
): Postings {
  const unchanged: string[] = []
  const changing = changingInto(build.currency, build.rules.rates)
  const atRate: AtRate = (money, text, rate) => {
    const by = rate ?? changing(money.currency)
    if (by === undefined) {
      unchanged.push(`${text}: ${formatMoney(money.minor, money.currency)}`)
      return undefined
    }
    return money.minor < 0 ? -exchanged(-money.minor, by) : exchanged(money.minor, by)
  }
  const postings: Posting[] = []
  const inOrders = new Set<CopyId>()
  for (const order of orders) {
    if (stateOf(order) !== 'cancelled') for (const c of order.copies) inOrders.add(c.id)
    if (!order.builds.includes(build.id)) continue
    if (order.home === build.currency) postings.push(...postingsOfOrder(build.id, order))
    else unchanged.push(`${orderName(order)}, reckoned in ${order.home}`)
  }
  for (const copy of copies) {
    if (copy.buildId !== build.id || !copy.paid || inOrders.has(copy.id) || !isThere(copy)) continue
    const minor = atRate(copy.paid, copy.label)
    if (minor !== undefined && minor !== 0)
      for (const stage of ['planned', 'ordered', 'paid'] as const)
        postings.push({
          ...{ key: `${copy.id} ${stage}`, on: copy.paidOn, stage, category: 'donor copies', minor },
          ...{ text: copy.label, of: { kind: 'copy', copy: copy.id } },
        })
  }
  postings.push(...postingsOfPlans(build, modules, atRate))
  for (const sale of sales) if (sale.build === build.id) postings.push(...postingOfSale(sale, atRate))
  for (const entry of entries) {
    if (entry.build !== build.id) continue
    const own = entry.amount.currency === build.currency
    const minor = own ? entry.amount.minor : atRate(entry.amount, entry.text, entry.rate)
    if (minor !== undefined)
      postings.push({
        ...{ key: entry.id, on: entry.on, stage: 'paid', category: entry.category, minor, text: entry.text },
        ...{ of: { kind: 'entry', entry }, ...(entry.module !== undefined && { module: entry.module }) },
      })
  }
  return { postings, unchanged }
}

/**
 * What a purchase plan that is kept and not ordered yet comes to by category, in the build's money; `spent` is all that it
 * would spend, prints among it. What leftovers may bring is no part of it.
 */
export function postingsOfPurchase(cost: PlanCost, spent: number): Posting[] {
  const sums: Partial<Record<Category, number>> = {
    'donor copies': cost.sets,
    'loose pieces': cost.goods,
    shipping: cost.shipping,
    fees: cost.handling + cost.lineFees + cost.service,
    'duty and tax': cost.levies ?? 0,
  }
  sums.prints = spent - Object.values(sums).reduce((n, minor) => n + minor, 0)
  return SPENDING.flatMap((category): Posting[] => {
    const minor = sums[category] ?? 0
    if (minor === 0) return []
    const text = 'The purchase plan that is kept'
    return [
      { key: `purchase ${category}`, on: undefined, stage: 'planned', category, minor, text, of: { kind: 'purchase' } },
    ]
  })
}

/** What a posting does to what a build has cost: spending adds, income and what is paid back take off. */
export const costOf = ({ stage, category, minor }: Pick<Posting, 'stage' | 'category' | 'minor'>): number =>
  stage === 'back' || isIncome(category) ? 0 - minor : minor
