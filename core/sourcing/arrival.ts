/** An order on its way: the days it takes, and the share of its shop's orders that come complete. */
export type Parcel = { readonly leadDays: number; readonly reliability: number }

/** When all of several orders have come; days from ordering. */
export type Arrival = {
  /** When all come if nothing goes wrong. */
  readonly onTime: number
  /** The chance that all have come by then, 0 to 1. */
  readonly chance: number
  /** The day by which all have come nine times in ten. */
  readonly mostly: number
  /** The day of the last arrival to be expected. */
  readonly expected: number
}

/** Chances beyond this share are taken for sure. */
const SURE = 1 - 1e-9
/** No wait is followed for longer, days. */
const LONGEST = 20_000

/**
 * The chance that all parcels have come by a day. An order that comes incomplete is taken to be ordered again in the same
 * shop, with the same chance and at the same speed: the number of tries is geometric, so one parcel is complete by day d
 * with the chance 1 − (1 − r)^⌊d / lead⌋, and all of them, which do not depend on one another, with the product.
 */
export function chanceBy(parcels: readonly Parcel[], day: number): number {
  let chance = 1
  for (const { leadDays, reliability } of parcels)
    chance *= 1 - (1 - reliability) ** Math.floor(day / Math.max(1, leadDays))
  return chance
}

/**
 * When all parcels have come. The expected last arrival is the sum over all days of the chance that something is still
 * missing (the tail sum of a whole number's expectation). Undefined without parcels, or where one hardly ever comes.
 */
export function arrivalOf(parcels: readonly Parcel[]): Arrival | undefined {
  if (parcels.length === 0 || chanceBy(parcels, LONGEST) < SURE) return undefined
  const onTime = parcels.reduce((most, p) => Math.max(most, p.leadDays), 1)
  let expected = 0
  let mostly = 0
  for (let day = 0; day < LONGEST; day++) {
    const chance = chanceBy(parcels, day)
    if (chance < 0.9) mostly = day + 1
    if (chance >= SURE) break
    expected += 1 - chance
  }
  return { onTime, chance: chanceBy(parcels, onTime), mostly, expected }
}
