import { partFromName } from '../catalogue/part.ts'
import { colourKey, searchKey } from '../colours/colour.ts'
import type { StatedCondition } from '../units/condition.ts'
import { isPlainCount } from '../units/read-quantity.ts'
import { once } from '../units/once.ts'
import { ok, type Result } from '../units/result.ts'
import { decimalStyle, needsStyle, type DecimalStyle } from '../units/decimal-style.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import { isPlainCondition, readCondition } from './condition-words.ts'
import type { ListTable } from './delimited.ts'
import { codesWithTwoMeanings } from './list-codes.ts'
import { FIELD_LABELS, LIST_FIELDS, STAND_FOR, type ColumnMatch, type Field, type ListKind } from './list-fields.ts'
import { layOut, type LeftOutKind } from './list-layout.ts'
import {
  fieldsRead,
  readRow,
  refuseRow,
  type ListContext,
  type ListRow,
  type RowFault,
  type RowReader,
} from './list-row.ts'

/** A row that cannot be imported; `row` is its number in the table, from 0, `line` that of the file. */
export type RefusedRow = RowFault & { readonly row: number; readonly line: number; readonly cells: readonly string[] }

/** A row that is no item: what it is, and its first words. */
export type LeftOutRow = {
  readonly row: number
  readonly line: number
  readonly kind: LeftOutKind
  readonly said: string
}

export type ListReading = {
  readonly accepted: readonly ListRow[]
  readonly refused: readonly RefusedRow[]
  /** Colour names nothing matches, with the rows that use them, most used first; at most `MOST_UNKNOWN`. */
  readonly unknownColours: readonly { readonly name: string; readonly rows: number }[]
  /** Such names beyond those, and the rows that use them: so many speak for a wrong column. */
  readonly moreUnknown: { readonly names: number; readonly rows: number }
  /** Names and codes of colours that the accepted rows use, each pair once, but for unknown names beyond. */
  readonly colours: readonly { readonly name: string; readonly code: string }[]
  /** Pieces in the accepted rows. */
  readonly pieces: number
  /** Accepted rows that repeat an earlier one and will be summed with it. */
  readonly repeats: number
  /** Columns with numbers in which point or comma could mean two things, and the one rule by which all were read. */
  readonly numbers: readonly { readonly field: Field; readonly decimal: DecimalStyle; readonly sample: string }[]
  /** Rows that are no items. */
  readonly leftOut: readonly LeftOutRow[]
  /** Rows without a colour of their own that have the one above. */
  readonly grouped: number
  /** Quantities that are more than digits, and what they were read as; at most `MOST_TOLD`. */
  readonly understood: readonly {
    readonly text: string
    readonly qty: number
    readonly estimate: boolean
    readonly note: string
  }[]
  /**
   * Words for conditions that are not new, used or worn themselves, with the rows that use them; the empty word where
   * nothing is written. What is not known is refused.
   */
  readonly conditions: readonly {
    readonly word: string
    readonly rows: number
    readonly meant: StatedCondition | undefined
  }[]
  /** Columns that are read for nothing, by their headings or numbers. */
  readonly unused: readonly string[]
}

/** Quantities and words of conditions that are told one by one. */
const MOST_TOLD = 40

/** Unknown colour names that are listed: nobody decides on more of them one by one. */
export const MOST_UNKNOWN = 500

