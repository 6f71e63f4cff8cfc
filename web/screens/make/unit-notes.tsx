import { minutesWords } from '../../../core/units/minutes.ts'
import { useState } from 'react'
import { copyModules } from '../../../core/design/copy-modules.ts'
import { finish } from '../../../core/making/finish.ts'
import { emptyUnit } from '../../../core/making/put-in.ts'
import type { Exception, Unit } from '../../../core/making/unit.ts'
import { piecesIn } from '../../../core/making/unit.ts'
import type { Work } from '../../../core/making/works.ts'
import type { Place } from '../../../core/shelf/place.ts'
import type { BuildId, PlaceId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { add, edit, remove, shelve } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { doMaking, saveUnit, unitChanges } from '../../store/making.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Field, NumberInput, TextInput } from '../../ui/fields.tsx'
import { withException } from './line-acts.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'

const KIND_WORDS: Readonly<Record<Exception['kind'], string>> = {
  'left out': 'Left out on purpose',
  'put elsewhere': 'Put elsewhere',
  'other colour': 'Another piece accepted',
  unclear: 'Unclear',
  failed: 'Tried and failed',
}

/** What did not go as drawn in one repeat, and what becomes of it as a whole. */
export function UnitNotes({ view, work, unit, today }: { view: MakeView; work: Work; unit: Unit; today: string }) {
  const { nameItem, units } = useRecords()
  const extra = unit.put.filter((p) => p.line === undefined || !work.lines.some((l) => l.line === p.line))
  const nameOf = (line: Exception['line']) => {
    const known = work.lines.find((l) => l.line === line)
    return known ? `: ${nameItem(known.item).name}` : ''
  }
  return (
    <div className="flex flex-col gap-4 pb-4 text-sm">
      {extra.length > 0 && (
        <section aria-label="Extra pieces">
          <h2 className="text-base font-semibold">In it and on no line</h2>
          <ul className="flex flex-wrap gap-4">
            {extra.map((p, i) => (
              <li key={i} className="flex items-center gap-2">
                <b>{p.qty}</b> <ItemName item={p.item} size={26} />
              </li>
            ))}
          </ul>
        </section>
      )}
      {unit.exceptions.length > 0 && (
        <section aria-label="Exceptions">
          <h2 className="text-base font-semibold">What went otherwise</h2>
          <ul className="divide-y divide-hair border-y border-hair">
            {unit.exceptions.map((e) => (
              <li key={e.id} className="flex flex-wrap items-center gap-3 py-1">
                <span className="flex-1">
                  <b>{KIND_WORDS[e.kind]}</b>
                  {nameOf(e.line)}
                  {e.qty !== undefined && e.qty > 0 && `, ${plural(e.qty, 'piece')}`}
                  {e.minutes !== undefined && `, ${minutesWords(e.minutes)}`}, {e.on}
                  {e.note !== undefined && `. ${e.note}`}
                  {e.cleared === true && ' (clear by now)'}
                </span>
                {e.kind === 'unclear' && e.cleared !== true && (
                  <Button
                    onClick={() =>
                      void saveUnit('A step is clear', units, {
                        ...unit,
                        exceptions: unit.exceptions.map((x) => (x.id === e.id ? { ...x, cleared: true } : x)),
                      })
                    }
                  >
                    It is clear now
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {unit.standsIn === undefined && <Failed unit={unit} view={view} today={today} />}
      {unit.standsIn === undefined && piecesIn(unit) > 0 && <Whole view={view} work={work} unit={unit} />}
    </div>
  )
}

/** A try that failed: its hours and why; its pieces go back to where they came from. */
function Failed({ unit, view, today }: { unit: Unit; view: MakeView; today: string }) {
  const records = useRecords()
  const [minutes, setMinutes] = useState(0)
  const [why, setWhy] = useState('')
  const pieces = piecesIn(unit)
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">Tried and failed</summary>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Minutes it took">
          {(id) => (
            <NumberInput
              id={id}
              className="w-24"
              value={minutes}
              min={0}
              max={100_000}
              onCommit={(n) => {
                setMinutes(n ?? 0)
              }}
            />
          )}
        </Field>
        <Field label="Why it failed">
          {(id) => (
            <TextInput
              id={id}
              className="w-72"
              value={why}
              maxLength={1000}
              onChange={(e) => {
                setWhy(e.target.value)
              }}
            />
          )}
        </Field>
        <Button
          disabled={why.trim() === ''}
          onClick={() => {
            const out = emptyUnit(unit, { kind: 'back' }, view.at.stock)
            if (!out.ok) return
            const [empty = unit] = out.value.units
            const noted = withException(empty, { kind: 'failed', qty: pieces, minutes, on: today, note: why })
            void doMaking('A try failed', { ok: true, value: { ...out.value, units: [noted] } }, records, {
              quiet: false,
            }).then((done) => {
              if (done) setWhy('')
            })
          }}
        >
          Note it{pieces > 0 && `, ${plural(pieces, 'piece')} go back`}
        </Button>
      </div>
    </details>
  )
}

/** The built repeat as a thing of its own: a model on the shelf, or a module of another build. */
function Whole({ view, work, unit }: { view: MakeView; work: Work; unit: Unit }) {
  const records = useRecords()
  const { builds, designs } = records
  const { design, build } = view.tally.now
  const others = builds.filter((b) => b.id !== build.id && !b.archived)
  const [to, setTo] = useState<string>(others[0]?.id ?? '')
  const name = `${workName(work, design)}${work.repeats > 1 ? ` ${unit.repeat}` : ''}`
  const place: Place = { id: `l-${unit.id}` as PlaceId, name: name.slice(0, 120), kind: 'model', parent: null }
  const apart = () =>
    void doMaking(`Took ${name} apart`, emptyUnit(unit, { kind: 'back' }, view.at.stock), records, { quiet: false })
  const stand = () => {
    const done = finish([unit], place)
    if (!done.ok) return
    void perform(`${name} stands by itself`, [
      add('places', [place]),
      shelve(done.value.lots),
      ...unitChanges(records.units, done.value.units),
    ])
  }
  const move = () => {
    const done = finish([unit], place)
    const target = builds.find((b) => b.id === to)
    const [first, ...inner] = copyModules(design.modules, work.module.id, fresh)
    if (!done.ok || !target || !first) return
    const id = target.id as BuildId
    const theirs = designs.find((d) => d.id === id) ?? { id, modules: [] }
    void perform(`Moved ${name} to ${target.name}`, [
      add('places', [place]),
      shelve(done.value.lots),
      remove('units', [unit.id]),
      add('designs', [{ id, modules: [] }]),
      edit('designs', theirs, {
        ...theirs,
        modules: [...theirs.modules, { ...first, repeats: 1, built: [place.id] }, ...inner],
      }),
    ])
  }
  return (
    <section aria-label="This repeat as a whole" className="flex flex-wrap items-center gap-3">
      <Button onClick={apart}>Take it apart, all goes back</Button>
      <Button onClick={stand}>Stands by itself, as a model on the shelf</Button>
      {others.length > 0 && (
        <span className="flex items-center gap-2">
          <Button onClick={move}>Move it to</Button>
          <Choice
            label="The build that it moves to"
            className="max-w-64"
            value={to}
            options={others.map((b) => ({ value: b.id as string, label: b.name }))}
            onChange={setTo}
          />
        </span>
      )}
      <p className="w-full text-xs text-soft">
        Moved, it is a module of the other build with its pieces, and this build wants the repeat again: lower its
        repeats on Design if it does not.
      </p>
    </section>
  )
}
