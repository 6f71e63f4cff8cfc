import { FileUp, ListChecks } from 'lucide-react'
import { useCallback, useDeferredValue, useMemo, useState } from 'react'
import { searchKey } from '../../../core/colours/colour.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { NOT_STATED } from '../../../core/units/condition.ts'
import { placesInside, placeTree } from '../../../core/shelf/place-tree.ts'
import type { Place } from '../../../core/shelf/place.ts'
import { nameKey, type HoldingId, type PlaceId } from '../../../core/units/ids.ts'
import type { LotPieces } from '../../../core/shelf/lot.ts'
import { add, moveTo, shelve } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { useActFromAddress, useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Choice, SearchInput } from '../../ui/fields.tsx'
import { useFindText } from '../../ui/find-text.ts'
import { QuickEntry, type TypedLine } from '../../pieces/quick-entry.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { useSearchIndex } from '../../ui/search-index.ts'
import { searchKeys } from './search-keys.ts'
import { CountTools } from './count-tools.tsx'
import { useHoldingOrder } from './holding-order.ts'
import { HoldingTools } from './holding-tools.tsx'
import { useHoldingCells } from './holding-cells.tsx'
import { BeingBuilt } from './being-built.tsx'
import { PlaceList } from './place-list.tsx'
import { PlaceTools } from './place-tools.tsx'
import { ShelfDnd } from './shelf-dnd.tsx'
import { useAddress } from '../../ui/address.ts'

const idOf = (h: Holding) => h.id

export function ShelfScreen() {
  return (
    <ShelfDnd>
      <Shelf />
    </ShelfDnd>
  )
}

/** The holdings that words are found in, in the open place and those in it; by part and colour. */
function useFound(
  holdings: readonly Holding[],
  find: string,
  place: string | null,
  tree: ReturnType<typeof placeTree>,
) {
  const { places, nameItem } = useRecords()
  const inOrder = useHoldingOrder(holdings, nameItem)
  const keyOf = useMemo(() => searchKeys(places, nameItem), [places, nameItem])
  const index = useSearchIndex(holdings, keyOf)
  const all = useMemo(() => inOrder(holdings), [inOrder, holdings])
  return useMemo(() => {
    const words = searchKey(find)
      .split(' ')
      .filter((w) => w !== '')
    const inside = place === null ? undefined : placesInside(tree, place)
    const found = index.find(words)
    if (inside) return inOrder(found.filter((h) => inside.has(h.place)))
    return words.length === 0 ? all : inOrder(found)
  }, [index, find, place, tree, inOrder, all])
}

/** The pieces of holdings, and how many of them were estimated. */
function sumsOf(holdings: readonly Holding[]) {
  const sums = { pieces: 0, guessed: 0 }
  for (const { qty, estimate } of holdings) {
    sums.pieces += qty
    if (estimate) sums.guessed++
  }
  return sums
}

/** What was counted so far in a count under way; null while none is. */
function useCounts() {
  const [counts, setCounts] = useState<ReadonlyMap<HoldingId, number> | null>(null)
  useActFromAddress('count', () => {
    setCounts(new Map())
  })
  return [counts, setCounts] as const
}

