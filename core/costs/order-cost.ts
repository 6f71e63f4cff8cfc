import { leviesOn, type LevyTerms } from './levy.ts'

/** What a shop charges beside the goods: money in minor units, mass in milligrams. */
export type OrderTerms = {
  readonly minOrder: number
  /** Ascending by mass; none where sending costs nothing. */
  readonly bands: readonly { readonly maxMass: number; readonly fee: number }[]
  /** A fee on baskets below the threshold. */
  readonly service: { readonly threshold: number; readonly fee: number } | null
  readonly handling: number
  readonly lineFee: number
  /** Duty and tax by the user's own rates; none when left out. */
  readonly levies?: readonly LevyTerms[]
}

/** One shop's basket: goods in minor units, milligrams, and lines. */
export type BasketSize = { readonly goods: number; readonly mass: number; readonly lines: number }

/** What one shop's order costs at the door; minor units. */
export type OrderCost = {
  readonly goods: number
  readonly shipping: number
  readonly handling: number
  readonly lineFees: number
  readonly service: number
  /** Duty and tax by the user's own rates. */
  readonly levies: number
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
 * What an order costs at the door, part by part. Undefined when no band takes the parcel: it cannot be sent as one.
 * Baskets, the search's estimate and the baselines reckon by this; the model and the verifier keep arithmetic of their
 * own, so that one checks the other.
 */
export function orderCost(terms: OrderTerms, basket: BasketSize): OrderCost | undefined {
  const shipping = shippingFee(terms.bands, basket.mass)
  if (shipping === undefined) return undefined
  const fees = {
    goods: basket.goods,
    shipping,
    handling: terms.handling,
    lineFees: terms.lineFee * basket.lines,
    service: serviceFee(terms.service, basket.goods),
  }
  const asked = fees.goods + fees.shipping + fees.handling + fees.lineFees + fees.service
  return { ...fees, levies: leviesOn(terms.levies ?? [], basket.goods, asked) }
}

export const orderTotal = (cost: OrderCost): number =>
  cost.goods + cost.shipping + cost.handling + cost.lineFees + cost.service + cost.levies
