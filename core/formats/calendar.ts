import { addDays } from '../units/instants.ts'

/** A day in a calendar file. */
export type CalendarDay = {
  /** The same in every file: a calendar that has it already moves it. */
  readonly uid: string
  readonly day: string
  readonly summary: string
  readonly description: string
}

/** Octets of a line at most, its break left out (RFC 5545, 3.1). */
const MOST_OCTETS = 75

/**
 * Days as a calendar file by RFC 5545: all-day events that do not make anyone busy. `stamp` is when it is written, ISO 8601
 * in UTC. Texts are escaped (3.3.11), lines end in CRLF and are folded at 75 octets, never within a character.
 */
export function calendarFile(days: readonly CalendarDay[], stamp: string): string {
  const at = `${stamp.slice(0, 19).replace(/[-:]/g, '')}Z`
  return [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Unfinished Brick//Parcels//EN',
    'CALSCALE:GREGORIAN',
    ...days.flatMap(({ uid, day, summary, description }) => [
      'BEGIN:VEVENT',
      `UID:${escaped(uid)}`,
      `DTSTAMP:${at}`,
      `DTSTART;VALUE=DATE:${basic(day)}`,
      `DTEND;VALUE=DATE:${basic(addDays(day, 1))}`,
      `SUMMARY:${escaped(summary)}`,
      ...(description === '' ? [] : [`DESCRIPTION:${escaped(description)}`]),
      'TRANSP:TRANSPARENT',
      'END:VEVENT',
    ]),
    'END:VCALENDAR',
  ]
    .map((line) => `${folded(line)}\r\n`)
    .join('')
}

const basic = (day: string): string => day.replace(/-/g, '')

/** A text value: backslash, semicolon and comma escaped, breaks as \n; other control characters have no place in it. */
const escaped = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '')
    .replace(/[\\;,]/g, (sign) => `\\${sign}`)
    .replace(/\n/g, '\\n')

const bytes = new TextEncoder()

/** A line in pieces of at most 75 octets, each but the first after a space; characters stay whole. */
function folded(line: string): string {
  let folds = ''
  let octets = 0
  for (const character of line) {
    const size = bytes.encode(character).length
    if (octets + size > MOST_OCTETS) {
      folds += '\r\n '
      octets = 1
    }
    folds += character
    octets += size
  }
  return folds
}
