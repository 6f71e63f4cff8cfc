import { useMemo } from 'react'
import { changeSheet } from '../../../core/design/change-sheet.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import {
  allLoose,
  conversionOf,
  heapOf,
  keepStage,
  putDonorBack,
  stageApart,
  stageMoved,
  standing,
  takeOff,
  type StageAtWork,
} from '../../../core/making/conversion.ts'
import { isThere } from '../../../core/shelf/leftovers.ts'
import { ok } from '../../../core/units/result.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { edit } from '../../../storage/journal.ts'
import { withMissing } from '../../../core/making/put-in.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { doMaking } from '../../store/making.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { toast } from 'sonner'
import { Button } from '../../ui/button.tsx'
import { PrintButton } from '../../ui/print-button.tsx'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { Models } from './models-apart.tsx'
import { useInTurn } from './use-in-turn.ts'

/** Donors that stand built and are changed or taken apart, and models whose pieces the build takes. */
export function ApartView(view: MakeView) {
  const { copies, sets } = useRecords()
  const { build } = view.tally.now
  const own = copies.filter((c) => c.buildId === build.id && isThere(c))
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-5 overflow-auto text-sm">
      <p className="no-print max-w-3xl text-xs text-soft">
        Old plastic is brittle: pry slowly, with a plastic wedge rather than a blade, and never towards the hand. Small
        parts are a choking hazard for children under three.
      </p>
      {own.map((copy) => {
        const set = sets.find((s) => s.id === copy.setId)
        return set && <CopyApart key={copy.id} view={view} copy={copy} set={set} />
      })}
      {own.length === 0 && <p>No donor copy of this build is here.</p>}
      <Models {...view} />
    </div>
  )
}

/** One copy: loose, standing, or being changed stage by stage. */
function CopyApart({ view, copy, set }: { view: MakeView; copy: Copy; set: DonorSet }) {
  const records = useRecords()
  const { at, tally } = view
  const { design, parts } = tally.now
  const sheet = useMemo(() => changeSheet(design, [set], parts), [design, set, parts])
  const stages = useMemo(
    () => conversionOf(copy, set, sheet, at.works, at.units),
    [copy, set, sheet, at.works, at.units],
  )
  const heap = heapOf(copy, at.units)
  const nameOf = new Map(set.stages.map((s) => [s.id, s.name]))
  const changed = new Set(stages.map((s) => s.stage))
  const whole = (copy.stands ?? []).filter((s) => !changed.has(s.stage))
  const done = stages.filter((s) => s.done).length
  const touched =
    (copy.stands ?? []).some((s) => s.off.length > 0) ||
    at.units.some((u) => u.put.some((p) => p.from.kind === 'copy' && p.from.copy === copy.id))
  const say = (label: string, next: Copy) => void perform(label, [edit('copies', copy, next)], { quiet: true })
  return (
    <section aria-label={copy.label} className="border-t border-rule pt-2">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-display text-base font-medium">{copy.label}</h2>
        <span className="text-soft">
          {copy.stands === undefined
            ? 'lies loose: nothing has to be taken apart'
            : stages.length > 0
              ? `stands built; ${done} of ${plural(stages.length, 'stage')} changed`
              : `${plural(copy.stands.length, 'stage')} of it ${copy.stands.length === 1 ? 'stands' : 'stand'} built`}
        </span>
        <span className="flex-1" />
        {copy.stands === undefined ? (
          <Button
            onClick={() => {
              say(`${copy.label} stands built`, standing(copy, set))
            }}
          >
            It stands built
          </Button>
        ) : (
          <>
            <PrintButton label={`Print what changes in ${copy.label}`} />
            {touched && (
              <Button
                onClick={() =>
                  void doMaking(
                    `Put ${copy.label} back as it was`,
                    ok(putDonorBack(copy, set, at.units, at.stock)),
                    records,
                    { quiet: false },
                  )
                }
              >
                Put it back as it was
              </Button>
            )}
            <Button
              onClick={() => {
                say(`${copy.label} is taken apart`, allLoose(copy))
              }}
            >
              All of it is apart
            </Button>
          </>
        )}
      </div>
      {heap.length > 0 && (
        <p className="mt-1">
          On the heap:{' '}
          <b>
            {plural(
              heap.reduce((n, p) => n + p.qty, 0),
              'piece',
            )}
          </b>{' '}
          taken off and not used again yet; they are the first supply for what is added.
        </p>
      )}
      <ol className="flex flex-col gap-3">
        {stages.map((stage) => (
          <StageRow
            key={stage.stage}
            view={view}
            copy={copy}
            set={set}
            stage={stage}
            name={nameOf.get(stage.stage) ?? stage.stage}
          />
        ))}
        {whole.map(({ stage }) => (
          <li key={stage} className="flex flex-wrap items-center gap-3 border-t border-hair py-1.5">
            <span className="flex-1">
              <b>{nameOf.get(stage) ?? stage}</b>: no module keeps any of it in place; it is taken apart as a whole.
            </span>
            <Button
              onClick={() => {
                say(`${nameOf.get(stage) ?? stage} of ${copy.label} is taken apart`, stageApart(copy, stage))
              }}
            >
              Taken apart
            </Button>
          </li>
        ))}
      </ol>
      <Losses copy={copy} />
    </section>
  )
}

