import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { formatNumber } from '../../core/units/numbers.ts'
import { committing } from './commit-scope.ts'
import { cellMove, HEAD, within, type CellAt } from './grid-keys.ts'
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
  type CSSProperties,
  type KeyboardEvent,
  type MouseEvent,
  type ReactNode,
} from 'react'

export type Column<Row> = {
  readonly id: string
  readonly header: string
  /** A track of CSS grid, such as `minmax(0, 2fr)` or `80px`. */
  readonly width: string
  readonly align?: 'right'
  /** Stays in sight when the table is moved sideways; all widths are pixels then. */
  readonly pinned?: boolean
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

type GridProps<Row> = {
  label: string
  columns: readonly Column<Row>[]
  rows: readonly Row[]
  rowKey: (row: Row) => string
  selected?: string | undefined
  onSelect?: (row: Row) => void
  /** Told the rows that are chosen, none when there is no choice of several; keep it stable. */
  onChoose?: (rows: readonly Row[]) => void
  /** Delete on the chosen rows, else on the active one. */
  onDelete?: (rows: readonly Row[]) => void
  /** Enter on a cell that is not edited; `onSelect` when left out. */
  onOpen?: (row: Row) => void
  /** A block pasted from a spreadsheet onto rows and the columns from the active one on; returns what is wrong with it. */
  onPasteBlock?: (cells: readonly PastedCell<Row>[], beyond: readonly (readonly string[])[]) => string | undefined
  rowHeight?: number
  empty: ReactNode
}

type Sorting = { readonly id: string; readonly down: boolean } | null

/** The rows in the order asked for, and the act of asking: up, down, as they came. */
function useSorting<Row>(rows: readonly Row[], columns: readonly Column<Row>[]) {
  const [sorting, setSorting] = useState<Sorting>(null)
  const sorted = useMemo(() => {
    const sort = sorting && columns.find((c) => c.id === sorting.id)?.sort
    return sort ? sortedBy(rows, sort, sorting.down) : rows
  }, [rows, columns, sorting])
  const turn = (column: string) => {
    setSorting((s) => (s?.id === column ? (s.down ? null : { id: column, down: true }) : { id: column, down: false }))
  }
  return { sorted, sorting, turn }
}

type ActiveCell = {
  readonly at: CellAt
  /** The cell that is active at first was chosen by nobody: a click there chooses it. */
  readonly entered: boolean
  readonly moveTo: (to: CellAt, choosing?: boolean) => void
  /** Makes the active cell of now the active one again. */
  readonly stay: () => void
  readonly isChosen: (index: number, key: string) => boolean
  /** Changes with what is chosen. */
  readonly choice: string | undefined
  /** Rows that were chosen, any way. */
  readonly some: boolean
  readonly forget: () => void
  readonly chooseAll: () => void
  readonly toggle: (key: string, first: string | undefined) => void
}

/** The active cell, and the rows that are chosen: a range from an anchor to it, and some picked one by one. */
function useActiveCell(rows: number, columns: number, onMove: (row: number) => void): ActiveCell {
  const [active, setActive] = useState<CellAt>({ row: 0, column: 0 })
  const [anchor, setAnchor] = useState<number | undefined>()
  const [picked, setPicked] = useState<ReadonlySet<string>>(NOTHING)
  const [entered, setEntered] = useState(false)
  const at = { row: Math.min(active.row, rows - 1), column: Math.min(active.column, columns - 1) }
  const range =
    anchor === undefined || at.row === HEAD || anchor === at.row
      ? undefined
      : { from: Math.min(anchor, at.row), to: Math.max(anchor, at.row) }
  const forget = () => {
    setAnchor(undefined)
    setPicked(NOTHING)
  }
  return {
    at,
    entered,
    stay: () => {
      setActive(at)
    },
    forget,
    some: range !== undefined || anchor !== undefined || picked.size > 0,
    choice: range || picked.size > 0 ? [range?.from, range?.to, ...picked].join() : undefined,
    isChosen: (index, key) => picked.has(key) || (range !== undefined && index >= range.from && index <= range.to),
    moveTo(asked, choosing = false) {
      const next = within(asked, { rows, columns })
      setActive(next)
      setEntered(true)
      setAnchor(choosing ? (anchor ?? Math.max(0, at.row)) : undefined)
      if (!choosing) setPicked(NOTHING)
      if (next.row !== HEAD) onMove(next.row)
    },
    chooseAll() {
      setAnchor(0)
      setActive({ row: rows - 1, column: at.column })
    },
    toggle(key, first) {
      // The row that was active is the first of those chosen one by one.
      const before = first !== undefined && picked.size === 0 ? [first] : [...picked]
      setPicked(new Set(before.includes(key) ? before.filter((k) => k !== key) : [...before, key]))
    },
  }
}

type Editing = { readonly text: string; readonly problem?: string | undefined } | null

/** Which rows are chosen, and telling so whenever that changes. */
function useChosen<Row>(
  { choice, isChosen }: Pick<ActiveCell, 'choice' | 'isChosen'>,
  all: readonly Row[],
  rowKey: (row: Row) => string,
  tell: ((rows: readonly Row[]) => void) | undefined,
) {
  const isOne = (row: Row, i: number) => isChosen(i, rowKey(row))
  const rows = () => all.filter(isOne)
  const latest = useRef(rows)
  useEffect(() => {
    latest.current = rows
  })
  useEffect(() => {
    tell?.(choice === undefined ? [] : latest.current())
  }, [choice, all, tell])
  return { isOne, chosenRows: rows }
}

/** The cell being typed in; what is refused stays, with why. */
function useEditing<Row>(
  cell: { readonly row: Row | undefined; readonly edit: Column<Row>['edit'] },
  again: () => void,
  focus: () => void,
) {
  const [editing, setEditing] = useState<Editing>(null)
  const begin = (text?: string) => {
    if (cell.edit && cell.row !== undefined) setEditing({ text: text ?? cell.edit.text(cell.row) })
  }
  const finish = (text: string | undefined, then?: () => void) => {
    const { row, edit } = cell
    const problem =
      text !== undefined && row !== undefined
        ? committing(
            () => {
              // The cell opens again with what was typed, unless another is being typed in.
              again()
              setEditing((now) => now ?? { text, problem: 'Not written; Enter tries again' })
            },
            () => edit?.commit(row, text),
          )
        : undefined
    if (problem !== undefined) {
      setEditing({ text: text ?? '', problem })
      return
    }
    setEditing(null)
    focus()
    then?.()
  }
  return { editing, begin, finish }
}

/** What a block pasted at a cell says of which cells; undefined for more than a table takes at once. */
function pastedCells<Row>(text: string, rows: readonly Row[], columns: readonly Column<Row>[], at: CellAt) {
  if (text.length > MOST_PASTED) return undefined
  const block = readBlock(text)
  const cells = block.flatMap((texts, r) => {
    const row = rows[at.row + r]
    if (row === undefined) return []
    return texts.flatMap((own, c): PastedCell<Row>[] => {
      const column = columns[at.column + c]
      return column?.edit ? [{ row, column: column.id, text: own }] : []
    })
  })
  return { cells, beyond: rows.length === 0 ? block : block.slice(Math.max(0, rows.length - at.row)) }
}

/** Copies the chosen rows (else the active one) as shown, and takes blocks where the table does; `trouble` says why not. */
function useClipboard<Row>({
  rows,
  columns,
  at,
  chosen,
  onPasteBlock,
}: Pick<GridProps<Row>, 'rows' | 'columns' | 'onPasteBlock'> & {
  readonly at: CellAt
  readonly chosen: (row: Row, index: number) => boolean
}) {
  const [trouble, setTrouble] = useState<string | undefined>()
  const onCopy = (event: ClipboardEvent<HTMLDivElement>) => {
    if (isField(event.target)) return
    const picked = rows.filter(chosen)
    const taken = picked.length > 0 ? picked : rows.slice(Math.max(0, at.row), at.row + 1)
    if (taken.length === 0) return
    event.preventDefault()
    event.clipboardData.setData('text/plain', asBlock(taken.map((row) => columns.map((c) => shownText(c, row)))))
  }
  const onPaste = (event: ClipboardEvent<HTMLDivElement>) => {
    if (isField(event.target) || !onPasteBlock || at.row === HEAD) return
    event.preventDefault()
    const pasted = pastedCells(event.clipboardData.getData('text'), rows, columns, at)
    setTrouble(
      pasted
        ? onPasteBlock(pasted.cells, pasted.beyond)
        : 'This is more than a table takes at once: import it as a list.',
    )
  }
  return { trouble, onCopy, onPaste }
}

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
  onChoose,
  onDelete,
  onOpen,
  onPasteBlock,
  rowHeight = 46,
  empty,
}: GridProps<Row>) {
  const id = useId()
  const scroller = useRef<HTMLDivElement>(null)
  const { sorted, sorting, turn } = useSorting(rows, columns)
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 3,
  })
  const printing = usePrinting()
  const focus = () => scroller.current?.focus()
  const cell = useActiveCell(sorted.length, columns.length, (row) => {
    virtual.scrollToIndex(row)
    const target = sorted[row]
    if (target !== undefined && onSelect) onSelect(target)
  })
  const { at, moveTo, isChosen } = cell
  const activeRow = sorted[at.row]
  const { isOne, chosenRows } = useChosen(cell, sorted, rowKey, onChoose)
  const activeEdit = columns[at.column]?.edit
  const { editing, begin, finish } = useEditing({ row: activeRow, edit: activeEdit }, cell.stay, focus)
  const cellId = (row: number, column: number) => `${id}-${row === HEAD ? 'head' : row}-${column}`
  const down = () => {
    moveTo({ row: at.row + 1, column: at.column })
  }
  const sortBy = (column: Column<Row> | undefined) => {
    if (!column?.sort) return
    cell.forget()
    turn(column.id)
  }
  const sortFrom = (column: Column<Row>, c: number) => {
    sortBy(column)
    moveTo({ row: HEAD, column: c })
    focus()
  }
  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    if (isField(event.target)) return
    const { key, shiftKey: shift, altKey } = event
    const ctrl = event.ctrlKey || event.metaKey
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / rowHeight) - 2)
    const move = cellMove(key, { shift, ctrl }, at, { rows: sorted.length, columns: columns.length, page })
    if (move) moveTo(move.to, move.choosing)
    else if (key === 'Escape' && cell.some) cell.forget()
    else if (key === 'Delete' && onDelete && activeRow !== undefined) {
      onDelete(cell.choice === undefined ? [activeRow] : chosenRows())
      cell.forget()
    } else if (at.row === HEAD && (key === 'Enter' || key === ' ')) sortBy(columns[at.column])
    else if (key === 'Enter' && activeRow !== undefined && activeEdit) begin()
    else if (key === 'Enter' && activeRow !== undefined) (onOpen ?? onSelect)?.(activeRow)
    else if (ctrl && key.toLowerCase() === 'a' && sorted.length > 0) cell.chooseAll()
    else if (activeEdit && activeRow !== undefined && !ctrl && !altKey && TYPED.test(key)) begin(key)
    else return
    event.preventDefault()
  }
  const { trouble, onCopy, onPaste } = useClipboard({
    rows: sorted,
    columns,
    at,
    chosen: isOne,
    ...(onPasteBlock && { onPasteBlock }),
  })
  const onClick = (event: MouseEvent, index: number, column: number, row: Row) => {
    if (editing) return
    if (event.ctrlKey || event.metaKey) {
      cell.toggle(rowKey(row), activeRow === undefined ? undefined : rowKey(activeRow))
      focus()
      return
    }
    const again = cell.entered && index === at.row && column === at.column && !event.shiftKey
    moveTo({ row: index, column }, event.shiftKey)
    if (again && columns[column]?.edit) begin()
    else focus()
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
      <Headings
        columns={columns}
        sorting={sorting}
        active={at.row === HEAD ? at.column : undefined}
        idOf={(column) => cellId(HEAD, column)}
        onSort={sortFrom}
      />
      <Trouble text={trouble} />
      {sorted.length === 0 && <div className="p-6 text-sm text-soft">{empty}</div>}
      <div
        role="rowgroup"
        className="relative min-w-fit"
        style={printing ? undefined : { height: virtual.getTotalSize(), minWidth: widthOf(columns) }}
      >
        {(printing ? sorted.map((_, index) => ({ index, start: 0 })) : virtual.getVirtualItems()).map((item) => {
          const row = sorted[item.index]
          if (row === undefined) return null
          const key = rowKey(row)
          return (
            <GridRow
              key={key}
              columns={columns}
              row={row}
              index={item.index}
              chosen={key === selected || isChosen(item.index, key)}
              active={item.index === at.row ? at.column : undefined}
              place={placeOf(columns, rowHeight, printing ? undefined : item.start)}
              className={printing ? '' : 'absolute inset-x-0 top-0'}
              idOf={(column) => cellId(item.index, column)}
              editing={editing}
              onFinish={(text, moved) => {
                finish(text, moved ? down : undefined)
              }}
              onClick={(event, column) => {
                onClick(event, item.index, column, row)
              }}
              onMenu={(column) => {
                if (!isOne(row, item.index)) moveTo({ row: item.index, column })
              }}
            />
          )
        })}
      </div>
    </div>
  )
}

