import { plural } from '../core/units/numbers.ts'
import { colourIndex, colourKey, type Colour } from '../core/colours/colour.ts'
import {
  decodeText,
  MAX_BYTES,
  readDelimited,
  writeCsv,
  type Delimiter,
  type ListError,
  type ListTable,
} from '../core/formats/delimited.ts'
import { likeParts, type LikePart } from '../core/catalogue/like-parts.ts'
import type { Part } from '../core/catalogue/part.ts'
import { readPartName } from '../core/catalogue/name-grammar.ts'
import { looksLikeJobFile, readJobFile } from '../core/formats/job-file.ts'
import { jobLists } from '../core/formats/job-lists.ts'
import { importRows, type ImportOrder } from '../core/formats/list-import.ts'
import { colourColumns, listedByColour } from '../core/formats/colour-columns.ts'
import { matchColumns, shapeOf, type LearntHeadings } from '../core/formats/list-columns.ts'
import { type ColumnMatch, type ListKind } from '../core/formats/list-fields.ts'
import type { LeftOutKind } from '../core/formats/list-layout.ts'
import type { ListRow } from '../core/formats/list-row.ts'
import { guessKind } from '../core/formats/guess-kind.ts'
import type { StatedCondition } from '../core/units/condition.ts'
import { readList, type ListReading, type RefusedRow } from '../core/formats/list-rows.ts'
import { looksLikeWorkbook, readWorkbook } from '../core/formats/workbook.ts'
import { once } from '../core/units/once.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import { Database } from '../storage/database.ts'
import { act, add, editAll, put, remove } from '../storage/journal.ts'
import type { StoreError } from '../storage/store-error.ts'
import { serve } from './serve.ts'

/** What a reading needs to know of the user's data. */
export type ReadContext = {
  readonly kind: ListKind
  readonly colours: readonly Colour[]
  readonly currency: string
  /** The currency of known shops that trade in another, by `nameKey`. */
  readonly shopMoney: ReadonlyMap<string, string>
  /** Part name by foreign code. */
  readonly codes: ReadonlyMap<string, string>
  /** Part id by the ids of parts that were merged into it. */
  readonly sameAs: ReadonlyMap<string, string>
  /** What headings and words for conditions meant in earlier lists. */
  readonly headings: LearntHeadings
  readonly conditionWords: ReadonlyMap<string, StatedCondition>
  readonly parts: readonly Part[]
  /** The list that is meant, by `ListPreview.serial`; none while it is read for the first time. */
  readonly serial?: number
}

export type ListPreview = {
  /** Tells lists apart that were read one after the other: only the last is in hand. */
  readonly serial: number
  /** Tells readings apart, of one list or another: only the last is in hand. */
  readonly edition: number
  readonly match: ColumnMatch
  /** Rows are left out and fetched slice by slice (`rows`, `refusals`): very many at once hold up who receives them. */
  readonly reading: Omit<ListReading, 'accepted' | 'refused'>
  /** Rows there are of each; doubtful are accepted ones whose part or colour is not known. */
  readonly accepted: number
  readonly refused: number
  readonly doubtful: number
  /** Names of parts that may mean parts known by another name. */
  readonly like: readonly LikePart[]
  /** How text is split; null for a workbook. */
  readonly delimiter: Delimiter | null
  readonly sheets: readonly string[]
  readonly sheet: string
  /** Names the source's shape, under which a column match is remembered. */
  readonly shape: string
  readonly width: number
  /** The first rows as written, for choosing columns. */
  readonly sample: readonly SampleRow[]
  /** Columns whose headings are colours, over counts; and whether they are read as colours. */
  readonly across: number
  readonly listed: boolean
}

/** A row as written: its number in the table, from 0, its line in the file, and what it is where it is no item. */
export type SampleRow = {
  readonly row: number
  readonly line: number
  readonly cells: readonly string[]
  readonly kind: LeftOutKind | 'headings' | undefined
}

type Source = {
  readonly text: string | undefined
  readonly tables: readonly { readonly name: string; readonly table: ListTable }[]
  readonly delimiter: Delimiter | null
  readonly chosen: number
  /** The chosen table with its colours, which stand across, as a column; undefined where they are not read so. */
  readonly listed?: ListTable | undefined
}

