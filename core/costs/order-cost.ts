import { exchanged } from '../units/exchange.ts'
import { sharesOf } from '../units/share-out.ts'
import { leviesOn, type LevyTerms } from './levy.ts'

/** What a shop charges beside the goods: money in minor units of its own currency, mass in milligrams. */
export type OrderTerms = {
  readonly minOrder: number
  /** Ascending by mass; none where sending costs nothing. */
  readonly bands: readonly { readonly maxMass: number; readonly fee: number }[]
  /** A fee on baskets below the threshold. */
  readonly service: { readonly threshold: number; readonly fee: number } | null
  readonly handling: number
  readonly lineFee: number
  /** Billionths of a minor unit of the user's money for one of the shop's; left out where both are the same. */
  readonly rate?: number | undefined
  /** Duty and tax by the user's own rates, in the user's money; none when left out. */
  readonly levies?: readonly LevyTerms[]
}

/** One shop's basket: goods in minor units of its currency, milligrams, and lines. */
export type BasketSize = { readonly goods: number; readonly mass: number; readonly lines: number }

/** What a shop asks for an order, part by part; minor units. */
export type Bill = {
  readonly goods: number
  readonly shipping: number
  readonly handling: number
  readonly lineFees: number
  readonly service: number
}

/** What one shop's order costs at the door; minor units of the user's money. */
export type OrderCost = Bill & {
  /** Duty and tax by the user's own rates. */
  readonly levies: number
  /** The same in the shop's own money, as its bill says. */
  readonly billed: Bill
}

/** All that a bill asks for, in its money. */
export const billTotal = (bill: Bill): number =>
  bill.goods + bill.shipping + bill.handling + bill.lineFees + bill.service

/**
 * A bill in the user's money: its sum at the rate, rounded half up once, and its parts as shares of that by the largest
 * remainder, so that they add up to it.
 */
export function billAtRate(bill: Bill, rate: number | undefined): Bill {
  if (rate === undefined) return bill
  const parts = [bill.goods, bill.shipping, bill.handling, bill.lineFees, bill.service]
  const [goods = 0, shipping = 0, handling = 0, lineFees = 0, service = 0] = sharesOf(
    exchanged(billTotal(bill), rate),
    parts,
  )
  return { goods, shipping, handling, lineFees, service }
}

/** What a parcel costs to send: the lightest band that takes it, nothing without bands; undefined when none takes it. */
export function shippingFee(bands: OrderTerms['bands'], mass: number): number | undefined {
  if (bands.length === 0) return 0
  for (const band of bands) if (mass <= band.maxMass) return band.fee
  return undefined
}

/** The fee on goods below the shop's threshold; none at it or without one. */
export const serviceFee = (service: OrderTerms['service'], goods: number): number =>
  service && goods < service.threshold ? service.fee : 0

/** What goods lack of the shop's minimum order; 0 at it or above. */
export const shortOfMinimum = ({ minOrder }: Pick<OrderTerms, 'minOrder'>, goods: number): number =>
  Math.max(0, minOrder - goods)

/**
 * What an order costs at the door, part by part. Undefined when no band takes the parcel: it cannot be sent as one. Duty
 * and tax are reckoned on the bill, or on its goods, in the user's money, each rounded to a minor unit first.
 * Baskets, the search's estimate and the baselines reckon by this; the model and the verifier keep arithmetic of their
 * own, so that one checks the other.
 */
export function orderCost(terms: OrderTerms, basket: BasketSize): OrderCost | undefined {
  const shipping = shippingFee(terms.bands, basket.mass)
  if (shipping === undefined) return undefined
  const billed: Bill = {
    goods: basket.goods,
    shipping,
    handling: terms.handling,
    lineFees: terms.lineFee * basket.lines,
    service: serviceFee(terms.service, basket.goods),
  }
  const own = billAtRate(billed, terms.rate)
  const goods = terms.rate === undefined ? billed.goods : exchanged(billed.goods, terms.rate)
  return { ...own, levies: leviesOn(terms.levies ?? [], goods, billTotal(own)), billed }
}

export const orderTotal = (cost: Omit<OrderCost, 'billed'>): number => billTotal(cost) + cost.levies
