import type { Part } from '../catalogue/part.ts'
import { partAsWritten } from '../catalogue/part.ts'
import { colourKey, type Colour } from '../colours/colour.ts'
import { readQuantity } from '../units/read-quantity.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { readPieceText, similarColours, takeCount } from './piece-text.ts'

/** Why a typed line is none. */
export type LineFault = 'nothing there' | 'quantity' | 'no colour'

export type QuickLine = {
  readonly qty: number
  readonly part: Part
  /** The colour as it was written, and the one that is called just so; undefined where none is. */
  readonly colourName: string
  readonly colour: Colour | undefined
  /** Colours that share a word with one that is not known, the most alike first. */
  readonly similar: readonly Colour[]
  /** What is on the piece, empty when nothing is. */
  readonly decoration: string
}

/**
 * Reads a line typed by hand: a quantity in any position (1 when left out), a part's name and a colour's, which is
 * matched whole: "14 plate 2x8 Soot", "Soot plate 2x8", "plate 2x8 14 dark red". What is on the piece follows a plus:
 * "2 tile 2x2 Chalk + sticker clock face". A colour that nobody calls so is told by its words, with what is alike.
 */
export function readQuickLine(line: string, colours: ReadonlyMap<string, Colour>): Result<QuickLine, Fault<LineFault>> {
  const [text = '', ...more] = line.split(/\s\+\s(?=\D)/)
  const decoration = more
    .join(' ')
    .replace(/[|\s]+/g, ' ')
    .trim()
    .toLowerCase()
    .slice(0, 80)
  const { count, rest } = takeCount(text.replace(/\s+/g, ' '), colours)
  const quantity = readQuantity(count === '' ? '1' : count)
  if (!quantity.ok) return refuse('quantity', quantity.error.message)
  const written = readPieceText(rest, colours)
  const { part, colour, colourName } = written.colourName === '' ? byFragment(rest, colours) : written
  if (part === '') return refuse('nothing there', 'Type a quantity, a part and a colour.')
  if (colourName === '')
    return refuse('no colour', `No colour is named in "${text.trim().slice(0, 80)}". End with a colour's name.`)
  const similar = colour ? [] : similarColours(colourName, new Set(colours.values()))
  return ok({ qty: quantity.value.qty, part: partAsWritten(part), colourName, colour, similar, decoration })
}

/** A colour meant by a part of its name at the line's end ("weathered" for "Weathered slate"): to be asked about, not taken. */
function byFragment(text: string, colours: ReadonlyMap<string, Colour>) {
  const words = text.split(' ')
  const nothing = { part: text, colour: undefined, colourName: '' }
  for (let size = Math.min(2, words.length - 1); size >= 1; size--) {
    const fragment = words.slice(-size).join(' ')
    const keys = colourKey(fragment).split(' ')
    const called = [...colours.keys()].some((key) => {
      const name = new Set(key.split(' '))
      return keys.every((word) => word.length > 2 && name.has(word))
    })
    if (called) return { part: words.slice(0, -size).join(' '), colour: undefined, colourName: fragment }
  }
  return nothing
}
