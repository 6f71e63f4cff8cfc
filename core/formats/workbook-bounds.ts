import { formatNumber } from '../units/numbers.ts'
import { MAX_CELL, MAX_COLUMNS, MAX_ROWS, type ListError } from './delimited.ts'

/** Bytes one character may take in a sheet's XML: `&#x10FFFF;` is the longest way to write one. */
const BYTES_A_CHARACTER = 10
/** Bytes of markup around a text in pieces (fonts, colours) that are let pass. */
const MARKUP = 1024 * 1024
/** Bytes of one tag: a tag names styles and references, all of them short. */
const MOST_TAG = 64 * 1024
/** ECMA-376, and every program that writes such files: the last row there can be. */
const LAST_ROW = 1_048_576

const [LESS, MORE, SLASH, COLON, SPACE, QUOTE, APOSTROPHE, EQUALS, LOWER_R] = [
  0x3c, 0x3e, 0x2f, 0x3a, 0x20, 0x22, 0x27, 0x3d, 0x72,
]

const refused = (code: ListError['code'], message: string): ListError => ({ code, message })

/**
 * What is wrong with the XML of a sheet or of the shared strings that would cost whoever builds it more memory or time
 * than a list may: a cell far out, a text without end, a document type. Undefined when nothing is. Reads the bytes once
 * and builds nothing.
 */
export function sheetFault(xml: Uint8Array): ListError | undefined {
  let cell = ''
  let element = -1
  for (let open = xml.indexOf(LESS); open >= 0;) {
    const close = xml.indexOf(MORE, open)
    if (close < 0) return undefined
    if (close - open > MOST_TAG)
      return refused('not-text', 'The workbook is damaged: a tag in it never ends. Export the sheet as CSV.')
    if (xml[open + 1] === 0x21 && ascii(xml, open, open + 9).toUpperCase() === '<!DOCTYPE')
      return refused('not-text', 'The workbook declares a document type, which none needs. Export the sheet as CSV.')
    const [from, to] = tagName(xml, open, close)
    const name = ascii(xml, from, to)
    const ends = xml[open + 1] === SLASH
    const empty = xml[close - 1] === SLASH
    if (!ends && name === 'row') {
      const row = Number(reference(xml, to, close) || '1')
      if (!Number.isInteger(row) || row < 1 || row > LAST_ROW)
        return refused('not-text', 'The workbook is damaged: a row has no number that rows have. Export it as CSV.')
    } else if (!ends && (name === 'c' || name === 'si')) {
      element = empty ? -1 : open
      cell = name === 'c' ? reference(xml, to, close) : ''
    } else if (ends && (name === 'c' || name === 'si')) {
      if (element >= 0 && close - element > MAX_CELL * BYTES_A_CHARACTER + MARKUP) return tooLong(cell)
      element = -1
    } else if (!ends && !empty && (name === 'v' || name === 'is')) {
      const out = outOfBounds(cell)
      if (out) return out
    }
    open = xml.indexOf(LESS, close)
    if ((open < 0 ? xml.length : open) - close > MAX_CELL * BYTES_A_CHARACTER) return tooLong(cell)
  }
  return undefined
}

export const tooLong = (cell: string): ListError =>
  refused(
    'too-long',
    `${cell === '' ? 'A cell' : `Cell ${cell}`} holds more than ${formatNumber(MAX_CELL)} characters. Shorten it, and choose the file again.`,
  )

/** Cells with something in them stand within what can be read. */
function outOfBounds(cell: string): ListError | undefined {
  const match = /^([A-Z]{1,4})(\d{1,8})$/.exec(cell)
  if (!match) return undefined
  const column = [...(match[1] ?? '')].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0)
  if (column > MAX_COLUMNS)
    return refused(
      'too-many-columns',
      `There is something in cell ${cell}; ${MAX_COLUMNS} columns are the most that can be read. Clear what stands further out, or export the columns you need as CSV.`,
    )
  if (Number(match[2]) > MAX_ROWS)
    return refused(
      'too-many-rows',
      `There is something in cell ${cell}; ${formatNumber(MAX_ROWS)} rows are the most that can be read. Clear what stands further down, or split the sheet.`,
    )
  return undefined
}

/** From where to where a tag's name goes, without the prefix of a namespace. */
function tagName(xml: Uint8Array, open: number, close: number): [number, number] {
  let from = xml[open + 1] === SLASH ? open + 2 : open + 1
  let to = from
  while (to < close && xml[to] !== SLASH && (xml[to] ?? 0) > SPACE) {
    if (xml[to] === COLON) from = to + 1
    to++
  }
  return [from, to]
}

/** The value of a tag's attribute `r`; empty when it has none. */
function reference(xml: Uint8Array, from: number, close: number): string {
  for (let at = from; at + 3 < close; at++) {
    if (xml[at] !== LOWER_R || xml[at + 1] !== EQUALS || (xml[at - 1] ?? 0) > SPACE) continue
    const quote = xml[at + 2]
    if (quote !== QUOTE && quote !== APOSTROPHE) continue
    const end = xml.indexOf(quote, at + 3)
    return end < 0 || end > close ? '' : ascii(xml, at + 3, Math.min(end, at + 23))
  }
  return ''
}

const ascii = (xml: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...xml.subarray(from, Math.min(to, from + 40)))