let source: Source = { text: undefined, tables: [], delimiter: null, chosen: 0 }
let match: ColumnMatch | undefined
let serial = 0
let edition = 0
let reading: ListReading | undefined
let doubtful: readonly ListRow[] = []

/** A worker that was started anew, or has read another list since, does not have it. */
function forgotten(): never {
  throw new Error('the list is no longer in hand')
}

/** Rows that are given at once, so that who receives them stays at hand. */
const AT_ONCE = 1500

/** Rows that are shown as written. */
const SAMPLE_ROWS = 12

function preview(context: ReadContext, columns?: ColumnMatch): ListPreview {
  const { kind, colours, currency, shopMoney, codes, sameAs, conditionWords, parts } = context
  if (context.serial !== undefined && context.serial !== serial) forgotten()
  const { table: written } = source.tables[source.chosen] ?? forgotten()
  const table = source.listed ?? written
  const index = colourIndex(colours)
  match = columns ?? matchColumns(table.rows, kind, index, { learnt: context.headings })
  reading = readList(table, kind, match, {
    currency,
    shopMoney,
    knownColours: new Map([...index].map(([key, c]) => [key, c.id])),
    knownCodes: codes,
    sameAs,
    conditionWords,
  })
  const { accepted, refused, ...rest } = reading
  doubtful = doubtfulRows(accepted, (key) => index.has(key))
  edition++
  const kinds = new Map(rest.leftOut.map(({ row, kind: what }) => [row, what]))
  const { heading } = match
  // From a little above the headings on: a long preamble is not what is looked for.
  const from = Math.max(0, Math.min((heading ?? 0) - 3, table.rows.length - SAMPLE_ROWS))
  return {
    serial,
    edition,
    match,
    reading: rest,
    accepted: accepted.length,
    refused: refused.length,
    doubtful: doubtful.length,
    like: likeParts(namesOf(accepted), parts),
    delimiter: source.delimiter,
    sheets: source.tables.map((t) => t.name),
    sheet: source.tables[source.chosen]?.name ?? '',
    shape: shapeOf(table.rows, kind, heading),
    width: Math.max(0, ...table.rows.slice(0, 200).map((r) => r.length)),
    sample: table.rows.slice(from, from + SAMPLE_ROWS).map((row, i): SampleRow => {
      const at = from + i
      const cells = row.map((cell) => cell.slice(0, 100))
      return { row: at, line: table.lineOf[at] ?? 0, cells, kind: at === heading ? 'headings' : kinds.get(at) }
    }),
    across: source.listed ? 0 : colourColumns(written.rows, heading, (key) => index.has(key)).length,
    listed: source.listed !== undefined,
  }
}

function* namesOf(rows: readonly ListRow[]): Iterable<string> {
  for (const { part } of rows) yield part
}

function doubtfulRows(rows: readonly ListRow[], isColour: (key: string) => boolean): ListRow[] {
  const isPart = once((name: string) => readPartName(name).known)
  const isKnown = once((colour: string) => isColour(colourKey(colour)))
  return rows.filter((r) => !isKnown(r.colourName) || !isPart(r.part))
}

function splitText(text: string, delimiter?: Delimiter): ListError | undefined {
  const list = readDelimited(text, delimiter)
  if (!list.ok) return list.error
  source = { text, tables: [{ name: '', table: list.value }], delimiter: list.value.delimiter, chosen: 0 }
  return undefined
}

/** An import to be written: what is known of the user's data, but for what the database tells better. */
export type StoreOrder = {
  readonly order: Omit<ImportOrder, 'holdings' | 'places' | 'sets'>
  /** Colours that are new or learnt a name, as they were and as they are. */
  readonly colours: { readonly before: readonly Colour[]; readonly after: readonly Colour[] }
  readonly at: string
  /** The tab that imports. */
  readonly by: string
  /** The reading that is meant. */
  readonly edition: number
}

/** An import that was written, by its label and its place in the history. */
export type Stored = { readonly label: string; readonly entry: number | undefined }

/** Bytes of a text from which its kind is guessed. */
const GUESSED_BYTES = 64 * 1024

const db = new Database()

