/**
 * Import charge of one order: `percent` of goods and all fees, rounded half up to a minor unit; nothing from the
 * country it is sent to. The rate is the user's; what is due is for the customs authority to say.
 */
export function importCharge(base: number, percent: number, from: string, to: string): number {
  return from === to ? 0 : Math.floor((base * percent * 2 + 100) / 200)
}

/** What a purchase plan comes to, minor units. */
export type Purchase = {
  /** Its total as it was decided: goods, fees and sets, with points of compromise, less what surplus earns. */
  readonly total: number
  /** What of the total are points of compromise. */
  readonly penalties: number
  /** Custom prints among what is bought, and the price of one. */
  readonly prints: number
  readonly printPrice: number
  readonly orders: readonly { readonly cost: { readonly importCharge: number } }[]
}

/**
 * What a purchase costs at the door in money: goods, fees, sets, the user's own import charges and custom prints, less
 * resale. Points of compromise were weighed in finding it, but nobody is paid for them.
 */
export const landedCost = ({ total, penalties, prints, printPrice, orders }: Purchase): number =>
  orders.reduce((sum, order) => sum + order.cost.importCharge, total - penalties + prints * printPrice)
