import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { committing } from './commit-scope.ts'
import { usePrinting } from './use-printing.ts'
import { asBlock, readBlock, sortedBy, textOf } from './grid-text.ts'
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
  /** What the cell shows, as text for copying; found from the cell itself when left out, else from the sorting. */
  readonly text?: (row: Row) => string
  /** Sorting is offered when given. */
  readonly sort?: (row: Row) => string | number
  /** Inline editing: the text to edit and what to do with it; returns what is wrong, if anything. */
  readonly edit?: {
    readonly text: (row: Row) => string
    readonly commit: (row: Row, text: string) => string | undefined
  }
}

export type PastedCell<Row> = { readonly row: Row; readonly column: string; readonly text: string }

/** Where the headings stand: above the first row. */
const HEAD = -1

/**
 * A virtualised table after the ARIA grid pattern, with one active cell: arrows, Home, End and Page keys move it, also up
 * into the headings, where Enter sorts. Enter opens a row or edits a cell, typing begins an edit. Rows are chosen with
 * Shift and an arrow or a click, with Ctrl and a click, all with Ctrl A. Copying takes the chosen rows (else the active
 * one) as shown, in the form spreadsheets exchange; a pasted block overwrites cells where the table takes blocks.
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
  /** The row from which a range is chosen, and rows chosen one by one. */
  const [anchor, setAnchor] = useState<number | undefined>()
  const [picked, setPicked] = useState<ReadonlySet<string>>(NOTHING)
  const [editing, setEditing] = useState<{ text: string; problem?: string | undefined } | null>(null)
  const sorted = useMemo(() => {
    const sort = sorting && columns.find((c) => c.id === sorting.id)?.sort
    if (!sort) return rows
    return sortedBy(rows, sort, sorting.down)
  }, [rows, columns, sorting])
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 3,
  })
  const printing = usePrinting()
  const template = columns.map((c) => c.width).join(' ')
  const at = {
    row: Math.min(active.row, sorted.length - 1),
    column: Math.min(active.column, columns.length - 1),
  }
  const cellId = (row: number, column: number) => `${id}-${row === HEAD ? 'head' : row}-${column}`
  const activeRow = sorted[at.row]
  const activeEdit = columns[at.column]?.edit
  const range =
    anchor === undefined || at.row === HEAD
      ? undefined
      : { from: Math.min(anchor, at.row), to: Math.max(anchor, at.row) }
  const isChosen = (index: number, key: string) =>
    picked.has(key) || (range !== undefined && range.from !== range.to && index >= range.from && index <= range.to)
  const chosenRows = (): readonly Row[] => {
    const chosen = sorted.filter((row, i) => isChosen(i, rowKey(row)))
    return chosen.length > 0 ? chosen : activeRow === undefined ? [] : [activeRow]
  }

  const moveTo = (row: number, column: number, choosing = false) => {
    const next = {
      row: Math.max(HEAD, Math.min(sorted.length - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    }
    setActive(next)
    setAnchor(choosing ? (anchor ?? Math.max(0, at.row)) : undefined)
    if (!choosing) setPicked(NOTHING)
    if (next.row === HEAD) return
    virtual.scrollToIndex(next.row)
    const target = sorted[next.row]
    if (target !== undefined && onSelect) onSelect(target)
  }
  const page = () => Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / rowHeight) - 2)
  const finish = (text: string | undefined, then?: () => void) => {
    const row = activeRow
    const problem =
      text !== undefined && row !== undefined
        ? committing(
            () => {
              // The cell opens again with what was typed, unless another is being typed in.
              setActive(at)
              setEditing((now) => now ?? { text, problem: 'Not written; Enter tries again' })
            },
            () => activeEdit?.commit(row, text),
          )
        : undefined
    if (problem !== undefined) {
      setEditing({ text: text ?? '', problem })
      return
    }
    setEditing(null)
    scroller.current?.focus()
    then?.()
  }
  const sortBy = (column: Column<Row> | undefined) => {
    if (!column?.sort) return
    setAnchor(undefined)
    setPicked(NOTHING)
    setSorting((s) =>
      s?.id === column.id ? (s.down ? null : { id: column.id, down: true }) : { id: column.id, down: false },
    )
  }
  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    if (isField(event.target)) return
    const { shiftKey } = event
    const keys: Record<string, () => void> = {
      ArrowDown: () => {
        moveTo(at.row + 1, at.column, shiftKey)
      },
      ArrowUp: () => {
        moveTo(shiftKey ? Math.max(0, at.row - 1) : at.row - 1, at.column, shiftKey)
      },
      ArrowRight: () => {
        moveTo(at.row, at.column + 1)
      },
      ArrowLeft: () => {
        moveTo(at.row, at.column - 1)
      },
      Home: () => {
        moveTo(event.ctrlKey ? 0 : at.row, 0, shiftKey && event.ctrlKey)
      },
      End: () => {
        moveTo(event.ctrlKey ? sorted.length - 1 : at.row, columns.length - 1, shiftKey && event.ctrlKey)
      },
      PageDown: () => {
        moveTo(at.row + page(), at.column, shiftKey)
      },
      PageUp: () => {
        moveTo(Math.max(0, at.row - page()), at.column, shiftKey)
      },
      Escape: () => {
        setAnchor(undefined)
        setPicked(NOTHING)
      },
      Enter: () => {
        if (at.row === HEAD) sortBy(columns[at.column])
        if (activeRow === undefined) return
        if (activeEdit) setEditing({ text: activeEdit.text(activeRow) })
        else (onOpen ?? onSelect)?.(activeRow)
      },
    }
    const all = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a'
    const run = keys[event.key]
    if (run && (event.key !== 'Escape' || range !== undefined || picked.size > 0)) {
      event.preventDefault()
      run()
    } else if (all && sorted.length > 0) {
      event.preventDefault()
      setAnchor(0)
      setActive({ row: sorted.length - 1, column: at.column })
    } else if (event.key === ' ' && at.row === HEAD) {
      event.preventDefault()
      sortBy(columns[at.column])
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
    if (isField(event.target)) return
    const chosen = chosenRows()
    if (chosen.length === 0) return
    event.preventDefault()
    event.clipboardData.setData('text/plain', asBlock(chosen.map((row) => columns.map((c) => shownText(c, row)))))
  }
  const onPaste = (event: ClipboardEvent<HTMLDivElement>) => {
    if (isField(event.target) || !onPasteBlock || at.row === HEAD) return
    event.preventDefault()
    const pasted = event.clipboardData.getData('text')
    if (pasted.length > MOST_PASTED) {
      setTrouble('This is more than a table takes at once: import it as a list.')
      return
    }
    const block = readBlock(pasted)
    if (sorted.length === 0) {
      setTrouble(onPasteBlock([], block))
      return
    }
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
      aria-activedescendant={cellId(at.row, at.column)}
      aria-multiselectable="true"
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
          {columns.map((column, c) => (
            <div
              key={column.id}
              id={cellId(HEAD, c)}
              role="columnheader"
              aria-colindex={c + 1}
              aria-sort={sorting?.id === column.id ? (sorting.down ? 'descending' : 'ascending') : undefined}
              className={`px-2 py-1.5 text-xs font-semibold text-soft ${column.align === 'right' ? 'text-right' : ''} ${at.row === HEAD && at.column === c ? OUTLINE : ''}`}
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
                    sortBy(column)
                    moveTo(HEAD, c)
                    scroller.current?.focus()
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
      <div
        role="rowgroup"
        className="relative min-w-fit"
        style={printing ? undefined : { height: virtual.getTotalSize() }}
      >
        {(printing ? sorted.map((_, index) => ({ index, start: 0 })) : virtual.getVirtualItems()).map((item) => {
          const row = sorted[item.index]
          if (row === undefined) return null
          const key = rowKey(row)
          const isActive = item.index === at.row
          return (
            <div
              key={key}
              role="row"
              aria-rowindex={item.index + 2}
              aria-selected={key === selected || isChosen(item.index, key)}
              className={`${printing ? '' : 'absolute inset-x-0 top-0'} grid items-center border-b border-hair select-none ${key === selected || isChosen(item.index, key) ? 'bg-mark' : 'hover:bg-raised'}`}
              style={{
                gridTemplateColumns: template,
                ...(printing
                  ? { minHeight: rowHeight }
                  : { height: rowHeight, transform: `translateY(${item.start}px)` }),
              }}
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
                    className={`flex h-full min-w-0 items-center px-2 text-sm ${column.align === 'right' ? 'justify-end text-right' : ''} ${here ? OUTLINE : ''} ${column.edit ? 'cursor-text' : ''}`}
                    onClick={(event) => {
                      if (editing) return
                      if (event.ctrlKey || event.metaKey) {
                        // The row that was active is the first of those chosen one by one.
                        const first = activeRow !== undefined && picked.size === 0 ? [rowKey(activeRow)] : [...picked]
                        setPicked(new Set(first.includes(key) ? first.filter((k) => k !== key) : [...first, key]))
                        scroller.current?.focus()
                        return
                      }
                      moveTo(item.index, c, event.shiftKey)
                      if (column.edit && here && !event.shiftKey) setEditing({ text: column.edit.text(row) })
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

/** Characters pasted at once. */
const MOST_PASTED = 500_000
const NOTHING: ReadonlySet<string> = new Set()
const OUTLINE = 'outline-accent -outline-offset-2 in-[[role=grid]:focus-within]:outline-2'

const isField = (target: EventTarget): boolean =>
  target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement

/** What a cell shows, as text. */
function shownText<Row>(column: Column<Row>, row: Row): string {
  const text = column.text?.(row) ?? textOf(column.cell(row))
  if (text !== undefined) return text
  const key = column.sort?.(row)
  return typeof key === 'string' ? key : ''
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
