import { readPartName } from '../catalogue/name-grammar.ts'
import { colourKey, searchKey } from '../colours/colour.ts'
import { readQuantity } from '../units/read-quantity.ts'

import { type ColumnMatch, type Field, type ListKind, LIST_FIELDS } from './list-fields.ts'
import { isHeadingOf } from './list-headings.ts'

/** Rows above which headings are looked for. */
const MOST_ABOVE = 30

const isNumber = (cell: string) => /^[~x×]?\s*\d[\d.,\s']*$/i.test(cell.trim())

/**
 * The row of the headings: of the first rows the one in which most cells name a field, the earliest of equals; it has a
 * number in no cell, and stands alone with one name only where numbers stand below it. null where there is none.
 */
export function headingRow(
  rows: readonly (readonly string[])[],
  kind: ListKind,
  learnt: ReadonlyMap<string, Field>,
): number | null {
  const sought = LIST_FIELDS[kind].map((f) => f.field)
  let [best, most] = [-1, 0]
  for (let r = 0; r < Math.min(rows.length, MOST_ABOVE); r++) {
    const row = rows[r] ?? []
    if (row.some(isNumber)) continue
    const heads = row.map(searchKey)
    const named = heads.filter(
      (h) => h !== '' && (learnt.has(h) || sought.some((field) => isHeadingOf(h, field))),
    ).length
    // A title names a field by chance; headings stand over cells of their own.
    const filled = heads.filter((h) => h !== '').length
    if (named > most && (named > 1 || filled > 1 || rows.length === 1)) [best, most] = [r, named]
  }
  if (best >= 0) return best
  // Headings nobody knows still stand over numbers.
  const below = rows.slice(1, 41)
  const over = (rows[0] ?? []).some(
    (cell, c) =>
      cell.trim() !== '' && below.length > 0 && below.filter((r) => isNumber(r[c] ?? '')).length >= below.length * 0.8,
  )
  return over && !(rows[0] ?? []).some(isNumber) ? 0 : null
}

/** Rows that are no items, and why. */
export type LeftOutKind = 'above' | 'comment' | 'heading again' | 'section' | 'total'
export type LeftOut = { readonly row: number; readonly kind: LeftOutKind }

export type Layout = {
  /** The rows of items, by their numbers. */
  readonly items: readonly number[]
  readonly leftOut: readonly LeftOut[]
  /** Of rows below a section's heading what it says ("Drawer A"). */
  readonly sectionOf: ReadonlyMap<number, string>
  /** What sections say that is a colour: the colour of the rows below. */
  readonly colourOf: ReadonlyMap<number, string>
  /** Rows without a colour that have the one above: the list groups by colour. */
  readonly grouped: number
}

/** Sums below or between the rows, in the languages of the headings. */
const TOTAL =
  /^(?:(?:grand|sub|over ?all|zwischen|gesamt|end)[\s-]*)?(?:totals?|sum|summe|ergebnis|somme|suma|somma|totale|totaal|totaux|razem|celkem|soma|totalt|ialt|összesen|yhteensä)\b|^gesamt(?:zahl|menge|anzahl|stück)?\b|^i alt\b|^total g[ée]n[ée]ra/iu

/**
 * Sorts the rows of a list as people keep them: title and comment lines above the headings and between, headings that are
 * repeated page by page, rows that head a section ("Drawer A", a bag, a colour), sums below. What is none of that is an
 * item, also when it cannot be read: a row is left out only for what it says.
 */
export function layOut(
  rows: readonly (readonly string[])[],
  { heading, columns }: Pick<ColumnMatch, 'heading' | 'columns'>,
  isColour: (key: string) => boolean,
): Layout {
  const items: number[] = []
  const leftOut: LeftOut[] = []
  const sectionOf = new Map<number, string>()
  const colourOf = new Map<number, string>()
  const first = heading === null ? 0 : heading + 1
  const heads = heading === null ? [] : (rows[heading] ?? []).map(searchKey)
  /** Whether a row is the headings once more; most rows differ in their first cell. */
  const isHeading = (row: readonly string[]): boolean =>
    heads.some((head) => head !== '') &&
    row.length === heads.length &&
    row.every((cell, c) => searchKey(cell) === heads[c])
  for (let r = 0; r < (heading ?? 0); r++) leftOut.push({ row: r, kind: 'above' })
  const at = (row: readonly string[], field: Field) => (row[columns[field] ?? -1] ?? '').trim()
  let section: string | undefined
  let colour: string | undefined
  for (let r = first; r < rows.length; r++) {
    const row = rows[r] ?? []
    const filled = row.filter((cell) => cell.trim() !== '')
    const only = filled.length === 1 ? (filled[0] ?? '').trim() : undefined
    if (/^(#|\/\/|;)/.test((filled[0] ?? '').trim()) && !isNumber(filled[0]?.slice(1) ?? '')) {
      leftOut.push({ row: r, kind: 'comment' })
      continue
    }
    if (isHeading(row)) {
      leftOut.push({ row: r, kind: 'heading again' })
      continue
    }
    if (isTotal(row, at(row, 'part'))) {
      leftOut.push({ row: r, kind: 'total' })
      continue
    }
    if (only !== undefined && isSection(only, rows, r)) {
      const said = only
        .replace(/\s*:$/, '')
        .replace(/^[[(=*\s-]+|[\])=*\s-]+$/gu, '')
        .trim()
      if (columns.colour === undefined && isColour(colourKey(said))) colour = said
      else section = said
      leftOut.push({ row: r, kind: 'section' })
      continue
    }
    items.push(r)
    if (section !== undefined) sectionOf.set(r, section)
    if (colour !== undefined) colourOf.set(r, colour)
  }
  const grouped = colourAbove(rows, items, columns.colour, colourOf)
  return { items, leftOut, sectionOf, colourOf, grouped }
}

/** A sum: it says so where a part would stand, or in its first cell, and names no part. */
function isTotal(row: readonly string[], part: string): boolean {
  const first = (row.find((cell) => cell.trim() !== '') ?? '').trim()
  const said = [part, first].find((text) => TOTAL.test(text))
  return said !== undefined && !readPartName(said).known
}

/** A single cell between rows that have more: words, no part and no number. */
function isSection(only: string, rows: readonly (readonly string[])[], at: number): boolean {
  if (isNumber(only) || !/\p{L}|\d/u.test(only) || readQuantity(only).ok) return false
  const below = rows.slice(at + 1, at + 4).some((row) => row.filter((cell) => cell.trim() !== '').length > 1)
  if (!below) return false
  const { known, shape } = readPartName(only)
  // "Bag 1" and "Box:" head a section though there are pieces of that name.
  return !known || (shape.family === 'accessory' && /\d|:$/.test(only))
}

/**
 * Gives rows without a colour the one above, where the list groups by colour: there are such rows, and no colour is
 * written twice: each heads its group once. Says how many.
 */
function colourAbove(
  rows: readonly (readonly string[])[],
  items: readonly number[],
  column: number | undefined,
  colourOf: Map<number, string>,
): number {
  if (column === undefined) return 0
  const written = items.map((r) => (rows[r]?.[column] ?? '').trim())
  const blank = written.filter((c) => c === '').length
  if (blank === 0 || blank === written.length || written[0] === '') return 0
  const names = written.filter((c) => c !== '').map(colourKey)
  if (new Set(names).size < names.length) return 0
  let above = ''
  let given = 0
  for (const [i, r] of items.entries()) {
    const own = written[i] ?? ''
    if (own !== '') above = own
    else {
      colourOf.set(r, above)
      given++
    }
  }
  return given
}
