import { FileUp } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import type { BuildId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { NoBuild } from '../../pieces/no-build.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { AddCopy } from './add-copy.tsx'
import { ComparePanel } from './compare-panel.tsx'
import { CopiesPanel } from './copies-panel.tsx'
import { copyRows } from './copy-rows.ts'
import { GatherDialog } from './gather-dialog.tsx'
import { OfferedPanel } from './offered-panel.tsx'
import { WorthPanel } from './worth-panel.tsx'
import { useAddress } from '../../ui/address.ts'

const VIEWS = [
  { id: 'copies', label: 'Copies' },
  { id: 'worth', label: 'Worth of one more' },
  { id: 'compare', label: 'Compare two sets' },
  { id: 'offered', label: 'Second hand' },
] as const

export function DonorsScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const { sets } = useRecords()
  const [importing, setImporting] = useDialogFromAddress('import')
  const [gathering, setGathering] = useState(false)
  const { params, setAll } = useAddress()
  // Copies as they are now, to be edited; what is said of them together, as they were counted.
  const rows = useMemo(() => (tally ? copyRows(tally.now.copies, sets, tally.result) : []), [tally, sets])
  const asCounted = useMemo(
    () => (tally ? copyRows(tally.snapshot.copies, tally.snapshot.sets, tally.result) : []),
    [tally],
  )
  if (!tally) return <NoBuild />
  const view = VIEWS.find((v) => v.id === params.get('view')) ?? VIEWS[0]
  const counted = asCounted.filter((r) => r.copy.state !== 'to-buy')
  const holds = counted.reduce((n, r) => n + r.holds, 0)
  const used = counted.reduce((n, r) => n + r.used, 0)
  const offered = asCounted.length - counted.length
  return (
    <Screen
      title="Donors"
      headline={
        rows.length === 0 ? (
          'No donor set serves this build yet.'
        ) : (
          <>
            <Figure>{plural(counted.length, 'copy holds', 'copies hold')}</Figure>{' '}
            <Figure>{plural(holds, 'piece')}</Figure>; the design uses <Figure>{formatNumber(used)}</Figure> and leaves{' '}
            <Figure>{formatNumber(holds - used)}</Figure> over.
            {offered > 0 && ` ${plural(offered, 'more copy', 'more copies')} may be bought if it pays.`}
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
          <FileUp size={16} aria-hidden="true" /> Import an inventory
        </Button>
      }
    >
      <div className="flex flex-wrap items-center justify-between gap-2">
        <div role="group" aria-label="View" className="flex flex-wrap gap-2">
          {VIEWS.map((v) => (
            <Button
              key={v.id}
              look={v.id === view.id ? 'primary' : 'plain'}
              aria-pressed={v.id === view.id}
              onClick={() => {
                setAll(v.id === 'copies' ? {} : { view: v.id }, { replace: true })
              }}
            >
              {v.label}
            </Button>
          ))}
        </div>
        <div className="flex flex-wrap gap-2">
          <AddCopy build={id} sets={sets} count={rows.length} />
          <Button
            disabled={sets.length === 0}
            onClick={() => {
              setGathering(true)
            }}
          >
            Gather one from the shelf
          </Button>
        </div>
      </div>
      <StaleNote tally={tally} />
      {view.id === 'copies' && <CopiesPanel rows={rows} snapshot={tally.snapshot} />}
      {view.id === 'worth' && <WorthPanel snapshot={tally.snapshot} result={tally.result} />}
      {view.id === 'compare' && <ComparePanel sets={sets} />}
      {view.id === 'offered' && <OfferedPanel build={tally.now.build} />}
      <ImportDialog kind="donor" build={id} open={importing} onOpenChange={setImporting} />
      {gathering && (
        <GatherDialog
          build={id}
          onClose={() => {
            setGathering(false)
          }}
        />
      )}
    </Screen>
  )
}
