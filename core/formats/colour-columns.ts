import { colourKey } from '../colours/colour.ts'
import { isColourWord } from '../colours/name-guess.ts'
import { isPlainCount, readQuantity } from '../units/read-quantity.ts'
import type { ListTable } from './delimited.ts'

const isEmpty = (cell: string) => /^[\s–—-]*$/.test(cell) || /^0+$/.test(cell.trim())

/** Whether a heading is a colour's name: one that is known, or words of colours alone. */
const isColourName = (heading: string, isColour: (key: string) => boolean): boolean => {
  const name = heading.trim()
  return name !== '' && (isColour(colourKey(name)) || name.split(/\s+/).every(isColourWord))
}

/**
 * The columns of a table whose headings are colours, over counts: a list that has its colours across. None where fewer
 * than two are.
 */
export function colourColumns(
  rows: readonly (readonly string[])[],
  heading: number | null,
  isColour: (key: string) => boolean,
): readonly number[] {
  if (heading === null) return []
  const below = rows.slice(heading + 1, heading + 60)
  const found = [...(rows[heading] ?? []).entries()].flatMap(([column, name]) => {
    if (!isColourName(name, isColour)) return []
    const cells = below.map((row) => row[column] ?? '').filter((cell) => !isEmpty(cell))
    const counts = cells.filter((cell) => isPlainCount(cell) || readQuantity(cell).ok)
    return cells.length > 0 && counts.length >= cells.length * 0.8 ? [column] : []
  })
  return found.length >= 2 ? found : []
}

/** The headings that a table gets for what stood across. */
export const ACROSS = { colour: 'Colour', qty: 'Quantity' } as const

/**
 * A table with its colours across as a list: a row for every count, with the colour and the count in two columns at the
 * end. Rows without any count stay, as they may head a section; so do rows above the headings.
 */
export function listedByColour({ rows, lineOf }: ListTable, heading: number, across: readonly number[]): ListTable {
  const columns = new Set(across)
  const others = (row: readonly string[]) => row.filter((_, column) => !columns.has(column))
  const width = others(rows[heading] ?? []).length
  const padded = (row: readonly string[]) => [
    ...others(row),
    ...Array<string>(Math.max(0, width - others(row).length)).fill(''),
  ]
  const made: string[][] = []
  const lines: number[] = []
  for (const [r, row] of rows.entries()) {
    const line = lineOf[r] ?? 0
    const counts = r > heading ? across.filter((column) => !isEmpty(row[column] ?? '')) : []
    if (r === heading) made.push([...padded(row), ACROSS.colour, ACROSS.qty])
    else if (counts.length === 0) {
      // Without a count there is no piece.
      if (r > heading && others(row).filter((cell) => cell.trim() !== '').length > 1) continue
      made.push([...others(row)])
    }
    if (r === heading || counts.length === 0) {
      lines.push(line)
      continue
    }
    for (const column of counts) {
      made.push([...padded(row), rows[heading]?.[column] ?? '', row[column] ?? ''])
      lines.push(line)
    }
  }
  return { rows: made, lineOf: lines }
}
