import data from 'currency-codes/data.js'

/** Metals, drawing rights, units of account and tests: no money that a shop takes, or none with a minor unit. */
const NO_MONEY = new Set('CLF UYI UYW XAG XAU XBA XBB XBC XBD XDR XPD XPT XSU XTS XUA XXX'.split(' '))

/**
 * Minor-unit digits by code, ISO 4217 list one. `Intl` is no source for them: by the habits of everyday use (CLDR) it
 * has none for forints or rupiahs.
 */
const digitsByCode = new Map(data.filter((c) => !NO_MONEY.has(c.code)).map((c) => [c.code, c.digits]))

/** Digits after the point of a currency's minor unit (ISO 4217), or `undefined` for an unknown code. */
export const minorDigits = (code: string): number | undefined => digitsByCode.get(code)

/** Every known currency code, in alphabetical order. */
export const currencyCodes = (): string[] => [...digitsByCode.keys()].sort()
