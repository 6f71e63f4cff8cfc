import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import { colourKey } from '../../core/colours/colour.ts'
import { NO_ITEM } from '../../core/design/design.ts'
import { inColour } from '../../core/design/edit-lines.ts'
import { readQuickLine } from '../../core/formats/quick-line.ts'
import { ok, refuse, type Fault, type Result } from '../../core/units/result.ts'
import type { Change } from '../../storage/journal-entry.ts'
import type { RecordsView } from '../store/records.tsx'
import { readLines } from './quick-entry.tsx'

/** An item with what has to be known for it. */
export type PieceRead = { readonly item: ItemKey; readonly changes: readonly Change[] }

type Names = Pick<RecordsView, 'nameItem'>

/** An item as a cell is edited: part, colour, and what is on it after a plus. */
export function pieceText(item: ItemKey, { nameItem }: Names): string {
  if (item === NO_ITEM) return ''
  const { part, colour } = nameItem(item)
  const { decoration } = splitItemKey(item)
  return `${part.name}, ${colour.name}${decoration === '' ? '' : ` + ${decoration}`}`
}

/**
 * What was typed over an item: a part and a colour, the colour alone (the part stays), or a part alone (the colour
 * stays). Counts have a cell of their own.
 */
export function readPiece(text: string, item: ItemKey, records: RecordsView): Result<PieceRead, Fault<'piece'>> {
  const colour = records.colourByName.get(colourKey(text))
  if (colour && item !== NO_ITEM) return ok({ item: inColour(item, colour.id), changes: [] })
  const typed = readQuickLine(text, records.colourByName)
  const lacksColour = !typed.ok && typed.error.code === 'no colour' && item !== NO_ITEM
  const { lines, problems, changes } = readLines(
    [lacksColour ? `${text.trim()}, ${records.nameItem(item).colour.name}` : text],
    records,
  )
  const [line] = lines
  if (!line) return refuse('piece', problems[0] ?? 'Write a part and a colour.')
  if (line.qty !== 1) return refuse('piece', 'A part and a colour; how many is said in another cell.')
  return ok({ item: line.item, changes })
}

/** A part by its name, known or new; a colour in it is refused. */
export function readPart(text: string, records: RecordsView): Result<PieceRead, Fault<'piece'>> {
  const [any] = records.allColours
  if (text.trim() === '' || !any) return refuse('piece', 'Write the name of a part.')
  const typed = readQuickLine(text, records.colourByName)
  if (typed.ok) return refuse('piece', 'The name of a part alone: its colours stay.')
  const { lines, problems, changes } = readLines([`${text.trim()}, ${any.name}`], records)
  const [line] = lines
  return line && line.qty === 1
    ? ok({ item: line.item, changes })
    : refuse('piece', problems[0] ?? 'The name of a part alone.')
}
