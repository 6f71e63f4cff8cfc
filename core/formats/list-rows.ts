import { readLength } from '../units/read-length.ts'
import { codeAlias, partFromName } from '../catalogue/part.ts'
import { colourKey, searchKey } from '../colours/colour.ts'
import type { Visibility } from '../design/design.ts'
import { CONDITIONS, type Condition } from '../units/condition.ts'
import { readQuantity, type QuantityFault } from '../units/read-quantity.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { decimalStyle, needsStyle, type DecimalStyle } from '../units/decimal-style.ts'
import { decimal, readAmount, type AmountFault } from '../units/money.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import { MOST_PRICE } from '../offers/offer.ts'
import type { ColourId } from '../units/ids.ts'
import { asWritten, type ListTable } from './delimited.ts'
import { codesWithTwoMeanings, type KnownCodes } from './list-codes.ts'
import {
  colourCodeAlias,
  FIELD_LABELS,
  LIST_FIELDS,
  STAND_FOR,
  type ColumnMatch,
  type Field,
  type ListKind,
} from './list-columns.ts'

/** A row that can be imported. Fields a kind does not use hold their neutral value. */
export type ListRow = {
  readonly line: number
  /** The part's name; where only a code is written, the name of the part known by it. */
  readonly part: string
  /** The part's foreign code as an alias (`codeAlias`), or empty. */
  readonly partCode: string
  /** The colour's name as written; where only a code is written, the code's alias. */
  readonly colourName: string
  /** The colour's foreign code as an alias (`colourCodeAlias`), or empty. */
  readonly colourCode: string
  readonly decoration: string
  /** Length of a hose or string in mm, if written. */
  readonly length: number | null
  readonly visibility: Visibility
  readonly thirdParty: boolean
  readonly qty: number
  readonly estimate: boolean
  readonly stage: string
  readonly spare: boolean
  readonly figure: string
  readonly place: string
  readonly condition: Condition
  readonly module: string
  readonly repeats: number
  readonly note: string
  readonly shop: string
  /** Minor units per piece. */
  readonly price: number
  readonly pack: number
}

/** Why a row cannot be imported: of which field, and what would do. */
export type RowFault = {
  readonly code: RowFaultCode
  /** Undefined where it is not the fault of one. */
  readonly field: Field | undefined
  readonly reason: string
}
export type RowFaultCode =
  | 'no column'
  | 'too long'
  | 'nothing there'
  | 'unknown code'
  | 'two meanings'
  | 'condition'
  | 'visibility'
  | 'length'
  | `quantity: ${QuantityFault}`
  | `price: ${AmountFault}`
  | 'too many'
  | 'too dear'

const refuseRow = (field: Field | undefined, code: RowFaultCode, reason: string): Result<never, RowFault> =>
  fail({ field, code, reason })

export type RefusedRow = RowFault & { readonly line: number; readonly cells: readonly string[] }

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
}

/** Unknown colour names that are listed: nobody decides on more of them one by one. */
export const MOST_UNKNOWN = 500

export type ListContext = KnownCodes & {
  readonly currency: string
  /** Colour by `colourKey`. */
  readonly knownColours: ReadonlyMap<string, ColourId>
}

/** Reads rows by the matched columns; each refused row keeps its cells and says what to mend. Never throws. */
export function readList(list: ListTable, kind: ListKind, match: ColumnMatch, context: ListContext): ListReading {
  const accepted: ListRow[] = []
  const refused: RefusedRow[] = []
  const lacking = LIST_FIELDS[kind].filter(
    (f) =>
      f.required && match.columns[f.field] === undefined && match.columns[STAND_FOR[f.field] ?? f.field] === undefined,
  )
  const headingOf = (field: Field) => (match.hasHeading ? (list.rows[0]?.[match.columns[field] ?? -1] ?? '') : '')
  const headings = {
    partCode: headingOf('partCode'),
    colourCode: headingOf('colourCode'),
    visibility: headingOf('visibility'),
  }
  const first = match.hasHeading ? 1 : 0
  const { styles, numbers } = numberStyles(list.rows, first, match)
  const read: { readonly cells: readonly string[]; readonly line: number; readonly row: Result<ListRow, RowFault> }[] =
    []
  for (let i = first; i < list.rows.length; i++) {
    const cells = list.rows[i] ?? []
    const line = list.lineOf[i] ?? 0
    const row =
      lacking.length > 0
        ? refuseRow(
            lacking[0]?.field,
            'no column',
            `No column is chosen for ${lacking.map((f) => FIELD_LABELS[f.field]).join(', ')}.`,
          )
        : readRow(cells, line, kind, match, context, headings, styles)
    read.push({ cells, line, row })
  }
  const twoMeanings = codesWithTwoMeanings(
    read.flatMap(({ row }) => (row.ok ? row.value : [])),
    context,
  )
  /** Pieces of rows that will be one record, by what makes them one. */
  const together = new Map<string, { qty: number; line: number }>()
  const sums = new Sums(context)
  for (const { cells, line, row } of read) {
    const fit = row.ok ? fitting(row.value, twoMeanings, kind, together) : row
    if (fit.ok) {
      accepted.push(fit.value)
      sums.add(fit.value)
    } else refused.push({ line, ...fit.error, cells })
  }
  const { pieces, repeats } = sums
  return { accepted, refused, ...sums.colours(), pieces, repeats, numbers }
}

