import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { colourKey, type Colour } from '../colours/colour.ts'
import { partFromName, type Part } from '../catalogue/part.ts'

/** Why a typed line is none. */
export type LineFault = 'nothing there' | 'quantity' | 'no colour' | 'two colours'

export type QuickLine = {
  readonly qty: number
  readonly part: Part
  readonly colour: Colour
  /** What is on the piece, empty when nothing is. */
  readonly decoration: string
}

/**
 * Reads a line typed by hand: a quantity (1 when left out), a part name and a colour name that is known, in that order
 * or with the colour before the part: "14 plate 2x8 Soot", "Soot plate 2x8". What is on the piece follows a plus: "2 tile 2x2 Chalk + sticker clock face". A fault says what
 * is missing.
 */
export function readQuickLine(line: string, colours: ReadonlyMap<string, Colour>): Result<QuickLine, Fault<LineFault>> {
  const [text = '', ...more] = line.split(/\s\+\s/)
  const decoration = more
    .join(' ')
    .replace(/[|\s]+/g, ' ')
    .trim()
    .toLowerCase()
    .slice(0, 80)
  const read = readPiece(text, colours)
  return read.ok ? ok({ ...read.value, decoration }) : read
}

type Piece = Omit<QuickLine, 'decoration'>

function readPiece(text: string, colours: ReadonlyMap<string, Colour>): Result<Piece, Fault<LineFault>> {
  const match = /^\s*(?:(\d{1,6})\s*[x×]?\s+(?!x\b|by\b))?(.*)$/i.exec(text)
  const qty = Number(match?.[1] ?? 1)
  const words = (match?.[2] ?? '')
    .replace(/,/g, ' ')
    .split(/\s+/)
    .filter((w) => w !== '')
  if (words.length === 0) return refuse('nothing there', 'Type a quantity, a part and a colour.')
  if (qty < 1) return refuse('quantity', 'The quantity must be at least 1.')
  for (let size = Math.min(5, words.length - 1); size >= 1; size--)
    for (const atEnd of [true, false]) {
      const colour = colours.get(colourKey((atEnd ? words.slice(-size) : words.slice(0, size)).join(' ')))
      if (colour)
        return ok({ qty, part: partFromName((atEnd ? words.slice(0, -size) : words.slice(size)).join(' ')), colour })
    }
  return byFragment(text, qty, words, colours)
}

/** A colour meant by a part of its name at the line's end ("slate" for "Weathered slate"), if it is the only one. */
function byFragment(
  text: string,
  qty: number,
  words: readonly string[],
  colours: ReadonlyMap<string, Colour>,
): Result<Piece, Fault<LineFault>> {
  for (let size = Math.min(3, words.length - 1); size >= 1; size--) {
    const fragment = colourKey(words.slice(-size).join(' '))
    if (fragment.length < 3) continue
    const meant = [
      ...new Map(
        [...colours].filter(([key]) => ` ${key}`.includes(` ${fragment}`)).map(([, colour]) => [colour.id, colour]),
      ).values(),
    ]
    const [colour, ...others] = meant
    if (colour && others.length === 0) return ok({ qty, part: partFromName(words.slice(0, -size).join(' ')), colour })
    if (colour)
      return refuse(
        'two colours',
        `"${words.slice(-size).join(' ')}" could be ${meant
          .slice(0, 4)
          .map((c) => c.name)
          .join(', ')}${meant.length > 4 ? ' and more' : ''}. Write the whole name.`,
      )
  }
  return refuse('no colour', `No known colour in "${text.trim().slice(0, 80)}". End with a colour's name.`)
}
