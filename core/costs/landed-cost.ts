/** What one shop's order costs at the door; minor units. */
export type OrderCost = {
  readonly goods: number
  readonly shipping: number
  readonly handling: number
  readonly lineFees: number
  readonly service: number
  /** The user's own rate on parcels from other countries. */
  readonly importCharge: number
}

/**
 * Import charge of one order: `percent` of goods and all fees, rounded half up to a minor unit; nothing from the
 * country it is sent to. The rate is the user's; what is due is for the customs authority to say.
 */
export function importCharge(base: number, percent: number, from: string, to: string): number {
  return from === to ? 0 : Math.floor((base * percent * 2 + 100) / 200)
}

export const orderTotal = (cost: OrderCost): number =>
  cost.goods + cost.shipping + cost.handling + cost.lineFees + cost.service + cost.importCharge
