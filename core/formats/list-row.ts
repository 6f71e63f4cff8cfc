import { readLength } from '../units/read-length.ts'
import { readQuantity, type QuantityFault } from '../units/read-quantity.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { codeAlias } from '../catalogue/part.ts'
import type { Visibility } from '../design/design.ts'
import type { StatedCondition } from '../units/condition.ts'
import type { DecimalStyle } from '../units/decimal-style.ts'
import { decimal, readAmount, type AmountFault } from '../units/money.ts'
import { MOST_PRICE } from '../offers/offer.ts'
import { nameKey, type ColourId } from '../units/ids.ts'
import { readCondition } from './condition-words.ts'
import { asWritten } from './delimited.ts'
import type { KnownCodes } from './list-codes.ts'
import { colourCodeAlias } from './list-columns.ts'
import { FIELD_LABELS, type ColumnMatch, type Field, type ListKind } from './list-fields.ts'
import { readPieceText, takeCount } from './piece-text.ts'

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
  readonly condition: StatedCondition
  readonly module: string
  readonly repeats: number
  readonly note: string
  /** What the quantity's cell says beside the quantity; part of the note. */
  readonly qtyNote: string
  readonly shop: string
  /** Minor units per piece, of `currency` where the shop trades in other money than the list is read in. */
  readonly price: number
  readonly currency?: string
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

export const refuseRow = (field: Field | undefined, code: RowFaultCode, reason: string): Result<never, RowFault> =>
  fail({ field, code, reason })

export type ListContext = KnownCodes & {
  readonly currency: string
  /** Colour by `colourKey`. */
  readonly knownColours: ReadonlyMap<string, ColourId>
  /** What the user said that words for conditions mean, by `searchKey`. */
  readonly conditionWords?: ReadonlyMap<string, StatedCondition>
  /** The currency of known shops that trade in another, by `nameKey`: prices of theirs are in that. */
  readonly shopMoney?: ReadonlyMap<string, string>
}

/** What is known of a row beside its cells. */
export type Around = {
  readonly line: number
  /** What the heading of its section says ("Drawer A"), and the colour its group has. */
  readonly section: string | undefined
  readonly colour: string | undefined
}

/** A field that a list has a column for, and the characters it may have at most. */
export type ReadField = { readonly field: Field; readonly column: number; readonly most: number }

/** The fields that a list has columns for. */
export const fieldsRead = ({ columns }: Pick<ColumnMatch, 'columns'>): readonly ReadField[] =>
  (Object.entries(LONGEST) as [Field, number][]).flatMap(([field, most]): ReadField[] => {
    const column = columns[field]
    return column === undefined ? [] : [{ field, column, most }]
  })

/** A text trimmed, with one space wherever it has any. */
function spacedOnce(text: string): string {
  const trimmed = text.trim()
  return /\s\s|[^\S ]/.test(trimmed) ? trimmed.replace(/\s+/g, ' ') : trimmed
}

/** What all rows of a list are read by. */
export type RowReader = {
  readonly kind: ListKind
  readonly fields: readonly ReadField[]
  readonly context: ListContext
  readonly headings: { readonly partCode: string; readonly colourCode: string; readonly visibility: string }
  readonly styles: Partial<Record<Field, DecimalStyle>>
  /** `colourKey`, with what it gave kept. */
  readonly keyOf: (name: string) => string
}

/** The field that a section's heading fills where a row says nothing of it. */
export const SECTION_FIELD: Record<ListKind, Field> = {
  donor: 'stage',
  shelf: 'place',
  design: 'module',
  offers: 'shop',
}

const NO_WORDS: ReadonlyMap<string, StatedCondition> = new Map<string, StatedCondition>()

/** Characters of each field at most; a longer text is refused, as one cut short might be another's. */
const LONGEST: Readonly<Record<Field, number>> = {
  part: 200,
  partCode: 60,
  colour: 80,
  colourCode: 60,
  decoration: 80,
  stage: 100,
  figure: 100,
  place: 100,
  module: 100,
  shop: 100,
  note: 500,
  qty: 60,
  stock: 60,
  price: 60,
  pack: 60,
  repeats: 60,
  condition: 60,
  length: 60,
  visibility: 60,
  spare: 60,
  thirdParty: 60,
  piece: 280,
  line: 340,
}

/** What a row says field by field, or which of its texts is too long. */
function textsOf(
  cells: readonly string[],
  section: string | undefined,
  kind: ListKind,
  fields: readonly ReadField[],
): Result<Readonly<Partial<Record<Field, string>>>, RowFault> {
  const texts: Partial<Record<Field, string>> = {}
  for (const { field, column, most } of fields) {
    const text = spacedOnce(asWritten(cells[column] ?? ''))
    if (text.length > most)
      return refuseRow(
        field,
        'too long',
        `The ${FIELD_LABELS[field].toLowerCase()} is longer than ${most} characters. Shorten it.`,
      )
    texts[field] = text
  }
  const headed = SECTION_FIELD[kind]
  if (section !== undefined && (texts[headed] ?? '') === '') texts[headed] = section.slice(0, 100)
  return ok(texts)
}

