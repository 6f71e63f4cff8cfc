/** The day of an instant (ISO 8601, UTC), as it is shown and put in file names: `2026-11-28`. */
export const dayOf = (instant: string): string => instant.slice(0, 10)

/** An instant to the minute, with its time zone: `2026-11-28 18:00 UTC`. */
export const minuteOf = (instant: string): string => `${instant.slice(0, 16).replace('T', ' ')} UTC`
