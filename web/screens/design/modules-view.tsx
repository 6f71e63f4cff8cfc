import { withPieces } from '../../../core/design/edit-line.ts'
import { withoutModule } from '../../../core/design/arrange-modules.ts'
import { Copy, FlipHorizontal2, Palette, Trash2, TriangleAlert } from 'lucide-react'
import { useMemo, useState } from 'react'
import type { DesignLine, Module } from '../../../core/design/design.ts'
import { designFaults } from '../../../core/design/faults.ts'
import { copyModules } from '../../../core/design/copy-modules.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { LineId, ModuleId } from '../../../core/units/ids.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { CommitInput, NumberInput } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import type { EditDesign } from './edit-design.ts'
import { ContextMenu } from '../../ui/context-menu.tsx'
import { ChosenLines, lineMenu } from './chosen-lines.tsx'
import { LineDetails } from './line-details.tsx'
import { LinesGrid } from './lines-grid.tsx'
import { ModuleDetails } from './module-details.tsx'
import { ModuleList } from './module-list.tsx'
import { StillPanel } from './still-panel.tsx'
import { RecolourDialog } from './recolour-dialog.tsx'

/** The design as modules and lines; the chosen line and its module open beside them. */
export function ModulesView({
  edit,
  snapshot,
  result,
  module,
  onChoose,
}: {
  edit: EditDesign
  snapshot: Snapshot
  result: Tally
  module: Module | undefined
  onChoose: (id: ModuleId) => void
}) {
  const { colourById } = useRecords()
  const [line, setLine] = useState<LineId | undefined>()
  const [panel, setPanel] = useState<'line' | 'module' | 'still'>('line')
  const [recolouring, setRecolouring] = useState(false)
  const [several, setChosenLines] = useState<readonly DesignLine[]>([])
  const faults = useMemo(() => designFaults(edit.design, colourById), [edit.design, colourById])
  const tallied = useMemo(
    () => result.lines.filter((l) => module !== undefined && l.path.at(-1) === module.id),
    [result, module],
  )
  if (!module) return null
  const own = new Set(module.lines.map((l) => l.id))
  const chosenLines = several.filter((l) => own.has(l.id))
  const borrowed = tallied.filter((l) => !own.has(l.line))
  const chosen = module.lines.find((l) => l.id === line) ?? module.lines[0]
  const group = chosen?.group === undefined ? undefined : result.groups.get(chosen.group)
  const mine = faults.filter((f) => f.module === module.id)
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[12rem_minmax(0,1fr)_14.5rem] gap-4 max-[960px]:grid-cols-[10rem_minmax(0,1fr)] max-[960px]:grid-rows-[minmax(26rem,1fr)_auto] max-[960px]:overflow-auto">
      <ModuleList edit={edit} result={result} faults={faults} chosen={module} onChoose={onChoose} />
      <div className="flex min-h-0 flex-col gap-3">
        <ModuleBar
          edit={edit}
          module={module}
          onChoose={onChoose}
          onRecolour={() => {
            setRecolouring(true)
          }}
        />
        {mine.map((f, i) => (
          <p
            key={i}
            role="alert"
            className="flex items-center gap-2 border-l-4 border-bad bg-bad-wash px-3 py-1 text-sm"
          >
            <TriangleAlert size={14} aria-hidden="true" /> {f.message}
          </p>
        ))}
        <QuickEntry
          onAdd={(typed, more) => {
            const lines = withPieces(module.lines, typed, () => `n-${fresh()}` as LineId)
            const [first] = typed
            const label =
              typed.length === 1 && first ? `Added ${first.qty} ${first.name}` : `Added ${typed.length} lines`
            edit.replace(label, { ...module, lines }, more)
          }}
        />
        {chosenLines.length > 0 && <ChosenLines module={module} chosen={chosenLines} edit={edit} />}
        <ContextMenu entries={lineMenu(module, chosenLines.length > 0 ? chosenLines : chosen ? [chosen] : [], edit)}>
          <div className="flex min-h-0 flex-1 flex-col">
            <LinesGrid
              key={module.id}
              onChoose={setChosenLines}
              module={module}
              tallied={tallied}
              edit={edit}
              selected={line}
              onSelect={(id) => {
                setLine(id)
                setPanel('line')
              }}
            />
          </div>
        </ContextMenu>
        {borrowed.length > 0 && (
          <section
            aria-label="Lines it shares"
            className="max-h-48 min-h-24 overflow-auto border border-rule bg-sheet px-3 py-2 text-sm"
          >
            <h2 className="font-semibold">
              The same as {edit.design.modules.find((m) => m.id === module.like)?.name ?? 'another module'}
              {module.mirrored ? ', mirrored' : ''}
            </h2>
            <ul className="grid grid-cols-2 gap-x-4">
              {borrowed.slice(0, 100).map((l) => (
                <li key={l.id} className="flex items-center gap-2">
                  <b className="w-8 text-right">{l.need}</b> <ItemName item={l.item} size={26} />
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <aside
        aria-label="Details"
        className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-4 max-[960px]:col-span-2 max-[960px]:overflow-visible max-[960px]:border-l-0 max-[960px]:pl-0"
      >
        <div role="group" aria-label="Details of" className="flex flex-wrap gap-2">
          {(['line', 'module', 'still'] as const).map((p) => (
            <Button
              key={p}
              aria-pressed={p === panel}
              look={p === panel ? 'primary' : 'plain'}
              onClick={() => {
                setPanel(p)
              }}
            >
              {{ line: 'Line', module: 'Module', still: 'Still there' }[p]}
            </Button>
          ))}
        </div>
        {panel === 'still' && <StillPanel module={module} edit={edit} snapshot={snapshot} />}
        {panel === 'line' ? (
          chosen ? (
            <LineDetails
              key={chosen.id}
              module={module}
              line={chosen}
              edit={edit}
              currency={snapshot.build.currency}
              groupColour={group && colourById.get(group)?.name}
            />
          ) : (
            <p className="text-sm text-soft">Choose a line to see all it says.</p>
          )
        ) : panel === 'module' ? (
          <ModuleDetails key={module.id} module={module} edit={edit} snapshot={snapshot} result={result} />
        ) : null}
      </aside>
      <RecolourDialog
        module={module}
        edit={edit}
        snapshot={snapshot}
        open={recolouring}
        onOpenChange={setRecolouring}
      />
    </div>
  )
}

/** Name and repeats of a module, and what can be done with it as a whole. */
function ModuleBar({
  edit,
  module,
  onChoose,
  onRecolour,
}: {
  edit: EditDesign
  module: Module
  onChoose: (id: ModuleId) => void
  onRecolour: () => void
}) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <CommitInput
        aria-label="Module name"
        value={module.name}
        maxLength={120}
        className="w-36 font-semibold"
        onCommit={(name) => {
          if (name.trim() !== '') edit.replace('Renamed a module', { ...module, name: name.trim() })
        }}
      />
      <span className="flex items-center gap-1 text-sm">
        ×
        <NumberInput
          aria-label="Repeats"
          value={module.repeats}
          min={1}
          max={10_000}
          className="w-14"
          onCommit={(n) => {
            if (n !== null) edit.replace(`${module.name}: ${n} repeats`, { ...module, repeats: n })
          }}
        />
      </span>
      <Button onClick={onRecolour}>
        <Palette size={14} aria-hidden="true" /> Recolour
      </Button>
      <Button
        title="Adds the mirrored twin as a module of its own"
        onClick={() => {
          const twin: Module = {
            id: `m-${fresh()}` as ModuleId,
            name: `${module.name}, mirrored`.slice(0, 120),
            repeats: module.repeats,
            like: module.id,
            mirrored: true,
            pair: module.id,
            ...(module.within === undefined ? {} : { within: module.within }),
            lines: [],
          }
          edit.save(`Mirrored ${module.name}`, { ...edit.design, modules: [...edit.design.modules, twin] }, [], false)
          onChoose(twin.id)
        }}
      >
        <FlipHorizontal2 size={14} aria-hidden="true" /> Mirror
      </Button>
      <Button
        aria-label="Copy the module"
        onClick={() => {
          const copies = copyModules(edit.design.modules, module.id, fresh).map((m) =>
            m.name === module.name ? { ...m, name: `${m.name}, copy`.slice(0, 120) } : m,
          )
          edit.save(
            `Copied ${module.name}`,
            { ...edit.design, modules: [...edit.design.modules, ...copies] },
            [],
            false,
          )
        }}
      >
        <Copy size={14} aria-hidden="true" />
      </Button>
      <Button
        aria-label="Remove the module"
        onClick={() => {
          edit.save(`Removed module ${module.name}`, withoutModule(edit.design, module.id), [], false)
        }}
      >
        <Trash2 size={14} aria-hidden="true" />
      </Button>
    </div>
  )
}
