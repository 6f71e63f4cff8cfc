import { readLength } from '../units/read-length.ts'
import { codeAlias, partFromName } from '../catalogue/part.ts'
import { colourKey, searchKey } from '../colours/colour.ts'
import type { Visibility } from '../design/design.ts'
import { CONDITIONS, type Condition } from '../units/condition.ts'
import { decimalStyle, needsStyle, readDigits, type DecimalStyle } from '../units/decimal-style.ts'
import { decimal, readAmount, type AmountFault } from '../units/money.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import { MOST_PRICE } from '../offers/offer.ts'
import type { ColourId } from '../units/ids.ts'
import type { ListTable } from './delimited.ts'
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

export type RefusedRow = { readonly line: number; readonly reason: string; readonly cells: readonly string[] }

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
  const read: { readonly cells: readonly string[]; readonly line: number; readonly row: ListRow | string }[] = []
  for (let i = first; i < list.rows.length; i++) {
    const cells = list.rows[i] ?? []
    const line = list.lineOf[i] ?? 0
    const row =
      lacking.length > 0
        ? `No column is chosen for ${lacking.map((f) => FIELD_LABELS[f.field]).join(', ')}.`
        : readRow(cells, line, kind, match, context, headings, styles)
    read.push({ cells, line, row })
  }
  const twoMeanings = codesWithTwoMeanings(
    read.flatMap(({ row }) => (typeof row === 'string' ? [] : row)),
    context,
  )
  /** Pieces of rows that will be one record, by what makes them one. */
  const together = new Map<string, { qty: number; line: number }>()
  const sums = new Sums(context)
  for (const { cells, line, row } of read) {
    const refusal = typeof row === 'string' ? row : (twoMeanings(row) ?? tooManyTogether(row, kind, together))
    if (refusal !== undefined || typeof row === 'string') {
      refused.push({ line, reason: refusal ?? '', cells })
      continue
    }
    accepted.push(row)
    sums.add(row)
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
): ListRow | string {
  const cell = (field: Field): string => {
    const column = match.columns[field]
    return column === undefined ? '' : (cells[column] ?? '').replace(/\s+/g, ' ').trim()
  }
  const long = LONGEST.find(([field, most]) => cell(field).length > most)
  if (long) {
    const [field, most] = long
    return `The ${FIELD_LABELS[field].toLowerCase()} is longer than ${most} characters. Shorten it.`
  }
  const partCode = cell('partCode') === '' ? '' : codeAlias(headings.partCode, cell('partCode'))
  const part = cell('part') || (context.knownCodes.get(partCode) ?? '')
  if (part === '')
    return partCode === ''
      ? 'There is no part name. Write one, such as "plate 2x4".'
      : `The part code "${cell('partCode')}" is not known yet. Write the part's name once, and the code is remembered.`
  const colourCode = cell('colourCode') === '' ? '' : colourCodeAlias(headings.colourCode, cell('colourCode'))
  // A known code says more than an unknown name.
  const colourName =
    cell('colour') === '' ||
    (!context.knownColours.has(colourKey(cell('colour'))) && context.knownColours.has(colourCode))
      ? colourCode
      : cell('colour')
  if (colourKey(colourName) === '') return 'There is no colour. Write its name.'
  const amount: Field = kind === 'offers' ? 'stock' : 'qty'
  const quantity = readQuantity(cell(amount), styles[amount])
  if (typeof quantity === 'string') return quantity
  const condition = readCondition(cell('condition'))
  if (condition === undefined)
    return `"${cell('condition')}" is no condition. Write new, used or worn, or leave it empty.`

  let length: number | null = null
  if (cell('length') !== '') {
    const read = readLength(cell('length'), 'mm')
    if (!read.ok) return `"${cell('length')}" is no length from 1 to 10000 mm. Write it like 120, 120 mm or 12 cm.`
    length = read.value
  }
  const visibility = readVisibility(cell('visibility'), headings.visibility)
  if (visibility === undefined)
    return `"${cell('visibility')}" does not say whether the piece is seen. Write seen, hidden or structural, or leave it empty.`

  let repeats = 1
  if (cell('repeats') !== '') {
    const read = readQuantity(cell('repeats'), styles.repeats)
    if (typeof read === 'string' || read.qty > 10_000)
      return `"${cell('repeats')}" is no number of repeats from 1 to 10000.`
    repeats = read.qty
  }
  const terms = kind === 'offers' ? readTerms(cell, context.currency, styles) : { price: 0, pack: 1 }
  if (typeof terms === 'string') return terms
  return {
    line,
    part,
    partCode,
    colourName,
    colourCode,
    decoration: cell('decoration').replace(/\|/g, '/').toLowerCase(),
    length,
    visibility,
    thirdParty: YES.test(cell('thirdParty')) || /^third/i.test(cell('thirdParty')),
    ...quantity,
    stage: cell('stage'),
    spare: YES.test(cell('spare')) || /^(spare|extra)$/i.test(cell('spare')),
    figure: cell('figure'),
    place: cell('place'),
    condition,
    module: cell('module'),
    repeats,
    note: cell('note'),
    shop: cell('shop'),
    ...terms,
  }
}

