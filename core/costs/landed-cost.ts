/** What a purchase plan comes to, minor units. */
export type Purchase = {
  /** Its total as it was decided: goods, fees, levies and sets, with points of compromise, less what surplus earns. */
  readonly total: number
  /** What of the total are points of compromise. */
  readonly penalties: number
  /** Custom prints among what is bought, and the price of one. */
  readonly prints: number
  readonly printPrice: number
}

/**
 * What a purchase costs at the door in money: goods, fees, sets, duty and tax by the user's own rates, and custom prints,
 * less resale. Points of compromise were weighed in finding it, but nobody is paid for them.
 */
export const landedCost = ({ total, penalties, prints, printPrice }: Purchase): number =>
  total - penalties + prints * printPrice
