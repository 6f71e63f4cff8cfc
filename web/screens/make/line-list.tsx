import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef, type ReactNode } from 'react'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { LineAt } from '../../../core/making/at-work.ts'
import { LineRow } from './line-row.tsx'
import type { InTurn } from './use-in-turn.ts'

/** Height of a row until it is measured. */
const ROW = 62

/** The lines of a repeat, of which only those in sight are drawn; what is said of the repeat comes after them. */
export function LineList({
  rows,
  finished,
  snapshot,
  inTurn,
  onAmiss,
  children,
}: {
  rows: readonly LineAt[]
  finished: boolean
  snapshot: Snapshot
  inTurn: InTurn
  onAmiss: (row: LineAt) => void
  children: ReactNode
}) {
  const box = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    getItemKey: (i) => rows[i]?.line.id ?? i,
    overscan: 6,
  })
  return (
    <div ref={box} className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto">
      <ul
        aria-label="Lines of this repeat"
        className="relative shrink-0 border-y border-hair"
        style={{ height: virtual.getTotalSize() }}
      >
        {virtual.getVirtualItems().map(({ index, key, start }) => {
          const row = rows[index]
          return (
            row && (
              <li
                key={key}
                ref={virtual.measureElement}
                data-index={index}
                data-line={row.line.id}
                className="absolute inset-x-0 border-b border-hair"
                style={{ transform: `translateY(${start}px)` }}
              >
                <LineRow
                  row={row}
                  finished={finished}
                  snapshot={snapshot}
                  inTurn={inTurn}
                  onAmiss={() => {
                    onAmiss(row)
                  }}
                />
              </li>
            )
          )
        })}
      </ul>
      {children}
    </div>
  )
}
