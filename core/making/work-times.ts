import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import type { Unit, WorkTime } from './unit.ts'

export type TimeRefusal = Fault<
  'overlaps' | 'ends before it begins' | 'in the future' | 'runs already' | 'does not run'
>

/** A timer that has run longer than this was forgotten, more likely than not. */
export const FORGOTTEN_MINUTES = 240

/** Minutes of a time; up to `now` while it runs. Never negative. */
export const minutesOf = ({ from, to }: Pick<WorkTime, 'from' | 'to'>, now: string): number =>
  Math.max(0, Math.round((Date.parse(to ?? now) - Date.parse(from)) / 60_000))

export const runningOf = ({ times }: Pick<Unit, 'times'>): WorkTime | undefined => times.find((t) => t.to === undefined)

/** Minutes that went into a unit: building it, and designing it while it was built. */
export const minutesOn = ({ times }: Pick<Unit, 'times'>, kind: WorkTime['kind'], now: string): number =>
  times.reduce((n, t) => n + (t.kind === kind ? minutesOf(t, now) : 0), 0)

const clock = (instant: string): string => `${instant.slice(0, 10)} ${instant.slice(11, 16)}`

/** Times of a unit with one written or mended; refused where it ends before it begins, is yet to come, or overlaps. */
export function withTime(unit: Unit, time: WorkTime, now: string): Result<Unit, TimeRefusal> {
  if (time.to !== undefined && time.to <= time.from)
    return refuse('ends before it begins', `It ends at ${clock(time.to)}, not after ${clock(time.from)}.`)
  if (time.from > now || (time.to ?? now) > now)
    return refuse('in the future', `It is not ${clock(time.to ?? time.from)} yet.`)
  const others = unit.times.filter((t) => t.id !== time.id)
  const overlap = others.find((t) => t.from < (time.to ?? now) && time.from < (t.to ?? now))
  if (overlap)
    return refuse(
      'overlaps',
      `From ${clock(overlap.from)} to ${overlap.to === undefined ? 'now' : clock(overlap.to)} is written for it already: change one of the two.`,
    )
  return ok({ ...unit, times: [...others, time].sort((p, q) => (p.from < q.from ? -1 : 1)) })
}

/** Starts a timer; refused while one runs. */
export function startTimer(unit: Unit, kind: WorkTime['kind'], id: string, now: string): Result<Unit, TimeRefusal> {
  if (runningOf(unit)) return refuse('runs already', 'Its time is running already.')
  return ok({ ...unit, times: [...unit.times, { id, kind, from: now }] })
}

/** Stops the timer, now or at an earlier time where stopping was forgotten. */
export function stopTimer(unit: Unit, at: string, now: string): Result<Unit, TimeRefusal> {
  const running = runningOf(unit)
  if (!running) return refuse('does not run', 'Its time is not running.')
  if (at === running.from) return ok({ ...unit, times: unit.times.filter((t) => t.id !== running.id) })
  return withTime(unit, { ...running, to: at }, now)
}
