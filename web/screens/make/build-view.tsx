import { ChevronLeft, ChevronRight } from 'lucide-react'
import { useMemo, useState } from 'react'
import { stateOfUnit, type Work } from '../../../core/making/works.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { AmissDialog } from './amiss-dialog.tsx'
import { LineList } from './line-list.tsx'
import type { LineAt } from '../../../core/making/at-work.ts'
import { lineState } from '../../../core/making/at-work.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { TimerBar } from './timer-bar.tsx'
import { UnitNotes } from './unit-notes.tsx'
import { useAwake } from './use-awake.ts'
import { useInTurn } from './use-in-turn.ts'
import { useLineKeys } from './use-line-keys.ts'
import { useAddress } from '../../ui/address.ts'

/** One repeat of one module, large: what goes in, line by line. */
export function BuildView(view: MakeView) {
  const { at, next, tally } = view
  const { params } = useAddress()
  const first = next[0]
  const work = at.works.find((w) => w.key === params.get('work')) ?? first?.work ?? at.works[0]
  if (!work) return <p className="text-sm">No module needs pieces: list them on Design first.</p>
  const asked = Number(params.get('repeat'))
  const known = view.progress.states.get(work.key)?.next
  const repeat =
    Number.isInteger(asked) && asked >= 1 && asked <= work.repeats ? asked : (known ?? Math.max(1, work.repeats))
  return <UnitView key={`${work.key} ${repeat} ${tally.now.build.id}`} view={view} work={work} repeat={repeat} />
}

function UnitView({ view, work, repeat }: { view: MakeView; work: Work; repeat: number }) {
  const { at, tally, today, go } = view
  const { design } = tally.now
  const awake = useAwake(true)
  const inTurn = useInTurn(at)
  const [amiss, setAmiss] = useState<LineAt | undefined>()
  const [openOnly, setOpenOnly] = useState(false)
  const unit = at.unitAt(work, repeat)
  const state = stateOfUnit(work, repeat, at.unitsOf.get(work.key)?.get(repeat))
  const finished = unit.standsIn !== undefined || (repeat <= work.finished && unit.put.length === 0)
  // What is attached last comes last, whatever the order of the design.
  const lines = useMemo(() => [...work.lines].sort((p, q) => Number(isLast(p)) - Number(isLast(q))), [work.lines])
  const rows = useMemo(() => {
    const all = lines.map((line): LineAt => ({ at, work, repeat, line }))
    return all.filter((l) => {
      const { need, put, open } = lineState(l)
      return need + put > 0 && (!openOnly || open > 0)
    })
  }, [at, work, repeat, lines, openOnly])
  const show = (next: { readonly key: string }, n: number) => {
    go('build', { work: next.key, repeat: String(n) })
  }
  const box = useLineKeys((line) => {
    setAmiss(rows.find((r) => r.line.id === line))
  })
  const following = view.next.find((n) => n.work.key !== work.key || n.repeat !== repeat)
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3" ref={box}>
      <div className="flex flex-wrap items-center gap-2">
        <Choice
          label="Module"
          className="max-w-80 min-w-52"
          value={work.key}
          options={at.works.map((w) => ({ value: w.key, label: workName(w, design) }))}
          onChange={(key) => {
            const other = at.works.find((w) => w.key === key)
            if (other) show(other, view.progress.states.get(key)?.next ?? 1)
          }}
        />
        {work.repeats > 1 && (
          <span className="flex items-center gap-1">
            <Button
              aria-label="The repeat before"
              disabled={repeat <= 1}
              onClick={() => {
                show(work, repeat - 1)
              }}
            >
              <ChevronLeft size={16} aria-hidden="true" />
            </Button>
            <span className="min-w-20 text-center text-sm">
              {repeat} of {formatNumber(work.repeats)}
            </span>
            <Button
              aria-label="The next repeat"
              disabled={repeat >= work.repeats}
              onClick={() => {
                show(work, repeat + 1)
              }}
            >
              <ChevronRight size={16} aria-hidden="true" />
            </Button>
          </span>
        )}
        <TimerBar unit={unit} units={at.units} />
        <Tick checked={openOnly} onChange={setOpenOnly}>
          Open lines only
        </Tick>
        <span className="flex-1" />
        {following && (
          <Button
            look={state.done ? 'primary' : 'plain'}
            onClick={() => {
              show(following.work, following.repeat)
            }}
          >
            Next: {workName(following.work, design)}
            {following.work.repeats > 1 && ` ${following.repeat}`}
          </Button>
        )}
      </div>
      <p className="text-sm" role="status">
        <b>
          {state.put} of {plural(state.need, 'piece')} in
        </b>
        {state.leftOut > 0 && `, ${state.leftOut} left out on purpose`}
        {state.done && (finished ? '. It is a finished model.' : '. This one is done.')}
        {work.mirrored && ' Mirrored: handed pieces are the counterparts of those drawn; left and right change places.'}
        {work.module.note !== undefined && work.module.note !== '' && ` ${work.module.note}`}
        {awake === 'on' && <span className="text-soft"> The screen stays awake.</span>}
      </p>
      <LineList rows={rows} finished={finished} snapshot={tally.snapshot} inTurn={inTurn} onAmiss={setAmiss}>
        {openOnly && rows.length === 0 && <p className="text-sm">Every line has what it needs.</p>}
        <Drawing work={work} />
        <UnitNotes view={view} work={work} unit={unit} today={today} />
      </LineList>
      {amiss && (
        <AmissDialog
          view={view}
          row={{ ...amiss, at }}
          onClose={() => {
            setAmiss(undefined)
          }}
        />
      )}
    </div>
  )
}

const isLast = ({ source }: LineAt['line']): boolean => source.moment === 'attach last'

/** The drawing of the module, flipped where it is mirrored. */
function Drawing({ work }: { work: Work }) {
  const { pictures } = useRecords()
  const picture = pictures.find((p) => p.id === work.module.picture)
  if (!picture) return null
  return (
    <figure className="text-sm">
      <img
        src={picture.data}
        alt={picture.name}
        className={`max-h-96 max-w-full ${work.mirrored ? '-scale-x-100' : ''}`}
      />
      {work.mirrored && <figcaption className="text-soft">Flipped: as this mirrored module is built.</figcaption>}
    </figure>
  )
}
