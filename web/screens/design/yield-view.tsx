import { Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { YieldResult } from '../../../core/studies/yield.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { studsToMm } from '../../../core/units/length.ts'
import { useRecords } from '../../store/records.tsx'
import { useStudy } from '../../store/use-study.ts'
import { AskMarket } from '../../pieces/ask-market.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Field, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'
import type { EditDesign } from './edit-design.ts'
import { YieldCurve } from './yield-curve.tsx'

const NONE = '-'
const BEYOND = 8
const MOST_JOINT = 60

/** How often a module, or a pattern of modules, can be built from what there is, and what stops the next one. */
export function YieldView({
  edit,
  snapshot,
  asked,
}: {
  edit: EditDesign
  snapshot: Snapshot
  /** The module to begin with. */
  asked: ModuleId | undefined
}) {
  const { offers, shops } = useRecords()
  const { design } = edit
  const repeated = design.modules.filter((m) => m.repeats > 1 && !m.figure && m.within === undefined)
  const first = design.modules.find((m) => m.id === asked) ?? repeated[0] ?? design.modules[0]
  const [modules, setModules] = useState<readonly ModuleId[]>(first ? [first.id] : [])
  const [head, setHead] = useState<string>(NONE)
  const [tail, setTail] = useState<string>(NONE)
  const [keepRest, setKeepRest] = useState(true)
  const known = useMemo(() => new Set(design.modules.map((m) => m.id)), [design])
  const question = useMemo(() => {
    const end = (id: string) => (known.has(id as ModuleId) ? { id: id as ModuleId } : undefined)
    return {
      offers,
      shops,
      pattern: { modules: modules.filter((m) => known.has(m)), head: end(head)?.id, tail: end(tail)?.id },
      keepRest,
      beyond: BEYOND,
    }
  }, [offers, shops, modules, head, tail, keepRest, known])
  const study = useStudy('yield', snapshot, question)
  const options = design.modules.map((m) => ({ value: m.id as string, label: m.name }))
  const pattern = modules.map((id) => design.modules.find((m) => m.id === id)?.name ?? 'a module').join(' + ')
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[18rem_minmax(0,1fr)] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <section aria-label="What is repeated" className="flex flex-col gap-3 text-sm">
        <h2 className="text-base font-semibold">What is repeated</h2>
        <ol className="flex flex-col gap-1">
          {modules.map((id, i) => (
            <li key={i} className="flex items-center justify-between gap-2 border-b border-hair pb-1">
              <span>
                {i + 1}. {design.modules.find((m) => m.id === id)?.name ?? 'a module'}
              </span>
              <Button
                aria-label={`Take out number ${i + 1}`}
                onClick={() => {
                  setModules((list) => list.filter((_, n) => n !== i))
                }}
              >
                <Trash2 size={13} aria-hidden="true" />
              </Button>
            </li>
          ))}
        </ol>
        <Choice
          label="Add to the pattern"
          value={NONE}
          options={[{ value: NONE, label: 'add to the pattern…' }, ...options]}
          onChange={(id) => {
            if (id !== NONE) setModules((list) => [...list, id as ModuleId].slice(0, 12))
          }}
        />
        {(
          [
            ['Head, once', head, setHead],
            ['Tail, once', tail, setTail],
          ] as const
        ).map(([label, value, onChange]) => (
          <Field key={label} label={label}>
            {(id) => (
              <Choice
                id={id}
                value={value}
                options={[{ value: NONE, label: 'none' }, ...options]}
                onChange={onChange}
              />
            )}
          </Field>
        ))}
        <Tick checked={keepRest} onChange={setKeepRest}>
          The rest of the design keeps its pieces
        </Tick>
        <Joint edit={edit} snapshot={snapshot} keepRest={keepRest} />
      </section>
      <div className="flex min-w-0 flex-col gap-4">
        <StudyNote study={study} />
        {modules.length === 0 ? (
          <p className="text-sm">Add a module to the pattern.</p>
        ) : (
          study.value && (
            <div className={study.busy ? 'opacity-60' : ''}>
              <Answer result={study.value.result} pattern={pattern} length={modules.length} />
              <YieldCurve
                steps={study.value.curve}
                reached={study.value.result.elements}
                possible={study.value.result.possible}
                currency={snapshot.build.currency}
              />
              {study.value.curve.some((s) => s.unavailable > 0) && (
                <div className="mt-2">
                  <AskMarket items={[...new Set(study.value.curve.flatMap((s) => s.items))]}>
                    Ask the market for what is short
                  </AskMarket>
                </div>
              )}
            </div>
          )
        )}
      </div>
    </div>
  )
}

