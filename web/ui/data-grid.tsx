import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import {
  memo,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
  type ReactNode,
} from 'react'

export type Column<Row> = {
  readonly id: string
  readonly header: string
  /** A track of CSS grid, such as `minmax(0, 2fr)` or `80px`. */
  readonly width: string
  readonly align?: 'right'
  /** A colour shown beside the heading. */
  readonly mark?: string
  readonly cell: (row: Row) => ReactNode
  /** Sorting is offered when given. */
  readonly sort?: (row: Row) => string | number
  /** Inline editing: the text to edit and what to do with it; returns what is wrong, if anything. */
  readonly edit?: {
    readonly text: (row: Row) => string
    readonly commit: (row: Row, text: string) => string | undefined
  }
}

export type PastedCell<Row> = { readonly row: Row; readonly column: string; readonly text: string }

/**
 * A virtualised table with one active cell: arrows, Home, End and Page keys move it, Enter opens the row or edits the
 * cell, typing begins an edit. Column headings sort. Copying takes the active row's cells as a spreadsheet reads them; a
 * pasted block overwrites cells where the table takes blocks.
 */
function Grid<Row>({
  label,
  columns,
  rows,
  rowKey,
  selected,
  onSelect,
  onOpen,
  onPasteBlock,
  rowHeight = 46,
  empty,
}: {
  label: string
  columns: readonly Column<Row>[]
  rows: readonly Row[]
  rowKey: (row: Row) => string
  selected?: string | undefined
  onSelect?: (row: Row) => void
  /** Enter on a cell that is not edited; `onSelect` when left out. */
  onOpen?: (row: Row) => void
  /** A block pasted from a spreadsheet onto rows and the columns from the active one on; returns what is wrong with it. */
  onPasteBlock?: (cells: readonly PastedCell<Row>[], beyond: readonly (readonly string[])[]) => string | undefined
  rowHeight?: number
  empty: ReactNode
}) {
  const id = useId()
  const scroller = useRef<HTMLDivElement>(null)
  const [sorting, setSorting] = useState<{ id: string; down: boolean } | null>(null)
  const [active, setActive] = useState({ row: 0, column: 0 })
  const [editing, setEditing] = useState<{ text: string; problem?: string | undefined } | null>(null)
  const sorted = useMemo(() => {
    const sort = sorting && columns.find((c) => c.id === sorting.id)?.sort
    if (!sort) return rows
    const keyed = rows.map((row) => ({ row, key: sort(row) }))
    const sign = sorting.down ? -1 : 1
    keyed.sort(
      (p, q) =>
        sign *
        (typeof p.key === 'number' && typeof q.key === 'number'
          ? p.key - q.key
          : String(p.key).localeCompare(String(q.key), 'en', { numeric: true })),
    )
    return keyed.map((k) => k.row)
  }, [rows, columns, sorting])
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 3,
  })
  const template = columns.map((c) => c.width).join(' ')
  const at = {
    row: Math.min(active.row, Math.max(0, sorted.length - 1)),
    column: Math.min(active.column, columns.length - 1),
  }
  const cellId = (row: number, column: number) => `${id}-${row}-${column}`
  const activeRow = sorted[at.row]
  const activeEdit = columns[at.column]?.edit

  const moveTo = (row: number, column: number) => {
    const next = {
      row: Math.max(0, Math.min(sorted.length - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    }
    setActive(next)
    virtual.scrollToIndex(next.row)
    const target = sorted[next.row]
    if (target !== undefined && onSelect) onSelect(target)
  }
  const page = () => Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / rowHeight) - 2)
  const finish = (text: string | undefined, then?: () => void) => {
    const problem = text !== undefined && activeRow !== undefined ? activeEdit?.commit(activeRow, text) : undefined
    if (problem !== undefined) {
      setEditing({ text: text ?? '', problem })
      return
    }
    setEditing(null)
    scroller.current?.focus()
    then?.()
  }
  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.target !== scroller.current) return
    const keys: Record<string, () => void> = {
      ArrowDown: () => {
        moveTo(at.row + 1, at.column)
      },
      ArrowUp: () => {
        moveTo(at.row - 1, at.column)
      },
      ArrowRight: () => {
        moveTo(at.row, at.column + 1)
      },
      ArrowLeft: () => {
        moveTo(at.row, at.column - 1)
      },
      Home: () => {
        moveTo(event.ctrlKey ? 0 : at.row, 0)
      },
      End: () => {
        moveTo(event.ctrlKey ? sorted.length - 1 : at.row, columns.length - 1)
      },
      PageDown: () => {
        moveTo(at.row + page(), at.column)
      },
      PageUp: () => {
        moveTo(at.row - page(), at.column)
      },
      Enter: () => {
        if (activeRow === undefined) return
        if (activeEdit) setEditing({ text: activeEdit.text(activeRow) })
        else (onOpen ?? onSelect)?.(activeRow)
      },
    }
    const run = keys[event.key]
    if (run) {
      event.preventDefault()
      run()
    } else if (
      activeEdit &&
      activeRow !== undefined &&
      /^[\p{L}\p{N}]$/u.test(event.key) &&
      !event.ctrlKey &&
      !event.metaKey &&
      !event.altKey
    ) {
      event.preventDefault()
      setEditing({ text: event.key })
    }
  }

  const [trouble, setTrouble] = useState<string | undefined>()
  const onCopy = (event: ClipboardEvent<HTMLDivElement>) => {
    if (event.target !== scroller.current || activeRow === undefined) return
    event.preventDefault()
    event.clipboardData.setData('text/plain', columns.map((c) => cellAsText(c, activeRow)).join('\t'))
  }
  const onPaste = (event: ClipboardEvent<HTMLDivElement>) => {
    if (event.target !== scroller.current || !onPasteBlock) return
    event.preventDefault()
    const block = event.clipboardData
      .getData('text')
      .replace(/\r?\n$/, '')
      .split(/\r?\n/)
      .map((line) => line.split('\t'))
    const cells = block.flatMap((texts, r) => {
      const row = sorted[at.row + r]
      if (row === undefined) return []
      return texts.flatMap((text, c): PastedCell<Row>[] => {
        const column = columns[at.column + c]
        return column?.edit ? [{ row, column: column.id, text }] : []
      })
    })
    setTrouble(onPasteBlock(cells, block.slice(Math.max(0, sorted.length - at.row))))
  }

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={sorted.length + 1}
      aria-colcount={columns.length}
      aria-activedescendant={sorted.length > 0 ? cellId(at.row, at.column) : undefined}
      tabIndex={0}
      onKeyDown={onKey}
      onCopy={onCopy}
      onPaste={onPaste}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-sheet"
    >
      <div role="rowgroup" className="sticky top-0 z-10 min-w-fit">
        <div
          role="row"
          aria-rowindex={1}
          className="grid border-b border-rule bg-raised"
          style={{ gridTemplateColumns: template }}
        >
          {columns.map((column) => (
            <div
              key={column.id}
              role="columnheader"
              aria-sort={sorting?.id === column.id ? (sorting.down ? 'descending' : 'ascending') : undefined}
              className={`px-2 py-1.5 text-xs font-semibold text-soft ${column.align === 'right' ? 'text-right' : ''}`}
            >
              {column.mark !== undefined && (
                <span
                  aria-hidden="true"
                  className="mr-1 inline-block size-3 border border-soft align-middle"
                  style={{ background: column.mark }}
                />
              )}
              {column.sort ? (
                <button
                  type="button"
                  tabIndex={-1}
                  className="inline-flex items-center gap-1 hover:text-ink"
                  onClick={() => {
                    setSorting((s) =>
                      s?.id === column.id
                        ? s.down
                          ? null
                          : { id: column.id, down: true }
                        : { id: column.id, down: false },
                    )
                  }}
                >
                  {column.header}
                  {sorting?.id === column.id &&
                    (sorting.down ? (
                      <ArrowDown size={12} aria-hidden="true" />
                    ) : (
                      <ArrowUp size={12} aria-hidden="true" />
                    ))}
                </button>
              ) : (
                column.header
              )}
            </div>
          ))}
        </div>
      </div>
      {trouble !== undefined && (
        <p role="alert" className="sticky left-0 bg-bad-wash px-2 py-1 text-sm text-bad">
          {trouble}
        </p>
      )}
      {sorted.length === 0 && <div className="p-6 text-sm text-soft">{empty}</div>}
      <div role="rowgroup" className="relative min-w-fit" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = sorted[item.index]
          if (row === undefined) return null
          const key = rowKey(row)
          const isActive = item.index === at.row
          return (
            <div
              key={key}
              role="row"
              aria-rowindex={item.index + 2}
              aria-selected={key === selected}
              className={`absolute inset-x-0 top-0 grid items-center border-b border-hair ${key === selected ? 'bg-mark' : 'hover:bg-raised'}`}
              style={{ gridTemplateColumns: template, height: rowHeight, transform: `translateY(${item.start}px)` }}
            >
              {columns.map((column, c) => {
                const here = isActive && c === at.column
                return (
                  // Keys are handled by the grid, which holds the focus; a click only moves the active cell.
                  // eslint-disable-next-line jsx-a11y/click-events-have-key-events
                  <div
                    key={column.id}
                    id={cellId(item.index, c)}
                    role="gridcell"
                    tabIndex={-1}
                    aria-colindex={c + 1}
                    className={`flex h-full min-w-0 items-center px-2 text-sm ${column.align === 'right' ? 'justify-end text-right' : ''} ${here ? 'outline-accent -outline-offset-2 in-[[role=grid]:focus-within]:outline-2' : ''} ${column.edit ? 'cursor-text' : ''}`}
                    onClick={() => {
                      if (editing) return
                      moveTo(item.index, c)
                      if (column.edit && here) setEditing({ text: column.edit.text(row) })
                      else scroller.current?.focus()
                    }}
                  >
                    {here && editing && column.edit ? (
                      <CellEditor
                        label={column.header}
                        state={editing}
                        onFinish={(text, moved) => {
                          finish(
                            text,
                            moved
                              ? () => {
                                  moveTo(at.row + 1, at.column)
                                }
                              : undefined,
                          )
                        }}
                      />
                    ) : (
                      column.cell(row)
                    )}
                  </div>
                )
              })}
            </div>
          )
        })}
      </div>
    </div>
  )
}

