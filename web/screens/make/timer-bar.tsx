import { minutesWords } from '../../../core/units/minutes.ts'
import { Clock, Square } from 'lucide-react'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import {
  FORGOTTEN_MINUTES,
  minutesOf,
  minutesOn,
  runningOf,
  startTimer,
  stopTimer,
  withTime,
  type TimeRefusal,
} from '../../../core/making/work-times.ts'
import type { Unit, WorkTime } from '../../../core/making/unit.ts'
import type { Result } from '../../../core/units/result.ts'
import { nowIso } from '../../store/database.ts'
import { saveUnit } from '../../store/making.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, TextInput } from '../../ui/fields.tsx'

const KINDS: readonly { readonly value: WorkTime['kind']; readonly label: string }[] = [
  { value: 'building', label: 'building' },
  { value: 'designing', label: 'designing' },
]

/** Milliseconds after which the clock moves on. */
const TURN = 15_000

function useNow(running: boolean): string {
  const [now, setNow] = useState(nowIso)
  useEffect(() => {
    if (!running) return undefined
    const timer = setInterval(() => {
      setNow(nowIso())
    }, TURN)
    return () => {
      clearInterval(timer)
    }
  }, [running])
  return now
}

/** The time of one repeat: started, stopped, and mended where that was forgotten. */
export function TimerBar({ unit, units }: { unit: Unit; units: readonly Unit[] }) {
  const { units: all } = useRecords()
  const running = runningOf(unit)
  const now = useNow(running !== undefined)
  const [kind, setKind] = useState<WorkTime['kind']>('building')
  const [mending, setMending] = useState(false)
  const elsewhere = units.find((u) => u.id !== unit.id && runningOf(u))
  const tried = (label: string, next: Result<Unit, TimeRefusal>) => {
    if (next.ok) void saveUnit(label, all, next.value)
    else toast.error(next.error.message, { duration: 15_000 })
  }
  const so = minutesOn(unit, 'building', now) + minutesOn(unit, 'designing', now)
  const ran = running ? minutesOf(running, now) : 0
  return (
    <span className="flex flex-wrap items-center gap-2 text-sm">
      {running ? (
        <Button
          look="primary"
          onClick={() => {
            if (minutesOf(running, nowIso()) > FORGOTTEN_MINUTES) setMending(true)
            else tried('Stopped the clock', stopTimer(unit, nowIso(), nowIso()))
          }}
        >
          <Square size={14} aria-hidden="true" /> Stop, {minutesWords(ran)}
        </Button>
      ) : (
        <>
          <Choice label="What the time goes into" className="w-28" value={kind} options={KINDS} onChange={setKind} />
          <Button
            onClick={() => {
              tried('Started the clock', startTimer(unit, kind, crypto.randomUUID(), nowIso()))
            }}
          >
            <Clock size={14} aria-hidden="true" /> Start
          </Button>
        </>
      )}
      <Button
        look="bare"
        onClick={() => {
          setMending(true)
        }}
      >
        {so > 0 ? `${minutesWords(so)} so far` : 'Write a time'}
      </Button>
      {ran > FORGOTTEN_MINUTES && <span className="text-warn">forgotten?</span>}
      {elsewhere && !running && <span className="text-soft">another repeat’s clock is running</span>}
      {mending && (
        <TimesDialog
          unit={unit}
          onClose={() => {
            setMending(false)
          }}
          onSave={tried}
        />
      )}
    </span>
  )
}

/** An instant as a field for day and time takes it, in the time zone of this place; and back. */
const toField = (instant: string): string => {
  const d = new Date(instant)
  return new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}
const fromField = (text: string): string => (text === '' ? '' : new Date(text).toISOString())

function TimesDialog({
  unit,
  onClose,
  onSave,
}: {
  unit: Unit
  onClose: () => void
  onSave: (label: string, next: Result<Unit, TimeRefusal>) => void
}) {
  const [from, setFrom] = useState('')
  const [minutes, setMinutes] = useState('')
  const [kind, setKind] = useState<WorkTime['kind']>('building')
  const running = runningOf(unit)
  const whole = /^\d+$/.test(minutes.trim()) ? Number(minutes) : undefined
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Times"
      description="A clock that was forgotten is mended here: the time that it took is what counts."
    >
      <ul className="divide-y divide-hair border-y border-hair text-sm">
        {unit.times.map((t) => (
          <li key={t.id} className="flex flex-wrap items-center gap-2 py-1.5">
            <span className="w-20">{t.kind}</span>
            <TextInput
              type="datetime-local"
              aria-label={`From, ${t.kind}`}
              defaultValue={toField(t.from)}
              onBlur={(e) => {
                const next = fromField(e.target.value)
                if (next !== '' && toField(t.from) !== e.target.value)
                  onSave('Mended a time', withTime(unit, { ...t, from: next }, nowIso()))
              }}
            />
            <TextInput
              type="datetime-local"
              aria-label={`To, ${t.kind}`}
              defaultValue={t.to === undefined ? '' : toField(t.to)}
              onBlur={(e) => {
                const next = fromField(e.target.value)
                if (next === '' || (t.to !== undefined && toField(t.to) === e.target.value)) return
                onSave('Mended a time', withTime(unit, { ...t, to: next }, nowIso()))
              }}
            />
            <span className="flex-1">{minutesWords(minutesOf(t, nowIso()))}</span>
            <Button
              aria-label={`Strike the time from ${toField(t.from)}`}
              onClick={() => {
                onSave('Struck a time', {
                  ok: true,
                  value: { ...unit, times: unit.times.filter((x) => x.id !== t.id) },
                })
              }}
            >
              Strike
            </Button>
          </li>
        ))}
      </ul>
      {!running && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault()
            if (whole === undefined || whole < 1) return
            const end = from === '' ? nowIso() : new Date(Date.parse(fromField(from)) + whole * 60_000).toISOString()
            const start = new Date(Date.parse(end) - whole * 60_000).toISOString()
            onSave('Wrote a time', withTime(unit, { id: crypto.randomUUID(), kind, from: start, to: end }, nowIso()))
            setMinutes('')
          }}
        >
          <Field label="Minutes">
            {(id) => (
              <TextInput
                id={id}
                inputMode="numeric"
                className="w-24"
                value={minutes}
                aria-invalid={minutes !== '' && (whole === undefined || whole < 1) ? true : undefined}
                onChange={(e) => {
                  setMinutes(e.target.value)
                }}
              />
            )}
          </Field>
          <Field label="From" hint="Up to now when left empty.">
            {(id) => (
              <TextInput
                id={id}
                type="datetime-local"
                value={from}
                onChange={(e) => {
                  setFrom(e.target.value)
                }}
              />
            )}
          </Field>
          <Choice label="What it went into" className="w-32" value={kind} options={KINDS} onChange={setKind} />
          <Button type="submit" look="primary" disabled={whole === undefined || whole < 1}>
            Write it
          </Button>
        </form>
      )}
    </Dialog>
  )
}
