import { formatNumber } from '../units/numbers.ts'
import Papa from 'papaparse'
import { fail, ok, type Result } from '../units/result.ts'

export const MAX_BYTES = 25 * 1024 * 1024
export const MAX_ROWS = 200_000
export const MAX_COLUMNS = 60
/** Characters of one cell; spreadsheets keep no longer ones (common practice). */
export const MAX_CELL = 32_767

/** Why a list cannot be read at all. */
export type ListError = {
  readonly code:
    | 'job-file'
    | 'empty'
    | 'too-large'
    | 'too-many-rows'
    | 'too-many-columns'
    | 'too-long'
    | 'not-text'
    | 'unclosed-quote'
  readonly message: string
}

export const DELIMITERS = [',', ';', '\t'] as const
export type Delimiter = (typeof DELIMITERS)[number]

/** A table of text, from delimited text or a sheet. */
export type ListTable = {
  /** Rows as written, ragged rows kept; blank lines left out. */
  readonly rows: readonly (readonly string[])[]
  /** Line or row number in the file (the first is 1) at which each row begins. */
  readonly lineOf: readonly number[]
}

export type Delimited = ListTable & {
  readonly delimiter: Delimiter
}

/** Decodes bytes: a BOM decides (UTF-8, UTF-16), else UTF-8 when valid, else Windows-1252 (WHATWG Encoding). */
export function decodeText(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes)
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes)
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return new TextDecoder('windows-1252').decode(bytes)
  }
}

/**
 * Reads delimited text (RFC 4180, with semicolon and tab as well as comma; CRLF, LF or CR; a BOM is dropped). The
 * delimiter is told from the first rows unless it is given. Errors name the remedy; nothing is guessed away.
 */
export function readDelimited(text: string, given?: Delimiter): Result<Delimited, ListError> {
  if (text.length > MAX_BYTES)
    return fail({ code: 'too-large', message: 'The text is larger than 25 MB. Split it into smaller files.' })
  const unmarked = text.replace(/^\ufeff/, '')
  if (unmarked.trim() === '')
    return fail({
      code: 'empty',
      message: 'There is nothing in it. Choose a file or paste a list with one row per item.',
    })
  if (unmarked.includes('\u0000'))
    return fail({
      code: 'not-text',
      message: 'This is not a text file (it holds NUL characters). Export the list as CSV and choose that file.',
    })
  // Spreadsheets name the sign that parts cells in a line of its own.
  const named = /^sep=(.)\r?\n?/i.exec(unmarked)
  const said = DELIMITERS.find((d) => d === (named?.[1] === '\\' ? '\t' : named?.[1]))
  const body = named && said ? unmarked.slice(named[0].length) : unmarked
  const delimiter = given ?? said ?? detectDelimiter(body)
  const clean = withOneLineEnd(body, delimiter)
  const rows: string[][] = []
  const lineOf: number[] = []
  // The line that names the sign counts as one of the file.
  let line = named && said ? 2 : 1
  let cursor = 0
  let error: ListError | undefined
  Papa.parse<string[]>(clean, {
    delimiter,
    newline: '\n',
    skipEmptyLines: false,
    step: ({ data, errors, meta }, parser) => {
      const startedAt = line
      for (const c of clean.slice(cursor, meta.cursor).matchAll(/\r\n|\r|\n/g)) if (c) line++
      cursor = meta.cursor
      if (errors.some((e) => e.code === 'MissingQuotes')) {
        error = {
          code: 'unclosed-quote',
          message: `The quote opened in the row at line ${startedAt} is never closed. Close it, or double it inside a field.`,
        }
        parser.abort()
        return
      }
      if (data.every((cell) => cell.trim() === '')) return
      const long = data.findIndex((cell) => cell.length > MAX_CELL)
      if (long >= 0) {
        error = {
          code: 'too-long',
          message: `Cell ${long + 1} of the row at line ${startedAt} holds more than ${formatNumber(MAX_CELL)} characters. Shorten it, or close the quote it opens.`,
        }
        parser.abort()
        return
      }
      if (data.length > MAX_COLUMNS) {
        error = {
          code: 'too-many-columns',
          message: `The row at line ${startedAt} has ${data.length} columns; ${MAX_COLUMNS} are the most that can be read.`,
        }
        parser.abort()
        return
      }
      if (rows.length >= MAX_ROWS) {
        error = {
          code: 'too-many-rows',
          message: `There are more than ${MAX_ROWS} rows. Split the list into smaller files.`,
        }
        parser.abort()
        return
      }
      rows.push(data)
      lineOf.push(startedAt)
    },
  })
  if (error) return fail(error)
  return ok({ rows, lineOf, delimiter })
}

