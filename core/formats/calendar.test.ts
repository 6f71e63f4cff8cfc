import fc from 'fast-check'
import ICAL from 'ical.js'
import { calendarFile } from './calendar.ts'

const STAMP = '2026-11-29T18:51:25.123Z'

/** What a calendar library of the registry reads. */
function read(text: string) {
  const calendar = new ICAL.Component(ICAL.parse(text) as unknown[])
  return calendar.getAllSubcomponents('vevent').map((component) => {
    const event = new ICAL.Event(component)
    return {
      uid: event.uid,
      day: event.startDate.toString(),
      end: event.endDate.toString(),
      allDay: event.startDate.isDate,
      summary: event.summary,
      description: event.description,
    }
  })
}

test('any days are read back by a calendar library as they were', () => {
  const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 200 }).map(
    (s) =>
      // Control characters have no place in a text value (RFC 5545, 3.3.11); of breaks there is one kind.
      // eslint-disable-next-line no-control-regex
      `x${s.replace(/[\u0000-\u001f\u007f\u2028\u2029]/g, '')}`,
  )
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          uid: fc.uuid(),
          day: fc
            .date({ min: new Date('2000-01-01'), max: new Date('2099-12-31'), noInvalidDate: true })
            .map((d) => d.toISOString().slice(0, 10)),
          summary: text,
          description: fc.tuple(text, text).map(([a, b]) => `${a}\n${b}`),
        }),
        { maxLength: 5 },
      ),
      (days) => {
        const file = calendarFile(days, STAMP)
        expect(read(file)).toEqual(days.map((d) => expect.objectContaining({ ...d, allDay: true })))
        for (const line of file.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75)
      },
    ),
  )
})

test('an event ends the day after, is stamped in UTC, and keeps its id', () => {
  const day = { uid: 'r-1', day: '2026-12-31', summary: 'Order 7, Pebble & Sons', description: '' }
  const file = calendarFile([day], STAMP)
  expect(file).toContain('DTSTAMP:20261129T185125Z\r\n')
  expect(file).toContain('DTSTART;VALUE=DATE:20261231\r\nDTEND;VALUE=DATE:20270101\r\n')
  // RFC 5545, 3.3.11: a comma is escaped.
  expect(file).toContain('SUMMARY:Order 7\\, Pebble & Sons\r\n')
  expect(calendarFile([day], '2026-12-01T00:00:00Z')).toContain('UID:r-1\r\n')
})

test('the example of folding in RFC 5545, 3.1, unfolds to one line', () => {
  const description = 'This is a long description that exists on a long line.'
  const file = calendarFile([{ uid: 'a', day: '2026-01-01', summary: description.repeat(3), description }], STAMP)
  expect(file.replace(/\r\n[ \t]/g, '')).toContain(`SUMMARY:${description.repeat(3)}`)
})
