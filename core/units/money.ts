import * as v from 'valibot'
import { minorDigits } from './currency.ts'

/** An ISO 4217 alphabetic code, such as `EUR`. */
export type Currency = string & { readonly __currency: true }

/** An amount in integer minor units (cents, or whole units where the currency has none). */
export type Money = { readonly minor: number; readonly currency: Currency }

export const CurrencySchema = v.pipe(
  v.string(),
  v.check((s) => minorDigits(s) !== undefined, 'a currency of ISO 4217 is expected, such as EUR'),
  v.transform((s) => s as Currency),
)

export const MoneySchema = v.object({ minor: v.pipe(v.number(), v.safeInteger()), currency: CurrencySchema })

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

/**
 * Reads a decimal amount written with a point or a comma (`1,234.50`, `1.234,50`, `12,5`, `0.08`) into minor units.
 * `undefined` when it is no amount, is ambiguous (`1.234`), or has more decimals than the currency.
 */
export function parseMinor(text: string, code: string): number | undefined {
  const digits = minorDigits(code) ?? 2
  const t = text.replace(/[\s\u00a0\u202f'’]/g, '').replace(/^[^\d-]+|[^\d]+$/g, '')
  const m = /^(-?)(\d{1,3}(?:([.,])\d{3})+|\d+)(?:([.,])(\d+))?$/.exec(t)
  if (!m) return undefined
  const [, sign = '', whole = '', group, point, fraction = ''] = m
  if (group !== undefined && point === group) return undefined
  if (group !== undefined && point === undefined && whole.split(group).length === 2) {
    // A lone separator before exactly three digits: decimals where the currency has three, grouping where it has none,
    // and refused rather than guessed elsewhere ("1.234").
    const [units = '', thousandths = ''] = whole.split(group)
    if (digits === 3) return toMinor(sign, units, thousandths, digits)
    if (digits !== 0) return undefined
  }
  if (group !== undefined && whole.startsWith('0')) return undefined
  const clean = whole.replace(/[.,]/g, '')
  if (fraction.length > digits) {
    if (/^0+$/.test(fraction.slice(digits))) return toMinor(sign, clean, fraction.slice(0, digits), digits)
    return undefined
  }
  return toMinor(sign, clean, fraction, digits)
}

function toMinor(sign: string, whole: string, fraction: string, digits: number): number | undefined {
  const n = Number(whole + fraction.padEnd(digits, '0'))
  if (!Number.isSafeInteger(n)) return undefined
  return sign === '-' && n !== 0 ? -n : n
}
