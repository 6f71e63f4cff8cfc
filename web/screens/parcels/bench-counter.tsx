import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useId, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import { itemKey, splitItemKey, type ItemKey } from '../../../core/catalogue/item.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import { nearestColours } from '../../../core/colours/look-alikes.ts'
import { benchOf, uncountedPieces, type BenchMark } from '../../../core/orders/check-in.ts'
import { openPieces, orderName, stateOf, type Order, type OrderLine, type Receipt } from '../../../core/orders/order.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { LOOK_ALIKE } from '../../../core/studies/recolouring.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { Button } from '../../ui/button.tsx'
import { Swatch } from '../../ui/swatch.tsx'
import { BENCH_KEYS, benchAct, type BenchAct } from './bench-keys.ts'
import { OtherPiece } from './other-piece.tsx'
import type { Bench } from './use-bench.ts'

const ROW = 40
/** Colours offered as what came instead. */
const NEAR = 6

/**
 * The lines of a parcel, and one field for everything: letters find a piece, digits say how many, Enter that they are right,
 * other keys what is amiss. One hand on the number pad is enough.
 */
export function BenchCounter({ bench, onDone }: { bench: Bench; onDone: () => void }) {
  const counter = useCounter(bench)
  const { line, problem } = counter
  const field = useRef<HTMLInputElement>(null)
  const listId = useId()
  const toField = () => field.current?.focus()
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_24rem] gap-5 max-[900px]:grid-cols-1 max-[900px]:overflow-auto">
      <div className="flex min-h-0 flex-col gap-2">
        <input
          ref={field}
          role="combobox"
          aria-label="Find a piece, or say how many"
          aria-expanded="true"
          aria-controls={listId}
          aria-activedescendant={line ? `${listId}-${line.id}` : undefined}
          autoComplete="off"
          value={counter.text}
          placeholder="Letters find a piece; digits and Enter say how many are right"
          className="min-h-10 rounded-sm border border-rule bg-sheet px-3 py-1 text-base"
          onChange={(e) => {
            counter.type(e.target.value)
          }}
          onKeyDown={counter.onKey}
        />
        {problem !== undefined && (
          <p role="alert" className="text-sm text-bad">
            {problem}
          </p>
        )}
        <LineList id={listId} order={bench.order} counter={counter} onChosen={toField} />
      </div>
      {line && (
        <AtHand
          order={bench.order}
          line={line}
          counter={counter}
          takeAll={bench.takeAll}
          onDone={onDone}
          onSaid={toField}
        />
      )}
    </div>
  )
}

type Counter = ReturnType<typeof useCounter>

/** What was typed, the line at hand, and what keys do with them. */
function useCounter({ order, mark, takeAll }: Bench) {
  const records = useRecords()
  const { nameItem } = records
  const [text, setText] = useState('')
  const [at, setAt] = useState<string | undefined>()
  const [problem, setProblem] = useState<string | undefined>()
  const [other, setOther] = useState<{ readonly kind: 'piece' | 'colour'; readonly qty: number } | undefined>()
  const finding = /\p{L}/u.test(text)
  const names = useMemo(
    () => new Map(order.lines.map((l) => [l.id, searchKey(nameItem(l.item).name)])),
    [order.lines, nameItem],
  )
  const rows = useMemo(() => {
    if (!finding) return order.lines
    const words = searchKey(text)
      .split(' ')
      .filter((w) => w !== '')
    return order.lines.filter((l) => words.every((w) => names.get(l.id)?.includes(w)))
  }, [order.lines, finding, text, names])
  const index = Math.max(
    0,
    rows.findIndex((l) => l.id === at),
  )
  const line = rows[index]
  const choose = (next: OrderLine | undefined) => {
    setAt(next?.id)
    setOther(undefined)
  }
  const say = (of: OrderLine, m: BenchMark): boolean => {
    const refused = mark(of, m)
    setProblem(refused)
    setText('')
    return refused === undefined
  }
  /** On to the next line of which something is still to be said. */
  const goOn = (of: OrderLine) => {
    const from = order.lines.findIndex((l) => l.id === of.id)
    const rest = [...order.lines.slice(from + 1), ...order.lines.slice(0, from)]
    setAt((rest.find((l) => uncountedPieces(order, l) > 0) ?? of).id)
  }
  const act = (of: OrderLine, what: BenchAct) => {
    if (what.kind === 'other') {
      setOther({ kind: what.what, qty: what.qty })
      setText('')
    } else if (say(of, what.mark) && what.goOn) goOn(of)
  }
  const found = (of: OrderLine, qty: number, item: ItemKey) => {
    const now = benchOf(order, of.id).wrong.find((w) => w.item === item)?.qty ?? 0
    if (say(of, { kind: 'wrong', item, qty: now + qty })) setOther(undefined)
  }
  /** What a key does; undefined where it is for the field. */
  const keyAct = ({ key, ctrlKey, metaKey }: KeyboardEvent): (() => void) | undefined => {
    if (key === 'ArrowDown' || key === 'ArrowUp')
      return () => {
        choose(rows[Math.max(0, Math.min(rows.length - 1, index + (key === 'ArrowDown' ? 1 : -1)))])
      }
    if (key === 'Enter' && (ctrlKey || metaKey)) return takeAll
    if (key === 'Escape')
      return () => {
        setText('')
        setProblem(undefined)
        setOther(undefined)
      }
    if (!line) return undefined
    if (finding)
      return key === 'Enter'
        ? () => {
            choose(line)
            setText('')
          }
        : undefined
    if (other?.kind === 'colour' && /^[1-9]$/.test(key) && text === '') {
      const item = otherColours(line, records)[Number(key) - 1]?.item
      return () => {
        if (item) found(line, other.qty, item)
      }
    }
    const what = benchAct(key, text, line, order)
    return (
      what &&
      (() => {
        act(line, what)
      })
    )
  }
  return {
    text,
    problem,
    other,
    rows,
    index,
    line,
    choose,
    act,
    found,
    type: (typed: string) => {
      setText(typed)
      setProblem(undefined)
    },
    onKey: (event: KeyboardEvent) => {
      const does = keyAct(event)
      if (!does) return
      event.preventDefault()
      does()
    },
  }
}

