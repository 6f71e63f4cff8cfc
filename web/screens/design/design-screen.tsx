import { BookOpen, Boxes, FileUp, PackageCheck, Plus } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import type { Module } from '../../../core/design/design.ts'
import type { BuildId, ModuleId } from '../../../core/units/ids.ts'
import type { Count } from '../../store/count-store.ts'
import { fresh } from '../../store/database.ts'
import { useLatestDesign } from '../../store/pending-design.ts'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { useActFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { Menu } from '../../ui/menu.tsx'
import { NoBuild } from '../../pieces/no-build.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { ChangesView } from './changes-view.tsx'
import { ColourwaysView } from './colourways-view.tsx'
import { editDesign } from './edit-design.ts'
import { FiguresView } from './figures-view.tsx'
import { ModulesView } from './modules-view.tsx'
import { AsBuiltDialog } from './as-built-dialog.tsx'
import { DonorStartDialog } from './donor-start-dialog.tsx'
import { LibraryDialog } from './library-dialog.tsx'
import { RareNote } from './rare-note.tsx'
import { SheetView } from './sheet-view.tsx'
import { TrialView } from './trial-view.tsx'
import { VersionsView } from './versions-view.tsx'
import { YieldView } from './yield-view.tsx'
import { useAddress } from '../../ui/address.ts'

const VIEWS = {
  modules: 'Modules',
  colourways: 'Colourways',
  yield: 'Yield',
  figures: 'Figures',
  versions: 'Versions',
  trial: 'Try and size',
  changes: 'Changes',
  sheet: 'Sheet',
} as const
type View = keyof typeof VIEWS
const isView = (text: string | null): text is View => text !== null && text in VIEWS

export function DesignScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return <DesignOf count={tally.count} />
}

type Opening = 'list' | 'donor' | 'library' | 'as built'

function DesignOf({ count }: { count: Count }) {
  const { snapshot, result } = count
  const { build } = snapshot
  // The design as it is; the tally follows when a worker has made it.
  const design = useLatestDesign(useRecords().designs.find((d) => d.id === build.id) ?? snapshot.design)
  const { params, setAll } = useAddress()
  const [opening, setOpening] = useState<Opening | undefined>()
  useActFromAddress('import', () => {
    setOpening('list')
  })
  const edit = useMemo(() => editDesign(design), [design])
  const asked = params.get('view')
  const view: View = isView(asked) ? asked : 'modules'
  const module = design.modules.find((m) => m.id === params.get('module')) ?? design.modules[0]
  const choose = (next: ModuleId) => {
    setAll({ module: next })
  }
  const addModule = () => {
    const next: Module = {
      id: `m-${fresh()}` as ModuleId,
      name: `Module ${design.modules.length + 1}`,
      repeats: 1,
      lines: [],
    }
    edit.save(`Added ${next.name}`, { ...design, modules: [...design.modules, next] })
    choose(next.id)
  }
  const distinct = new Set(result.lines.map((l) => l.item)).size
  const now = design.modules.filter((m) => !m.later).length
  const open = (which: Opening) => (on: boolean) => {
    setOpening(on ? which : undefined)
  }
  const dialog = { edit, snapshot, onAdded: choose }
  const starts = [
    ['list', 'A parts list', FileUp],
    ['donor', 'Stages of a donor', Boxes],
    ['library', 'A module from the library', BookOpen],
    ['as built', 'What is built already', PackageCheck],
  ] as const
  return (
    <Screen
      title="Design"
      headline={
        design.modules.length === 0 ? (
          'The design is empty: start from a list, from a donor, or from what is built already.'
        ) : (
          <>
            <Figure>{plural(now, 'module')}</Figure>, repeated, come to <Figure>{plural(result.need, 'piece')}</Figure>{' '}
            of <Figure>{plural(distinct, 'different item')}</Figure>
            {now < design.modules.length && `; ${plural(design.modules.length - now, 'idea')} for later`}.
          </>
        )
      }
      actions={
        <>
          <Button look="primary" onClick={addModule}>
            <Plus size={16} aria-hidden="true" /> Add a module
          </Button>
          <Menu
            label="Bring in"
            entries={starts.map(([which, label, Icon]) => ({
              label,
              icon: <Icon size={16} aria-hidden="true" />,
              onSelect: () => {
                setOpening(which)
              },
            }))}
          />
        </>
      }
    >
      <ViewSwitch
        views={VIEWS}
        view={view}
        onChange={(v) => {
          const kept = params.get('module')
          setAll({ ...(v === 'modules' ? {} : { view: v }), ...(kept === null ? {} : { module: kept }) })
        }}
      />
      {view === 'modules' && <RareNote count={count} />}
      {view === 'modules' && !module && (
        <div className="flex flex-wrap gap-2">
          {starts.map(([which, label, Icon]) => (
            <Button
              key={which}
              onClick={() => {
                setOpening(which)
              }}
            >
              <Icon size={16} aria-hidden="true" /> {which === 'list' ? 'Import a parts list' : label}
            </Button>
          ))}
        </div>
      )}
      {view === 'modules' && (
        <ModulesView edit={edit} snapshot={snapshot} result={result} module={module} onChoose={choose} />
      )}
      {view === 'colourways' && <ColourwaysView edit={edit} snapshot={snapshot} />}
      {view === 'yield' && (
        <YieldView edit={edit} snapshot={snapshot} asked={params.get('module') === null ? undefined : module?.id} />
      )}
      {view === 'figures' && <FiguresView edit={edit} snapshot={snapshot} result={result} onOpen={choose} />}
      {view === 'versions' && <VersionsView edit={edit} snapshot={snapshot} result={result} />}
      {view === 'trial' && <TrialView edit={edit} snapshot={snapshot} />}
      {view === 'changes' && <ChangesView edit={edit} snapshot={snapshot} onOpen={choose} />}
      {view === 'sheet' && (
        <SheetView
          snapshot={snapshot}
          asked={params.get('module') === null ? undefined : module?.id}
          onModule={(next) => {
            setAll({ view: 'sheet', ...(next === undefined ? {} : { module: next }) })
          }}
        />
      )}
      <ImportDialog kind="design" build={build.id} open={opening === 'list'} onOpenChange={open('list')} />
      <DonorStartDialog {...dialog} open={opening === 'donor'} onOpenChange={open('donor')} />
      <LibraryDialog {...dialog} open={opening === 'library'} onOpenChange={open('library')} />
      <AsBuiltDialog {...dialog} open={opening === 'as built'} onOpenChange={open('as built')} />
    </Screen>
  )
}
