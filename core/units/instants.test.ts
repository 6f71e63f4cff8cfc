import { daysBetween, isDay } from './instants.ts'

// ISO 8601 and the Gregorian calendar: leap years are those divisible by 4, but of the hundreds only by 400.
test.each([
  ['2026-11-29', true],
  ['2024-02-29', true],
  ['2000-02-29', true],
  ['1900-02-29', false],
  ['2026-02-29', false],
  ['2026-13-01', false],
  ['2026-1-1', false],
  ['', false],
  ['2026-11-29T00:00', false],
])('%j is a day of the calendar: %s', (text, day) => {
  expect(isDay(text)).toBe(day)
})

test('days between two days, over a leap day; never fewer than none', () => {
  expect(daysBetween('2024-02-28', '2024-03-01')).toBe(2)
  expect(daysBetween('2026-11-29', '2026-11-20')).toBe(0)
})
