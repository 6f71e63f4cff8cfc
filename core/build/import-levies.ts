import * as v from 'valibot'
import { LevyTermsSchema, WHOLE_RATE } from '../costs/levy.ts'
import { readDigits } from '../units/decimal-style.ts'

/** The most levies a build may have. */
export const MOST_LEVIES = 60

const CountrySchema = v.pipe(v.string(), v.regex(/^[A-Z]{2}$/, 'a two-letter country code of ISO 3166 is expected'))

/**
 * What the user expects to pay on orders from a country, or from every other one that no levy names (null); several for
 * one country are each due by themselves. What is due is for the customs authority to say.
 */
export const ImportLevySchema = v.object({ from: v.nullable(CountrySchema), ...LevyTermsSchema.entries })
export type ImportLevy = v.InferOutput<typeof ImportLevySchema>

/** The one rate that older files have: percent of goods and all fees, of what comes from any other country. */
export const leviesOfPercent = (percent: number): ImportLevy[] =>
  percent === 0
    ? []
    : [{ from: null, rate: (percent * WHOLE_RATE) / 100, on: 'goods and shipping', threshold: 0, fee: 0 }]

/** The levies on orders from a country: its own where there are any, else those of every other; none at home. */
export function leviesFrom<L extends Pick<ImportLevy, 'from'>>(
  levies: readonly L[],
  from: string,
  shipTo: string,
): L[] {
  if (from === shipTo) return []
  const own = levies.filter((l) => l.from === from)
  return own.length > 0 ? own : levies.filter((l) => l.from === null)
}

/** A rate as it is typed, percent with up to two decimals, in ten-thousandths; undefined where it is none, or beyond 100 %. */
export function readRate(text: string): number | undefined {
  const readings = readDigits(text.replace('%', '').trim())
  const [digits] = readings
  if (!digits || readings.length > 1 || digits.fraction.length > 2) return undefined
  const rate = Number(digits.whole) * 100 + Number(digits.fraction.padEnd(2, '0'))
  return rate <= WHOLE_RATE ? rate : undefined
}

/** A rate in percent, as it is shown and typed. */
export const rateText = (rate: number): string => String(rate / 100)

/** A new levy, on what no other names. */
export const NEW_LEVY: ImportLevy = { from: null, rate: 0, on: 'goods and shipping', threshold: 0, fee: 0 }
