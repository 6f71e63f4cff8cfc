import { AT, plate, SAMPLES } from '../records/records.test-data.ts'
import type { Decision } from '../build/decision.ts'
import type { Module } from '../design/design.ts'
import type { BuildId } from '../units/ids.ts'
import * as v from 'valibot'
import { NoteSchema, ruleNote } from './note.ts'
import { ideaOf, LOG_KINDS, logOf, type LogRecords } from './log.ts'

const { id } = SAMPLES.builds
const names = { item: (item: string) => `<${item}>`, part: (part: string) => `<${part}>` }
const decision = (what: Decision['what'], more: Partial<Decision> = {}): Decision =>
  ({ id: `d-${what.kind}`, build: id, what, ...more }) as Decision
const records: LogRecords = {
  design: {
    id,
    modules: [
      {
        ...{ id: 'm-1', name: 'Arm', repeats: 1, tested: '2026-01-20', lines: [{ id: 'n-1', item: plate, qty: 2 }] },
        risks: [
          { kind: 'weak hinge', state: 'test built', note: 'held for a week' },
          { kind: 'heavy', state: 'accepted' },
          { kind: 'overhang', state: 'open', note: 'nobody knows' },
        ],
      } as unknown as Module,
    ],
  },
  notes: [SAMPLES.notes, { ...SAMPLES.notes, id: 'k-2', build: 'b-other' as BuildId } as typeof SAMPLES.notes],
  decisions: [
    decision({ kind: 'accept', line: 'n-1', item: plate, uses: [{ item: plate, qty: 2 }] } as Decision['what'], {
      on: '2026-01-12',
      why: 'nobody sees it',
    }),
    decision({ kind: 'own', part: 'p-x', uses: [{ part: 'p-y', qty: 2 }], points: 1 } as unknown as Decision['what'], {
      build: null,
    }),
    decision({ kind: 'forbid', item: plate, uses: [{ item: plate, qty: 1 }] }, { build: 'b-other' as BuildId }),
  ],
  versions: [SAMPLES.versions],
  units: [SAMPLES.units],
  making: {
    ...SAMPLES.makings,
    finished: { place: SAMPLES.places.id, on: '2026-03-01' },
    stickers: [{ id: 's', name: '4', state: 'left out', note: 'torn' }],
  },
  orders: [SAMPLES.orders],
  sales: [SAMPLES.sales],
  entries: [
    SAMPLES.entries,
    { ...SAMPLES.entries, id: 'e-2' as typeof SAMPLES.entries.id, corrects: undefined },
  ] as never,
}

test('the log writes itself, with reasons, hours and modules, the newest first and what has no day last', () => {
  const lines = logOf(id, records, names)
  expect(new Set(lines.map((l) => l.key)).size).toBe(lines.length)
  const days = lines.map((l) => l.on ?? '')
  expect(days).toEqual([...days].sort().reverse())
  const find = (text: string) => lines.find((l) => l.text.includes(text))
  expect(find('found as good as')).toMatchObject({
    ...{ kind: 'decision', on: '2026-01-12', why: 'nobody sees it', module: 'm-1' },
    text: `2 × <${plate}> found as good as <${plate}>`,
  })
  expect(find('may be made of')).toMatchObject({ on: undefined, text: 'One <p-x> may be made of 2 × <p-y>' })
  expect(find('Test built: weak hinge')).toMatchObject({ kind: 'test build', on: '2026-01-20', why: 'held for a week' })
  expect(find('Accepted: heavy')).toMatchObject({ kind: 'decision', module: 'm-1' })
  expect(find('Tried and failed')).toMatchObject({ kind: 'failed try', minutes: 40, why: 'fell apart' })
  expect(find('Departs from the reference')).toMatchObject({ kind: 'compromise', why: 'six' })
  expect(find('Sticker 4: left out')).toMatchObject({ kind: 'compromise', why: 'torn' })
  expect(find('The joint gave way.')).toMatchObject({ kind: 'failed try', minutes: 40, pictures: ['i-1'] })
  expect(find('Kept the version')).toMatchObject({ kind: 'version', on: AT.slice(0, 10) })
  expect(find('Figure and plates, 3 pieces: listed')).toMatchObject({ kind: 'sale' })
  expect(find('Finished')).toMatchObject({ kind: 'finished', on: '2026-03-01' })
  // Of entries only what corrects another: all others are in the ledger.
  expect(lines.filter((l) => l.kind === 'money').map((l) => l.key)).toEqual(['e-1'])
  expect(lines.filter((l) => l.kind === 'order').length).toBe(SAMPLES.orders.history.length)
  expect(lines.some((l) => l.text.includes('overhang') || l.key === 'k-2' || l.key === 'd-forbid')).toBe(false)
  for (const l of lines) expect(LOG_KINDS).toContain(l.kind)
})

test('a house rule that is changed is noted, once a day for the same words; rates of exchange are no decision', () => {
  const on = '2026-03-01'
  const note = ruleNote(id, { colours: 'free' } as never, 'Colours: free', on)
  expect(note).toMatchObject({ build: id, on, kind: 'decision', text: 'Colours: free' })
  expect(v.safeParse(NoteSchema, note).success).toBe(true)
  expect(ruleNote(id, { colours: 'free' } as never, 'Colours: free', on)?.id).toBe(note?.id)
  expect(ruleNote(id, { colours: 'exact' } as never, 'Colours: exact', on)?.id).not.toBe(note?.id)
  expect(ruleNote(id, { rates: [], resalePrices: [] }, 'Rates', on)).toBeUndefined()
  expect(ruleNote(id, { rates: [], budget: 5 }, 'Budget', on)).toBeDefined()
})

test('what is to be improved becomes an idea of the design: kept apart, named by its first line', () => {
  const idea = ideaOf({ text: 'Brace the arm\nwith a second pin' }, () => 'x')
  expect(idea).toMatchObject({ id: 'm-x', name: 'Brace the arm', later: true, lines: [], repeats: 1 })
  expect(idea.note).toContain('second pin')
  expect(ideaOf({ text: '\n' }, () => 'y').name).toBe('To improve')
})