function Answer({ result, pattern, length }: { result: YieldResult; pattern: string; length: number }) {
  const whole = length === 1 ? plural(result.elements, 'repeat') : plural(result.repeats, 'whole pattern')
  const left = result.elements - result.repeats * length
  return (
    <section aria-label="Yield">
      <h2 className="font-display text-lg font-medium">
        {result.possible ? (
          <>
            <b>{whole}</b> of {pattern}
            {length > 1 && left > 0 ? ` and ${plural(left, 'module')} more` : ''} can be built now
            {result.capped ? ', and more' : ''}.
          </>
        ) : (
          <>Not even head and tail can be built from what there is.</>
        )}
      </h2>
      <p className="text-sm text-soft">
        {result.proven ? 'Proven: every allowed supply and stand-in was weighed. ' : 'Not proven to be the most. '}
        {result.length === undefined
          ? 'Enter the modules’ footprints under Try and size to see the length reached.'
          : `Reaches ${plural(result.length, 'stud')}, ${studsToMm(result.length)} mm.`}
      </p>
      {result.stops.length > 0 && (
        <>
          <h3 className="mt-3 text-base font-semibold">What stops the next one</h3>
          <ul className="max-w-xl">
            {result.stops.slice(0, 12).map((s) => (
              <li key={s.item} className="flex items-center justify-between gap-3 border-b border-hair py-1 text-sm">
                <ItemName item={s.item} size={30} />
                <span>
                  <b>{formatNumber(s.short)}</b> more would allow it
                </span>
              </li>
            ))}
          </ul>
          {result.stops.length > 1 && (
            <p className="mt-1 text-xs text-soft">All {formatNumber(result.stops.length)} are needed together.</p>
          )}
        </>
      )}
    </section>
  )
}

/** Modules that compete for the same pieces, solved together. */
function Joint({ edit, snapshot, keepRest }: { edit: EditDesign; snapshot: Snapshot; keepRest: boolean }) {
  const [chosen, setChosen] = useState<readonly ModuleId[]>([])
  const question = useMemo(
    () => (chosen.length >= 2 ? { modules: chosen, keepRest, most: MOST_JOINT } : undefined),
    [chosen, keepRest],
  )
  const study = useStudy('joint', snapshot, question)
  const nameOf = (id: ModuleId) => edit.design.modules.find((m) => m.id === id)?.name ?? 'a module'
  const modules = edit.design.modules.filter((m) => m.within === undefined && !m.figure)
  return (
    <div className="mt-2 flex flex-col gap-2 border-t border-rule pt-3">
      <h2 className="text-base font-semibold">Competing modules</h2>
      <p className="text-xs text-soft">Choose two or three that want the same pieces: how many of each together?</p>
      <div className="max-h-52 overflow-auto">
        {modules.map((m) => (
          <Tick
            key={m.id}
            checked={chosen.includes(m.id)}
            onChange={(on) => {
              setChosen((list) => (on ? [...list, m.id].slice(-3) : list.filter((id) => id !== m.id)))
            }}
          >
            {m.name}
          </Tick>
        ))}
      </div>
      <StudyNote study={study} />
      {question && study.value && !study.busy && (
        <ul aria-label="Combinations" className="max-h-48 overflow-auto">
          {study.value.slice(0, 40).map((counts) => (
            <li key={counts.join()} className="border-b border-hair py-1">
              {counts.map((n, i) => `${n} × ${nameOf(chosen[i] ?? ('' as ModuleId))}`).join(', ')}
            </li>
          ))}
          {study.value.length === 0 && <li>None of them can be built.</li>}
        </ul>
      )}
    </div>
  )
}
