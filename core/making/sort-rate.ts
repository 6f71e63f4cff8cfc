/** A timed sorting: so many pieces in so many minutes, into so many piles, by one person. */
export type TimedSort = {
  readonly person: string
  readonly pieces: number
  readonly minutes: number
  readonly piles: number
}

/** Pieces that one person sorts in an hour into some twenty piles: common practice says 1,000 to 2,100. */
export const USUAL_RATES = { low: 1000, likely: 1500, high: 2100 } as const
/** The piles that rates are told for. */
export const RATE_PILES = 20

/**
 * How much longer a piece takes with so many piles than with `RATE_PILES`: the time to choose one of n grows with
 * log2(n + 1) (W. E. Hick, "On the rate of gain of information", 1952); the hand's way takes the other half (an assumption).
 */
export const choiceFactor = (piles: number): number =>
  0.5 + (0.5 * Math.log2(Math.max(1, piles) + 1)) / Math.log2(RATE_PILES + 1)

/** Pieces an hour, told for `RATE_PILES` piles. */
export type SortRate = {
  readonly low: number
  readonly likely: number
  readonly high: number
  /** Timed sortings it is of; none: it is common practice. */
  readonly timed: number
}

/**
 * A person's rate from their own timed sortings: all pieces by all hours, each as if it had been into `RATE_PILES` piles;
 * low and high are the slowest and the fastest of them. Common practice where there are none.
 */
export function sortRate(sorts: readonly TimedSort[]): SortRate {
  const known = sorts.filter((s) => s.pieces > 0 && s.minutes > 0)
  if (known.length === 0) return { ...USUAL_RATES, timed: 0 }
  const hours = ({ minutes, piles }: TimedSort) => minutes / 60 / choiceFactor(piles)
  const each = known.map((s) => s.pieces / hours(s))
  const pieces = known.reduce((n, s) => n + s.pieces, 0)
  return {
    low: Math.round(Math.min(...each)),
    likely: Math.round(pieces / known.reduce((n, s) => n + hours(s), 0)),
    high: Math.round(Math.max(...each)),
    timed: known.length,
  }
}

/** Minutes to sort so many pieces into so many piles, by one person. */
export const sortMinutes = (pieces: number, piles: number, rate: number): number =>
  (pieces / rate) * 60 * choiceFactor(piles)

/** Pieces that are looked over in a second while searching a spread pile; an assumption, common practice. */
export const LOOKED_OVER = 4

/**
 * Pieces looked over to find one of `alike` among `all` that lie in no order: (all + 1) / (alike + 1), the mean of the
 * negative hypergeometric distribution for the first success.
 */
export const lookedAt = (all: number, alike: number): number => (alike < 1 ? 0 : (all + 1) / (alike + 1))