/** Reads rows by the matched columns; each refused row keeps its cells and says what to mend. Never throws. */
export function readList(list: ListTable, kind: ListKind, match: ColumnMatch, context: ListContext): ListReading {
  const accepted: ListRow[] = []
  const refused: RefusedRow[] = []
  const head = match.heading === null ? [] : (list.rows[match.heading] ?? [])
  const headingOf = (field: Field) => head[match.columns[field] ?? -1] ?? ''
  const headings = {
    partCode: headingOf('partCode'),
    colourCode: headingOf('colourCode'),
    visibility: headingOf('visibility'),
  }
  const { items, leftOut, sectionOf, colourOf, grouped } = layOut(list.rows, match, (key) =>
    context.knownColours.has(key),
  )
  const lacking = LIST_FIELDS[kind].filter(
    (f) =>
      f.required &&
      !(f.field === 'colour' && colourOf.size > 0) &&
      [f.field, ...(STAND_FOR[f.field] ?? [])].every((field) => match.columns[field] === undefined),
  )
  const { styles, numbers } = numberStyles(list.rows, items, match)
  // A list says few names in many rows.
  const keyOf = once(colourKey)
  const reader: RowReader = { kind, fields: fieldsRead(match), context, headings, styles, keyOf }
  type Read = {
    readonly cells: readonly string[]
    readonly row: number
    readonly line: number
    readonly read: Result<ListRow, RowFault>
  }
  const all = items.map((row): Read => {
    const cells = list.rows[row] ?? []
    const line = list.lineOf[row] ?? 0
    const read =
      lacking.length > 0
        ? refuseRow(
            lacking[0]?.field,
            'no column',
            `No column is chosen for ${lacking.map((f) => FIELD_LABELS[f.field]).join(', ')}.`,
          )
        : readRow(cells, { line, section: sectionOf.get(row), colour: colourOf.get(row) }, reader)
    return { cells, row, line, read }
  })
  const twoMeanings = codesWithTwoMeanings(
    all.flatMap(({ read }) => (read.ok ? read.value : [])),
    context,
  )
  /** Pieces of rows that will be one record, by what makes them one. */
  const together = new Map<string, { qty: number; line: number }>()
  const sums = new Sums(context, keyOf)
  const told = new Told(match, kind, context)
  for (const { cells, row, line, read } of all) {
    const fit = read.ok ? fitting(read.value, twoMeanings, kind, together) : read
    told.add(cells, fit)
    if (fit.ok) {
      accepted.push(fit.value)
      sums.add(fit.value)
    } else refused.push({ row, line, ...fit.error, cells })
  }
  const { pieces, repeats } = sums
  return {
    accepted,
    refused,
    ...sums.colours(),
    pieces,
    repeats,
    numbers,
    leftOut: leftOut.map(({ row, kind: what }) => ({
      row,
      line: list.lineOf[row] ?? 0,
      kind: what,
      said: (list.rows[row] ?? [])
        .filter((cell) => cell.trim() !== '')
        .slice(0, 3)
        .join(', ')
        .slice(0, 80),
    })),
    grouped,
    ...told.all(),
    unused: unusedColumns(list.rows, match),
  }
}

/** What has to be told of how cells were understood: counts that are more than digits, words for conditions. */
class Told {
  readonly #understood = new Map<string, ListReading['understood'][number]>()
  readonly #conditions = new Map<string, { word: string; rows: number; meant: StatedCondition | undefined }>()
  readonly #match: ColumnMatch
  readonly #words: ReadonlyMap<string, StatedCondition>
  /** Whether lists of this kind say conditions at all. */
  readonly #stated: boolean

  constructor(match: ColumnMatch, kind: ListKind, { conditionWords }: ListContext) {
    this.#match = match
    this.#words = conditionWords ?? new Map<string, StatedCondition>()
    this.#stated = LIST_FIELDS[kind].some((f) => f.field === 'condition')
  }