type Styles = Partial<Record<Field, DecimalStyle>>

/** Price and pack of an offer, and that it names a shop; else why not. */
function readTerms(
  cell: (field: Field) => string,
  currency: string,
  styles: Styles,
): { readonly price: number; readonly pack: number } | string {
  const price = readAmount(cell('price'), currency, styles.price)
  if (typeof price === 'string') return priceFault(price, cell('price'), currency)
  if (price < 0) return priceFault('none', cell('price'), currency)
  if (price > MOST_PRICE)
    return `The price "${cell('price')}" is above ${decimal(MOST_PRICE, currency)} ${currency} a piece. Check the column.`
  if (cell('shop') === '') return 'There is no shop. Write its name.'
  if (cell('pack') === '') return { price, pack: 1 }
  const pack = readQuantity(cell('pack'), styles.pack)
  return typeof pack === 'string' || pack.qty > 10_000
    ? `"${cell('pack')}" is no pack size from 1 to 10000.`
    : { price, pack: pack.qty }
}

/**
 * `12`, `12x`, `x12`, `1,200`, `12.0`, `12 pcs`, `~60`, `about 60`; otherwise what is wrong, in words. Where point or
 * comma may group or divide (`12.000`), the column's `style` decides; without one it is refused, as both readings stand.
 */
export function readQuantity(text: string, style?: DecimalStyle): { qty: number; estimate: boolean } | string {
  const t = text.trim().toLowerCase()
  if (t === '') return 'There is no quantity. Write how many pieces.'
  const estimate = /^(~|≈|about\b|approx\.?|circa\b|ca\.?(?=\s|\d))/.test(t)
  const bare = t
    .replace(/^(~|≈|about|approx\.?|circa|ca\.?)\s*/, '')
    .replace(/^[x×]\s*(?=\d)/, '')
    .replace(/\s*(x|×|pcs?\.?|pieces?)$/, '')
  if (/^-|^−/.test(bare)) return `The quantity "${text}" is below 1. Write how many pieces there are.`
  const numbers = readDigits(bare, style)
  const whole = [...new Set(numbers.filter((n) => /^0*$/.test(n.fraction)).map((n) => Number(n.whole)))]
  const [qty, other] = whole
  if (qty === undefined)
    return numbers.length > 0 || /^\d+\/\d+$/.test(bare)
      ? `The quantity "${text}" is not a whole number. Pieces are counted whole.`
      : `The quantity "${text}" is not a number. Write digits, such as 12.`
  if (other !== undefined) return `The quantity "${text}" may be ${qty} or ${other}. Write it without point or comma.`
  if (qty < 1) return 'The quantity is 0. Leave the row out, or write how many pieces there are.'
  if (qty > MOST_PIECES) return `The quantity "${text}" is above 1 000 000. Check the column.`
  return { qty, estimate }
}

const YES = /^(y|yes|true|1|x)$/i

function priceFault(fault: AmountFault, text: string, code: string): string {
  const why: Record<AmountFault, string> = {
    none: `"${text}" is no price in ${code}. Write it like 0.12.`,
    'other currency': `"${text}" is no price in ${code}: it names other money. Write the price in ${code}, or import the list into a build in that currency.`,
    'too fine': `"${text}" is no price in ${code}: it has more decimals than ${code} has. Write it like 0.12.`,
    'two readings': `"${text}" may mean two prices, as point and comma group and divide. Write it with two decimals, like 12.00.`,
  }
  return why[fault]
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