/** How wide a table is that keeps a column in sight, pixels; as wide as it comes where none is kept. */
const widthOf = <Row,>(columns: readonly Column<Row>[]): number | undefined =>
  columns.some((c) => c.pinned) ? columns.reduce((sum, c) => sum + parseInt(c.width, 10), 0) : undefined

/** A cell as it is drawn: numbers as people read them. */
const shown = (cell: ReactNode): ReactNode => (typeof cell === 'number' ? formatNumber(cell) : cell)

const Trouble = ({ text }: { text: string | undefined }) =>
  text === undefined ? null : (
    <p role="alert" className="sticky left-0 bg-bad-wash px-2 py-1 text-sm text-bad">
      {text}
    </p>
  )

const templateOf = <Row,>(columns: readonly Column<Row>[]): string => columns.map((c) => c.width).join(' ')

/** Where a row stands: at a height in its own place, or one after the other on paper. */
const placeOf = <Row,>(columns: readonly Column<Row>[], height: number, start: number | undefined): CSSProperties => ({
  gridTemplateColumns: templateOf(columns),
  ...(start === undefined ? { minHeight: height } : { height, transform: `translateY(${start}px)` }),
})

/** The grid, drawn anew only when something it is given changes: keep `columns`, `rows` and the functions stable. */
export const DataGrid = memo(Grid) as typeof Grid

