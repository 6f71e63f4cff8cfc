/** What is to be said of a tracking number. */
export type PostalNumber =
  /** Of an international postal item, with a sound check digit, and from which country's post. */
  | { readonly kind: 'postal'; readonly country: string }
  /** It has the form of one, and its check digit should be another: a digit is likely mistyped. */
  | { readonly kind: 'wrong digit'; readonly expected: string }
  /** Any other number: every carrier has its own. */
  | { readonly kind: 'other' }

const WEIGHTS = [8, 6, 4, 2, 3, 5, 9, 7]

/**
 * The check digit of eight digits by UPU standard S10: the sum of the digits times 8, 6, 4, 2, 3, 5, 9, 7; eleven less its
 * remainder by eleven, where 10 is written 0 and 11 is written 5. Undefined of anything but eight digits.
 */
export function postalCheckDigit(digits: string): string | undefined {
  if (!/^\d{8}$/.test(digits)) return undefined
  const sum = WEIGHTS.reduce((n, weight, i) => n + weight * Number(digits[i]), 0)
  const check = 11 - (sum % 11)
  return check === 10 ? '0' : check === 11 ? '5' : String(check)
}

/** Reads a tracking number; spaces and case are no part of it. */
export function readPostalNumber(text: string): PostalNumber {
  const match = /^([A-Z]{2})(\d{8})(\d)([A-Z]{2})$/.exec(trackingKey(text))
  const [, , serial = '', digit = '', country = ''] = match ?? []
  const expected = match ? postalCheckDigit(serial) : undefined
  if (expected === undefined) return { kind: 'other' }
  return expected === digit ? { kind: 'postal', country } : { kind: 'wrong digit', expected }
}

/** A tracking number as carriers write it. */
export const trackingKey = (text: string): string => text.replace(/[\s-]+/g, '').toUpperCase()