/** The lines, what was said of each, and the one at hand. */
function LineList({
  id,
  order,
  counter: { rows, index, line, text, choose, onKey },
  onChosen,
}: {
  id: string
  order: Order
  counter: Counter
  onChosen: () => void
}) {
  const box = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  })
  useEffect(() => {
    if (rows.length > 0) virtual.scrollToIndex(index)
  }, [virtual, index, rows.length])
  return (
    <div
      ref={box}
      id={id}
      role="listbox"
      aria-label="Lines of the parcel"
      className="min-h-60 flex-1 overflow-auto border-y border-rule"
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((row) => {
          const of = rows[row.index]
          if (!of) return null
          const receipt = benchOf(order, of.id)
          const open = uncountedPieces(order, of)
          const look = open > 0 ? 'text-soft' : amiss(receipt) > 0 ? 'font-semibold text-warn' : 'text-good'
          return (
            <div
              key={of.id}
              id={`${id}-${of.id}`}
              role="option"
              aria-selected={of.id === line?.id}
              tabIndex={-1}
              className={`absolute inset-x-0 flex items-center justify-between gap-3 border-b border-hair px-2 text-sm ${of.id === line?.id ? 'bg-mark' : ''}`}
              style={{ height: ROW, transform: `translateY(${row.start}px)` }}
              onClick={() => {
                choose(of)
                onChosen()
              }}
              onKeyDown={onKey}
            >
              <ItemName item={of.item} size={28} />
              <span className="shrink-0 text-right">
                <b>{formatNumber(of.qty)}</b>
                <span className={`block text-xs ${look}`}>{saidWords(of, receipt, open)}</span>
              </span>
            </div>
          )
        })}
      </div>
      {rows.length === 0 && <Elsewhere order={order} text={text} />}
    </div>
  )
}

/** A piece that is not of this parcel: the other parcels on the table in which it is. */
function Elsewhere({ order, text }: { order: Order; text: string }) {
  const { orders, nameItem } = useRecords()
  const words = searchKey(text)
    .split(' ')
    .filter((w) => w !== '')
  const others = orders.filter(
    (o) =>
      o.id !== order.id &&
      stateOf(o) === 'arrived' &&
      o.lines.some((l) => {
        const name = searchKey(nameItem(l.item).name)
        return openPieces(l) > 0 && words.every((w) => name.includes(w))
      }),
  )
  return (
    <p className="p-3 text-sm text-soft">
      No piece by that name in this parcel{others.length > 0 ? '; it is in ' : '.'}
      {others.map((o, i) => (
        <span key={o.id}>
          {i > 0 && ', '}
          <Link className="text-accent underline" to={`/parcels/bench/${encodeURIComponent(o.id)}`}>
            {orderName(o)}
          </Link>
        </span>
      ))}
    </p>
  )
}