/** What accepted rows come to. */
class Sums {
  pieces = 0
  repeats = 0
  readonly #unknown = new Map<string, { name: string; rows: number }>()
  readonly #named = new Map<string, { readonly key: string; readonly name: string; readonly code: string }>()
  readonly #seen = new Set<string>()
  readonly #context: ListContext

  constructor(context: ListContext) {
    this.#context = context
  }

  add(row: ListRow): void {
    this.pieces += row.qty
    const { line: _, partCode: _code, colourCode: _colour, qty: _qty, note: _note, ...identity } = row
    const said = Object.values(identity).join('\n').toLowerCase()
    if (this.#seen.has(said)) this.repeats++
    else this.#seen.add(said)
    const key = colourKey(row.colourName)
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
  first: number,
  match: ColumnMatch,
): { styles: Partial<Record<Field, DecimalStyle>>; numbers: ListReading['numbers'] } {
  const styles: Partial<Record<Field, DecimalStyle>> = {}
  const numbers: { field: Field; decimal: DecimalStyle; sample: string }[] = []
  for (const field of NUMBER_FIELDS) {
    const column = match.columns[field]
    if (column === undefined) continue
    const values = rows.slice(first).map((row) => row[column] ?? '')
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

/** Characters of each field at most; a longer text is refused, as one cut short might be another's. */
const LONGEST: readonly (readonly [Field, number])[] = [
  ['part', 200],
  ['partCode', 60],
  ['colour', 80],
  ['colourCode', 60],
  ['decoration', 80],
  ['stage', 100],
  ['figure', 100],
  ['place', 100],
  ['module', 100],
  ['shop', 100],
  ['note', 500],
  ['qty', 60],
  ['stock', 60],
  ['price', 60],
  ['pack', 60],
  ['repeats', 60],
  ['condition', 60],
  ['length', 60],
  ['visibility', 60],
  ['spare', 60],
  ['thirdParty', 60],
]

function readRow(
  cells: readonly string[],
  line: number,
  kind: ListKind,
  match: ColumnMatch,
  context: ListContext,
  headings: { readonly partCode: string; readonly colourCode: string; readonly visibility: string },
  styles: Partial<Record<Field, DecimalStyle>>,
): Result<ListRow, RowFault> {
  const cell = (field: Field): string => {
    const column = match.columns[field]
    return column === undefined
      ? ''
      : asWritten(cells[column] ?? '')
          .replace(/\s+/g, ' ')
          .trim()
  }
  const long = LONGEST.find(([field, most]) => cell(field).length > most)
  if (long) {
    const [field, most] = long
    return refuseRow(
      field,
      'too long',
      `The ${FIELD_LABELS[field].toLowerCase()} is longer than ${most} characters. Shorten it.`,
    )
  }
  const partCode = cell('partCode') === '' ? '' : codeAlias(headings.partCode, cell('partCode'))
  const part = cell('part') || (context.knownCodes.get(partCode) ?? '')
  if (part === '')
    return partCode === ''
      ? refuseRow('part', 'nothing there', 'There is no part name. Write one, such as "plate 2x4".')
      : refuseRow(
          'partCode',
          'unknown code',
          `The part code "${cell('partCode')}" is not known yet. Write the part's name once, and the code is remembered.`,
        )
  const colourCode = cell('colourCode') === '' ? '' : colourCodeAlias(headings.colourCode, cell('colourCode'))
  // A known code says more than an unknown name.
  const colourName =
    cell('colour') === '' ||
    (!context.knownColours.has(colourKey(cell('colour'))) && context.knownColours.has(colourCode))
      ? colourCode
      : cell('colour')
  if (colourKey(colourName) === '') return refuseRow('colour', 'nothing there', 'There is no colour. Write its name.')
  const amount: Field = kind === 'offers' ? 'stock' : 'qty'
  const quantity = readQuantity(cell(amount), styles[amount])
  if (!quantity.ok) return refuseRow(amount, `quantity: ${quantity.error.code}`, quantity.error.message)
  const condition = readCondition(cell('condition'))
  if (condition === undefined)
    return refuseRow(
      'condition',
      'condition',
      `"${cell('condition')}" is no condition. Write new, used or worn, or leave it empty.`,
    )

  let length: number | null = null
  if (cell('length') !== '') {
    const read = readLength(cell('length'), 'mm')
    if (!read.ok)
      return refuseRow(
        'length',
        'length',
        `"${cell('length')}" is no length from 1 to 10000 mm. Write it like 120, 120 mm or 12 cm.`,
      )
    length = read.value
  }
  const visibility = readVisibility(cell('visibility'), headings.visibility)
  if (visibility === undefined)
    return refuseRow(
      'visibility',
      'visibility',
      `"${cell('visibility')}" does not say whether the piece is seen. Write seen, hidden or structural, or leave it empty.`,
    )

  let repeats = 1
  if (cell('repeats') !== '') {
    const read = readQuantity(cell('repeats'), styles.repeats)
    if (!read.ok || read.value.qty > 10_000)
      return refuseRow(
        'repeats',
        'quantity: no number',
        `"${cell('repeats')}" is no number of repeats from 1 to 10000.`,
      )
    repeats = read.value.qty
  }
  const terms = kind === 'offers' ? readTerms(cell, context.currency, styles) : NO_TERMS
  if (!terms.ok) return terms
  return ok({
    line,
    part,
    partCode,
    colourName,
    colourCode,
    decoration: cell('decoration').replace(/\|/g, '/').toLowerCase(),
    length,
    visibility,
    thirdParty: YES.test(cell('thirdParty')) || /^third/i.test(cell('thirdParty')),
    ...quantity.value,
    stage: cell('stage'),
    spare: YES.test(cell('spare')) || /^(spare|extra)$/i.test(cell('spare')),
    figure: cell('figure'),
    place: cell('place'),
    condition,
    module: cell('module'),
    repeats,
    note: cell('note'),
    shop: cell('shop'),
    ...terms.value,
  })
}

type Styles = Partial<Record<Field, DecimalStyle>>

type Terms = { readonly price: number; readonly pack: number }
const NO_TERMS = ok<Terms>({ price: 0, pack: 1 })

/** Price and pack of an offer, and that it names a shop; else why not. */
function readTerms(cell: (field: Field) => string, currency: string, styles: Styles): Result<Terms, RowFault> {
  const read = readAmount(cell('price'), currency, styles.price)
  if (!read.ok) return priceFault(read.error, cell('price'), currency)
  const price = read.value
  if (price < 0) return priceFault('none', cell('price'), currency)
  if (price > MOST_PRICE)
    return refuseRow(
      'price',
      'too dear',
      `The price "${cell('price')}" is above ${decimal(MOST_PRICE, currency)} ${currency} a piece. Check the column.`,
    )
  if (cell('shop') === '') return refuseRow('shop', 'nothing there', 'There is no shop. Write its name.')
  if (cell('pack') === '') return ok({ price, pack: 1 })
  const pack = readQuantity(cell('pack'), styles.pack)
  return !pack.ok || pack.value.qty > 10_000
    ? refuseRow('pack', 'quantity: no number', `"${cell('pack')}" is no pack size from 1 to 10000.`)
    : ok({ price, pack: pack.value.qty })
}

const YES = /^(y|yes|true|1|x)$/i

function priceFault(fault: AmountFault, text: string, code: string): Result<never, RowFault> {
  const why: Record<AmountFault, string> = {
    none: `"${text}" is no price in ${code}. Write it like 0.12.`,
    'other currency': `"${text}" is no price in ${code}: it names other money. Write the price in ${code}, or import the list into a build in that currency.`,
    'too fine': `"${text}" is no price in ${code}: it has more decimals than ${code} has. Write it like 0.12.`,
    'two readings': `"${text}" may mean two prices, as point and comma group and divide. Write it with two decimals, like 12.00.`,
  }
  return refuseRow('price', `price: ${fault}`, why[fault])
}

function readVisibility(text: string, heading: string): Visibility | undefined {
  const word = text.toLowerCase()
  if (word === '' || /^(seen|visible|outside)$/.test(word)) return 'seen'
  if (/^(hidden|inside|covered|not seen)$/.test(word)) return 'hidden'
  if (/^(structural|structure|bearing)$/.test(word)) return 'structural'
  const yes = YES.test(word)
  if (!yes && !/^(n|no|false|0)$/.test(word)) return undefined
  return /hidden/i.test(heading) === yes ? 'hidden' : 'seen'
}

const CONDITION_WORDS: Record<Condition, readonly string[]> = {
  new: ['', 'new', 'n', 'mint', 'unused', 'sealed'],
  used: ['used', 'u', 'good', 'second hand', 'played', 'yes'],
  worn: ['worn', 'w', 'poor', 'damaged', 'yellowed', 'scratched'],
}

const readCondition = (text: string): Condition | undefined =>
  CONDITIONS.find((c) => CONDITION_WORDS[c].includes(searchKey(text)))
