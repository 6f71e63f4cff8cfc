import { useMemo, useState } from 'react'
import { gather, matchDispersed } from '../../../core/donors/dispersed.ts'
import { goodsPricer } from '../../../core/offers/goods-cost.ts'
import type { BuildId, CopyId, SetId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { add, editAll, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid } from '../../ui/data-grid.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** A set that exists only as loose pieces: how complete it is, what completing it would cost, gathering it as one act. */
export function GatherDialog({ build, onClose }: { build: BuildId; onClose: () => void }) {
  const { sets, holdings, builds, offers, shops, nameItem } = useRecords()
  const [setId, setSetId] = useState<SetId | undefined>(sets[0]?.id)
  const set = sets.find((s) => s.id === setId)
  const owner = builds.find((b) => b.id === build)
  const currency = owner?.currency
  const match = useMemo(() => set && matchDispersed(set, holdings, build), [set, holdings, build])
  const rules = owner?.rules
  const priceOf = useMemo(
    () => (currency && rules ? goodsPricer(offers, shops, currency, rules) : undefined),
    [offers, shops, currency, rules],
  )
  if (!set || !match || !currency || !priceOf) return null
  const missing = match.lines.filter((l) => l.missing > 0)
  const priced = missing.filter((l) => priceOf(l.item, l.missing).unavailable === 0)
  const cost = priced.reduce((sum, l) => sum + priceOf(l.item, l.missing).cost, 0)
  const collect = async () => {
    const { copy, kept, emptied } = gather(set, match, {
      id: `y-${fresh()}` as CopyId,
      label: `${set.name}, gathered`,
      buildId: build,
    })
    const done = await perform(`Gathered ${plural(match.found, 'piece')} of ${set.name} from the shelf`, [
      add('copies', [copy]),
      ...editAll('holdings', holdings, kept),
      remove('holdings', emptied),
    ])
    if (done) onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      wide
      title="Gather a set from the shelf"
      description="For a set that lies dispersed in your places. Spares are left out."
    >
      <div className="flex flex-wrap items-end gap-6">
        <Field label="Set">
          {(id) => (
            <Choice
              id={id}
              className="w-64"
              value={set.id}
              options={sets.map((s) => ({ value: s.id, label: s.name }))}
              onChange={setSetId}
            />
          )}
        </Field>
        <p role="status" className="max-w-2xl flex-1 font-display text-lg leading-snug font-medium">
          {match.found} of {plural(match.need, 'piece')} lie on the shelf (
          {Math.floor((match.found / Math.max(1, match.need)) * 100)}%); {match.need - match.found} are missing.
          {priced.length > 0 && (
            <>
              {' '}
              Completing it costs {formatMoney(cost, currency)} in goods at the best offers
              {priced.length < missing.length && `, for the ${priced.length} of ${missing.length} items with an offer`}.
            </>
          )}
          {match.estimated > 0 && (
            <span className="text-warn"> {plural(match.estimated, 'piece')} rest on estimates: count them first.</span>
          )}
        </p>
      </div>
      <DataGrid
        label="Pieces of the set"
        rows={match.lines}
        rowKey={(l) => l.item}
        columns={[
          {
            id: 'item',
            header: 'Piece',
            width: 'minmax(0, 2fr)',
            sort: (l) => nameItem(l.item).name,
            cell: (l) => <ItemName item={l.item} size={30} />,
          },
          {
            id: 'need',
            header: 'In the set',
            width: '100px',
            align: 'right',
            sort: (l) => l.need,
            cell: (l) => l.need,
          },
          {
            id: 'found',
            header: 'On the shelf',
            width: '110px',
            align: 'right',
            sort: (l) => l.need - l.missing,
            cell: (l) => l.need - l.missing,
          },
          {
            id: 'missing',
            header: 'Missing',
            width: '90px',
            align: 'right',
            sort: (l) => l.missing,
            cell: (l) => <b className={l.missing > 0 ? 'text-bad' : 'font-normal text-soft'}>{l.missing}</b>,
          },
        ]}
        empty="The inventory has no pieces."
      />
      <div className="flex flex-wrap gap-2">
        <Button look="primary" disabled={match.found === 0} onClick={() => void collect()}>
          Gather {plural(match.found, 'piece')} into a copy
        </Button>
        <Button onClick={onClose}>Leave them</Button>
      </div>
    </Dialog>
  )
}
