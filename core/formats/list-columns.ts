import * as v from 'valibot'
import { type Colour, colourKey, searchKey } from '../colours/colour.ts'
import { readPartName } from '../catalogue/name-grammar.ts'
import { headingFits } from './list-headings.ts'
import { headingRow } from './list-layout.ts'
import { readPieceText, takeCount } from './piece-text.ts'
import { type ListKind, type Field, LIST_FIELDS, type ColumnMatch } from './list-fields.ts'

const SAMPLE = 40

/** What headings meant in earlier lists, by `searchKey`: what the user chose for them. */
export type LearntHeadings = ReadonlyMap<string, Field>

/**
 * Matches columns to fields on sight: by heading (in any order and spelling known, those of earlier lists first), then by
 * what the cells hold. The headings are found by looking (`headingRow`) unless `heading` says where they are.
 */
export function matchColumns(
  rows: readonly (readonly string[])[],
  kind: ListKind,
  colours: ReadonlyMap<string, Colour>,
  {
    learnt = NOTHING_LEARNT,
    heading = headingRow(rows, kind, learnt),
  }: {
    readonly learnt?: LearntHeadings
    readonly heading?: number | null
  } = {},
): ColumnMatch {
  const head = heading === null ? [] : (rows[heading] ?? []).map(searchKey)
  const sought = LIST_FIELDS[kind].map((f) => f.field)
  const columns: Partial<Record<Field, number>> = {}
  const confidence: Partial<Record<Field, number>> = {}
  const taken = new Set<number>()
  const assign = (field: Field, column: number, sure: number) => {
    columns[field] = column
    confidence[field] = sure
    taken.add(column)
  }
  for (const [column, said] of head.entries()) {
    const field = learnt.get(said)
    if (field && sought.includes(field) && columns[field] === undefined) assign(field, column, 1)
  }
  for (const fit of [1, 0.8] as const)
    for (const field of sought) {
      if (columns[field] !== undefined) continue
      const at = head.findIndex((h, i) => !taken.has(i) && h !== '' && headingFits(h, field) >= fit)
      if (at >= 0) assign(field, at, fit)
    }

  const first = heading === null ? 0 : heading + 1
  const sample = rows.slice(first, first + SAMPLE)
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
  togetherInOne({ columns, confidence }, kind, sample, colours)
  return { heading, columns, confidence }
}

const NOTHING_LEARNT: ReadonlyMap<string, Field> = new Map<string, Field>()

/** Where no column is of colours, and cells of parts hold them too: part and colour, or a whole line, in one cell. */
function togetherInOne(
  { columns, confidence }: { columns: Partial<Record<Field, number>>; confidence: Partial<Record<Field, number>> },
  kind: ListKind,
  sample: readonly (readonly string[])[],
  colours: ReadonlyMap<string, Colour>,
): void {
  const { part: column } = columns
  if (column === undefined || columns.colour !== undefined || columns.colourCode !== undefined) return
  const cells = sample.map((r) => r[column]?.trim() ?? '').filter((c) => c !== '')
  const whole = kind !== 'offers' && columns.qty === undefined
  const holds = cells.filter((cell) => readPieceText(takeCount(cell, colours).rest, colours).colourName !== '').length
  if (cells.length === 0 || holds < cells.length * 0.6) return
  delete columns.part
  delete confidence.part
  const field = whole ? 'line' : 'piece'
  columns[field] = column
  confidence[field] = Math.round((holds / cells.length) * 70) / 100
}

/** A foreign colour code as an alias of a colour, kept in `colourKey` form. */
export const colourCodeAlias = (heading: string, code: string): string =>
  colourKey(`${heading || 'colour code'} ${code}`)

/** What a source's lists have in common: the headings, or the width of a list without any. Names a remembered match. */
export const shapeOf = (rows: readonly (readonly string[])[], kind: ListKind, heading: number | null): string =>
  `${kind}:${heading !== null ? (rows[heading] ?? []).map((cell) => searchKey(cell.slice(0, 100))).join('|') : `${rows[0]?.length ?? 0} columns`}`

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
