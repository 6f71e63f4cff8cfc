import { studentTQuantile } from '../units/student-t.ts'

/** A repeat that was built: its pieces and the minutes that took. */
export type Timed = { readonly pieces: number; readonly minutes: number }

/** What is still to be built of a module, and how long repeats of it took. */
export type Remaining = { readonly key: string; readonly pieces: number; readonly timed: readonly Timed[] }

/** Minutes that something will take, with the interval that holds it in `CONFIDENCE` of all cases. */
export type Forecast = {
  readonly likely: number
  /** Undefined while fewer than two repeats were timed: nothing is known of the spread. */
  readonly low: number | undefined
  readonly high: number | undefined
  /** Repeats it rests on; with none it is common practice. */
  readonly timed: number
}

export const CONFIDENCE = 0.8

/** Pieces a person builds in a minute where nothing was timed: common practice, some 200 an hour. */
export const USUAL_PIECES_A_MINUTE = 200 / 60

/**
 * Minutes for so many more pieces, from repeats that were timed: time goes with pieces, and so does its variance. The rate
 * is r = Σt / Σp, its residual variance s² = Σ (t − r p)² / p / (n − 1), and what is to come has the variance
 * s² (P + P² / Σp) (ratio estimator, W. G. Cochran, "Sampling Techniques", ch. 6; prediction of a sum of new cases). For
 * repeats of one size that is the textbook's s √(k + k² / n) of k more. Student's t with n − 1 degrees of freedom.
 */
export function forecastFor(pieces: number, timed: readonly Timed[], confidence = CONFIDENCE): Forecast {
  const known = timed.filter((t) => t.pieces > 0 && t.minutes > 0)
  const [n, p, t] = [known.length, sum(known, 'pieces'), sum(known, 'minutes')]
  const rate = n === 0 ? 1 / USUAL_PIECES_A_MINUTE : t / p
  const likely = rate * pieces
  if (n < 2) return { likely, low: undefined, high: undefined, timed: n }
  const half = studentTQuantile((1 + confidence) / 2, n - 1) * Math.sqrt(varianceOf(pieces, known))
  return { likely, low: Math.max(0, likely - half), high: likely + half, timed: n }
}

const sum = (list: readonly Timed[], field: keyof Timed): number => list.reduce((n, t) => n + t[field], 0)

function varianceOf(pieces: number, timed: readonly Timed[]): number {
  const all = sum(timed, 'pieces')
  const rate = sum(timed, 'minutes') / all
  const residual = timed.reduce((n, t) => n + (t.minutes - rate * t.pieces) ** 2 / t.pieces, 0) / (timed.length - 1)
  return residual * (pieces + pieces ** 2 / all)
}

/**
 * Minutes for all that is still to be built: modules of which two repeats or more were timed by their own times, all others
 * together by all that was timed. The interval adds variances up and takes the fewest degrees of freedom, so it is rather
 * too wide than too narrow.
 */
export function forecastAll(
  remaining: readonly Remaining[],
  confidence = CONFIDENCE,
): Forecast & { readonly each: ReadonlyMap<string, Forecast> } {
  const all = remaining.flatMap((r) => r.timed.filter((t) => t.pieces > 0 && t.minutes > 0))
  const each = new Map<string, Forecast>()
  let [likely, variance, rest] = [0, 0, 0]
  let freedom = Infinity
  for (const { key, pieces, timed } of remaining) {
    const own = timed.filter((t) => t.pieces > 0 && t.minutes > 0)
    const by = own.length >= 2 ? own : all
    const forecast = forecastFor(pieces, by, confidence)
    each.set(key, { ...forecast, timed: own.length })
    likely += forecast.likely
    if (pieces === 0) continue
    if (own.length >= 2) {
      variance += varianceOf(pieces, own)
      freedom = Math.min(freedom, own.length - 1)
    } else rest += pieces
  }
  if (rest > 0) {
    if (all.length < 2) return { likely, low: undefined, high: undefined, timed: all.length, each }
    variance += varianceOf(rest, all)
    freedom = Math.min(freedom, all.length - 1)
  }
  const half = Number.isFinite(freedom) ? studentTQuantile((1 + confidence) / 2, freedom) * Math.sqrt(variance) : 0
  return { likely, low: Math.max(0, likely - half), high: likely + half, timed: all.length, each }
}