/**
 * The text with LF after every row, whatever mixture of CRLF, LF and CR it came with; line ends in quoted cells stay as
 * they are. A parser that looks for one kind of line end takes rows with another for cells.
 */
function withOneLineEnd(text: string, delimiter: Delimiter): string {
  if (!text.includes('\r')) return text
  const parts: string[] = []
  let from = 0
  let quoted = false
  let atStart = true
  for (let i = 0; i < text.length; i++) {
    const c = text[i]
    if (quoted) {
      if (c !== '"') continue
      if (text[i + 1] === '"') i++
      else quoted = false
    } else if (c === '"' && atStart) {
      quoted = true
      atStart = false
    } else if (c === '\r') {
      parts.push(text.slice(from, i), '\n')
      if (text[i + 1] === '\n') i++
      from = i + 1
      atStart = true
    } else atStart = c === '\n' || c === delimiter
  }
  parts.push(text.slice(from))
  return parts.join('')
}

/** The delimiter that splits the first lines most evenly; comma when none does. */
function detectDelimiter(text: string): Delimiter {
  const head = text.slice(0, 20_000).replace(/\r\n?/g, '\n')
  let best: Delimiter = ','
  let bestScore = 0
  for (const delimiter of ['\t', ';', ','] as const) {
    const { data } = Papa.parse<string[]>(head, { delimiter, preview: 20 })
    const widths = data.filter((row) => row.some((c) => c.trim() !== '')).map((row) => row.length)
    // Titles above and sections between have one cell: what most rows have counts.
    const usual = mostOften(widths.filter((w) => w > 1))
    const even = widths.filter((w) => w === usual).length / Math.max(1, widths.length)
    const score = usual > 1 ? even * 10 + Math.min(usual, 9) / 10 : 0
    if (score > bestScore + 1e-9) [best, bestScore] = [delimiter, score]
  }
  return best
}

function mostOften(widths: readonly number[]): number {
  const times = new Map<number, number>()
  for (const width of widths) times.set(width, (times.get(width) ?? 0) + 1)
  return [...times].sort(([, p], [, q]) => q - p)[0]?.[0] ?? 1
}

/** Writes RFC 4180 CSV with CRLF; cells that a spreadsheet would run as a formula are made plain text. */
export function writeCsv(rows: readonly (readonly (string | number)[])[]): string {
  return Papa.unparse(
    rows.map((row) => row.map((cell) => (typeof cell === 'string' ? neutralise(cell) : cell))),
    { newline: '\r\n' },
  )
}

/**
 * A leading = + - @ (full-width ones too), tab or line end starts a formula in common spreadsheets (OWASP, CSV injection),
 * and so does one after a separator of another locale or a line end, where quotes are not honoured. An apostrophe before
 * it makes it text; where one stands already another is added, so that `asWritten` gives back what was there.
 */
const neutralise = (cell: string): string =>
  cell
    .replace(/^(?='*[=+\-@\t\r\n\uff1d\uff0b\uff0d\uff20])/, "'")
    .replace(/([;\t\r\n]["\s]*)(?='*[=+\-@\uff1d\uff0b\uff0d\uff20])/g, "$1'")

/** A cell without the apostrophes that `writeCsv` puts before what might be run as a formula. */
export const asWritten = (cell: string): string =>
  cell.includes("'")
    ? cell
        .replace(/^'(?='*[=+\-@\t\r\n\uff1d\uff0b\uff0d\uff20])/, '')
        .replace(/([;\t\r\n]["\s]*)'(?='*[=+\-@\uff1d\uff0b\uff0d\uff20])/g, '$1')
    : cell
