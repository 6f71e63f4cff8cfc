import { FileUp, Plus } from 'lucide-react'
import { useNavigate } from 'react-router'
import { piecesOf } from '../../../core/donors/copy-contents.ts'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import type { SetId } from '../../../core/units/ids.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { OwnColours } from '../../pieces/own-colours.tsx'
import { useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { PartsPanel } from './parts-panel.tsx'
import { SetsPanel } from './sets-panel.tsx'
import { useAddress } from '../../ui/address.ts'

const VIEWS = { sets: 'Donor sets', parts: 'Parts', colours: 'Colours' } as const
type View = keyof typeof VIEWS

/** What is known of sets, parts and colours, across builds: inventories by import or by hand, part names and shapes put right. */
export function CatalogueScreen() {
  const { sets, parts } = useRecords()
  const { params, setAll } = useAddress()
  const [importing, setImporting] = useDialogFromAddress('import')
  const navigate = useNavigate()
  const asked = params.get('view')
  const view = asked === 'parts' || asked === 'colours' ? asked : 'sets'
  const unknown = parts.filter((p) => p.shape.family === 'unknown').length
  const newSet = async () => {
    const set: DonorSet = {
      id: `s-${fresh()}` as SetId,
      name: `New set ${sets.length + 1}`,
      stages: [{ id: 'all', name: 'All' }],
      lines: [],
    }
    if (await perform(`Added ${set.name}`, [add('sets', [set])], { quiet: true }))
      await navigate(`/catalogue/set/${encodeURIComponent(set.id)}`)
  }
  return (
    <Screen
      title="Catalogue"
      headline={
        <>
          <Figure>{plural(sets.length, 'donor set')}</Figure>
          {sets.length > 0 && (
            <>
              {' '}
              with{' '}
              {plural(
                sets.reduce((n, s) => n + piecesOf(s), 0),
                'piece',
              )}
            </>
          )}{' '}
          and <Figure>{plural(parts.length, 'part')}</Figure> are known
          {unknown > 0 && <>; {plural(unknown, 'part has', 'parts have')} no known shape yet</>}.
        </>
      }
      actions={
        <>
          <Button look="primary" onClick={() => void newSet()}>
            <Plus size={16} aria-hidden="true" /> Type a set by hand
          </Button>
          <Button
            onClick={() => {
              setImporting(true)
            }}
          >
            <FileUp size={16} aria-hidden="true" /> Import an inventory
          </Button>
        </>
      }
    >
      <div role="group" aria-label="View" className="flex flex-wrap gap-2">
        {(Object.keys(VIEWS) as View[]).map((v) => (
          <Button
            key={v}
            look={v === view ? 'primary' : 'plain'}
            aria-pressed={v === view}
            onClick={() => {
              setAll(v === 'sets' ? {} : { view: v }, { replace: true })
            }}
          >
            {VIEWS[v]}
          </Button>
        ))}
      </div>
      {view === 'sets' ? <SetsPanel /> : view === 'parts' ? <PartsPanel /> : <OwnColours />}
      <ImportDialog kind="donor" build={null} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}
