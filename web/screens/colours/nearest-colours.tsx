import { formatNumber } from '../../../core/units/numbers.ts'
import { seenAs, type Vision } from '../../../core/colours/vision.ts'
import type { InColour, NearestInColour } from '../../../core/studies/recolouring.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { useAboutCount } from '../../store/about-count.ts'
import type { Count } from '../../store/count-store.ts'
import { useRecords } from '../../store/records.tsx'
import { AnswerNote } from '../../pieces/answer-note.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { Swatch } from '../../ui/swatch.tsx'

/** Finishes rank before distances; what there is none of comes last. */
const rankOf = (found: InColour | undefined): number =>
  found ? found.distance + (found.sameFinish ? 0 : 1000) : Infinity

/** For every short item, the colours of least compromise: at home and on offer. */
export function NearestColours({ snapshot, count, vision }: { snapshot: Snapshot; count: Count; vision: Vision }) {
  const { colourById, nameItem } = useRecords()
  const { currency } = snapshot.build
  const answer = useAboutCount(count, 'nearest', null)
  const rows = answer.value ?? []
  const name = (found: InColour | undefined) =>
    found ? (colourById.get(found.colour)?.name ?? found.colour.slice(2)) : ''
  const shade = (found: InColour, more: string) => (
    <span className="flex min-w-0 items-center gap-2">
      <Swatch hex={seenAs(colourById.get(found.colour)?.hex ?? '#9a9a9a', vision)} />
      <span className="min-w-0 leading-tight">
        <span className="block truncate">{name(found)}</span>
        <span className="block truncate text-xs text-soft">
          {found.distance.toFixed(1)} apart{found.sameFinish ? '' : ', another finish'}, {more}
        </span>
      </span>
    </span>
  )
  const columns: Column<NearestInColour>[] = [
    {
      id: 'item',
      header: 'Short',
      width: 'minmax(0, 1.6fr)',
      sort: (r) => nameItem(r.item).name,
      cell: (r) => <ItemName item={r.item} />,
    },
    { id: 'short', header: 'Pieces', width: '70px', align: 'right', sort: (r) => r.short, cell: (r) => r.short },
    {
      id: 'home',
      header: 'Nearest at home',
      width: 'minmax(0, 1.3fr)',
      sort: (r) => rankOf(r.home),
      cell: (r) =>
        r.home ? (
          shade(r.home, `${formatNumber(r.home.qty)} left over`)
        ) : (
          <span className="text-soft">none left over</span>
        ),
    },
    {
      id: 'offer',
      header: 'Nearest on offer',
      width: 'minmax(0, 1.3fr)',
      sort: (r) => rankOf(r.offer),
      cell: (r) =>
        r.offer ? (
          shade(r.offer, `from ${formatMoney(r.offer.price, currency)}`)
        ) : (
          <span className="text-soft">no offer known</span>
        ),
    },
  ]
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      <p className="text-sm text-soft">
        The colour nearest to the eye (CIEDE2000, same finish first) in which the part is to be had. Whether it may
        stand in is for the line and the house rules to say.
      </p>
      <AnswerNote answer={answer} />
      <DataGrid
        label="Nearest colours"
        columns={columns}
        rows={rows}
        rowKey={(r) => r.item}
        empty="Nothing is short."
      />
    </div>
  )
}
