import * as v from 'valibot'
import { itemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { DonorSet } from '../core/donors/donor-set.ts'
import { colourId, type SetId } from '../core/units/ids.ts'
import { CarrierRequestSchema, CopiesRequestSchema } from '../market/wire.ts'
import { askCarrier, askCopies } from './market.ts'

const item = itemKey(partFromName('plate 2x4').id, colourId('Soot'))
const set = (n: number, lines: number): DonorSet => ({
  id: `s-${n}` as SetId,
  name: `Set ${n}`,
  stages: [{ id: 'a', name: 'A' }],
  lines: Array.from({ length: lines }, () => ({ stage: 'a', item, qty: 1, spare: false })),
})

test('a catalogue of any size is asked about in requests that a market takes, every set once', async () => {
  const asked: string[] = []
  const before = globalThis.fetch
  globalThis.fetch = (_, init) => {
    const body = String(init?.body)
    const request = v.parse(CopiesRequestSchema, JSON.parse(body))
    expect(body.length).toBeLessThan(2_000_000)
    asked.push(...request.sets.map((s) => s.set))
    return Promise.resolve(new Response(JSON.stringify({ currency: 'EUR', day: 0, copies: [] })))
  }
  try {
    // Many small ones, some large ones, one without lines, one that no market takes.
    const sets = Array.from({ length: 130 }, (_, n) => set(n, n % 10 === 0 ? 2_900 : n === 7 ? 0 : 40))
    expect(await askCopies([...sets, set(999, 3_001)], 0)).toEqual({ ok: true, value: [] })
    expect(asked).toEqual(sets.map((s) => s.id))
  } finally {
    globalThis.fetch = before
  }
})

test('parcels are asked about in requests that a carrier takes; what it says of others is left out; a failure names the carrier', async () => {
  const asked: string[] = []
  const before = globalThis.fetch
  globalThis.fetch = (_, init) => {
    const request = v.parse(CarrierRequestSchema, JSON.parse(String(init?.body)))
    asked.push(...request.parcels.map((p) => p.number))
    const others = request.parcels.length < 500 ? ['somebody else’s'] : []
    const parcels = [...request.parcels.map((p) => p.number), ...others].map((number) => ({
      number,
      events: [],
      due: null,
    }))
    return Promise.resolve(new Response(JSON.stringify({ parcels })))
  }
  try {
    const parcels = Array.from({ length: 1_100 }, (_, n) => ({ number: `N${n}`, to: 'AT', handed: '2026-03-01' }))
    const answer = await askCarrier(parcels, '2026-03-05')
    expect(answer.ok && answer.value.map((p) => p.number)).toEqual(parcels.map((p) => p.number))
    expect(asked).toHaveLength(1_100)
    globalThis.fetch = () => Promise.reject(new TypeError('no network'))
    expect(await askCarrier(parcels, '2026-03-05')).toMatchObject({
      ok: false,
      error: { code: 'offline', message: expect.stringContaining('The carrier cannot be reached') },
    })
  } finally {
    globalThis.fetch = before
  }
})
