import type { Holding } from '../../../core/shelf/holding.ts'
import { countDifferences } from '../../../core/shelf/rearrange.ts'
import type { HoldingId } from '../../../core/units/ids.ts'
import { recount } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'

/** A count under way: how far it is, what differs, and settling it as one act. */
export function CountTools({
  shelf,
  counts,
  place,
  onDone,
}: {
  shelf: readonly Holding[]
  counts: ReadonlyMap<HoldingId, number>
  place: string
  onDone: () => void
}) {
  const { nameItem } = useRecords()
  const differences = countDifferences(shelf, counts)
  const settle = async () => {
    const done = await perform(`Counted ${place}: ${plural(differences.length, 'difference')}`, [
      recount(differences.map(({ holding, now }) => ({ seen: holding, qty: now, estimate: false }))),
    ])
    if (done) onDone()
  }
  return (
    <span className="ml-auto flex items-center gap-2">
      <span role="status">
        {formatNumber(counts.size)} of {formatNumber(shelf.length)} counted, {plural(differences.length, 'difference')}
      </span>
      {differences.length > 0 && (
        <details className="relative">
          <summary className="cursor-pointer text-accent">which</summary>
          <ul className="absolute right-0 z-20 max-h-72 w-80 overflow-auto border border-rule bg-sheet p-3 shadow-lg">
            {differences.map(({ holding, now }) => (
              <li key={holding.id} className="flex justify-between gap-3 py-0.5">
                <span className="truncate">{nameItem(holding.item).name}</span>
                <span className="shrink-0">
                  {holding.estimate ? `about ${formatNumber(holding.qty)}` : holding.qty} → <b>{formatNumber(now)}</b>
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
      <Button
        look="primary"
        disabled={counts.size === 0}
        onClick={() => void (differences.length > 0 ? settle() : Promise.resolve(onDone()))}
      >
        Settle the count
      </Button>
      <Button onClick={onDone}>Drop it</Button>
    </span>
  )
}