function labelOf({ kind, name }: Pick<ImportOrder, 'kind' | 'name'>, imported: ReturnType<typeof importRows>): string {
  const labels: Record<ListKind, string> = {
    donor: `Imported the inventory of ${name}`,
    shelf: `Imported ${plural(imported.holdings.length, 'holding')}`,
    design: `Imported a parts list: ${plural(
      imported.designs.reduce((n, d) => n + d.modules.length, 0),
      'module',
    )} now`,
    offers: `Imported ${plural(imported.offers.length, 'offer')}`,
  }
  return labels[kind]
}

const api = {
  /** Reads a text, or a file's bytes (text or workbook), as a list; it is kept for the calls below. */
  async read(input: string | Uint8Array, context: ReadContext): Promise<Result<ListPreview, ListError>> {
    serial++
    if (typeof input !== 'string') {
      if (input.byteLength > MAX_BYTES)
        return fail({ code: 'too-large', message: 'The file is larger than 25 MB. Split it into smaller files.' })
      if (looksLikeWorkbook(input)) {
        const workbook = await readWorkbook(input)
        if (!workbook.ok) return workbook
        source = { text: undefined, tables: workbook.value, delimiter: null, chosen: 0 }
        return ok(preview(context))
      }
    }
    const text = typeof input === 'string' ? input : decodeText(input)
    if (looksLikeJobFile(text)) {
      const job = readJobFile(text)
      if (!job.ok) return fail({ code: 'job-file', message: job.error.message })
      const tables = jobLists(job.value, context.kind)
      if (tables.length === 0)
        return fail({ code: 'empty', message: 'This job file has no such list. Choose another file.' })
      source = { text: undefined, tables, delimiter: null, chosen: 0 }
      return ok(preview(context))
    }
    const error = splitText(text)
    return error ? fail(error) : ok(preview(context))
  },

  /** The kind of list that a file is by its headings; what is being read stays as it is. */
  async guess(input: Uint8Array): Promise<ListKind | undefined> {
    if (looksLikeWorkbook(input)) {
      const workbook = await readWorkbook(input)
      return workbook.ok ? guessKind(workbook.value[0]?.table.rows ?? []) : undefined
    }
    const list = readDelimited(decodeText(input.subarray(0, GUESSED_BYTES)))
    return list.ok ? guessKind(list.value.rows) : undefined
  },

  /** Accepted rows of the last reading, or the doubtful ones among them, from one on: some of them. */
  rows(meant: number, which: 'accepted' | 'doubtful', from: number): readonly ListRow[] {
    if (!reading || meant !== edition) forgotten()
    return (which === 'doubtful' ? doubtful : reading.accepted).slice(from, from + AT_ONCE)
  },

  /** Refused rows of the last reading, from one on: some of them, by what they hold. */
  refusals(meant: number, from: number): readonly RefusedRow[] {
    if (!reading || meant !== edition) forgotten()
    const all = reading.refused
    let to = from
    for (let size = 0; to < all.length && to - from < AT_ONCE && size < 500_000; to++)
      size += 100 + (all[to]?.cells.reduce((n, cell) => n + cell.length, 0) ?? 0)
    return all.slice(from, to)
  },

  /** What became of every row, as CSV; `decided` are the keys of colours that are known or were decided. */
  report(meant: number, decided: ReadonlySet<string>): Blob {
    if (meant !== edition) forgotten()
    const { accepted, refused } = reading ?? forgotten()
    const rows = [
      ...accepted.map(({ line, part, colourName, qty }) => {
        const out = !decided.has(colourKey(colourName))
        const state = out ? ['left out', 'its colour is not decided'] : ['accepted', '']
        return [line, ...state, part, colourName, qty]
      }),
      ...refused.map((r) => [r.line, 'refused', r.reason, ...r.cells]),
    ]
    return new Blob([writeCsv([['line', 'state', 'reason', 'as read or written'], ...rows])], {
      type: 'text/csv;charset=utf-8',
    })
  },

  /** Splits the kept text by a chosen delimiter. */
  split(context: ReadContext, delimiter: Delimiter): Result<ListPreview, ListError> {
    if (context.serial !== serial) forgotten()
    const error = source.text === undefined ? forgotten() : splitText(source.text, delimiter)
    return error ? fail(error) : ok(preview(context))
  },

  /** Reads the colours that stand across as a column, or takes that back. */
  listColours(context: ReadContext, on: boolean): ListPreview {
    if (context.serial !== serial) forgotten()
    const { table } = source.tables[source.chosen] ?? forgotten()
    const index = colourIndex(context.colours)
    const heading = match?.heading ?? null
    const across = on ? colourColumns(table.rows, heading, (key) => index.has(key)) : []
    const listed = heading !== null && across.length > 0 ? listedByColour(table, heading, across) : undefined
    source = { ...source, listed }
    // The headings stay where they are, found or chosen; columns are matched anew.
    const { rows } = listed ?? table
    return preview(context, matchColumns(rows, context.kind, index, { learnt: context.headings, heading }))
  },

  /** Reads with the headings in another row, or without any; columns are matched anew. */
  headings(context: ReadContext, row: number | null): ListPreview {
    if (context.serial !== serial) forgotten()
    const { table } = source.tables[source.chosen] ?? forgotten()
    const { rows } = source.listed ?? table
    const columns = matchColumns(rows, context.kind, colourIndex(context.colours), {
      learnt: context.headings,
      heading: row,
    })
    return preview(context, columns)
  },

  /** Turns to another sheet of the kept workbook. */
  turn(context: ReadContext, sheet: string): ListPreview {
    if (context.serial !== serial) forgotten()
    source = {
      ...source,
      listed: undefined,
      chosen: Math.max(
        0,
        source.tables.findIndex((t) => t.name === sheet),
      ),
    }
    return preview(context)
  },

  /** Reads by corrected columns. */
  rematch(context: ReadContext, columns: ColumnMatch): ListPreview {
    return preview(context, columns)
  },

  /** Replaces cells of rows, by their numbers in the table, and reads again, columns as they are. */
  fix(context: ReadContext, mended: ReadonlyMap<number, readonly string[]>): ListPreview {
    if (context.serial !== serial) forgotten()
    const mend = (table: ListTable): ListTable => ({
      ...table,
      rows: table.rows.map((row, i) => mended.get(i) ?? row),
    })
    source = source.listed
      ? { ...source, listed: mend(source.listed) }
      : {
          ...source,
          tables: source.tables.map((t, i) => (i === source.chosen ? { ...t, table: mend(t.table) } : t)),
        }
    return preview(context, match)
  },

  /** Writes the accepted rows in one act; gives its label. */
  async store({ order, colours, at, by, edition: meant }: StoreOrder): Promise<Result<Stored, StoreError>> {
    const [holdings, places, sets, offers] = await Promise.all([
      order.kind === 'shelf' ? db.records('holdings').toArray() : [],
      order.kind === 'shelf' ? db.records('places').toArray() : [],
      order.kind === 'donor' ? db.records('sets').toArray() : [],
      order.kind === 'offers' ? db.records('offers').where('source').equals('file').toArray() : [],
    ])
    if (!reading || meant !== edition)
      return fail({
        code: 'failed',
        message: 'The list has to be read once more: choose it again. Nothing was written.',
      })
    const imported = importRows(reading.accepted, { ...order, holdings, places, sets }, () => crypto.randomUUID())
    const label = labelOf(order, imported)
    // An inventory read again keeps what was noted about its set; offers of a shop replace its earlier ones.
    const known = new Map(sets.map((set) => [set.id, set]))
    const shops = new Set(imported.offers.map((o) => o.shop))
    const kept = new Set(imported.offers.map((o) => o.id))
    const result = await act(
      db,
      label,
      [
        ...editAll('colours', colours.before, colours.after),
        ...editAll('parts', order.parts, imported.parts),
        ...editAll(
          'sets',
          sets,
          imported.sets.map((s) => ({ ...known.get(s.id), ...s })),
        ),
        add('copies', imported.copies),
        add('places', imported.places),
        ...editAll('holdings', holdings, imported.holdings),
        ...editAll('designs', order.design ? [order.design] : [], imported.designs),
        add('shops', imported.shops),
        put('offers', imported.offers),
        remove(
          'offers',
          offers.filter((o) => shops.has(o.shop) && !kept.has(o.id)).map((o) => o.id),
        ),
        remove('holdings', imported.removed),
      ],
      at,
      { by },
    )
    return result.ok ? ok({ label, entry: result.value }) : result
  },
}

export type ListWorker = typeof api
serve(api)
