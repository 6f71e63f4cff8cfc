/** The day of an instant (ISO 8601, UTC), as it is shown and put in file names: `2026-11-28`. */
export const dayOf = (instant: string): string => instant.slice(0, 10)

/** An instant to the minute, with its time zone: `2026-11-28 18:00 UTC`. */
export const minuteOf = (instant: string): string => `${instant.slice(0, 16).replace('T', ' ')} UTC`

/** Whole days from one instant (ISO 8601, UTC) to a later one; 0 where it is not later. */
export const daysBetween = (from: string, to: string): number =>
  Math.max(0, Math.floor((Date.parse(to) - Date.parse(from)) / 86_400_000))

/** Whether a text is a day of the calendar, such as 2026-11-29 (ISO 8601). */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false
  const date = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(date.getTime()) && dayOf(date.toISOString()) === text
}

/** The day so many days after another (before it where negative), both as 2026-11-29. */
export const addDays = (day: string, days: number): string =>
  dayOf(new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString())

/** Days from one day to another; negative where that is earlier. */
export const daysTo = (from: string, to: string): number =>
  Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000)
