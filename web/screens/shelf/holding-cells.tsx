import { dequal } from 'dequal'
import { useMemo } from 'react'
import { editHolding, holdingText, HOLDING_CELLS, type HoldingCell } from '../../../core/shelf/edit-holding.ts'
import type { HoldingEdit } from '../../../core/shelf/edit-holding.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { NOT_STATED, STATED_CONDITIONS } from '../../../core/units/condition.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { editAll, moveTo, recount } from '../../../storage/journal.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import type { Column, PastedCell } from '../../ui/data-grid.tsx'
import { HoldingGrip } from './holding-grip.tsx'

type Edited = { readonly holding: Holding; readonly edit: HoldingEdit }

const LABELS: Record<HoldingCell, string> = {
  qty: 'Counted a holding again',
  place: 'Moved a holding',
  condition: 'Changed the condition of a holding',
  length: 'Changed the length of a holding',
}

const isCell = (id: string): id is HoldingCell => HOLDING_CELLS.some((c) => c === id)

/** Whether an edit says what is so already. */
const isIdle = ({ holding, edit }: Edited): boolean =>
  edit.kind === 'count'
    ? edit.qty === holding.qty && edit.estimate === holding.estimate
    : edit.kind === 'move'
      ? edit.to === holding.place
      : dequal(edit.next, holding)

/** Edited holdings as the changes they are: counts, moves to each place, other properties. */
function changesOf(edited: readonly Edited[]) {
  const counts = edited.flatMap(({ holding: seen, edit }) =>
    edit.kind === 'count' ? [{ seen, qty: edit.qty, estimate: edit.estimate }] : [],
  )
  const next = new Map<string, Holding>()
  for (const { holding, edit } of edited) {
    if (edit.kind !== 'change') continue
    // Of one holding several cells may have changed, each told from the holding as it was.
    const before = next.get(holding.id) ?? holding
    const { condition, length } = edit.next
    const { length: _, ...bare } = before
    const own = condition !== holding.condition ? { ...before, condition } : before
    next.set(
      holding.id,
      length === holding.length
        ? own
        : { ...bare, condition: own.condition, ...(length === undefined ? {} : { length }) },
    )
  }
  const moves = new Map<PlaceId, { seen: Holding; qty: number }[]>()
  for (const { holding: seen, edit } of edited)
    if (edit.kind === 'move') moves.set(edit.to, [...(moves.get(edit.to) ?? []), { seen, qty: seen.qty }])
  return [
    ...(counts.length > 0 ? [recount(counts)] : []),
    ...(next.size > 0
      ? editAll(
          'holdings',
          edited.map((e) => e.holding),
          [...next.values()],
        )
      : []),
    ...[...moves].map(([to, takes]) => moveTo(to, takes)),
  ]
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
        const edited = { holding, edit: meant.value }
        if (!isIdle(edited)) void perform(LABELS[id], changesOf([edited]), { quiet: true })
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
        cell: (h) => (h.estimate ? <span title="an estimate">about {formatNumber(h.qty)}</span> : h.qty),
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
      const edited: Edited[] = []
      for (const { row, column, text } of cells) {
        if (!isCell(column)) continue
        const meant = read(row, column, text)
        if (!meant.ok) return `"${text}" does not fit. ${meant.error.message} Nothing was pasted.`
        if (!isIdle({ holding: row, edit: meant.value })) edited.push({ holding: row, edit: meant.value })
      }
      if (cells.length === 0 || beyond.length > 0) return 'Paste over the pieces, places, conditions or lengths listed.'
      const changed = new Set(edited.map((e) => e.holding.id)).size
      if (changed > 0) void perform(`Changed ${plural(changed, 'holding')}`, changesOf(edited))
      return undefined
    }
    return { columns, paste }
  }, [places, builds, nameItem])
}
