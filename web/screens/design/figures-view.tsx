import { Plus, TriangleAlert } from 'lucide-react'
import { useMemo, useState } from 'react'
import { splitItemKey, type ItemKey } from '../../../core/catalogue/item.ts'
import { SLOTS, type DesignLine, type Module } from '../../../core/design/design.ts'
import { guessSlot, secondFaceShows } from '../../../core/design/figure.ts'
import { castTask, donorsTaken, traceFigures, type CastAim, type FigureTrace } from '../../../core/studies/cast.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { SourcingPlan } from '../../../core/sourcing/plan.ts'
import { verifyPlan } from '../../../core/sourcing/verify-plan.ts'
import type { LineId, ModuleId, SetId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { startSourcing } from '../../../workers/sourcing-client.ts'
import { fresh } from '../../store/database.ts'
import { wordsOf } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { EditDesign } from './edit-design.ts'

/** The cast: what each figure is made of, who lends it, what holds it up, and how few donors would do. */
export function FiguresView({
  edit,
  snapshot,
  result,
  onOpen,
}: {
  edit: EditDesign
  snapshot: Snapshot
  result: Tally
  onOpen: (id: ModuleId) => void
}) {
  const traces = useMemo(() => traceFigures(snapshot, result), [snapshot, result])
  const add = () => {
    const figure: Module = {
      id: `m-${fresh()}` as ModuleId,
      name: `Figure ${traces.length + 1}`,
      repeats: 1,
      figure: true,
      lines: [],
    }
    edit.save(`Added ${figure.name}`, { ...edit.design, modules: [...edit.design.modules, figure] })
  }
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_20rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <div className="flex min-w-0 flex-col gap-4">
        <ul className="grid grid-cols-2 gap-4 max-[1100px]:grid-cols-1">
          {traces.map((trace) => (
            <FigureSheet key={trace.figure.id} trace={trace} edit={edit} snapshot={snapshot} onOpen={onOpen} />
          ))}
        </ul>
        {traces.length === 0 && (
          <p className="max-w-xl text-sm">
            No figure yet. A figure is a module whose lines are its slots: add one, or mark a module as a figure.
          </p>
        )}
        <span>
          <Button onClick={add}>
            <Plus size={14} aria-hidden="true" /> Add a figure
          </Button>
        </span>
      </div>
      <CoverCast snapshot={snapshot} result={result} />
    </div>
  )
}

function FigureSheet({
  trace,
  edit,
  snapshot,
  onOpen,
}: {
  trace: FigureTrace
  edit: EditDesign
  snapshot: Snapshot
  onOpen: (id: ModuleId) => void
}) {
  const { nameItem, partById } = useRecords()
  const { figure } = trace
  const face = secondFaceShows(figure, snapshot.parts)
  const slotOf = (line: DesignLine) =>
    line.slot ?? guessSlot(partById.get(splitItemKey(line.item).part) ?? nameItem(line.item).part)
  const lines = [...figure.lines].sort((p, q) => SLOTS.indexOf(slotOf(p)) - SLOTS.indexOf(slotOf(q)))
  const lent = (item: ItemKey) => nameItem(item).part.name.replace(/^figure /, '')
  return (
    <li className="flex flex-col gap-2 border border-rule bg-sheet p-3 text-sm">
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-base font-semibold">
          {figure.name}
          {figure.repeats > 1 && ` × ${figure.repeats}`}
        </h2>
        <Button
          onClick={() => {
            onOpen(figure.id)
          }}
        >
          Open its lines
        </Button>
      </div>
      <p className={trace.waiting.length > 0 ? 'text-bad' : 'text-good'}>
        {trace.waiting.length > 0
          ? `Held up: ${trace.have} of ${plural(trace.need, 'piece')} there.`
          : trace.need === 0
            ? 'No pieces yet.'
            : 'Complete.'}
      </p>
      <ul>
        {lines.map((line) => {
          const { part, colour } = nameItem(line.item)
          const waits = trace.waiting.find((w) => w.item === line.item)
          return (
            <li
              key={line.id}
              className="grid grid-cols-[7rem_auto_minmax(0,1fr)] items-center gap-2 border-t border-hair py-0.5"
            >
              <span className="text-xs text-soft">{slotOf(line)}</span>
              <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={26} />
              <span className="min-w-0 leading-tight">
                <span className={`block truncate ${waits ? 'font-semibold text-bad' : ''}`}>
                  {part.name.replace(/^figure /, '')}, {colour.name}
                </span>
                {line.instead && (
                  <span className="block truncate text-xs text-soft">
                    or {line.instead.map((uses) => uses.map((u) => lent(u.item)).join(' and ')).join(', or ')}
                  </span>
                )}
                {waits?.meanwhile && (
                  <span className="block truncate text-xs text-warn">{lent(waits.meanwhile)} until it arrives</span>
                )}
              </span>
            </li>
          )
        })}
      </ul>
      {trace.lenders.size > 0 && (
        <p className="text-xs text-soft">
          {[...trace.lenders].map(([name, items]) => `${name} lends ${items.map(lent).join(', ')}`).join('; ')}.
        </p>
      )}
      {face && (
        <p className="flex gap-2 border-l-4 border-warn bg-raised px-2 py-1">
          <TriangleAlert size={14} aria-hidden="true" className="mt-0.5 shrink-0" />
          The second face shows:{' '}
          {face.under ? `${lent(face.under)} leaves the back of the head in sight.` : 'the head has nothing on it.'}
        </p>
      )}
      <QuickEntry
        label={`New piece of ${figure.name}`}
        action="Add"
        wide
        onAdd={(typed, more) => {
          const lines = typed.map(({ item, qty }): DesignLine => ({
            id: `n-${fresh()}` as LineId,
            item,
            qty,
            slot: guessSlot(nameItem(item).part),
          }))
          edit.replace(`Added to ${figure.name}`, { ...figure, lines: [...figure.lines, ...lines] }, more)
        }}
      />
    </li>
  )
}

