import { Undo2, X } from 'lucide-react'
import { useMemo } from 'react'
import { withModule } from '../../../core/design/arrange-modules.ts'
import { changeSheet, changesDonor, type Added, type StageChange } from '../../../core/design/change-sheet.ts'
import type { Module } from '../../../core/design/design.ts'
import type { Pieces } from '../../../core/design/sum-items.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { LineId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { fresh } from '../../store/database.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { PrintButton } from '../../ui/print-button.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import type { EditDesign } from './edit-design.ts'

/** Where a stage as a whole goes, beside what is taken off and added. */
const MOVES = { stays: 'stays where it is', moved: 'is moved', turned: 'is turned' } as const
type Move = keyof typeof MOVES

/** The way from donors that stand built to the design, stage by stage: keep, take off, move or turn, add. */
export function ChangesView({
  edit,
  snapshot,
  onOpen,
}: {
  edit: EditDesign
  snapshot: Snapshot
  onOpen: (module: Module['id']) => void
}) {
  const { sets, parts } = snapshot
  const { design } = edit
  const sheet = useMemo(() => changeSheet(design, sets, parts), [design, sets, parts])
  const stages = useGrowing(sheet.stages)
  if (!changesDonor(design))
    return (
      <p className="max-w-2xl text-sm">
        No module was begun from a donor. Bring in the stages of a donor, take out of their lines what comes off and add
        what is new: then this sheet says, stage by stage, what to do with the model that stands built.
      </p>
    )
  return (
    <div className="sheet flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div className="no-print flex flex-wrap items-center gap-3 text-sm">
        <PrintButton />
      </div>
      <h2 className="font-display text-lg font-medium">
        {snapshot.build.name}: keep {formatNumber(sheet.kept)}, take off {formatNumber(sheet.off)}, add{' '}
        {formatNumber(sheet.added)}
      </h2>
      <p className="max-w-3xl text-sm">
        {sheet.reused === 0
          ? 'Nothing that is taken off is used again'
          : `${plural(sheet.reused, 'piece')} taken off ${sheet.reused === 1 ? 'is' : 'are'} used again`}
        {sheet.over.length > 0 && `, ${formatNumber(sheet.over.reduce((n, p) => n + p.qty, 0))} are over`}. Undone, the
        donor is whole again: {formatNumber(sheet.kept)} kept and {formatNumber(sheet.off)} put back make its{' '}
        {formatNumber(sheet.kept + sheet.off)} pieces. Old plastic is brittle: pry slowly, never with a blade towards
        the hand.
      </p>
      <ol className="flex flex-col gap-4">
        {stages.map((stage) => (
          <Stage key={stage.module?.id ?? stage.name} stage={stage} edit={edit} onOpen={onOpen} />
        ))}
      </ol>
    </div>
  )
}

function Stage({
  stage,
  edit,
  onOpen,
}: {
  stage: StageChange
  edit: EditDesign
  onOpen: (module: Module['id']) => void
}) {
  const { module, name, kept, off, added } = stage
  const nothing = off.length === 0 && added.length === 0
  return (
    <li className="break-inside-avoid border-t border-rule pt-2 text-sm">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="font-display text-base font-medium">{name}</h3>
        <span className="text-soft">
          {!stage.stage
            ? 'new'
            : module === undefined
              ? 'not in the design: taken off as a whole'
              : kept === 0 && off.length > 0
                ? 'taken off as a whole'
                : nothing
                  ? `stays as it is, ${plural(kept, 'piece')}`
                  : `${plural(kept, 'piece')} of it ${kept === 1 ? 'stays' : 'stay'}`}
        </span>
        {module && stage.stage && <WholeStage module={module} edit={edit} />}
        {module && (
          <Button
            className="no-print"
            onClick={() => {
              onOpen(module.id)
            }}
          >
            Its lines
          </Button>
        )}
      </div>
      {module?.change && (
        <p>
          The stage as a whole {MOVES[module.change]}
          {module.note ? `: ${module.note}` : '.'}
        </p>
      )}
      <div
        className={`mt-1 grid gap-6 ${off.length > 0 && added.length > 0 ? 'grid-cols-2 max-[700px]:grid-cols-1' : ''}`}
      >
        {off.length > 0 && (
          <section aria-label={`Taken off ${name}`}>
            <h4 className="font-semibold">
              Take off{' '}
              {plural(
                off.reduce((n, p) => n + p.qty, 0),
                'piece',
              )}
            </h4>
            <Heap pieces={off} />
          </section>
        )}
        {added.length > 0 && (
          <section aria-label={`Added to ${name}`}>
            <h4 className="font-semibold">
              Add{' '}
              {plural(
                added.reduce((n, p) => n + p.qty, 0),
                'piece',
              )}
            </h4>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-4">
              {added.map((a) => (
                <li key={a.item} className="flex items-center gap-2">
                  <b className="w-10 text-right">{formatNumber(a.qty)}</b>
                  <div className="min-w-0">
                    <ItemName item={a.item} size={26} /> <span className="text-xs text-soft">{sourceOf(a)}</span>
                  </div>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </li>
  )
}

/** Where added pieces come from: what was taken off, and the rest of what there is. */
const sourceOf = ({ heap, rest }: Added): string =>
  [
    ...heap.map(({ from, qty }) => `${formatNumber(qty)} taken off ${from}`),
    ...(rest > 0 ? [`${formatNumber(rest)} from what there is`] : []),
  ].join(', ')

function Heap({ pieces }: { pieces: readonly Pieces[] }) {
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(12rem,1fr))] gap-x-4">
      {pieces.map(({ item, qty }) => (
        <li key={item} className="flex items-center gap-2">
          <b className="w-10 text-right">{formatNumber(qty)}</b> <ItemName item={item} size={26} />
        </li>
      ))}
    </ul>
  )
}

/** What is done with a stage as a whole. */
function WholeStage({ module, edit }: { module: Module; edit: EditDesign }) {
  const { origin } = module
  if (origin?.kind !== 'donor') return null
  return (
    <span className="no-print flex items-center gap-2">
      <Choice
        label={`${module.name} as a whole`}
        className="w-40"
        value={module.change ?? ('stays' as Move)}
        options={(Object.keys(MOVES) as Move[]).map((value) => ({ value, label: MOVES[value] }))}
        onChange={(move) => {
          const { change: _, ...bare } = module
          edit.replace(`${module.name} ${MOVES[move]}`, move === 'stays' ? bare : { ...module, change: move })
        }}
      />
      {module.lines.length > 0 && (
        <Button
          onClick={() => {
            edit.save(`Took ${module.name} off`, withModule(edit.design, { ...module, lines: [] }), [], false)
          }}
        >
          <X size={14} aria-hidden="true" /> Take it off
        </Button>
      )}
      <Button
        onClick={() => {
          const lines = origin.contents.map(({ item, qty }) => ({ id: `n-${fresh()}` as LineId, item, qty }))
          edit.save(`Put ${module.name} back as it was`, withModule(edit.design, { ...module, lines }), [], false)
        }}
      >
        <Undo2 size={14} aria-hidden="true" /> As it was
      </Button>
    </span>
  )
}
