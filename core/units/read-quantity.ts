import { readDigits, type DecimalStyle } from './decimal-style.ts'
import { MOST_PIECES } from './quantity.ts'
import { ok, refuse, type Fault, type Result } from './result.ts'

/** Pieces as they are written. */
export type Quantity = {
  readonly qty: number
  /** "about 60", "10-12", "12?", "12+". */
  readonly estimate: boolean
  /** What else the text says ("one chipped"); none for nothing. */
  readonly note?: string
}

/** Why a text is no quantity. */
export type QuantityFault = 'none' | 'below one' | 'not whole' | 'no number' | 'two readings' | 'too many'

/** Words for pieces in the lists of some languages, as they stand after a number. */
const PIECES =
  /\s*(?<!\p{L})(?:x|pcs?|pieces?|parts?|stk|stck|stück|stueck|st|teile?|pz|pezzi|pezzo|pces?|pièces?|uds?|unidades|piezas?|stuks?|szt|sztuk|ks|kusů|db|kpl|kappaletta|stycken)\.?$|\s*×$/iu
const ABOUT =
  /^(?:~|≈|±|about\b|approx\.?|approximately\b|circa\b|ca\.?(?=\s|\d)|etwa\b|ungefähr\b|env\.?(?=\s|\d)|environ\b|unos\b|około\b|ongeveer\b)\s*/iu
const SOME_MORE = /\s*(?:\?|\+|or so|ish)$/iu
/** "10-12", "10 to 12", "10 bis 12". */
const RANGE = /^(.*?\d)\s*(?:[-–—]|\bto\b|\bbis\b|\bà\b|\btot\b|\bdo\b)\s*(\d.*)$/iu

/**
 * `12`, `12x`, `x12`, `1,200`, `12.0`, `12 pcs`, `12 Stk`, `3+2`; estimates `~60`, `about 60`, `12?`, `10-12` (the middle,
 * rounded down); a rest in brackets is a note, `3 (one chipped)`. Where point or comma may group or divide (`12.000`),
 * the column's `style` decides; without one it is refused, as both readings stand. Nothing else is guessed: whatever is
 * left over makes it no quantity.
 */
export function readQuantity(text: string, style?: DecimalStyle): Result<Quantity, Fault<QuantityFault>> {
  const trimmed = text.trim()
  if (trimmed === '') return refuse('none', 'There is no quantity. Write how many pieces.')
  // Most quantities are digits alone, which all rules below read as they are.
  if (/^\d{1,9}$/.test(trimmed)) return inBounds(Number(trimmed), false, undefined, text)
  const bracket = /^([^([]*\d[^([]*)[([]\s*([^)\]]*?)\s*[)\]]\s*$/u.exec(trimmed)
  const note = bracket?.[2] ? { note: bracket[2].slice(0, 200) } : undefined
  const said = bracket?.[1]?.trim() ?? trimmed
  const about = ABOUT.test(said) || SOME_MORE.test(said.replace(PIECES, ''))
  const bare = said
    .replace(ABOUT, '')
    .replace(/^[x×]\s*(?=\d)/i, '')
    .replace(PIECES, '')
    .replace(SOME_MORE, '')
    .replace(PIECES, '')
  if (/^[-−]/.test(bare))
    return refuse('below one', `The quantity "${text}" is below 1. Write how many pieces there are.`)
  const range = RANGE.exec(bare)
  if (range) {
    const [from, to] = [count(range[1] ?? '', text, style), count(range[2] ?? '', text, style)]
    if (!from.ok) return from
    if (!to.ok) return to
    if (to.value < from.value)
      return refuse('no number', `The quantity "${text}" goes from more to less. Write how many pieces.`)
    return inBounds(Math.floor((from.value + to.value) / 2), true, note, text)
  }
  const terms = bare.split(/\s*\+\s*/)
  let qty = 0
  for (const term of terms) {
    const read = count(term, text, style)
    if (!read.ok) return read
    qty += read.value
  }
  return inBounds(qty, about, note, text)
}

function inBounds(
  qty: number,
  estimate: boolean,
  note: { readonly note: string } | undefined,
  text: string,
): Result<Quantity, Fault<QuantityFault>> {
  if (qty < 1) return refuse('below one', 'The quantity is 0. Leave the row out, or write how many pieces there are.')
  if (qty > MOST_PIECES) return refuse('too many', `The quantity "${text}" is above 1 000 000. Check the column.`)
  return ok({ qty, estimate, ...note })
}

/** One whole number; `text` is what it stands in. */
function count(number: string, text: string, style: DecimalStyle): Result<number, Fault<QuantityFault>> {
  const numbers = readDigits(number, style)
  const [qty, other] = new Set(numbers.filter((n) => /^0*$/.test(n.fraction)).map((n) => Number(n.whole)))
  if (qty === undefined)
    return numbers.length > 0 || /^\d+\/\d+$/.test(number)
      ? refuse('not whole', `The quantity "${text}" is not a whole number. Pieces are counted whole.`)
      : refuse('no number', `The quantity "${text}" is not a number. Write digits, such as 12.`)
  if (other !== undefined)
    return refuse('two readings', `The quantity "${text}" may be ${qty} or ${other}. Write it without point or comma.`)
  return ok(qty)
}

/** Whether a quantity is written in digits alone: there is nothing to tell of how it was understood. */
export const isPlainCount = (text: string): boolean => /^\s*\d+\s*$/.test(text)