type Cover = {
  readonly aim: CastAim
  /** What it covers: another state of the build needs another cover. */
  readonly of: Snapshot
  readonly plan: SourcingPlan
  readonly heldUp: ReturnType<typeof castTask>['heldUp']
}

/** Covers what the cast still lacks from as few donors, or as cheaply, as possible. */
function CoverCast({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { shops, offers, sets, nameItem } = useRecords()
  const [busy, setBusy] = useState<CastAim | undefined>()
  const [found, setCover] = useState<Cover | undefined>()
  const cover = found?.of === snapshot ? found : undefined
  const [problem, setProblem] = useState('')
  const find = async (aim: CastAim) => {
    setBusy(aim)
    setProblem('')
    setCover(undefined)
    const task = castTask(snapshot, result, aim, { shops, offers })
    try {
      const plan = await startSourcing(task.problem, 20).result
      if (!plan) throw new Error('it was stopped')
      if (plan.total !== null) {
        const verdict = verifyPlan(task.problem, plan)
        if (!verdict.ok || verdict.total !== plan.total) throw new Error('the plan does not hold')
      }
      setCover({ aim, of: snapshot, plan, heldUp: task.heldUp })
    } catch (error) {
      setProblem(`No cover was found: ${wordsOf(error)}.`)
    } finally {
      setBusy(undefined)
    }
  }
  const figures = new Map(snapshot.design.modules.map((m) => [m.id, m.name]))
  const nameOf = (id: SetId) => sets.find((s) => s.id === id)?.name ?? 'a set'
  return (
    <section aria-label="Cover the cast" className="flex flex-col gap-3 text-sm">
      <h2 className="text-base font-semibold">Cover what the cast still lacks</h2>
      <span className="flex flex-wrap gap-2">
        <Button look="primary" disabled={busy !== undefined} onClick={() => void find('fewest donors')}>
          From the fewest donors
        </Button>
        <Button disabled={busy !== undefined} onClick={() => void find('least money')}>
          For the least money
        </Button>
      </span>
      {busy && <p role="status">Looking for it…</p>}
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      {cover && (
        <div aria-live="polite" className="flex flex-col gap-2">
          <p>
            {cover.plan.total === null ? (
              'No plan within the rules.'
            ) : cover.plan.assignments.length === 0 ? (
              cover.heldUp.length === 0 ? (
                'The cast lacks nothing.'
              ) : (
                'Nobody known has what the cast lacks.'
              )
            ) : cover.aim === 'fewest donors' ? (
              <>
                <b>
                  {plural(
                    donorsTaken(cover.plan).reduce((n, d) => n + d.copies, 0),
                    'donor copy',
                    'donor copies',
                  )}
                </b>{' '}
                cover it{cover.plan.status === 'optimal' ? ', proven: fewer cannot' : ''}.
              </>
            ) : (
              <>
                <b>{formatMoney(cover.plan.total, snapshot.build.currency)}</b> at the door covers it
                {cover.plan.status === 'optimal' ? ', proven' : ''}: {plural(cover.plan.purchases.length, 'line')} from
                shops, sets at retail price.
              </>
            )}
          </p>
          <ul>
            {donorsTaken(cover.plan).map((d) => (
              <li key={d.set}>
                {d.copies} × {nameOf(d.set)}
              </li>
            ))}
          </ul>
          {cover.heldUp.length > 0 && (
            <div className="border-l-4 border-bad bg-bad-wash px-3 py-2">
              <h3 className="font-semibold">Nobody known has these</h3>
              {cover.heldUp.map((h) => (
                <span key={`${h.module} ${h.item}`} className="flex items-center gap-1">
                  {figures.get(h.module)}: <ItemName item={h.item} size={24} />
                </span>
              ))}
            </div>
          )}
          <p className="text-xs text-soft">
            {cover.plan.assignments
              .filter((a) => a.accept !== 'exact')
              .map((a) => {
                const line = result.lines.find((l) => l.id === a.line)
                return line
                  ? `${figures.get(line.module) ?? 'A figure'} takes another ${nameItem(line.item).part.name}`
                  : ''
              })
              .join('; ')}
          </p>
        </div>
      )}
      <p className="text-xs text-soft">Small parts: keep figures away from children under three.</p>
    </section>
  )
}
