import { pricesIn } from '../../../core/offers/loose-prices.ts'
import { useDeferredValue, useMemo, useState } from 'react'
import { itemKey, splitItemKey } from '../../../core/catalogue/item.ts'
import type { Part } from '../../../core/catalogue/part.ts'
import { seenAs, type Vision } from '../../../core/colours/vision.ts'
import type { ColourCount } from '../../../core/studies/recolouring.ts'
import { knownItems, type Standing } from '../../../core/catalogue/availability.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { ColourId, PartId } from '../../../core/units/ids.ts'
import { decimal } from '../../../core/units/money.ts'
import { useRecords } from '../../store/records.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { SearchInput, Tick } from '../../ui/fields.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'

type Need = { readonly need: number; readonly short: number }
type Row = { readonly part: Part; readonly needs: ReadonlyMap<ColourId, Need>; readonly total: number }

/** Which part is needed, held, offered, seen or never seen in which colour of the design. */
export function ColourGrid({
  snapshot,
  result,
  counts,
  vision,
}: {
  snapshot: Snapshot
  result: Tally
  counts: readonly ColourCount[]
  vision: Vision
}) {
  const { colourById, nameItem, holdings, sets, copies, offers, shops } = useRecords()
  const { currency } = snapshot.build
  const [text, setText] = useState('')
  const [shortOnly, setShortOnly] = useState(false)
  const find = useDeferredValue(text).toLowerCase().split(/\s+/).filter(Boolean)
  const known = useMemo(
    () => knownItems({ holdings, sets, copies, prices: pricesIn({ offers, shops }, currency) }),
    [holdings, sets, copies, offers, shops, currency],
  )
  const rows = useMemo(() => {
    const byPart = new Map<PartId, { part: Part; needs: Map<ColourId, Need>; total: number }>()
    for (const { wanted, need, coverage } of result.lines) {
      const { part, colour } = splitItemKey(wanted)
      const row = byPart.get(part) ?? { part: nameItem(wanted).part, needs: new Map(), total: 0 }
      const held = row.needs.get(colour)
      row.needs.set(colour, { need: need + (held?.need ?? 0), short: coverage.short + (held?.short ?? 0) })
      row.total += need
      byPart.set(part, row)
    }
    return [...byPart.values()].sort((p, q) => q.total - p.total)
  }, [result, nameItem])
  const shown = rows.filter(
    (r: Row) =>
      find.every((w) => r.part.name.toLowerCase().includes(w)) &&
      (!shortOnly || [...r.needs.values()].some((n) => n.short > 0)),
  )
  const columns = useMemo((): Column<Row>[] => {
    const textOfCell = (row: Row, colour: ColourId): string => {
      const need = row.needs.get(colour)
      return [
        ...(need ? [`${need.need} needed`] : []),
        ...(need && need.short > 0 ? [`${need.short} short`] : []),
        inWords(known.standingOf(itemKey(row.part.id, colour)), currency),
      ].join(', ')
    }
    const cell = (row: Row, colour: ColourId) => {
      const need = row.needs.get(colour)
      const standing = known.standingOf(itemKey(row.part.id, colour))
      const words = textOfCell(row, colour)
      // In little room: signs to see, the words to hear and to point at.
      return (
        <span title={words} className="min-w-0 text-xs leading-tight">
          <span className="sr-only">{words}</span>
          <span aria-hidden="true" className="flex flex-col">
            {need && (
              <span className="whitespace-nowrap">
                <b className="text-sm">{formatNumber(need.need)}</b>
                {need.short > 0 && <b className="ml-1.5 text-bad">−{formatNumber(need.short)}</b>}
              </span>
            )}
            <span className="truncate text-soft">{inShort(standing, currency)}</span>
          </span>
        </span>
      )
    }
    return [
      {
        id: 'part',
        header: 'Part',
        width: '200px',
        pinned: true,
        sort: (r) => r.part.name,
        cell: (r) => (
          <span className="flex min-w-0 items-center gap-2">
            <PiecePicture shape={r.part.shape} hex="#9a9a9a" finish="opaque" size={30} />
            <span className="truncate" title={r.part.name}>
              {r.part.name}
            </span>
          </span>
        ),
      },
      { id: 'total', header: 'Needed', width: '70px', align: 'right', sort: (r) => r.total, cell: (r) => r.total },
      ...counts.map(({ colour }): Column<Row> => ({
        id: colour,
        header: colourById.get(colour)?.name ?? colour.slice(2),
        width: '84px',
        mark: seenAs(colourById.get(colour)?.hex ?? '#9a9a9a', vision),
        sort: (r) => r.needs.get(colour)?.need ?? 0,
        cell: (r) => cell(r, colour),
        text: (r) => textOfCell(r, colour),
      })),
    ]
  }, [counts, colourById, known, currency, vision])
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="flex flex-wrap items-center gap-4 text-sm">
        <SearchInput
          aria-label="Find a part"
          placeholder="Find: slope 2x2"
          value={text}
          onChange={(e) => {
            setText(e.target.value)
          }}
        />
        <Tick checked={shortOnly} onChange={setShortOnly}>
          Only what is short
        </Tick>
        <span className="text-soft">
          {plural(shown.length, 'part')} in {plural(counts.length, 'colour')}
        </span>
        <span className="text-xs text-soft">
          Bold: needed; red: short of it; below: pieces here, the price asked, a set it is in, or – where it is not
          known.
        </span>
      </div>
      <DataGrid
        label="Parts by colour"
        columns={columns}
        rows={shown}
        rowKey={(r) => r.part.id}
        empty="No part of the design fits."
      />
    </div>
  )
}

/** Where a piece is known to be, in as few signs as a narrow cell has room for. */
function inShort(standing: Standing, currency: string): string {
  if (standing.kind === 'held') return `${formatNumber(standing.qty)} here`
  if (standing.kind === 'offered') return `at ${decimal(standing.from, currency)}`
  return standing.kind === 'seen' ? 'in a set' : '–'
}

function inWords(standing: Standing, currency: string): string {
  if (standing.kind === 'held') return `held ${formatNumber(standing.qty)}`
  if (standing.kind === 'offered') return `from ${decimal(standing.from, currency)}`
  return standing.kind === 'seen' ? 'seen in a set' : 'not known in it'
}
