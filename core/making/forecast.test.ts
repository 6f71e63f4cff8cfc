import fc from 'fast-check'
import { studentTQuantile } from '../units/student-t.ts'
import { forecastAll, forecastFor, USUAL_PIECES_A_MINUTE } from './forecast.ts'
import { minutesOf, minutesOn, startTimer, stopTimer, withTime } from './work-times.ts'
import { newUnit } from './unit.ts'
import type { BuildId, ModuleId } from '../units/ids.ts'

test('quantiles of Student’s t are those of the published table', () => {
  // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2, upper critical values of Student's t (recalled from memory).
  const table = [
    [1, 0.9, 3.078],
    [2, 0.95, 2.92],
    [5, 0.975, 2.571],
    [10, 0.9, 1.372],
    [30, 0.99, 2.457],
  ] as const
  for (const [freedom, probability, value] of table)
    expect(studentTQuantile(probability, freedom)).toBeCloseTo(value, 3)
})

test('repeats of one size: the textbook’s interval for the sum of k more, t s √(k + k²/n)', () => {
  // A prediction interval for a sum of future cases: Hahn & Meeker, "Statistical Intervals", ch. 4 (from memory).
  const minutes = [22, 19, 25, 20]
  const mean = 21.5
  const s = Math.sqrt(minutes.reduce((n, m) => n + (m - mean) ** 2, 0) / 3)
  const forecast = forecastFor(
    6 * 50,
    minutes.map((m) => ({ pieces: 50, minutes: m })),
    0.9,
  )
  const half = studentTQuantile(0.95, 3) * s * Math.sqrt(6 + 36 / 4)
  expect(forecast.likely).toBeCloseTo(6 * mean)
  expect(forecast.high).toBeCloseTo(6 * mean + half)
  expect(forecast.low).toBeCloseTo(6 * mean - half)
  expect(forecast.timed).toBe(4)
})

test('a taper goes by its pieces: segments half as large take half as long', () => {
  const timed = [
    { pieces: 80, minutes: 40 },
    { pieces: 60, minutes: 30 },
    { pieces: 40, minutes: 20 },
  ]
  expect(forecastFor(30, timed)).toMatchObject({ likely: 15, low: 15, high: 15 })
})

test('intervals hold as often as they say, for times whose variance goes with pieces', () => {
  // A seeded generator (mulberry32, public domain) and Box and Muller's normal deviates.
  let state = 12345
  const uniform = () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const normal = () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform())
  const minutes = (pieces: number) => 0.4 * pieces + 0.5 * Math.sqrt(pieces) * normal()
  let held = 0
  const rounds = 3000
  for (let i = 0; i < rounds; i++) {
    const timed = [60, 90, 40, 120, 75].map((pieces) => ({ pieces, minutes: minutes(pieces) }))
    const { low = 0, high = 0 } = forecastFor(300, timed, 0.8)
    const taken = minutes(100) + minutes(100) + minutes(100)
    if (taken >= low && taken <= high) held++
  }
  expect(held / rounds).toBeGreaterThan(0.77)
  expect(held / rounds).toBeLessThan(0.83)
})

test('nothing timed is common practice without a spread; one timed has no spread; modules without own times take all others’', () => {
  expect(forecastFor(200, [])).toMatchObject({ likely: 200 / USUAL_PIECES_A_MINUTE, low: undefined, timed: 0 })
  expect(forecastFor(200, [{ pieces: 100, minutes: 50 }])).toMatchObject({ likely: 100, low: undefined })
  const timed = [
    { pieces: 100, minutes: 50 },
    { pieces: 100, minutes: 60 },
  ]
  const all = forecastAll([
    { key: 'a', pieces: 100, timed },
    { key: 'b', pieces: 40, timed: [] },
  ])
  expect(all.each.get('b')).toMatchObject({ likely: 22, timed: 0 })
  expect(all.likely).toBeCloseTo(77)
  expect(all.low).toBeLessThan(all.likely)
  expect(forecastAll([{ key: 'a', pieces: 0, timed }])).toMatchObject({ likely: 0, low: 0, high: 0 })
})

const NOW = '2026-01-02T12:00:00.000Z'
const unit = newUnit('b-1' as BuildId, ['m-1' as ModuleId], 1)
const at = (clock: string) => `2026-01-02T${clock}:00.000Z`

test('a timer that was forgotten is mended; times that overlap, end before they begin or are to come are named', () => {
  const started = startTimer(unit, 'building', 't', at('08:00'))
  if (!started.ok) throw new Error('not started')
  expect(minutesOn(started.value, 'building', NOW)).toBe(240)
  expect(startTimer(started.value, 'building', 'u', NOW)).toMatchObject({ error: { code: 'runs already' } })
  const stopped = stopTimer(started.value, at('08:25'), NOW)
  if (!stopped.ok) throw new Error('not stopped')
  expect(minutesOn(stopped.value, 'building', NOW)).toBe(25)
  expect(minutesOn(stopped.value, 'designing', NOW)).toBe(0)
  expect(stopTimer(stopped.value, NOW, NOW)).toMatchObject({ error: { code: 'does not run' } })
  const written = (from: string, to: string, id = 'v') =>
    withTime(stopped.value, { id, kind: 'designing', from, to }, NOW)
  expect(written(at('08:20'), at('08:40'))).toMatchObject({
    error: { code: 'overlaps', message: expect.stringContaining('2026-01-02 08:00 to 2026-01-02 08:25') },
  })
  expect(written(at('09:00'), at('08:40'))).toMatchObject({ error: { code: 'ends before it begins' } })
  expect(written(at('11:00'), at('12:30'))).toMatchObject({ error: { code: 'in the future' } })
  expect(written(at('07:00'), at('09:00'), 't')).toMatchObject({ ok: true })
  expect(written(at('08:25'), at('09:00'))).toMatchObject({ ok: true, value: { times: [{ id: 't' }, { id: 'v' }] } })
  // Stopped the moment it began, it never ran.
  expect(stopTimer(started.value, at('08:00'), NOW)).toMatchObject({ ok: true, value: { times: [] } })
})

test('minutes are never negative and add up over any cuts', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 600 }), { minLength: 2, maxLength: 8 }), (cuts) => {
      const instants = cuts.map((m) => new Date(Date.parse(at('00:00')) + m * 60_000).toISOString()).sort()
      const pieces = instants.slice(1).map((to, i) => minutesOf({ from: instants[i] ?? to, to }, NOW))
      expect(pieces.every((m) => m >= 0)).toBe(true)
      expect(pieces.reduce((n, m) => n + m, 0)).toBe(
        minutesOf({ from: instants[0] ?? '', to: instants.at(-1) ?? '' }, NOW),
      )
    }),
  )
})
