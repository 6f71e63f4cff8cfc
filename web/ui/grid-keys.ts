/** A cell of a table, by its numbers; the headings are the row above the first. */
export type CellAt = { readonly row: number; readonly column: number }

/** Where the headings stand. */
export const HEAD = -1

export type GridSize = {
  readonly rows: number
  readonly columns: number
  /** Rows that a page of the table shows. */
  readonly page: number
}

/** A move of the active cell; `choosing` when the rows on the way are chosen. */
export type CellMove = { readonly to: CellAt; readonly choosing: boolean }

/** A cell that there is, nearest to one that is asked for. */
export const within = ({ row, column }: CellAt, { rows, columns }: Pick<GridSize, 'rows' | 'columns'>): CellAt => ({
  row: Math.max(HEAD, Math.min(rows - 1, row)),
  column: Math.max(0, Math.min(columns - 1, column)),
})

/**
 * Where a key takes the active cell, after the grid pattern of the ARIA Authoring Practices Guide: arrows by one, Home
 * and End to the ends of a row, with Ctrl to those of the table, Page keys by a page; with Shift the rows are chosen.
 * Undefined for keys that do not move it. Choosing stays below the headings.
 */
export function cellMove(
  key: string,
  { shift, ctrl }: { readonly shift: boolean; readonly ctrl: boolean },
  at: CellAt,
  size: GridSize,
): CellMove | undefined {
  const { row, column } = at
  const to = (next: CellAt, choosing = shift): CellMove => ({ to: within(next, size), choosing })
  switch (key) {
    case 'ArrowDown':
      return to({ row: row + 1, column })
    case 'ArrowUp':
      return to({ row: shift ? Math.max(0, row - 1) : row - 1, column })
    case 'ArrowRight':
      return to({ row, column: column + 1 }, false)
    case 'ArrowLeft':
      return to({ row, column: column - 1 }, false)
    case 'Home':
      return to({ row: ctrl ? 0 : row, column: 0 }, shift && ctrl)
    case 'End':
      return to({ row: ctrl ? size.rows - 1 : row, column: size.columns - 1 }, shift && ctrl)
    case 'PageDown':
      return to({ row: row + size.page, column })
    case 'PageUp':
      return to({ row: Math.max(0, row - size.page), column })
    default:
      return undefined
  }
}
