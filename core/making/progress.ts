import { forecastAll, type Forecast, type Timed } from './forecast.ts'
import { minutesOn } from './work-times.ts'
import { openOf, stateOfUnit, stateOfWork, type Work, type WorkState } from './works.ts'
import { isOnOrder } from '../netting/supplies.ts'
import type { TallyPeg } from '../netting/tally.ts'
import type { AtWork } from './at-work.ts'

/** A module's repeats that were timed and are done: what forecasts rest on. */
export function timedOf(work: Work, { unitsOf }: AtWork, now: string): Timed[] {
  return [...(unitsOf.get(work.key) ?? [])].flatMap(([repeat, unit]) => {
    const minutes = minutesOn(unit, 'building', now)
    const state = stateOfUnit(work, repeat, unit)
    // What stayed where it was in a donor took no time.
    const stayed = unit.put.reduce((n, p) => n + (p.stayed === true ? p.qty : 0), 0)
    return state.done && minutes > 0 && state.put > stayed ? [{ pieces: state.put - stayed, minutes }] : []
  })
}

export type Progress = {
  readonly states: ReadonlyMap<string, WorkState>
  readonly done: number
  readonly repeats: number
  readonly put: number
  readonly need: number
  readonly forecast: ReturnType<typeof forecastAll>
  /** Minutes so far: building, designing, and on tries that failed. */
  readonly minutes: { readonly building: number; readonly designing: number; readonly failed: number }
}

/** How far a build is, and what the rest takes; `staying` pieces of each module stay where they stand and take no time. */
export function progressOf(at: AtWork, now: string, staying: ReadonlyMap<string, number> = new Map()): Progress {
  const states = new Map(at.works.map((w) => [w.key, stateOfWork(w, at.unitsOf.get(w.key))]))
  let [done, repeats, put, need] = [0, 0, 0, 0]
  for (const work of at.works) {
    const state = states.get(work.key)
    done += state?.done ?? 0
    repeats += work.repeats
    put += (state?.put ?? 0) + (state?.leftOut ?? 0)
    need += state?.need ?? 0
  }
  const forecast = forecastAll(
    at.works.map((work) => {
      const state = states.get(work.key)
      return {
        key: work.key,
        pieces: Math.max(
          0,
          (state?.need ?? 0) - (state?.put ?? 0) - (state?.leftOut ?? 0) - (staying.get(work.key) ?? 0),
        ),
        timed: timedOf(work, at, now),
      }
    }),
  )
  const sum = (kind: 'building' | 'designing') => at.units.reduce((n, u) => n + minutesOn(u, kind, now), 0)
  const failed = at.units.reduce((n, u) => n + u.exceptions.reduce((m, e) => m + (e.minutes ?? 0), 0), 0)
  return {
    states,
    done,
    repeats,
    put,
    need,
    forecast,
    minutes: { building: sum('building'), designing: sum('designing'), failed },
  }
}

/** A repeat that could be built next, and how many of its pieces are not here. */
export type Next = { readonly work: Work; readonly repeat: number; readonly open: number; readonly missing: number }

/**
 * The next repeat of each module, those whose pieces are all here by the count first, then those that are begun, then in the
 * design's order. Each is looked at as if it were built before the module's other repeats. Linear in lines and pegs.
 */
export function nextOf(at: AtWork, progress: Progress): Next[] {
  const next: (Next & { readonly begun: boolean })[] = []
  for (const work of at.works) {
    const repeat = progress.states.get(work.key)?.next
    if (repeat === undefined) continue
    const sums = at.sumsAt(work, repeat)
    let [open, missing] = [0, 0]
    for (const line of work.lines) {
      const qty = openOf(work, line, repeat, sums)
      if (qty === 0) continue
      open += qty
      missing += Math.max(0, qty - requiredHere(at.pegsOf(line.id)))
    }
    next.push({ work, repeat, open, missing, begun: (sums?.put.size ?? 0) > 0 })
  }
  return next.sort(
    (p, q) =>
      Number(p.missing > 0) - Number(q.missing > 0) || Number(q.begun) - Number(p.begun) || p.missing - q.missing,
  )
}

/** Required pieces that what is here covers, of what the count has for a line. */
function requiredHere(pegs: readonly TallyPeg[]): number {
  let here = 0
  for (const { source, qty, standIn, uses } of pegs)
    if (source.kind !== 'built' && !isOnOrder(source))
      here +=
        standIn && uses
          ? qty /
            Math.max(
              1,
              uses.reduce((n, u) => n + u.qty, 0),
            )
          : qty
  return Math.floor(here + 1e-9)
}

/** Of one module what it still takes. */
export const forecastOfWork = ({ forecast }: Progress, work: Work): Forecast | undefined => forecast.each.get(work.key)
