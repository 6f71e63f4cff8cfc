/** The day of an instant (ISO 8601, UTC), as it is shown and put in file names: `2026-11-28`. */
export const dayOf = (instant: string): string => instant.slice(0, 10)

/** An instant to the minute, with its time zone: `2026-11-28 18:00 UTC`. */
export const minuteOf = (instant: string): string => `${instant.slice(0, 16).replace('T', ' ')} UTC`

/** Whole days from one instant (ISO 8601, UTC) to a later one; 0 where it is not later. */
export const daysBetween = (from: string, to: string): number =>
  Math.max(0, Math.floor((Date.parse(to) - Date.parse(from)) / 86_400_000))
