const whole = new Intl.NumberFormat('en', { maximumFractionDigits: 3 })

/** A number as people read it: thousands apart by a narrow space (ISO 80000-1), up to three decimals. */
export const formatNumber = (n: number): string => whole.format(n).replaceAll(',', '\u202f')

/** So many of something: `1 piece`, `1 200 pieces`. */
export const plural = (n: number, one: string, many = `${one}s`): string => `${formatNumber(n)} ${n === 1 ? one : many}`
