import * as v from 'valibot'
import type { Colour } from '../colours/colour.ts'
import { colourKey, searchKey } from '../colours/colour.ts'
import { readPartName } from '../catalogue/name-grammar.ts'

export const LIST_KINDS = ['donor', 'shelf', 'design', 'offers'] as const
export type ListKind = (typeof LIST_KINDS)[number]

export type Field =
  | 'part'
  | 'partCode'
  | 'colour'
  | 'colourCode'
  | 'decoration'
  | 'qty'
  | 'stage'
  | 'spare'
  | 'figure'
  | 'place'
  | 'condition'
  | 'module'
  | 'repeats'
  | 'note'
  | 'shop'
  | 'price'
  | 'stock'
  | 'pack'
  | 'length'
  | 'visibility'
  | 'thirdParty'

const CODES: Field[] = ['decoration', 'partCode', 'colourCode']

/** The fields of each kind of list; the required ones first. A foreign code can stand for a part's or colour's name. */
export const LIST_FIELDS: Record<ListKind, readonly { readonly field: Field; readonly required: boolean }[]> = {
  donor: fields(['part', 'colour', 'qty'], ['stage', 'spare', 'figure', ...CODES]),
  shelf: fields(['part', 'colour', 'qty'], ['place', 'condition', 'length', ...CODES]),
  design: fields(['part', 'colour', 'qty'], ['module', 'repeats', 'visibility', 'note', ...CODES]),
  offers: fields(['part', 'colour', 'shop', 'price', 'stock'], ['pack', 'condition', 'thirdParty', ...CODES]),
}

/** The field that can stand for a required one. */
export const STAND_FOR: Partial<Record<Field, Field>> = { part: 'partCode', colour: 'colourCode' }

function fields(required: Field[], optional: Field[]) {
  return [
    ...required.map((field) => ({ field, required: true })),
    ...optional.map((field) => ({ field, required: false })),
  ]
}

export const FIELD_LABELS: Record<Field, string> = {
  part: 'Part',
  colour: 'Colour',
  qty: 'Quantity',
  stage: 'Stage',
  spare: 'Spare',
  figure: 'Figure',
  place: 'Place',
  condition: 'Condition',
  module: 'Module',
  repeats: 'Repeats',
  note: 'Note',
  shop: 'Shop',
  price: 'Price each',
  stock: 'Stock',
  pack: 'Pack of',
  partCode: 'Part code',
  colourCode: 'Colour code',
  decoration: 'Decoration',
  length: 'Length, mm',
  visibility: 'Seen or hidden',
  thirdParty: 'Third party',
}

const HEADINGS: Record<Field, readonly string[]> = {
  part: [
    'part',
    'part name',
    'name',
    'piece',
    'element',
    'description',
    'mould',
    'mold',
    'shape',
    'item',
    'teil',
    'pièce',
  ],
  colour: ['colour', 'color', 'colour name', 'color name', 'farbe', 'couleur'],
  qty: [
    'quantity',
    'qty',
    'count',
    'number',
    'amount',
    'pieces',
    'pcs',
    'how many',
    'needed',
    'have',
    'menge',
    'anzahl',
  ],
  stage: ['stage', 'bag', 'step', 'section', 'phase'],
  spare: ['spare', 'extra', 'is spare', 'spares'],
  figure: ['figure', 'character', 'person'],
  place: ['place', 'bin', 'box', 'drawer', 'location', 'where', 'storage', 'container', 'fach', 'ort', 'lieu'],
  condition: ['condition', 'state', 'quality', 'used'],
  module: ['module', 'sub assembly', 'subassembly', 'assembly', 'group', 'submodel', 'area'],
  repeats: ['repeats', 'repeat', 'times', 'multiplier'],
  note: ['note', 'notes', 'comment', 'remark', 'remarks'],
  shop: ['shop', 'seller', 'store', 'vendor', 'supplier'],
  price: ['price', 'price each', 'unit price', 'cost', 'each', 'preis'],
  stock: ['stock', 'available', 'in stock', 'quantity', 'qty', 'count'],
  pack: ['pack', 'pack of', 'pack size', 'lot', 'lot size', 'multiple', 'minimum'],
  partCode: [
    'part code',
    'part number',
    'part no',
    'part id',
    'code',
    'article',
    'article number',
    'reference',
    'ref',
    'teilenummer',
  ],
  colourCode: ['colour code', 'color code', 'colour number', 'colour no', 'colour id', 'color id', 'farbnummer'],
  decoration: ['decoration', 'print', 'sticker', 'pattern', 'printed'],
  length: ['length', 'length mm', 'mm'],
  visibility: ['visibility', 'visible', 'seen', 'hidden', 'seen or hidden'],
  thirdParty: ['third party', 'third party part', 'copied', 'not original'],
}

