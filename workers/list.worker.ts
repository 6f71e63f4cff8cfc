import { expose } from 'comlink'
import { colourIndex, type Colour } from '../core/colours/colour.ts'
import {
  decodeText,
  MAX_BYTES,
  readDelimited,
  type Delimited,
  type DelimitedError,
  type Delimiter,
} from '../core/formats/delimited.ts'
import { matchColumns, type ColumnMatch, type ListKind } from '../core/formats/list-columns.ts'
import { readList, type ListReading } from '../core/formats/list-rows.ts'
import { fail, ok, type Result } from '../core/units/result.ts'

export type ListPreview = {
  readonly match: ColumnMatch
  readonly reading: ListReading
  readonly delimiter: Delimiter
  readonly rowCount: number
  readonly width: number
  /** The first rows as written, for choosing columns. */
  readonly sample: readonly (readonly string[])[]
}

let text = ''
let current: Delimited | undefined

const preview = (
  list: Delimited,
  kind: ListKind,
  colours: readonly Colour[],
  currency: string,
  chosen?: ColumnMatch,
): ListPreview => {
  const index = colourIndex(colours)
  const match = chosen ?? matchColumns(list.rows, kind, index)
  const knownColours = new Map([...index].map(([key, colour]) => [key, colour.id]))
  return {
    match,
    reading: readList(list, kind, match, { currency, knownColours }),
    delimiter: list.delimiter,
    rowCount: list.rows.length,
    width: Math.max(0, ...list.rows.slice(0, 200).map((r) => r.length)),
    sample: list.rows.slice(0, 6),
  }
}

const api = {
  /** Reads a text or a file's bytes as a list of the kind; the list is kept for `rematch`. */
  read(
    source: string | Uint8Array,
    kind: ListKind,
    colours: readonly Colour[],
    currency: string,
  ): Result<ListPreview, DelimitedError> {
    current = undefined
    if (typeof source !== 'string' && source.byteLength > MAX_BYTES)
      return fail({ code: 'too-large', message: 'The file is larger than 25 MB. Split it into smaller files.' })
    text = typeof source === 'string' ? source : decodeText(source)
    return api.split(kind, colours, currency)
  },

  /** Splits the kept text again, by a chosen delimiter. */
  split(
    kind: ListKind,
    colours: readonly Colour[],
    currency: string,
    delimiter?: Delimiter,
  ): Result<ListPreview, DelimitedError> {
    const list = readDelimited(text, delimiter)
    if (!list.ok) return list
    current = list.value
    return ok(preview(list.value, kind, colours, currency))
  },

  /** Reads the kept list again by corrected columns. */
  rematch(kind: ListKind, colours: readonly Colour[], currency: string, match: ColumnMatch): ListPreview | undefined {
    return current && preview(current, kind, colours, currency, match)
  },
}

export type ListWorker = typeof api
expose(api)