/** What was lost or broken while it was taken apart: the copy holds so much less from then on. */
function Losses({ copy }: { copy: Copy }) {
  return (
    <details className="no-print">
      <summary className="cursor-pointer py-2.5">Lost or broken while it was taken apart</summary>
      <div className="flex flex-wrap items-center gap-3">
        <QuickEntry
          label="What is lost or broken"
          action="It is gone"
          onAdd={(lines, more) => {
            const gone = new Map(lines.map((l) => [l.item, l.qty]))
            void perform(`Lost of ${copy.label}`, [...more, edit('copies', copy, withMissing(copy, gone))])
          }}
        />
        <span className="text-xs text-soft">Broken plastic has sharp edges: mind your fingers.</span>
      </div>
    </details>
  )
}

/** One stage of a donor: keep, take off, move or turn, add. */
function StageRow({
  view,
  copy,
  set,
  stage,
  name,
}: {
  view: MakeView
  copy: Copy
  set: DonorSet
  stage: StageAtWork
  name: string
}) {
  const records = useRecords()
  const { at, go, tally } = view
  const { change, off, kept, keptDone, added, addedDone } = stage
  const work = at.works.find((w) => w.module.id === change.module?.id)
  const inTurn = useInTurn(at)
  /** Changes the copy as it is once what was pressed before is written. */
  const tryCopy = (label: string, next: (now: Copy) => ReturnType<typeof takeOff>) =>
    void inTurn((table) => {
      const now = table.stock.copies.find((c) => c.id === copy.id) ?? copy
      const made = next(now)
      if (made.ok) return perform(label, [edit('copies', now, made.value)], { quiet: true })
      toast.error(made.error.message)
      return Promise.resolve(false)
    })
  const all = () => {
    let now = copy
    for (const { item, qty, done } of off) {
      if (done >= qty) continue
      const next = takeOff(now, set, stage.stage, item, qty - done)
      if (next.ok) now = next.value
    }
    void perform(`Took off ${name} what comes off`, [edit('copies', copy, now)], { quiet: true })
  }
  const keep = () => {
    if (!work) return
    const done: ReturnType<typeof keepStage> = keepStage(at.unitAt(work, 1), work, copy, set, stage.stage, at.stock)
    void doMaking(`What stays of ${name} is booked`, done, records)
  }
  const open = off.reduce((n, p) => n + p.qty - p.done, 0)
  return (
    <li className="break-inside-avoid border-t border-hair pt-2">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="font-semibold">{name}</h3>
        <span className={stage.done ? 'text-good' : 'text-soft'}>
          {stage.done ? 'done' : work ? `becomes ${workName(work, tally.now.design)}` : 'is taken off as a whole'}
          {change.module?.change !== undefined && `, ${change.module.change} as a whole`}
        </span>
        <span className="flex-1" />
        {stage.moved !== undefined && (
          <Button
            aria-pressed={stage.moved}
            onClick={() =>
              void perform(
                `${name} ${change.module?.change ?? 'moved'} as a whole`,
                [edit('copies', copy, stageMoved(copy, stage.stage, stage.moved !== true))],
                { quiet: true },
              )
            }
          >
            {stage.moved
              ? `It is ${change.module?.change ?? 'moved'}`
              : change.module?.change === 'turned'
                ? 'Turn it'
                : 'Move it'}
          </Button>
        )}
        {kept > 0 && (
          <Button disabled={keptDone >= kept} onClick={keep}>
            {keptDone >= kept ? `${formatNumber(kept)} stay, booked` : `Keep ${formatNumber(kept - keptDone)} in place`}
          </Button>
        )}
        {open > 0 && <Button onClick={all}>All {formatNumber(open)} taken off</Button>}
        {work && added > 0 && (
          <Button
            onClick={() => {
              go('build', { work: work.key, repeat: '1' })
            }}
          >
            {addedDone < added ? `Add ${formatNumber(added - addedDone)}` : `${formatNumber(added)} added`}
          </Button>
        )}
        {!work && open === 0 && off.length > 0 && (
          <Button
            onClick={() =>
              void perform(
                `${name} of ${copy.label} is taken apart`,
                [edit('copies', copy, stageApart(copy, stage.stage))],
                {
                  quiet: true,
                },
              )
            }
          >
            Nothing of it stands any more
          </Button>
        )}
      </div>
      {off.length > 0 && (
        <ul aria-label={`To take off ${name}`} className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-4">
          {off.map(({ item, qty, done }) => (
            <li key={item}>
              <label className="flex min-h-11 cursor-pointer items-center gap-2">
                <input
                  type="checkbox"
                  className="size-6 shrink-0 accent-(--accent)"
                  checked={done >= qty}
                  onChange={() => {
                    const on = done < qty
                    tryCopy(`${on ? 'Took off' : 'Put on again'} ${records.nameItem(item).name}`, (now) =>
                      takeOff(now, set, stage.stage, item, on ? qty - done : -done),
                    )
                  }}
                />
                <b className="w-8 text-right">{qty}</b>
                <ItemName item={item} size={28} />
              </label>
            </li>
          ))}
        </ul>
      )}
    </li>
  )
}