/** Reads one row by the matched columns, or says what to mend. */
export function readRow(
  cells: readonly string[],
  { line, section, colour }: Around,
  { kind, fields, context, headings, styles, keyOf }: RowReader,
): Result<ListRow, RowFault> {
  const said = textsOf(cells, section, kind, fields)
  if (!said.ok) return said
  const cell = (field: Field): string => said.value[field] ?? ''
  const called = calledIn(cell, colour, context)
  const partCode = cell('partCode') === '' ? '' : codeAlias(headings.partCode, cell('partCode'))
  const part = called.part || (context.knownCodes.get(partCode) ?? '')
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
    called.colour === '' || (!context.knownColours.has(keyOf(called.colour)) && context.knownColours.has(colourCode))
      ? colourCode
      : called.colour
  if (keyOf(colourName) === '') return refuseRow('colour', 'nothing there', 'There is no colour. Write its name.')
  const amount: Field = kind === 'offers' ? 'stock' : called.count === undefined ? 'qty' : 'line'
  // A line without a count is one piece.
  const quantity = readQuantity(called.count === undefined ? cell(amount) : called.count || '1', styles[amount])
  if (!quantity.ok) return refuseRow(amount, `quantity: ${quantity.error.code}`, quantity.error.message)
  const condition = readCondition(cell('condition'), context.conditionWords ?? NO_WORDS)
  if (condition === undefined)
    return refuseRow(
      'condition',
      'condition',
      `"${cell('condition')}" is no condition that is known. Say above what it means, or write new, used or worn.`,
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
  const terms = kind === 'offers' ? readTerms(cell, context, styles) : NO_TERMS
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
    ...marksOf(cell),
    qty: quantity.value.qty,
    estimate: quantity.value.estimate,
    stage: cell('stage'),
    figure: cell('figure'),
    place: cell('place'),
    condition,
    module: cell('module'),
    repeats,
    note: [cell('note'), quantity.value.note ?? '']
      .filter((n) => n !== '')
      .join('; ')
      .slice(0, 500),
    qtyNote: quantity.value.note ?? '',
    shop: cell('shop'),
    ...terms.value,
  })
}

type Styles = Partial<Record<Field, DecimalStyle>>

type Terms = Pick<ListRow, 'price' | 'pack' | 'currency'>
const NO_TERMS = ok<Terms>({ price: 0, pack: 1 })

/** Price and pack of an offer, and that it names a shop; else why not. */
function readTerms(
  cell: (field: Field) => string,
  { currency: ours, shopMoney }: ListContext,
  styles: Styles,
): Result<Terms, RowFault> {
  const theirs = shopMoney?.get(nameKey(cell('shop')))
  const currency = theirs ?? ours
  const money = theirs === undefined ? {} : { currency: theirs }
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
  if (cell('pack') === '') return ok({ price, pack: 1, ...money })
  const pack = readQuantity(cell('pack'), styles.pack)
  return !pack.ok || pack.value.qty > 10_000
    ? refuseRow('pack', 'quantity: no number', `"${cell('pack')}" is no pack size from 1 to 10000.`)
    : ok({ price, pack: pack.value.qty, ...money })
}

const YES = /^(y|yes|true|1|x)$/i

function priceFault(fault: AmountFault, text: string, code: string): Result<never, RowFault> {
  const why: Record<AmountFault, string> = {
    none: `"${text}" is no price in ${code}. Write it like 0.12.`,
    'other currency': `"${text}" is no price in ${code}: it names other money. Write the price in ${code}, or say on Shops what money the shop trades in.`,
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

/** What is said of a row by yes or no. */
const marksOf = (cell: (field: Field) => string): Pick<ListRow, 'spare' | 'thirdParty'> => ({
  spare: YES.test(cell('spare')) || /^(spare|extra)$/i.test(cell('spare')),
  thirdParty: YES.test(cell('thirdParty')) || /^third/i.test(cell('thirdParty')),
})

/** What a row calls its part and colour, and the count where that stands in the same cell. */
function calledIn(
  cell: (field: Field) => string,
  groupColour: string | undefined,
  { knownColours }: Pick<ListContext, 'knownColours'>,
): { readonly part: string; readonly colour: string; readonly count: string | undefined } {
  const line = cell('line')
  const taken = line === '' ? undefined : takeCount(line, knownColours)
  const piece = taken?.rest ?? cell('piece')
  const written = piece === '' ? undefined : readPieceText(piece, knownColours)
  return {
    part: cell('part') || (written?.part ?? ''),
    colour: cell('colour') || (written?.colourName ?? '') || (groupColour ?? ''),
    count: taken?.count,
  }
}
