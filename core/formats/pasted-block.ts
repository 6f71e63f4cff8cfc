import type { Colour } from '../colours/colour.ts'
import type { ColourId } from '../units/ids.ts'
import { readDelimited } from './delimited.ts'
import { matchColumns } from './list-columns.ts'
import { readList } from './list-rows.ts'

const NO_CODES: ReadonlyMap<string, string> = new Map<string, string>()

/**
 * A pasted block as the lines one would type, wherever it is pasted: cells of a spreadsheet in any order, under headings or
 * without, are read as an imported list is (titles, totals and empty rows left out), and written as "12 plate 2x4, Soot";
 * plain lines stay as they are. Rows that a list would refuse stay as their cells, so that what is wrong with them is said.
 */
export function blockLines(text: string, colours: ReadonlyMap<string, Colour>): string[] {
  const plain = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line !== '')
  if (!text.includes('\t')) return plain
  const list = readDelimited(text, '\t')
  if (!list.ok) return spaced(plain)
  const match = matchColumns(list.value.rows, 'shelf', colours)
  const knownColours = new Map<string, ColourId>([...colours].map(([key, colour]) => [key, colour.id]))
  const reading = readList(list.value, 'shelf', match, { currency: 'EUR', knownColours, knownCodes: NO_CODES })
  if (reading.accepted.length === 0) return spaced(plain)
  const typed = reading.accepted.map(({ line, qty, part, colourName, decoration }) => ({
    line,
    text: `${qty} ${part}, ${colourName}${decoration === '' ? '' : ` + ${decoration}`}`,
  }))
  const refused = reading.refused.map(({ line, cells }) => ({ line, text: cells.filter((c) => c !== '').join(' ') }))
  return [...typed, ...refused].sort((p, q) => p.line - q.line).map((l) => l.text)
}

const spaced = (lines: readonly string[]): string[] => lines.map((line) => line.replace(/\t+/g, ' '))
