import { fail, ok, type Result } from './result.ts'
import * as v from 'valibot'
import { minorDigits } from './currency.ts'
import { readDigits, type DecimalStyle, type Digits } from './decimal-style.ts'

/** An ISO 4217 alphabetic code, such as `EUR`. */
export type Currency = string & { readonly __currency: true }

export const CurrencySchema = v.pipe(
  v.string(),
  v.check((s) => minorDigits(s) !== undefined, 'a currency of ISO 4217 is expected, such as EUR'),
  v.transform((s) => s as Currency),
)

/** The most that budgets, prices and fees typed by hand come to, minor units. */
export const MOST_AMOUNT = 1_000_000_000

export const MoneySchema = v.object({ minor: v.pipe(v.number(), v.safeInteger()), currency: CurrencySchema })
export type Money = v.InferOutput<typeof MoneySchema>

export const currency = (code: string): Currency => v.parse(CurrencySchema, code)

/** Renders minor units as a decimal string with the currency's digits, e.g. `12.30`; no code, no grouping. */
export function decimal(minor: number, code: string): string {
  const digits = minorDigits(code) ?? 2
  const sign = minor < 0 ? '-' : ''
  const s = String(Math.abs(minor)).padStart(digits + 1, '0')
  return digits === 0 ? sign + s : `${sign}${s.slice(0, -digits)}.${s.slice(-digits)}`
}

/** Renders minor units with thin grouping and the code, e.g. `1 234.50 EUR`. */
export function formatMoney(minor: number, code: string): string {
  const [whole = '', fraction] = decimal(minor, code).split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f')
  return `${grouped}${fraction === undefined ? '' : `.${fraction}`} ${code}`
}

/** Signs that belong to a currency beside what `Intl` knows; common practice in the countries that use it. */
const OWN_SIGNS: Readonly<Record<string, readonly string[]>> = {
  CHF: ['fr', 'fr.', 'sfr', 'sfr.'],
  SEK: ['kr.', ':-'],
  NOK: ['kr.', ',-'],
  DKK: ['kr.'],
}
/** Words for a hundredth; common practice. Cents are everybody else's. */
const HUNDREDTHS: Readonly<Record<string, readonly string[]>> = {
  GBP: ['p', 'pence', 'penny'],
  CHF: ['rp', 'rp.', 'rappen', 'ct', 'centimes'],
  SEK: ['öre'],
  NOK: ['øre'],
  DKK: ['øre'],
  PLN: ['gr', 'grosz', 'grosze', 'groszy'],
  CZK: ['hal', 'haléř', 'haléřů'],
}
const CENTS = ['ct', 'ct.', 'cts', 'cent', 'cents', 'c', '¢']
/** Words that say what an amount is for and not in what money it is. */
const EACH = /^(?:each|ea\.?|\/?\s*pcs?\.?|per piece|a piece|\/\s*piece|stk\.?|\/\s*stk\.?)$/

// What each currency is called is the language's, and stays.
// eslint-disable-next-line no-restricted-syntax
const signs = new Map<string, ReadonlySet<string>>()
/** Every way to write a currency beside an amount: code, sign, name. */
function signsOf(code: string): ReadonlySet<string> {
  const known = signs.get(code)
  if (known) return known
  const written = (currencyDisplay: 'symbol' | 'narrowSymbol' | 'name', amount: number) =>
    new Intl.NumberFormat('en', { style: 'currency', currency: code, currencyDisplay })
      .formatToParts(amount)
      .find((part) => part.type === 'currency')
      ?.value.toLowerCase() ?? ''
  const made = new Set([
    code.toLowerCase(),
    written('symbol', 1),
    written('narrowSymbol', 1),
    written('name', 1),
    written('name', 2),
    // "euros" of "euros", "dollars" of "US dollars".
    written('name', 1).split(' ').at(-1) ?? '',
    written('name', 2).split(' ').at(-1) ?? '',
    ...(OWN_SIGNS[code] ?? []),
  ])
  signs.set(code, made)
  return made
}

/** Why a text is no amount of a currency. */
export type AmountFault = 'none' | 'other currency' | 'too fine' | 'two readings'

/**
 * Reads an amount into minor units of a currency: point or comma before the decimals (`12,5`, `.12`, `1.234,50`), its
 * sign, code or name before or after, or the word for a hundredth (`12 ct`, `50 cents`). A sign or word of another
 * currency is refused, and so are more decimals than the currency has. Where point or comma may group or divide
 * (`12.000`), the column's `style` decides; without one both readings stand.
 */
export function readAmount(text: string, code: string, style?: DecimalStyle): Result<number, AmountFault> {
  const digits = minorDigits(code) ?? 2
  const match = /^(\D*?)([-−]?)\s*([.,]?\d(?:[\d.,\s\u00a0\u202f'’]*\d)?)(?:[.,](?!\d))?(\D*)$/u.exec(text.trim())
  if (!match) return fail('none')
  const [, before = '', minus = '', number = '', after = ''] = match
  let hundredths = false
  for (const side of [before, after]) {
    const word = side
      .replace(/\u00a0|\u202f/g, ' ')
      .trim()
      .toLowerCase()
    if (word === '' || EACH.test(word)) continue
    const bare = word.replace(/\s*(?:each|ea\.?|\/\s*(?:pcs?|piece|stk)\.?)$/, '')
    if (signsOf(code).has(bare)) continue
    const small = HUNDREDTHS[code] ?? CENTS
    if (digits === 2 && side === after && small.includes(bare)) hundredths = true
    else return fail('other currency')
  }
  const places = hundredths ? 0 : digits
  const readings = readDigits(number, style).filter(({ fraction }) => /^0*$/.test(fraction.slice(places)))
  const [only, other] = readings
  if (!only) return fail(readDigits(number, style).length > 0 ? 'too fine' : 'none')
  const amount = ({ whole, fraction }: Digits) => Number(whole + fraction.slice(0, places).padEnd(places, '0'))
  if (other && amount(other) !== amount(only)) return fail('two readings')
  // A lone sign before three digits is no grouping that anyone writes of prices with fewer decimals: it is refused.
  if (style === undefined && places !== 3 && places !== 0 && /^\d{1,3}[.,]\d{3}$/.test(number)) {
    const fine = readDigits(number).some(({ fraction }) => fraction !== '')
    if (fine && only.fraction === '') return fail('two readings')
  }
  const n = amount(only)
  if (!Number.isSafeInteger(n)) return fail('none')
  return ok(minus !== '' && n !== 0 ? -n : n)
}

/** `readAmount` where only the amount matters: `undefined` for whatever is none beyond doubt. */
export function parseMinor(text: string, code: string, style?: DecimalStyle): number | undefined {
  const read = readAmount(text, code, style)
  return read.ok ? read.value : undefined
}