function Shelf() {
  const records = useRecords()
  const { places } = records
  // A very long shelf is drawn a moment later, in pieces, rather than holding up the page.
  const holdings = useDeferredValue(records.holdings)
  const [importing, setImporting] = useDialogFromAddress('import')
  const { params, change } = useAddress()
  const [selected, setSelected] = useState<string | undefined>()
  const [counts, setCounts] = useCounts()
  const counting = counts !== null
  const place = params.get('place')
  const { text: typed, deferred: find, setText: setTyped } = useFindText()
  const openPlace = useCallback(
    (id: PlaceId | null) => {
      change({ place: id })
      setCounts(null)
    },
    [change, setCounts],
  )
  const select = useCallback((h: Holding) => {
    setSelected(h.id)
  }, [])
  const tree = useMemo(() => placeTree(places, holdings), [places, holdings])
  const rows = useFound(holdings, find, place, tree)
  const { columns, paste } = useHoldingCells()
  const shown = useMemo(
    () => (counts ? [...columns, countedColumn(counts, setCounts)] : columns),
    [columns, counts, setCounts],
  )
  const { pieces, guessed } = useMemo(() => sumsOf(records.holdings), [records.holdings])
  const current = rows.find((h) => h.id === selected)
  return (
    <Screen
      title="Shelf"
      headline={
        records.holdings.length === 0 ? (
          'The shelf is empty.'
        ) : (
          <>
            <Figure>{plural(pieces, 'piece')}</Figure> in <Figure>{plural(records.holdings.length, 'holding')}</Figure>,{' '}
            {plural(places.length, 'place')}
            {guessed > 0 && <>; {plural(guessed, 'holding')} rest on estimates</>}.
          </>
        )
      }
      actions={
        <Button
          look="primary"
          onClick={() => {
            setImporting(true)
          }}
        >
          <FileUp size={16} aria-hidden="true" /> Import a shelf list
        </Button>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[14rem_minmax(0,1fr)] gap-5 max-[960px]:grid-cols-[10rem_minmax(0,1fr)] max-[960px]:gap-3">
        <div className="no-print flex min-h-0 flex-col gap-2">
          <PlaceList tree={tree} pieces={pieces} selected={place} onSelect={openPlace} />
          <BeingBuilt />
          <PlaceTools selected={places.find((p) => p.id === place)} />
        </div>
        <div
          className="flex min-h-0 flex-col gap-3"
          aria-busy={holdings !== records.holdings || find !== typed || undefined}
        >
          <div className="no-print flex flex-wrap items-center gap-3 text-sm">
            <SearchInput
              aria-label="Find on the shelf"
              placeholder="Find: 2x4 soot drawer a"
              value={typed}
              onChange={(e) => {
                setTyped(e.target.value)
              }}
            />
            <span role="status" className="text-soft">
              {plural(rows.length, 'holding')}
            </span>
            {current && !counting && <HoldingTools key={current.id} holding={current} />}
            {!counting && rows.length > 1 && rows.length < holdings.length && <MoveAll rows={rows} from={place} />}
            {place !== null && !counting && (
              <Button
                className="ml-auto"
                onClick={() => {
                  setCounts(new Map())
                }}
              >
                <ListChecks size={14} aria-hidden="true" /> Count this place
              </Button>
            )}
            {counts && (
              <CountTools
                shelf={rows}
                counts={counts}
                place={tree.find((t) => t.place.id === place)?.place.name ?? 'the shelf'}
                onDone={() => {
                  setCounts(null)
                }}
              />
            )}
          </div>
          {!counting && <PutHere place={place as PlaceId | null} />}
          <DataGrid
            label="Holdings"
            columns={shown}
            rows={rows}
            rowKey={idOf}
            selected={selected}
            onSelect={select}
            onPasteBlock={paste}
            empty={
              records.holdings.length === 0
                ? 'Type a line above, or import a list of what you have: part, colour, quantity, and the place if you know it.'
                : holdings.length === 0
                  ? 'Drawing the shelf…'
                  : 'Nothing on the shelf fits.'
            }
          />
        </div>
      </div>

      <ImportDialog kind="shelf" build={null} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}

/** Moves all holdings that are shown to a place. */
function MoveAll({ rows, from }: { rows: readonly Holding[]; from: string | null }) {
  const { places } = useRecords()
  return (
    <Choice
      label={`Move all ${rows.length} to…`}
      value={'' as string}
      className="w-44"
      options={places.filter((p) => p.id !== from).map((p) => ({ value: p.id as string, label: p.name }))}
      onChange={(to) => {
        const target = places.find((p) => p.id === to)
        if (!target) return
        void perform(`Moved ${plural(rows.length, 'holding')} to ${target.name}`, [
          moveTo(
            target.id,
            rows.map((seen) => ({ seen, qty: seen.qty })),
          ),
        ])
      }}
    />
  )
}

/** Where pieces go that are typed while no place is open; made when first needed. */
const UNSORTED = 'Unsorted box'

/** Takes typed lines as holdings of the open place; of the unsorted box where none is open. */
function PutHere({ place }: { place: PlaceId | null }) {
  const { places } = useRecords()
  const open = places.find((p) => p.id === place) ?? places.find((p) => nameKey(p.name) === nameKey(UNSORTED))
  return (
    <QuickEntry
      label="New holding"
      action={place === null ? `Put it in the ${UNSORTED.toLowerCase()}` : 'Put it here'}
      onAdd={(typed, more) => {
        const [first] = typed
        const into: Place = open ?? { id: `l-${fresh()}` as PlaceId, name: UNSORTED, kind: 'box', parent: null }
        void perform(
          typed.length === 1 && first
            ? `Put ${first.qty} ${first.name} in ${into.name}`
            : `Put ${typed.length} holdings in ${into.name}`,
          [...(open ? [] : [add('places', [into])]), shelve(typedLots(typed, into.id)), ...more],
          { quiet: true },
        )
      }}
    />
  )
}

/** The column of a count under way: type what lies there; Enter goes on to the next. */
function countedColumn(
  counts: ReadonlyMap<HoldingId, number>,
  onCount: (counts: ReadonlyMap<HoldingId, number>) => void,
): Column<Holding> {
  return {
    id: 'counted',
    header: 'Counted',
    width: '100px',
    align: 'right',
    cell: (h) => (counts.has(h.id) ? <b>{counts.get(h.id)}</b> : <span className="text-soft">not yet</span>),
    edit: {
      text: (h) => (counts.has(h.id) ? String(counts.get(h.id)) : ''),
      commit: (h, text) => {
        const next = new Map(counts)
        if (text.trim() === '') next.delete(h.id)
        else if (/^\d{1,6}$/.test(text.trim())) next.set(h.id, Number(text))
        else return 'a whole number; 0 if none is left'
        onCount(next)
        return undefined
      },
    },
  }
}

/** Typed pieces for a place: counted, of a condition that is not stated. */
const typedLots = (typed: readonly TypedLine[], place: PlaceId): LotPieces[] =>
  typed.map(({ item, qty }) => ({ place, item, qty, estimate: false, condition: NOT_STATED }))
