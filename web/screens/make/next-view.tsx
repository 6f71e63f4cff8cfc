import { minutesWords } from '../../../core/units/minutes.ts'
import { Hammer, Flag } from 'lucide-react'
import { useState } from 'react'
import { finish } from '../../../core/making/finish.ts'
import { piecesIn } from '../../../core/making/unit.ts'
import { CONFIDENCE } from '../../../core/making/forecast.ts'
import type { Place } from '../../../core/shelf/place.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { add, shelve } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { makingEdit, unitChanges } from '../../store/making.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Field, TextInput, Tick } from '../../ui/fields.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { forecastWords, workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { forecastOfWork, timedOf } from '../../../core/making/progress.ts'
import { nowIso } from '../../store/database.ts'

/** What can be built next, how far every module is, and how long the rest takes. */
export function NextView(view: MakeView) {
  const { at, next, progress, tally, go } = view
  const { design } = tally.now
  const nextOf = new Map(next.map((n) => [n.work.key, n]))
  const works = useGrowing(at.works)
  const now = nowIso()
  if (at.works.length === 0)
    return (
      <p className="max-w-2xl text-sm">
        List the pieces of a module on Design. Then this screen says what to take apart, how to sort, what to fetch and
        what to build next.
      </p>
    )
  return (
    <div className="relative flex min-h-0 flex-1 flex-col gap-4 overflow-auto text-sm">
      <Ready {...view} />
      <table aria-label="How far every module is" className="w-full [&_td]:py-1">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">Module</th>
            <th className="w-40 pl-3 font-semibold">Pieces in</th>
            <th className="pl-3 text-right font-semibold">Built</th>
            <th className="pl-4 font-semibold">A repeat took</th>
            <th className="pl-4 font-semibold">The rest takes</th>
            <th className="pl-4 font-semibold">Of the next, not here</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {works.map((work) => {
            const state = progress.states.get(work.key)
            const timed = timedOf(work, at, now)
            const mean = timed.reduce((n, t) => n + t.minutes, 0) / Math.max(1, timed.length)
            const forecast = forecastOfWork(progress, work)
            const coming = nextOf.get(work.key)
            if (!state) return null
            return (
              <tr key={work.key} className="border-b border-hair">
                <th scope="row" className="py-1 text-left font-normal">
                  {workName(work, design)}
                  {work.mirrored && <span className="text-soft"> (mirrored)</span>}
                </th>
                <td className="pl-3">
                  <Filled part={state.put + state.leftOut} whole={state.need} />
                </td>
                <td className="pl-3 text-right whitespace-nowrap">
                  {state.done} of {formatNumber(work.repeats)}
                </td>
                <td className="pl-4 whitespace-nowrap">
                  {timed.length === 0 ? (
                    <span className="text-soft">not timed</span>
                  ) : (
                    `${minutesWords(mean)}${timed.length > 1 ? `, ${timed.length} timed` : ''}`
                  )}
                </td>
                <td className="pl-4 whitespace-nowrap">
                  {forecast && state.next !== undefined ? minutesWords(forecast.likely) : ''}
                </td>
                <td className="pl-4">
                  {coming &&
                    (coming.missing === 0 ? (
                      'all here'
                    ) : (
                      <span className="text-warn">
                        {coming.missing} of {coming.open}
                      </span>
                    ))}
                </td>
                <td className="text-right">
                  {state.next !== undefined && (
                    <Button
                      aria-label={`Build ${workName(work, design)}`}
                      onClick={() => {
                        go('build', { work: work.key, repeat: String(state.next) })
                      }}
                    >
                      <Hammer size={14} aria-hidden="true" /> Build
                    </Button>
                  )}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <Times {...view} />
    </div>
  )
}

/** How much of a whole there is, as a bar and in numbers. */
function Filled({ part, whole }: { part: number; whole: number }) {
  return (
    <span className="flex items-center gap-2">
      <span aria-hidden="true" className="flex h-3 w-20 border border-rule bg-sheet">
        <span style={{ width: `${whole === 0 ? 0 : (part / whole) * 100}%`, background: 'var(--shelf)' }} />
      </span>
      <span className="whitespace-nowrap">
        {formatNumber(part)} of {formatNumber(whole)}
      </span>
    </span>
  )
}

/** What can be built at once, and what finishing does. */
function Ready(view: MakeView) {
  const { next, tally, go, at } = view
  const [finishing, setFinishing] = useState(false)
  const ready = next.filter((n) => n.missing === 0)
  const [first] = ready
  const inModel = at.units.reduce((n, u) => n + (u.standsIn === undefined ? piecesIn(u) : 0), 0)
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
      {first && (
        <Button
          look="primary"
          onClick={() => {
            go('build', { work: first.work.key, repeat: String(first.repeat) })
          }}
        >
          <Hammer size={16} aria-hidden="true" /> Build {workName(first.work, tally.now.design)}
          {first.work.repeats > 1 && `, ${first.repeat} of ${formatNumber(first.work.repeats)}`}
        </Button>
      )}
      <span>
        {next.length === 0
          ? ''
          : ready.length === 0
            ? 'Of no module all pieces are here: build what is there, or fetch and order first.'
            : `Of ${plural(ready.length, 'module')} all pieces of the next repeat are here, each looked at as if it went first.`}
      </span>
      {inModel > 0 && (
        <>
          <span className="text-soft">
            {plural(inModel, 'piece')} left the stock and {inModel === 1 ? 'is' : 'are'} in the unfinished model.
          </span>
          <Button
            onClick={() => {
              setFinishing(true)
            }}
          >
            <Flag size={14} aria-hidden="true" /> Finish the model
          </Button>
        </>
      )}
      {finishing && (
        <FinishDialog
          view={view}
          onClose={() => {
            setFinishing(false)
          }}
        />
      )}
    </div>
  )
}

/** The unfinished model becomes a finished one, among the places of the shelf. */
function FinishDialog({ view: { at, tally, today, next }, onClose }: { view: MakeView; onClose: () => void }) {
  const { units } = useRecords()
  const [name, setName] = useState(tally.now.build.name)
  const [released, setReleased] = useState(false)
  const open = next.reduce((n, x) => n + x.open, 0)
  const done = () => {
    const place: Place = {
      id: `l-${fresh()}` as PlaceId,
      name: name.trim().slice(0, 120) || 'A model',
      kind: 'model',
      parent: null,
      ...(released && { released }),
    }
    const finished = finish(at.units, place)
    if (!finished.ok) return
    void perform(`Finished ${place.name}`, [
      add('places', [place]),
      shelve(finished.value.lots),
      ...unitChanges(units, finished.value.units),
      ...makingEdit(at.making, { ...at.making, finished: { place: place.id, on: today } }),
    ])
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Finish the model"
      description="Its pieces become a model of their own on the shelf. It keeps them until it is taken apart."
    >
      {open > 0 && (
        <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          Some modules are not complete: what is missing in them stays on the tally, and can be built on another day.
        </p>
      )}
      <Field label="What it is called">
        {(id) => (
          <TextInput
            id={id}
            value={name}
            maxLength={120}
            onChange={(e) => {
              setName(e.target.value)
            }}
          />
        )}
      </Field>
      <Tick checked={released} onChange={setReleased}>
        Other builds may take it apart for its pieces
      </Tick>
      <Button look="primary" onClick={done}>
        <Flag size={16} aria-hidden="true" /> Finish it
      </Button>
    </Dialog>
  )
}

/** Hours so far, and what the forecast rests on. */
function Times({ progress: { minutes, forecast }, at, tally, go }: MakeView) {
  const failed = at.units.flatMap((u) => u.exceptions.filter((e) => e.kind === 'failed').map((e) => ({ unit: u, e })))
  const unclear = at.units.flatMap((u) =>
    u.exceptions.filter((e) => e.kind === 'unclear' && e.cleared !== true).map((e) => ({ unit: u, e })),
  )
  return (
    <div className="grid grid-cols-2 gap-6 max-[900px]:grid-cols-1">
      <section aria-label="Time">
        <h2 className="text-base font-semibold">Time</h2>
        <p>
          So far {minutesWords(minutes.building)} of building
          {minutes.designing > 0 && `, ${minutesWords(minutes.designing)} of designing at the table`}
          {minutes.failed > 0 && `, ${minutesWords(minutes.failed)} on tries that failed`}. The rest takes{' '}
          {forecastWords(forecast)}.
        </p>
        <p className="text-xs text-soft">
          {forecast.timed === 0
            ? 'Nothing was timed yet: some 200 pieces an hour, common practice.'
            : `By ${plural(forecast.timed, 'timed repeat')}: time goes with pieces.${forecast.low === undefined ? ' The spread is known from two timed repeats on.' : ` The interval holds in ${CONFIDENCE * 100} of 100 cases, if repeats go on as they went.`}`}{' '}
          Designing a first section is kept apart from repeating it.
        </p>
      </section>
      {failed.length + unclear.length > 0 && (
        <section aria-label="Tries and open questions">
          <h2 className="text-base font-semibold">Tries and open questions</h2>
          <ul className="divide-y divide-hair border-y border-hair">
            {[...failed, ...unclear].map(({ unit, e }) => (
              <li key={e.id} className="flex flex-wrap items-center gap-3 py-1">
                <span className="flex-1">
                  {e.kind === 'failed' ? 'Tried and failed' : 'Unclear'}: {workName(unit, tally.now.design)}, {e.on}
                  {e.minutes !== undefined && `, ${minutesWords(e.minutes)}`}
                  {e.qty !== undefined && e.qty > 0 && `, ${plural(e.qty, 'piece')} went back`}
                  {e.note !== undefined && `: ${e.note}`}
                </span>
                <Button
                  onClick={() => {
                    go('build', { work: unit.path.join('/'), repeat: String(unit.repeat) })
                  }}
                >
                  Look at it
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
