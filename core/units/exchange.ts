import { readDigits } from './decimal-style.ts'
import { minorDigits } from './currency.ts'

/** A rate of one: rates of exchange are whole billionths. */
export const WHOLE_EXCHANGE = 1_000_000_000

/**
 * An amount of another money at a rate, in minor units of both, rounded half up to a minor unit; exact for all safe
 * integers. The amount is not negative; the rate is in billionths of a minor unit for one minor unit.
 */
export const exchanged = (amount: number, rate: number): number => {
  const whole = BigInt(WHOLE_EXCHANGE)
  return Number((2n * BigInt(amount) * BigInt(rate) + whole) / (2n * whole))
}

/** The most that a rate may be: a million units of ours for one of theirs. */
export const MOST_EXCHANGE = 1_000_000 * WHOLE_EXCHANGE

/**
 * A rate between units of two currencies (one franc is so many euros), in billionths, as one between their minor units by
 * ISO 4217, rounded half up; never 0.
 */
export function minorRate(rate: number, theirs: string, ours: string): number {
  const digits = (minorDigits(ours) ?? 2) - (minorDigits(theirs) ?? 2)
  if (digits >= 0) return Math.min(MOST_EXCHANGE, rate * 10 ** digits)
  const by = 10 ** -digits
  return Math.max(1, Math.floor((2 * rate + by) / (2 * by)))
}

/** A rate between minor units as one between units of two currencies (`minorRate` the other way), as it is shown. */
export function unitRateText(rate: number, theirs: string, ours: string): string {
  const digits = (minorDigits(theirs) ?? 2) - (minorDigits(ours) ?? 2)
  return exchangeText(digits >= 0 ? rate * 10 ** digits : Math.max(1, Math.round(rate / 10 ** -digits)))
}

/** A rate as it is typed, with up to nine decimals, in billionths; undefined where it is none, 0 or absurd. */
export function readExchange(text: string): number | undefined {
  const readings = readDigits(text.trim(), text.includes(',') && !text.includes('.') ? ',' : '.')
  const [digits] = readings
  if (!digits || readings.length > 1 || digits.fraction.length > 9 || digits.whole.length > 6) return undefined
  const rate = Number(digits.whole) * WHOLE_EXCHANGE + Number(digits.fraction.padEnd(9, '0'))
  return rate > 0 && rate <= MOST_EXCHANGE ? rate : undefined
}

/** A rate as it is shown and typed: no digits that say nothing. */
export function exchangeText(rate: number): string {
  const fraction = String(rate % WHOLE_EXCHANGE)
    .padStart(9, '0')
    .replace(/0+$/, '')
  const whole = String(Math.floor(rate / WHOLE_EXCHANGE))
  return fraction === '' ? whole : `${whole}.${fraction}`
}