/** The grid, drawn anew only when something it is given changes: keep `columns`, `rows` and the functions stable. */
export const DataGrid = memo(Grid) as typeof Grid

function cellAsText<Row>(column: Column<Row>, row: Row): string {
  if (column.edit) return column.edit.text(row)
  const shown = column.cell(row)
  return typeof shown === 'string' || typeof shown === 'number' ? String(shown) : String(column.sort?.(row) ?? '')
}

function CellEditor({
  label,
  state,
  onFinish,
}: {
  label: string
  state: { text: string; problem?: string | undefined }
  onFinish: (text: string | undefined, moved: boolean) => void
}) {
  const [text, setText] = useState(state.text)
  const input = useRef<HTMLInputElement>(null)
  // Finishing moves the focus, which blurs the input at once: that blur is no second answer.
  const closing = useRef(false)
  const finish = (value: string | undefined, moved: boolean) => {
    if (closing.current) return
    closing.current = true
    onFinish(value, moved)
    closing.current = false
  }
  useEffect(() => {
    input.current?.focus()
  }, [])
  return (
    <span className="relative w-full">
      <input
        ref={input}
        aria-label={label}
        aria-invalid={state.problem !== undefined}
        value={text}
        className="w-full min-w-12 border border-accent bg-sheet px-1 py-0.5 text-sm"
        onChange={(e) => {
          setText(e.target.value)
        }}
        onBlur={() => {
          finish(state.problem === undefined ? text : undefined, false)
        }}
        onKeyDown={(e) => {
          e.stopPropagation()
          if (e.key === 'Enter') finish(text, true)
          if (e.key === 'Escape') finish(undefined, false)
        }}
      />
      {state.problem !== undefined && (
        <span
          role="alert"
          className="absolute top-full left-0 z-20 border border-bad bg-bad-wash px-1 text-xs whitespace-nowrap text-bad"
        >
          {state.problem}
        </span>
      )}
    </span>
  )
}