export type ColumnMatch = {
  readonly hasHeading: boolean
  /** Column index per field; absent when none was found. */
  readonly columns: Partial<Record<Field, number>>
  /** 0 to 1 per found field: 1 for a known heading, less for a guess from contents. */
  readonly confidence: Partial<Record<Field, number>>
}

const SAMPLE = 40

/**
 * Matches columns to fields on sight: by heading (in any order and spelling known), then by what the cells hold. The
 * first row is a heading when none of its cells is a number and it names at least one field, or stands over a column of
 * numbers.
 */
export function matchColumns(
  rows: readonly (readonly string[])[],
  kind: ListKind,
  colours: ReadonlyMap<string, Colour>,
): ColumnMatch {
  const head = (rows[0] ?? []).map(searchKey)
  const sought = LIST_FIELDS[kind].map((f) => f.field)
  const columns: Partial<Record<Field, number>> = {}
  const confidence: Partial<Record<Field, number>> = {}
  const taken = new Set<number>()
  const assign = (field: Field, column: number, sure: number) => {
    columns[field] = column
    confidence[field] = sure
    taken.add(column)
  }

  const isNumber = (cell: string) => /^[~x×]?\s*\d[\d.,]*$/i.test(cell.trim())
  const below = rows.slice(1, SAMPLE + 1)
  const overNumbers = head.some(
    (h, i) => h !== '' && below.length > 0 && below.filter((r) => isNumber(r[i] ?? '')).length >= below.length * 0.8,
  )
  const hasHeading =
    !(rows[0] ?? []).some(isNumber) &&
    (overNumbers || head.some((h) => sought.some((field) => HEADINGS[field].includes(h))))
  if (hasHeading)
    for (const exact of [true, false])
      for (const field of sought) {
        if (columns[field] !== undefined) continue
        const at = head.findIndex(
          (h, i) =>
            !taken.has(i) &&
            h !== '' &&
            HEADINGS[field].some((name) => (exact ? h === name : ` ${h} `.includes(` ${name} `) && name.length > 2)),
        )
        if (at >= 0) assign(field, at, exact ? 1 : 0.8)
      }

  const sample = rows.slice(hasHeading ? 1 : 0, SAMPLE + 1)
  const width = Math.max(0, ...sample.map((r) => r.length))
  const share = (column: number, test: (cell: string) => boolean): number => {
    const cells = sample.map((r) => r[column]?.trim() ?? '').filter((c) => c !== '')
    return cells.length === 0 ? 0 : cells.filter(test).length / cells.length
  }
  const guess = (field: Field, test: (cell: string) => boolean) => {
    if (!sought.includes(field) || columns[field] !== undefined) return
    let best = -1
    let bestShare = 0.5
    for (let c = 0; c < width; c++) {
      if (taken.has(c)) continue
      const s = share(c, test)
      if (s > bestShare) [best, bestShare] = [c, s]
    }
    if (best >= 0) assign(field, best, Math.round(bestShare * 70) / 100)
  }
  guess('colour', (cell) => colours.has(colourKey(cell)))
  guess('part', (cell) => /\p{L}/u.test(cell) && readPartName(cell).known)
  guess('price', (cell) => /\d[.,]\d{2}\b/.test(cell))
  guess(kind === 'offers' ? 'stock' : 'qty', (cell) => /^[~x×]?\s*\d[\d,. ]*\s*[x×]?$/i.test(cell))
  return { hasHeading, columns, confidence }
}

/** A foreign colour code as an alias of a colour, kept in `colourKey` form. */
export const colourCodeAlias = (heading: string, code: string): string =>
  colourKey(`${heading || 'colour code'} ${code}`)

/** What a source's lists have in common: the headings, or the width of a list without any. Names a remembered match. */
export const shapeOf = (rows: readonly (readonly string[])[], kind: ListKind, hasHeading: boolean): string =>
  `${kind}:${hasHeading ? (rows[0] ?? []).map((cell) => searchKey(cell.slice(0, 100))).join('|') : `${rows[0]?.length ?? 0} columns`}`

const ColumnsSchema = v.record(v.string(), v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(200)))

/** A remembered match read back from its JSON; `undefined` when it does not fit the kind any more. */
export function readRemembered(json: string, kind: ListKind): Partial<Record<Field, number>> | undefined {
  let value: unknown
  try {
    value = JSON.parse(json)
  } catch {
    return undefined
  }
  const parsed = v.safeParse(ColumnsSchema, value)
  const fields = new Set<string>(LIST_FIELDS[kind].map((f) => f.field))
  return parsed.success && Object.keys(parsed.output).every((f) => fields.has(f)) ? parsed.output : undefined
}