/** The line at hand: the piece, large, what may be said of it, and what came instead. */
function AtHand({
  order,
  line,
  counter: { other, text, act, found },
  takeAll,
  onDone,
  onSaid,
}: {
  order: Order
  line: OrderLine
  counter: Counter
  takeAll: () => void
  onDone: () => void
  onSaid: () => void
}) {
  return (
    <section
      aria-label="On the bench"
      className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm max-[900px]:border-l-0 max-[900px]:pl-0"
    >
      <Card line={line} receipt={benchOf(order, line.id)} open={uncountedPieces(order, line)} />
      {other?.kind === 'piece' && (
        <OtherPiece
          qty={other.qty}
          onPiece={(item, qty) => {
            found(line, qty, item)
            onSaid()
          }}
        />
      )}
      {other?.kind === 'colour' && (
        <OtherColours
          line={line}
          onColour={(item) => {
            found(line, other.qty, item)
            onSaid()
          }}
        />
      )}
      <div className="grid grid-cols-2 gap-2">
        {BENCH_KEYS.map(({ key, label }) => (
          <Button
            key={key}
            className="min-h-11 justify-between"
            onClick={() => {
              const what = benchAct(key, text, line, order)
              if (what) act(line, what)
              if (what?.kind !== 'other' || what.what === 'colour') onSaid()
            }}
          >
            {label} <kbd className="rounded-sm border border-rule px-1.5 text-xs">{key}</kbd>
          </Button>
        ))}
      </div>
      <Button className="min-h-11 justify-between" onClick={takeAll}>
        Take all that is left as right, uncounted{' '}
        <kbd className="rounded-sm border border-rule px-1.5 text-xs">Ctrl Enter</kbd>
      </Button>
      <Button className="min-h-11" onClick={onDone}>
        Book what was said so far
      </Button>
    </section>
  )
}

const amiss = ({ short, damaged, wrong }: Receipt): number => short + damaged + wrong.reduce((n, w) => n + w.qty, 0)

/** What was said of a line, in a few words. */
function saidWords(line: OrderLine, receipt: Receipt, open: number): string {
  const wrong = receipt.wrong.reduce((n, w) => n + w.qty, 0)
  const said = [
    receipt.right > 0 && `${receipt.right} right${receipt.uncounted === true ? ', uncounted' : ''}`,
    receipt.short > 0 && `${receipt.short} short`,
    receipt.damaged > 0 && `${receipt.damaged} damaged`,
    wrong > 0 && `${wrong} others`,
    receipt.extra > 0 && `${receipt.extra} extra`,
  ].filter(Boolean)
  const booked = line.qty - openPieces(line)
  if (said.length === 0) return booked === line.qty ? 'booked' : booked > 0 ? `${booked} booked, ${open} open` : 'open'
  return `${said.join(', ')}${open > 0 ? `, ${open} open` : ''}`
}

/** The piece at hand, large, and whose it is. */
function Card({ line, receipt, open }: { line: OrderLine; receipt: Receipt; open: number }) {
  const { nameItem, builds } = useRecords()
  const { part, colour, name } = nameItem(line.item)
  const booked = line.qty - openPieces(line)
  return (
    <div className="flex flex-col gap-1">
      <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={120} />
      <h2 className="text-base leading-tight font-semibold">{name}</h2>
      <p className="text-lg" aria-live="polite">
        <b>{plural(line.qty, 'piece')}</b> ordered
        {booked > 0 && `, ${booked} booked before`}: {saidWords(line, receipt, open)}
      </p>
      <p className="text-soft">
        {line.for
          .map(
            ({ build, qty }) =>
              `${qty} to the pile of ${builds.find((b) => b.id === build)?.name ?? 'a build that is gone'}`,
          )
          .join('; ') || 'For no build: to the surplus of parcels'}
        {line.note && `. Agreed: ${line.note}`}
      </p>
    </div>
  )
}

/** The piece of a line in the colours nearest to its own. */
function otherColours(
  { item }: OrderLine,
  { nameItem, allColours }: Pick<RecordsView, 'nameItem' | 'allColours'>,
): { readonly item: ItemKey; readonly distance: number }[] {
  const { part, decoration } = splitItemKey(item)
  return nearestColours(nameItem(item).colour, allColours, NEAR).map(({ id, distance }) => ({
    item: itemKey(part, id, decoration),
    distance,
  }))
}

/** The same piece in colours that are easily taken for the one ordered. */
function OtherColours({ line, onColour }: { line: OrderLine; onColour: (item: ItemKey) => void }) {
  const records = useRecords()
  return (
    <div
      role="group"
      aria-label="Which colour came?"
      className="flex flex-col gap-1 border-l-4 border-accent bg-mark px-3 py-2"
    >
      <b>Which colour came?</b>
      {otherColours(line, records).map(({ item, distance }, i) => {
        const { colour } = records.nameItem(item)
        return (
          <Button
            key={item}
            className="justify-between"
            onClick={() => {
              onColour(item)
            }}
          >
            <span className="flex items-center gap-2">
              <kbd className="rounded-sm border border-rule px-1.5 text-xs">{i + 1}</kbd>
              <Swatch hex={colour.hex} /> {colour.name}
            </span>
            <span className="text-xs text-soft">
              {distance < LOOK_ALIKE ? 'a look-alike' : `${distance.toFixed(0)} apart`}
            </span>
          </Button>
        )
      })}
    </div>
  )
}
