import fc from 'fast-check'
import * as v from 'valibot'
import { addDays } from '../core/units/instants.ts'
import { trackParcels } from './carrier.ts'
import { CarrierRequestSchema, CarrierResponseSchema } from './wire.ts'

const ask = (numbers: readonly string[], today: string, from = 'DE') =>
  trackParcels({ today, parcels: numbers.map((number) => ({ number, from, to: 'AT', handed: '2026-03-01' })) }, 7)

test('from day to day a carrier only says more, in order, and what it says fits the wire', () => {
  fc.assert(
    fc.property(
      fc.string({ minLength: 1, maxLength: 20 }),
      fc.nat(25),
      fc.constantFrom('AT', 'DE', 'JP'),
      (number, day, from) => {
        const [before, after] = [day, day + 1].map((n) => ask([number], addDays('2026-03-01', n), from))
        expect(v.is(CarrierResponseSchema, after)).toBe(true)
        const [p, q] = [before?.parcels[0]?.events ?? [], after?.parcels[0]?.events ?? []]
        expect(q.slice(0, p.length)).toEqual(p)
        const days = q.map((e) => e.on)
        expect(days).toEqual([...days].sort())
        expect(days.every((d) => d > '2026-03-01')).toBe(true)
      },
    ),
  )
})

test('most parcels come, a few go back or are never heard of again; those from abroad pass customs', () => {
  const numbers = Array.from({ length: 1000 }, (_, i) => `N${i}`)
  const { parcels } = ask(numbers, '2026-04-15')
  const ends = parcels.map((p) => p.events.at(-1)?.kind)
  const share = (kind: string) => ends.filter((e) => e === kind).length / ends.length
  expect(share('delivered')).toBeGreaterThan(0.88)
  expect(share('sent back')).toBeGreaterThan(0.01)
  expect(share('at customs')).toBeGreaterThan(0.02)
  expect(parcels.every((p) => p.events.some((e) => e.kind === 'at customs'))).toBe(true)
  expect(ask(numbers, '2026-04-15', 'AT').parcels.some((p) => p.events.some((e) => e.kind === 'at customs'))).toBe(
    false,
  )
})

test('days that are none and countries that are none are refused', () => {
  expect(v.is(CarrierRequestSchema, { today: '2026-02-30x', parcels: [] })).toBe(false)
  const parcel = { number: 'x', to: 'Austria', handed: '2026-03-01' }
  expect(v.is(CarrierRequestSchema, { today: '2026-03-02', parcels: [parcel] })).toBe(false)
})
