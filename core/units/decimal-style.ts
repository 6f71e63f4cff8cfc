/** How the numbers of a column write decimals; undefined when none of them tells. */
export type DecimalStyle = '.' | ',' | undefined

/** A number as written: spaces and apostrophes group digits always, point and comma group or divide. */
const NUMBER = /^\d*(?:[.,]\d+)*$/

const bareOf = (text: string): string =>
  (/\d[\d.,\s\u00a0\u202f'’]*\d|[.,]?\d+/.exec(text)?.[0] ?? '').replace(/[\s\u00a0\u202f'’]/g, '')

/** What one number shows beyond doubt: the sign that divides its decimals. */
function shown(text: string): DecimalStyle {
  const match = /[.,]?\d[\d.,\s\u00a0\u202f'’]*/.exec(text)
  const bare = (match?.[0] ?? '').replace(/[\s\u00a0\u202f'’]/g, '').replace(/[.,]$/, '')
  const signs = [...bare.matchAll(/[.,]/g)].map((m) => m[0])
  const [first] = signs
  if (first === undefined) return undefined
  const last = signs.at(-1)
  // Both signs: the last one divides. One sign several times: it groups, so the other would divide.
  if (signs.includes('.') && signs.includes(',')) return last === '.' ? '.' : ','
  if (signs.length > 1) return first === '.' ? ',' : '.'
  const [whole = '', rest = ''] = bare.split(first)
  // A group has three digits, and the one before it one to three of which the first is no 0.
  const mayGroup = rest.length === 3 && /^[1-9]\d{0,2}$/.test(whole)
  return mayGroup ? undefined : first === '.' ? '.' : ','
}

/**
 * The decimal sign of a column, by all its values: the one that any value shows beyond doubt (`12,5`, `0.500`,
 * `1.234,50`, `1,234,567`). Undefined when none does, or when values contradict one another.
 */
export function decimalStyle(values: Iterable<string>): DecimalStyle {
  let style: DecimalStyle
  for (const value of values) {
    const own = shown(value)
    if (own === undefined) continue
    if (style !== undefined && own !== style) return undefined
    style = own
  }
  return style
}

/** Digits before and after the decimal sign. */
export type Digits = { readonly whole: string; readonly fraction: string }

/**
 * The readings of a written number without sign or unit: one where the style or the number itself tells, two where point
 * or comma may group or divide (`12.000`), none where it is no number. A style of the column decides both.
 */
export function readDigits(text: string, style?: DecimalStyle): readonly Digits[] {
  const bare = text.replace(/[\s\u00a0\u202f'’]/g, '')
  if (bare === '' || !/\d/.test(bare) || !NUMBER.test(bare)) return []
  const signs = [...bare.matchAll(/[.,]/g)].map((m) => m[0])
  const [first] = signs
  if (first === undefined) return [{ whole: bare, fraction: '' }]
  const decimal = style ?? shown(bare)
  const grouped = (digits: string, by: string) =>
    new RegExp(`^[1-9]\\d{0,2}(?:\\${by}\\d{3})+$`).test(digits) || /^\d*$/.test(digits)
  const divided = (by: '.' | ','): Digits | undefined => {
    const at = bare.lastIndexOf(by)
    const other = by === '.' ? ',' : '.'
    const [whole, fraction] = at < 0 ? [bare, ''] : [bare.slice(0, at), bare.slice(at + 1)]
    if (/[.,]/.test(fraction) || !grouped(whole, other) || whole.includes(by)) return undefined
    return { whole: whole.replace(/[.,]/g, '') || '0', fraction }
  }
  const readings = (decimal === undefined ? (['.', ','] as const) : [decimal]).flatMap((by) => divided(by) ?? [])
  return readings
}

/** Whether a number shows no decimal sign of its own though it has a sign: it needs its column to be read. */
export const needsStyle = (text: string): boolean => /[.,]/.test(bareOf(text)) && shown(text) === undefined
