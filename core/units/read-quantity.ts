import { readDigits, type DecimalStyle } from './decimal-style.ts'
import { MOST_PIECES } from './quantity.ts'
import { ok, refuse, type Fault, type Result } from './result.ts'

/** Pieces as they are written, and whether that is an estimate. */
export type Quantity = { readonly qty: number; readonly estimate: boolean }

/** Why a text is no quantity. */
export type QuantityFault = 'none' | 'below one' | 'not whole' | 'no number' | 'two readings' | 'too many'

/**
 * `12`, `12x`, `x12`, `1,200`, `12.0`, `12 pcs`, `~60`, `about 60`. Where point or
 * comma may group or divide (`12.000`), the column's `style` decides; without one
 * it is refused, as both readings stand.
 */
export function readQuantity(text: string, style?: DecimalStyle): Result<Quantity, Fault<QuantityFault>> {
  const t = text.trim().toLowerCase()
  if (t === '') return refuse('none', 'There is no quantity. Write how many pieces.')
  const estimate = /^(~|≈|about\b|approx\.?|circa\b|ca\.?(?=\s|\d))/.test(t)
  const bare = t
    .replace(/^(~|≈|about|approx\.?|circa|ca\.?)\s*/, '')
    .replace(/^[x×]\s*(?=\d)/, '')
    .replace(/\s*(x|×|pcs?\.?|pieces?)$/, '')
  if (/^-|^−/.test(bare))
    return refuse('below one', `The quantity "${text}" is below 1. Write how many pieces there are.`)
  const numbers = readDigits(bare, style)
  const whole = [...new Set(numbers.filter((n) => /^0*$/.test(n.fraction)).map((n) => Number(n.whole)))]
  const [qty, other] = whole
  if (qty === undefined)
    return numbers.length > 0 || /^\d+\/\d+$/.test(bare)
      ? refuse('not whole', `The quantity "${text}" is not a whole number. Pieces are counted whole.`)
      : refuse('no number', `The quantity "${text}" is not a number. Write digits, such as 12.`)
  if (other !== undefined)
    return refuse('two readings', `The quantity "${text}" may be ${qty} or ${other}. Write it without point or comma.`)
  if (qty < 1) return refuse('below one', 'The quantity is 0. Leave the row out, or write how many pieces there are.')
  if (qty > MOST_PIECES) return refuse('too many', `The quantity "${text}" is above 1 000 000. Check the column.`)
  return ok({ qty, estimate })
}
