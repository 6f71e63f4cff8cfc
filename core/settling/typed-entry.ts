import { changingInto, type ExchangeRate } from '../build/exchange-rates.ts'
import { minorRate, readExchange, unitRateText } from '../units/exchange.ts'
import { isDay } from '../units/instants.ts'
import type { BuildId, EntryId, ModuleId } from '../units/ids.ts'
import { formatMoney, MOST_AMOUNT, readAmount, type Currency } from '../units/money.ts'
import { minorDigits } from '../units/currency.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { isIncome, type Category, type Entry } from './entry.ts'
import type { Posting } from './postings.ts'

/** An entry as it is typed. */
export type TypedEntry = {
  readonly on: string
  readonly category: Category
  readonly amount: string
  readonly currency: string
  /** What one unit of the currency cost in the build's on that day; nothing typed takes the rate the build has. */
  readonly rate: string
  readonly text: string
  /** Empty for the whole build. */
  readonly module: string
}

/** Which field is refused, and why. */
export type EntryRefusal = { readonly field: keyof TypedEntry; readonly message: string }

type EntryOf = {
  readonly id: EntryId
  readonly build: BuildId
  readonly home: Currency
  readonly rates: readonly ExchangeRate[]
  /** ISO 8601; entries are of what was paid by then. */
  readonly today: string
}

/** Reads an entry as it was typed; what is refused names its field and the remedy. */
export function readEntry(typed: TypedEntry, { id, build, home, rates, today }: EntryOf): Result<Entry, EntryRefusal> {
  const no = (field: keyof TypedEntry, message: string) => fail({ field, message })
  const on = typed.on.trim()
  if (!isDay(on)) return no('on', 'A day such as 2026-12-10 is expected.')
  if (on > today) return no('on', 'That day is still to come: an entry is of what was paid. Take today or earlier.')
  const code = typed.currency.trim().toUpperCase()
  if (code === '') return no('currency', 'Say in which currency it was paid.')
  if (minorDigits(code) === undefined) return no('currency', `${code} is no currency of ISO 4217, such as EUR.`)
  const read = readAmount(typed.amount, code)
  if (!read.ok)
    return no(
      'amount',
      {
        none: `An amount such as ${formatMoney(1250, code)} is expected.`,
        'other currency': `That is an amount in another currency than ${code}: choose that one.`,
        'too fine': `${code} has fewer decimals.`,
        'two readings': 'This can be read in two ways: write the decimals, such as 12000.00.',
      }[read.error],
    )
  if (read.value <= 0) return no('amount', 'More than nothing is expected. To take an entry back, correct it.')
  if (read.value > MOST_AMOUNT) return no('amount', `At most ${formatMoney(MOST_AMOUNT, code)} can be entered.`)
  const text = typed.text.trim()
  if (text === '') return no('text', 'Say what it was for.')
  if (text.length > 300) return no('text', 'At most 300 characters.')
  let rate: number | undefined
  if (code !== home) {
    const unit = typed.rate.trim() === '' ? undefined : readExchange(typed.rate)
    if (typed.rate.trim() !== '' && unit === undefined)
      return no('rate', `What one ${code} cost in ${home} on that day, such as 0.0402.`)
    rate = unit === undefined ? changingInto(home, rates)(code) : minorRate(unit, code, home)
    if (rate === undefined)
      return no('rate', `The build has no rate for ${code}: say what one ${code} cost in ${home}.`)
  }
  return ok({
    ...{ id, build, on, category: typed.category, amount: { minor: read.value, currency: code as Currency }, text },
    ...(rate !== undefined && { rate }),
    ...(typed.module !== '' && { module: typed.module as ModuleId }),
  })
}

/** The rate the build has for a currency, as it is typed; empty where it has none. */
export function rateNow(code: string, home: string, rates: readonly ExchangeRate[]): string {
  const rate = code === home ? undefined : changingInto(home, rates)(code)
  return rate === undefined ? '' : unitRateText(rate, code, home)
}

/**
 * What makes a posting right: an entry of the difference, in the build's money, that names it. The posting stays as it is.
 * Undefined where nothing differs. `right` is what it should be in all, earlier corrections counted (`before`).
 */
export function correctionOf(
  { key, category, text, module, stage }: Pick<Posting, 'key' | 'category' | 'text' | 'module' | 'stage'>,
  before: number,
  right: number,
  why: string,
  { id, build, home, today }: Pick<EntryOf, 'id' | 'build' | 'home' | 'today'>,
): Entry | undefined {
  const sign = stage === 'back' && !isIncome(category) ? -1 : 1
  const minor = sign * (right - before)
  if (minor === 0) return undefined
  return {
    ...{ id, build, on: today, category, amount: { minor, currency: home }, corrects: key.slice(0, 400) },
    text: `Corrects “${text}”${why.trim() === '' ? '' : `: ${why.trim()}`}`.slice(0, 300),
    ...(module !== undefined && { module }),
  }
}

/** What a posting comes to with all that corrects it. */
export const correctedSum = (posting: Posting, postings: readonly Posting[]): number => {
  const sign = posting.stage === 'back' && !isIncome(posting.category) ? -1 : 1
  return postings.reduce(
    (sum, { of, minor }) => (of.kind === 'entry' && of.entry.corrects === posting.key ? sum + sign * minor : sum),
    posting.minor,
  )
}
