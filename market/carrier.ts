import { addDays, daysTo } from '../core/units/instants.ts'
import { pick, uniform } from './random.ts'
import type { CarrierEvent, CarrierRequest, CarrierResponse } from './wire.ts'

/** Days that parcels are on the way within a country and beyond, and what customs keep them for at most. */
const [AT_HOME, ABROAD, CUSTOMS] = [[2, 4], [4, 10], 6] as const
/** Shares of parcels that are never heard of again, and that go back. */
const [LOST, SENT_BACK, HELD] = [0.04, 0.03, 0.35] as const
/** Invented sorting halls. */
const HALLS = ['Upper hall', 'River hall', 'Hall by the mill', 'North hall'] as const

/**
 * What a carrier says of parcels on a day. It depends on seed, number and days alone: a parcel that was on its way
 * yesterday is farther today, and nothing that was said is taken back.
 */
export const trackParcels = ({ parcels, today }: CarrierRequest, seed: number): CarrierResponse => ({
  parcels: parcels.map((parcel) => ({ number: parcel.number, ...newsOf(parcel, today, seed) })),
})

function newsOf(
  { number, from, to, handed }: CarrierRequest['parcels'][number],
  today: string,
  seed: number,
): Pick<CarrierResponse['parcels'][number], 'events' | 'due'> {
  const words = [seed, number] as const
  const abroad = from !== undefined && from !== to
  const [least, most] = abroad ? ABROAD : AT_HOME
  const days = least + Math.floor(uniform(...words, 'days') * (most - least + 1))
  const held = abroad && uniform(...words, 'held') < HELD ? 1 + Math.floor(uniform(...words, 'customs') * CUSTOMS) : 0
  const fate = uniform(...words, 'fate')
  const start = addDays(handed, 1)
  const halfway = addDays(start, Math.ceil(days / 2))
  const last = addDays(start, days + held)
  const hall = pick(HALLS, ...words, 'hall')
  const all: CarrierEvent[] = [
    { kind: 'accepted', on: start, where: from ?? to },
    { kind: 'on the way', on: addDays(start, 1), where: hall },
    ...(abroad ? [{ kind: 'at customs' as const, on: halfway, where: to }] : []),
    ...(fate < LOST
      ? []
      : fate < LOST + SENT_BACK
        ? [{ kind: 'sent back' as const, on: last, where: to }]
        : [
            { kind: 'out for delivery' as const, on: last, where: to },
            { kind: 'delivered' as const, on: last, where: to },
          ]),
  ]
  const events = all.filter((e) => daysTo(e.on, today) >= 0)
  const over = events.some((e) => e.kind === 'delivered' || e.kind === 'sent back')
  // What customs keep is not foreseen before it lies there.
  const foreseen = events.some((e) => e.kind === 'at customs') ? last : addDays(start, days)
  return { events, due: over || events.length === 0 ? null : foreseen }
}
