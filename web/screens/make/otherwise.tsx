import { useState } from 'react'
import { perform } from '../../store/perform.ts'
import { saveUnit } from '../../store/making.ts'
import { useRecords } from '../../store/records.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Field, TextInput } from '../../ui/fields.tsx'
import type { LineAt } from '../../../core/making/at-work.ts'
import { leaveLineOut, putElsewhere, putInstead, withException } from './line-acts.ts'
import { lineState } from '../../../core/making/at-work.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { WayRow } from './way-row.tsx'

/** What is decided at the table of a line: each is kept with why. */
export function Otherwise({
  view,
  row,
  qty,
  onDone,
}: {
  view: MakeView
  row: LineAt
  qty: number
  onDone: () => void
}) {
  const records = useRecords()
  const [note, setNote] = useState('')
  const [there, setThere] = useState('')
  const { at, line } = row
  const { open, leftOut } = lineState(row)
  const done = (act: Promise<boolean>) => {
    void act.then((yes) => {
      if (yes) onDone()
    })
  }
  const target = at.works.find((w) => w.key === there) ?? at.works[0]
  return (
    <div className="flex flex-col gap-3">
      <Field label="Why" hint="Kept with the decision, for the log and for the next repeat.">
        {(id) => (
          <TextInput
            id={id}
            value={note}
            maxLength={1000}
            onChange={(e) => {
              setNote(e.target.value)
            }}
          />
        )}
      </Field>
      <ul className="divide-y divide-hair border-y border-hair">
        <WayRow
          act={`Leave ${qty} out`}
          disabled={open < qty}
          onAct={() => {
            done(leaveLineOut(row, leftOut + qty, note, view.today, records))
          }}
        >
          <b>Left out on purpose</b>: nothing is needed for it any more, in this repeat.
        </WayRow>
        {leftOut > 0 && (
          <WayRow
            act="Want it again"
            onAct={() => {
              done(leaveLineOut(row, 0, note, view.today, records))
            }}
          >
            {leftOut} left out here.
          </WayRow>
        )}
        <li className="flex flex-wrap items-center gap-3 py-1.5">
          <span className="min-w-60 flex-1">
            <b>Another colour or piece accepted</b>: it goes in now, from the shelf where it is known.
          </span>
          <QuickEntry
            label="What goes in instead"
            action="Put it in"
            onAdd={([first], more) => {
              if (!first) return
              if (more.some((c) => c.puts.length > 0)) void perform('A piece used instead', more, { quiet: true })
              done(putInstead(row, first.item, Math.min(qty, open), note, view.today, records))
            }}
          />
        </li>
        <li className="flex flex-wrap items-center gap-3 py-1.5">
          <span className="min-w-60 flex-1">
            <b>Put elsewhere</b>: left out here, and an extra piece there.
          </span>
          {target && (
            <>
              <Choice
                label="Where it went"
                className="max-w-60"
                value={target.key}
                options={at.works.map((w) => ({ value: w.key, label: workName(w, view.tally.now.design) }))}
                onChange={setThere}
              />
              <Button
                disabled={open < qty}
                onClick={() => {
                  const repeat =
                    target.key === row.work.key ? row.repeat : (view.progress.states.get(target.key)?.next ?? 1)
                  done(putElsewhere(row, { work: target, repeat }, qty, note, view.today, records))
                }}
              >
                It went there
              </Button>
            </>
          )}
        </li>
        <WayRow
          act="Note it"
          disabled={note.trim() === ''}
          onAct={() => {
            done(
              saveUnit(
                'Noted an unclear step',
                records.units,
                withException(at.unitAt(row.work, row.repeat), {
                  kind: 'unclear',
                  line: line.line,
                  qty,
                  on: view.today,
                  note,
                }),
              ),
            )
          }}
        >
          <b>Unclear</b>: a question to come back to. Nothing is counted otherwise.
        </WayRow>
      </ul>
    </div>
  )
}
