import type { ItemKey } from '../catalogue/item.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { readLength, type LengthFault } from '../units/read-length.ts'
import { FREEDOMS, VISIBILITIES, type DesignLine } from './design.ts'

/** Cells of a line that are edited as text. */
export const LINE_CELLS = ['qty', 'visibility', 'freedom', 'group', 'length', 'locked', 'note'] as const
export type LineCell = (typeof LINE_CELLS)[number]

/** Why a cell's text does not fit. */
export type CellFault = LengthFault | 'word' | 'quantity' | 'too many steps' | 'range'

const FREEDOM_WORDS = { '': undefined, rule: undefined, ...Object.fromEntries(FREEDOMS.map((f) => [f, f])) }

/** A cell's text as it is edited. */
export function cellText(line: DesignLine, cell: LineCell): string {
  if (cell === 'qty') return quantityText(line)
  if (cell === 'visibility') return line.visibility ?? 'seen'
  if (cell === 'freedom') return line.freedom ?? ''
  if (cell === 'length') return line.length === undefined ? '' : `${line.length} mm`
  if (cell === 'locked') return line.locked ? 'locked' : ''
  return line[cell] ?? ''
}

/** "8"; "4 to 9, likely 6" as `4-6-9`; a taper as `12 10 8`. */
export function quantityText({ qty, low, high, steps }: DesignLine): string {
  if (steps) return steps.join(' ')
  return low === undefined && high === undefined ? String(qty) : `${low ?? qty}-${qty}-${high ?? qty}`
}

/**
 * A line after one of its cells was typed or pasted over; `null` when that removes it (a quantity of 0), otherwise what
 * is wrong with the text and what would do. An empty text takes a mark away.
 */
export function editLine(line: DesignLine, cell: LineCell, text: string): Result<DesignLine | null, Fault<CellFault>> {
  const word = text.trim().toLowerCase()
  const without = (key: keyof DesignLine): DesignLine => {
    const { [key]: _, ...rest } = line
    return rest as DesignLine
  }
  switch (cell) {
    case 'qty':
      return editQuantity(line, word)
    case 'visibility': {
      const meant = word === '' ? 'seen' : VISIBILITIES.find((v) => v.startsWith(word))
      if (!meant) return refuse('word', 'seen, hidden or structural; s, h or st will do')
      return ok(meant === 'seen' ? without('visibility') : { ...line, visibility: meant })
    }
    case 'freedom': {
      const meant = Object.keys(FREEDOM_WORDS).find((f) => (word === '' ? f === '' : f.startsWith(word)))
      if (meant === undefined) return refuse('word', 'exact, near, palette or free; empty as the house rules say')
      const freedom = FREEDOMS.find((f) => f === meant)
      return ok(freedom ? { ...line, freedom } : without('freedom'))
    }
    case 'length': {
      if (word === '') return ok(without('length'))
      const read = readLength(word)
      return read.ok ? ok({ ...line, length: read.value }) : read
    }
    case 'locked':
      if (/^(|n|no|-)$/.test(word)) return ok(without('locked'))
      return /^(y|yes|x|l|locked)$/.test(word) ? ok({ ...line, locked: true }) : refuse('word', 'locked, or empty')
    case 'group':
      return ok(word === '' ? without('group') : { ...line, group: text.trim().slice(0, 80) })
    case 'note':
      return ok(word === '' ? without('note') : { ...line, note: text.trim().slice(0, 500) })
  }
}

function editQuantity(line: DesignLine, text: string): Result<DesignLine | null, Fault<CellFault>> {
  const { low: _, high: __, steps: ___, ...bare } = line
  const numbers = text.split(/[\s,;]+|-/).map(Number)
  if (numbers.some((n) => !Number.isInteger(n) || n < 0 || n > 1_000_000))
    return refuse('quantity', 'a whole number; 4-6-9 for least-likely-most; 12 10 8 for a taper; 0 removes the line')
  const [first = 0, second, third] = numbers
  if (numbers.length === 1) return ok(first === 0 ? null : { ...bare, qty: first })
  if (!text.includes('-')) {
    if (numbers.length > 1000) return refuse('too many steps', 'at most 1000 steps')
    return ok({ ...bare, qty: Math.max(1, first), steps: numbers })
  }
  if (second === undefined || third === undefined || numbers.length !== 3)
    return refuse('range', 'write least-likely-most, such as 4-6-9')
  if (first > second || second > third || second < 1)
    return refuse('range', 'least, likely, most: each no smaller than the one before')
  return ok({ ...bare, qty: second, low: first, high: third })
}

/** Lines with more pieces: they join the line of their item that is not told step by step, else they make a line. */
export function withPieces(
  lines: readonly DesignLine[],
  pieces: readonly { readonly item: ItemKey; readonly qty: number }[],
  freshId: () => DesignLine['id'],
): DesignLine[] {
  const next = [...lines]
  for (const { item, qty } of pieces) {
    const at = next.findIndex((l) => l.item === item && !l.steps)
    const held = next[at]
    if (held) next[at] = { ...held, qty: held.qty + qty }
    else next.push({ id: freshId(), item, qty })
  }
  return next
}
