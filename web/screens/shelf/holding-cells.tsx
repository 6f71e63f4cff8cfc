import { dequal } from 'dequal'
import { useMemo } from 'react'
import {
  editHolding,
  holdingText,
  HOLDING_CELLS,
  type HoldingCell,
  type HoldingEdit,
} from '../../../core/shelf/edit-holding.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { NOT_STATED, STATED_CONDITIONS } from '../../../core/units/condition.ts'
import type { HoldingId, PlaceId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { Change, Recount } from '../../../storage/journal-entry.ts'
import { editAll, moveTo, recount } from '../../../storage/journal.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import type { Column, PastedCell } from '../../ui/data-grid.tsx'
import { HoldingGrip } from './holding-grip.tsx'

const LABELS: Record<HoldingCell, string> = {
  qty: 'Counted a holding again',
  place: 'Moved a holding',
  condition: 'Changed the condition of a holding',
  length: 'Changed the length of a holding',
}

const isCell = (id: string): id is HoldingCell => HOLDING_CELLS.some((c) => c === id)

/** Edited holdings, as they come to be written: other properties, counts, and moves to each place. */
class Edits {
  readonly #from = new Map<HoldingId, Holding>()
  readonly #next = new Map<HoldingId, Holding>()
  readonly #counts: Recount[] = []
  readonly #moves = new Map<PlaceId, { seen: Holding; qty: number }[]>()
  /** Holdings that something is written of. */
  readonly changed = new Set<HoldingId>()

  /** A holding with what was edited of it so far. */
  now = (holding: Holding): Holding => this.#next.get(holding.id) ?? holding

  /** Notes an edit; one that says what is so already is none. */
  add(holding: Holding, edit: HoldingEdit) {
    const { id } = holding
    if (edit.kind === 'count') {
      if (edit.qty === holding.qty && edit.estimate === holding.estimate) return
      this.#counts.push({ seen: holding, qty: edit.qty, estimate: edit.estimate })
    } else if (edit.kind === 'move') {
      if (edit.to === holding.place) return
      this.#moves.set(edit.to, [...(this.#moves.get(edit.to) ?? []), { seen: holding, qty: holding.qty }])
    } else {
      if (dequal(edit.next, this.now(holding))) return
      this.#from.set(id, holding)
      this.#next.set(id, edit.next)
    }
    this.changed.add(id)
  }

  get changes(): Change[] {
    return [
      ...(this.#counts.length > 0 ? [recount(this.#counts)] : []),
      ...editAll('holdings', [...this.#from.values()], [...this.#next.values()]),
      ...[...this.#moves].map(([to, takes]) => moveTo(to, takes)),
    ]
  }
}

/** The shelf's columns, whose cells are edited where they stand, one or a pasted block of them. */
export function useHoldingCells(): {
  readonly columns: readonly Column<Holding>[]
  readonly paste: (cells: readonly PastedCell<Holding>[], beyond: readonly unknown[]) => string | undefined
} {
  const { places, builds, nameItem } = useRecords()
  return useMemo(() => {
    const nameOf = new Map(places.map((p) => [p.id, p.name]))
    const buildOf = new Map(builds.map((b) => [b.id, b.name]))
    const read = (holding: Holding, id: HoldingCell, text: string) =>
      editHolding(holding, id, text, { places, part: nameItem(holding.item).part })
    const cell = (id: HoldingCell) => ({
      text: (h: Holding) => holdingText(h, id, nameOf.get(h.place) ?? ''),
      commit: (holding: Holding, text: string): string | undefined => {
        const meant = read(holding, id, text)
        if (!meant.ok) return meant.error.message
        const edits = new Edits()
        edits.add(holding, meant.value)
        if (edits.changed.size > 0) void perform(LABELS[id], edits.changes, { quiet: true })
        return undefined
      },
    })
    const columns: Column<Holding>[] = [
      {
        id: 'item',
        header: 'Piece',
        width: 'minmax(170px, 2fr)',
        sort: (h) => nameItem(h.item).name,
        cell: (h) => (
          <>
            <HoldingGrip holding={h} />
            <ItemName item={h.item} />
          </>
        ),
      },
      {
        id: 'qty',
        header: 'Pieces',
        width: '90px',
        align: 'right',
        sort: (h) => h.qty,
        cell: (h) =>
          h.estimate ? (
            <span title="an estimate">about {formatNumber(h.qty)}</span>
          ) : h.uncounted === undefined ? (
            h.qty
          ) : (
            <span title="Taken as right with a parcel, not counted since" className="leading-tight text-warn">
              {formatNumber(h.qty)}
              <span className="block text-xs">not counted</span>
            </span>
          ),
        edit: cell('qty'),
      },
      {
        id: 'place',
        header: 'Place',
        width: 'minmax(90px, 1fr)',
        sort: (h) => nameOf.get(h.place) ?? '',
        cell: (h) => <span className="truncate">{nameOf.get(h.place) ?? 'no place'}</span>,
        edit: cell('place'),
      },
      {
        id: 'condition',
        header: 'Condition',
        width: '96px',
        sort: (h) => STATED_CONDITIONS.indexOf(h.condition),
        cell: (h) => <span className={h.condition === NOT_STATED ? 'text-soft' : ''}>{h.condition}</span>,
        edit: cell('condition'),
      },
      {
        id: 'length',
        header: 'Length',
        width: '76px',
        align: 'right',
        sort: (h) => h.length ?? 0,
        cell: (h) => (h.length === undefined ? '' : `${h.length} mm`),
        edit: cell('length'),
      },
      {
        id: 'reserved',
        header: 'Reserved',
        width: '84px',
        align: 'right',
        sort: (h) => (h.reserved ?? []).reduce((n, r) => n + r.qty, 0),
        cell: (h) => {
          const all = (h.reserved ?? []).reduce((n, r) => n + r.qty, 0)
          return all === 0 ? (
            ''
          ) : (
            <span title={(h.reserved ?? []).map((r) => `${r.qty} for ${buildOf.get(r.build) ?? 'a build'}`).join(', ')}>
              {all}
            </span>
          )
        },
      },
    ]
    const paste = (cells: readonly PastedCell<Holding>[], beyond: readonly unknown[]): string | undefined => {
      const edits = new Edits()
      for (const { row, column, text } of cells) {
        if (!isCell(column)) continue
        const meant = read(edits.now(row), column, text)
        if (!meant.ok) return `"${text}" does not fit. ${meant.error.message} Nothing was pasted.`
        edits.add(row, meant.value)
      }
      if (cells.length === 0 || beyond.length > 0) return 'Paste over the pieces, places, conditions or lengths listed.'
      const { changed, changes } = edits
      if (changed.size > 0) void perform(`Changed ${plural(changed.size, 'holding')}`, changes)
      return undefined
    }
    return { columns, paste }
  }, [places, builds, nameItem])
}
