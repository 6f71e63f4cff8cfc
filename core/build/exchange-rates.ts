import * as v from 'valibot'
import { MOST_EXCHANGE, WHOLE_EXCHANGE, minorRate } from '../units/exchange.ts'
import { CurrencySchema } from '../units/money.ts'

/** The most rates of exchange that a build may have. */
export const MOST_RATES = 40

/** What one unit of another currency costs in the build's, in billionths, and the day on which the user read that. */
export const ExchangeRateSchema = v.object({
  currency: CurrencySchema,
  rate: v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(MOST_EXCHANGE)),
  on: v.pipe(v.string(), v.isoDate('a day such as 2026-11-29 is expected')),
})
export type ExchangeRate = v.InferOutput<typeof ExchangeRateSchema>

export const ExchangeRatesSchema = v.pipe(
  v.array(ExchangeRateSchema),
  v.maxLength(MOST_RATES),
  v.check((rates) => new Set(rates.map((r) => r.currency)).size === rates.length, 'one rate for each currency'),
)

/**
 * How money of other currencies changes into a build's, by the user's rates: billionths of a minor unit for a minor unit;
 * undefined of a currency without a rate, one of the build's own.
 */
export function changingInto(ours: string, rates: readonly ExchangeRate[]): (theirs: string) => number | undefined {
  const known = new Map(rates.map((r) => [r.currency as string, minorRate(r.rate, r.currency, ours)]))
  return (theirs) => (theirs === ours ? WHOLE_EXCHANGE : known.get(theirs))
}
