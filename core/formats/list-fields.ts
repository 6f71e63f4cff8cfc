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
  /** Part and colour in one cell; count, part and colour in one. */
  | 'piece'
  | 'line'

const CODES: Field[] = ['decoration', 'partCode', 'colourCode', 'piece']

/** The fields of each kind of list; the required ones first. A foreign code can stand for a part's or colour's name. */
export const LIST_FIELDS: Record<ListKind, readonly { readonly field: Field; readonly required: boolean }[]> = {
  donor: fields(['part', 'colour', 'qty'], ['stage', 'spare', 'figure', ...CODES, 'line']),
  shelf: fields(['part', 'colour', 'qty'], ['place', 'condition', 'length', ...CODES, 'line']),
  design: fields(['part', 'colour', 'qty'], ['module', 'repeats', 'visibility', 'note', ...CODES, 'line']),
  offers: fields(['part', 'colour', 'shop', 'price', 'stock'], ['pack', 'condition', 'thirdParty', ...CODES]),
}

/** The fields that can stand for a required one. */
export const STAND_FOR: Partial<Record<Field, readonly Field[]>> = {
  part: ['partCode', 'piece', 'line'],
  colour: ['colourCode', 'piece', 'line'],
  qty: ['line'],
}

export function fields(required: Field[], optional: Field[]) {
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
  piece: 'Part and colour together',
  line: 'Count, part and colour together',
}

export type ColumnMatch = {
  /** The row of the headings; null where the list has none. */
  readonly heading: number | null
  /** Column index per field; absent when none was found. */
  readonly columns: Partial<Record<Field, number>>
  /** 0 to 1 per found field: 1 for a known heading, less for a guess from contents. */
  readonly confidence: Partial<Record<Field, number>>
}