  add(cells: readonly string[], read: Result<ListRow, RowFault>): void {
    const { columns } = this.#match
    const count = (cells[columns.qty ?? columns.stock ?? -1] ?? '').trim()
    if (
      read.ok &&
      count !== '' &&
      !isPlainCount(count) &&
      this.#understood.size < MOST_TOLD &&
      !this.#understood.has(count)
    )
      this.#understood.set(count, {
        text: count.slice(0, 60),
        qty: read.value.qty,
        estimate: read.value.estimate,
        note: read.value.qtyNote,
      })
    const word = (cells[columns.condition ?? -1] ?? '').trim()
    if (word === '' ? !this.#stated : isPlainCondition(word)) return
    const key = searchKey(word)
    const known = this.#conditions.get(key)
    if (known) known.rows++
    else this.#conditions.set(key, { word: word.slice(0, 60), rows: 1, meant: readCondition(word, this.#words) })
  }

  all(): Pick<ListReading, 'understood' | 'conditions'> {
    // What is not known comes first, then what most rows say.
    const conditions = [...this.#conditions.values()]
      .sort((p, q) => Number(p.meant !== undefined) - Number(q.meant !== undefined) || q.rows - p.rows)
      .slice(0, MOST_TOLD)
    return { understood: [...this.#understood.values()], conditions }
  }
}

/** Columns with something in them that no field is read from. */
function unusedColumns(rows: readonly (readonly string[])[], { heading, columns }: ColumnMatch): string[] {
  const used = new Set(Object.values(columns))
  const sample = rows.slice(heading === null ? 0 : heading + 1, (heading ?? 0) + 200)
  const width = Math.max(0, ...sample.map((row) => row.length))
  return Array.from({ length: width }, (_, column) => column)
    .filter((column) => !used.has(column) && sample.some((row) => (row[column] ?? '').trim() !== ''))
    .map((column) => {
      const name = heading === null ? '' : (rows[heading]?.[column] ?? '').trim()
      return name === '' ? `column ${column + 1}` : name.slice(0, 40)
    })
}

/** Fields by which rows are rows of one record: all but where and how they are written, and how many they are of. */
type Identity = Exclude<keyof ListRow, 'line' | 'partCode' | 'colourCode' | 'qty' | 'note' | 'qtyNote'>
const IDENTITY = Object.keys({
  part: true,
  colourName: true,
  decoration: true,
  length: true,
  visibility: true,
  thirdParty: true,
  estimate: true,
  stage: true,
  spare: true,
  figure: true,
  place: true,
  condition: true,
  module: true,
  repeats: true,
  shop: true,
  price: true,
  currency: true,
  pack: true,
} satisfies Record<Identity, true>) as readonly Identity[]

/** What accepted rows come to. */
class Sums {
  pieces = 0
  repeats = 0
  readonly #unknown = new Map<string, { name: string; rows: number }>()
  readonly #named = new Map<string, { readonly key: string; readonly name: string; readonly code: string }>()
  readonly #seen = new Set<string>()
  readonly #context: ListContext
  readonly #keyOf: (name: string) => string

  constructor(context: ListContext, keyOf: (name: string) => string) {
    this.#context = context
    this.#keyOf = keyOf
  }

  add(row: ListRow): void {
    this.pieces += row.qty
    let said = ''
    for (const field of IDENTITY) said += `${row[field]}\n`
    said = said.toLowerCase()
    if (this.#seen.has(said)) this.repeats++
    else this.#seen.add(said)
    const key = this.#keyOf(row.colourName)
    const pair = `${key}\n${row.colourCode}`
    if (!this.#named.has(pair)) this.#named.set(pair, { key, name: row.colourName, code: row.colourCode })
    if (this.#context.knownColours.has(key)) return
    const seen = this.#unknown.get(key)
    if (seen) seen.rows++
    else this.#unknown.set(key, { name: row.colourName, rows: 1 })
  }

  colours(): Pick<ListReading, 'unknownColours' | 'moreUnknown' | 'colours'> {
    const all = [...this.#unknown].sort(([, p], [, q]) => q.rows - p.rows || (p.name < q.name ? -1 : 1))
    const beyond = all.slice(MOST_UNKNOWN)
    const left = new Set(beyond.map(([key]) => key))
    return {
      unknownColours: all.slice(0, MOST_UNKNOWN).map(([, colour]) => colour),
      moreUnknown: { names: beyond.length, rows: beyond.reduce((n, [, { rows }]) => n + rows, 0) },
      colours: [...this.#named.values()].flatMap(({ key, name, code }) => (left.has(key) ? [] : [{ name, code }])),
    }
  }
}

const NUMBER_FIELDS: readonly Field[] = ['qty', 'stock', 'price', 'pack', 'repeats']

/** Of each column of numbers its decimal sign, by all its values; those in which that mattered are told. */
function numberStyles(
  rows: readonly (readonly string[])[],
  items: readonly number[],
  match: ColumnMatch,
): { styles: Partial<Record<Field, DecimalStyle>>; numbers: ListReading['numbers'] } {
  const styles: Partial<Record<Field, DecimalStyle>> = {}
  const numbers: { field: Field; decimal: DecimalStyle; sample: string }[] = []
  for (const field of NUMBER_FIELDS) {
    const column = match.columns[field]
    if (column === undefined) continue
    const values = items.map((row) => rows[row]?.[column] ?? '')
    const style = decimalStyle(values)
    styles[field] = style
    const sample = values.find(needsStyle)
    if (sample !== undefined) numbers.push({ field, decimal: style, sample: sample.trim() })
  }
  return { styles, numbers }
}

/** A row, unless rows beside it speak against it. */
function fitting(
  row: ListRow,
  twoMeanings: (row: ListRow) => string | undefined,
  kind: ListKind,
  together: Map<string, { qty: number; line: number }>,
): Result<ListRow, RowFault> {
  const twice = twoMeanings(row)
  if (twice !== undefined) return refuseRow('partCode', 'two meanings', twice)
  const tooMany = tooManyTogether(row, kind, together)
  return tooMany === undefined ? ok(row) : refuseRow('qty', 'too many', tooMany)
}

/** Notes a row's pieces with those of the rows that become one record with it; refuses what is more than one may hold. */
function tooManyTogether(
  row: ListRow,
  kind: ListKind,
  together: Map<string, { qty: number; line: number }>,
): string | undefined {
  // Holdings beyond the limit become two, offers are as many as are said of them.
  if (kind === 'shelf' || kind === 'offers') return undefined
  const where = kind === 'donor' ? [row.stage, row.spare, row.figure] : [row.module, row.visibility]
  const key = JSON.stringify([partFromName(row.part).id, colourKey(row.colourName), row.decoration, ...where])
  const before = together.get(key)
  const qty = (before?.qty ?? 0) + row.qty
  if (qty > MOST_PIECES && before)
    return `With row ${before.line} this piece comes to ${qty} in one place, more than the 1 000 000 that can be kept. Check both quantities.`
  together.set(key, { qty, line: before?.line ?? row.line })
  return undefined
}
