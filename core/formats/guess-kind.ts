import { searchKey } from '../colours/colour.ts'
import type { Field, ListKind } from './list-fields.ts'
import { headingFits, isHeadingOf } from './list-headings.ts'

/** Fields that only lists of one kind have, or nearly so. */
const TELLING: Record<ListKind, readonly Field[]> = {
  offers: ['shop', 'price', 'pack'],
  donor: ['stage', 'spare', 'figure'],
  shelf: ['place', 'condition', 'length'],
  design: ['module', 'repeats', 'visibility'],
}
const KINDS = Object.keys(TELLING) as ListKind[]

/** Rows among which headings are looked for. */
const MOST_ROWS = 30

/**
 * The kind of list that rows are by their headings: the kind whose own fields most of the cells of one row name, where
 * that row names a part, a piece or a colour as well. `undefined` where headings tell nothing or two kinds alike.
 */
export function guessKind(rows: readonly (readonly string[])[]): ListKind | undefined {
  let best: { readonly kind: ListKind | undefined; readonly score: number } = { kind: undefined, score: 0 }
  for (const row of rows.slice(0, MOST_ROWS)) {
    const cells = row.slice(0, 100).map(searchKey)
    const names = (field: Field) => cells.some((cell) => cell !== '' && isHeadingOf(cell, field))
    if (!(['part', 'piece', 'colour', 'line', 'partCode'] as const).some(names)) continue
    const scores = KINDS.map((kind) => ({
      kind,
      score: TELLING[kind].reduce(
        (n, field) => n + Math.max(0, ...cells.map((cell) => (cell === '' ? 0 : headingFits(cell, field)))),
        0,
      ),
    })).sort((p, q) => q.score - p.score)
    const [first, second] = scores
    if (!first || first.score <= best.score) continue
    best = { kind: first.score > (second?.score ?? 0) ? first.kind : undefined, score: first.score }
  }
  return best.kind
}