/** Characters pasted at once. */
const MOST_PASTED = 500_000
const NOTHING: ReadonlySet<string> = new Set()
/** A sign that begins an edit. */
const TYPED = /^[\p{L}\p{N}]$/u
const OUTLINE = 'outline-accent -outline-offset-2 in-[[role=grid]:focus-within]:outline-2'

const PINNED = 'sticky left-0 z-[1] border-r border-rule bg-inherit'

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

/** The headings; those of columns that can be sorted say how they are. */
function Headings<Row>({
  columns,
  sorting,
  active,
  idOf,
  onSort,
}: {
  columns: readonly Column<Row>[]
  sorting: Sorting
  /** The column whose heading is the active cell. */
  active: number | undefined
  idOf: (column: number) => string
  onSort: (column: Column<Row>, at: number) => void
}) {
  return (
    <div role="rowgroup" className="sticky top-0 z-10 min-w-fit">
      <div
        role="row"
        aria-rowindex={1}
        className="grid border-b border-rule bg-raised"
        style={{ gridTemplateColumns: templateOf(columns), minWidth: widthOf(columns) }}
      >
        {columns.map((column, c) => (
          <div
            key={column.id}
            id={idOf(c)}
            role="columnheader"
            aria-colindex={c + 1}
            aria-sort={sorting?.id === column.id ? (sorting.down ? 'descending' : 'ascending') : undefined}
            className={`px-2 py-1.5 text-xs font-semibold text-soft ${column.pinned ? PINNED : ''} ${column.align === 'right' ? 'text-right' : ''} ${active === c ? OUTLINE : ''}`}
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
                  onSort(column, c)
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
  )
}

/** A row; the active cell of it is outlined, or typed in. */
function GridRow<Row>({
  columns,
  row,
  index,
  chosen,
  active,
  place,
  className,
  idOf,
  editing,
  onFinish,
  onClick,
  onMenu,
}: {
  columns: readonly Column<Row>[]
  row: Row
  index: number
  chosen: boolean
  /** The column of the active cell, where it is in this row. */
  active: number | undefined
  place: CSSProperties
  className: string
  idOf: (column: number) => string
  editing: Editing
  onFinish: (text: string | undefined, moved: boolean) => void
  onClick: (event: MouseEvent, column: number) => void
  /** Before a menu of it opens: what is not chosen becomes so. */
  onMenu: (column: number) => void
}) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={chosen}
      className={`${className} grid items-center border-b border-hair select-none ${chosen ? 'bg-mark' : 'bg-sheet hover:bg-raised'}`}
      style={place}
    >
      {columns.map((column, c) => (
        // Keys are handled by the grid, which holds the focus; a click only moves the active cell.
        // eslint-disable-next-line jsx-a11y/click-events-have-key-events
        <div
          key={column.id}
          id={idOf(c)}
          role="gridcell"
          tabIndex={-1}
          aria-colindex={c + 1}
          className={`flex h-full min-w-0 items-center px-2 text-sm ${column.pinned ? PINNED : ''} ${column.align === 'right' ? 'justify-end text-right' : ''} ${active === c ? OUTLINE : ''} ${column.edit ? 'cursor-text' : ''}`}
          onClick={(event) => {
            onClick(event, c)
          }}
          onContextMenu={() => {
            onMenu(c)
          }}
        >
          {active === c && editing && column.edit ? (
            <CellEditor label={column.header} state={editing} onFinish={onFinish} />
          ) : (
            shown(column.cell(row))
          )}
        </div>
      ))}
    </div>
  )
}
