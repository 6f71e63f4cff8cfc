import * as v from 'valibot'

/** What of an order a levy is reckoned on: the goods, or all that the shop asks, its shipping and fees included. */
export const LEVY_BASES = ['goods', 'goods and shipping'] as const

/** A rate of 100 %: rates are whole ten-thousandths. */
export const WHOLE_RATE = 10_000

const Amount = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(1e9))

/**
 * Duty or tax on an order, by the user's own rate: what is due is for the customs authority to say. `rate` is in
 * ten-thousandths of the base (2000 = 20 %), `threshold` the value of goods from which it is due, `fee` what the carrier
 * asks for collecting it; minor units.
 */
export const LevyTermsSchema = v.object({
  rate: v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(WHOLE_RATE)),
  on: v.picklist(LEVY_BASES),
  threshold: Amount,
  fee: Amount,
})
export type LevyTerms = v.InferOutput<typeof LevyTermsSchema>

/** A rate of a sum, rounded half up to a minor unit; exact for all safe integers. */
function share(sum: number, rate: number): number {
  const rest = sum % WHOLE_RATE
  return ((sum - rest) / WHOLE_RATE) * rate + Math.floor((rest * rate + WHOLE_RATE / 2) / WHOLE_RATE)
}

/**
 * What a levy comes to for one order of `goods`, for which the shop asks `asked` in all; minor units. Nothing below its
 * threshold.
 */
export const levyOn = ({ rate, on, threshold, fee }: LevyTerms, goods: number, asked: number): number =>
  goods < threshold ? 0 : share(on === 'goods' ? goods : asked, rate) + fee

/** What several levies come to for one order, each by itself. */
export const leviesOn = (levies: readonly LevyTerms[], goods: number, asked: number): number =>
  levies.reduce((sum, levy) => sum + levyOn(levy, goods, asked), 0)
