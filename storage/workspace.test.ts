import { itemKey } from '../core/catalogue/item.ts'
import { RECORD_KINDS, type RecordKind } from '../core/records/registry.ts'
import { JOB_FORMAT, JOB_VERSION, readJobFile } from '../core/formats/job-file.ts'
import { colourId, partId, type HoldingId, type PlaceId } from '../core/units/ids.ts'
import { demoRecords } from '../demo/scenario.ts'
import { Database } from './database.ts'
import { exportJob, restoreJob } from './job.ts'
import { act, add, edit, put, remove, shelve, undo } from './journal.ts'
import { Workspace } from './workspace.ts'

const AT = '2026-01-01T00:00:00.000Z'
let serial = 0
const fresh = () => new Database(`work-${serial++}`)
const item = itemKey(partId('plate 2x4'), colourId('Soot'))
const holding = (n: number, place = 'l-1') => ({
  id: `h-${String(n).padStart(5, '0')}` as HoldingId,
  place: place as PlaceId,
  item,
  qty: 1 + (n % 9),
  estimate: false,
  condition: 'used' as const,
})

test('a workspace follows every act, undo and restore of this tab and of others', async () => {
  const db = fresh()
  const other = new Database(db.name)
  const work = new Workspace(db)
  await work.open()
  const agrees = async () => {
    // Changes of another tab arrive as messages.
    for (let i = 0; i < 40; i++) {
      await new Promise((resolve) => setTimeout(resolve, 10))
      await work.settled()
      const stored = await Promise.all(RECORD_KINDS.map((kind) => db.table(kind).orderBy(':id').toArray()))
      const known = RECORD_KINDS.map((kind) => work.state()?.records[kind])
      if (JSON.stringify(known) === JSON.stringify(stored)) return true
    }
    return false
  }
  const steps: (() => Promise<unknown>)[] = [
    () => act(db, 'two', [put('holdings', [holding(2), holding(5)])], AT),
    () => act(other, 'between', [put('holdings', [holding(3), holding(1)])], AT),
    () => act(db, 'more', [shelve([{ ...holding(3), qty: 4 }])], AT),
    () => act(other, 'gone', [remove('holdings', [holding(2).id])], AT),
    () =>
      act(
        db,
        'many',
        [
          put(
            'holdings',
            Array.from({ length: 5200 }, (_, i) => holding(i)),
          ),
        ],
        AT,
      ),
    () => undo(other),
    () => act(db, 'edited', [edit('holdings', holding(5), { ...holding(5), qty: 77 })], AT),
    () => undo(db),
  ]
  for (const step of steps) {
    await step()
    expect(await agrees()).toBe(true)
  }
  work.close()
  db.close()
  other.close()
})

test('a change of one record makes one array anew and leaves the others, and all other records, as they are', async () => {
  const db = fresh()
  await act(
    db,
    'some',
    [
      put('holdings', [holding(1), holding(2)]),
      add('places', [{ id: 'l-1' as PlaceId, name: 'Bin', kind: 'bin', parent: null }]),
    ],
    AT,
  )
  const work = new Workspace(db)
  await work.open()
  const before = work.state()
  await act(db, 'one', [edit('holdings', holding(1), { ...holding(1), qty: 9 })], AT)
  await new Promise((resolve) => setTimeout(resolve, 30))
  await work.settled()
  const after = work.state()
  expect(after?.records.holdings).not.toBe(before?.records.holdings)
  expect(after?.records.holdings[1]).toBe(before?.records.holdings[1])
  expect(after?.records.places).toBe(before?.records.places)
  work.close()
})

/** Ways in which a stored record may be spoilt. */
const SPOIL: Record<string, (record: Record<string, unknown>) => unknown> = {
  'missing fields': ({ id }) => ({ id }),
  'wrong types': ({ id, ...rest }) => ({
    id,
    ...Object.fromEntries(Object.keys(rest).map((k) => [k, { not: 'that' }])),
  }),
  'null fields': ({ id, ...rest }) => ({ id, ...Object.fromEntries(Object.keys(rest).map((k) => [k, null])) }),
}
const demo = demoRecords()
const sample = (kind: RecordKind): Record<string, unknown> => {
  const list = (demo as Partial<Record<RecordKind, readonly unknown[]>>)[kind]
  const first = list?.[0] as Record<string, unknown> | undefined
  return first
    ? { ...first, id: `${String(first['id'])}-spoilt` }
    : { id: 'x-spoilt', name: 'x', data: 'x', what: {}, price: 1 }
}

test.each(RECORD_KINDS.flatMap((kind) => Object.keys(SPOIL).map((how) => [kind, how] as const)))(
  'one of the %s with %s is set aside: all else opens, exports and restores, and so does it',
  async (kind, how) => {
    const db = fresh()
    await act(
      db,
      'demo',
      RECORD_KINDS.flatMap((k) =>
        k in demo ? [put(k as 'places', (demo as unknown as Record<string, never>)[k] ?? [])] : [],
      ),
      AT,
    )
    const raw = SPOIL[how]?.(sample(kind))
    await db.table(kind).put(raw)
    const work = new Workspace(db)
    await work.open()
    const state = work.state()
    expect(state?.damaged).toMatchObject([{ kind, raw }])
    expect(state?.damaged[0]?.why).toMatch(/: /)
    for (const k of RECORD_KINDS)
      expect(state?.records[k].length).toBe((await db.table(k).count()) - (k === kind ? 1 : 0))
    const { file: job, damaged } = await exportJob(db, AT)
    expect(damaged).toBe(1)
    const read = readJobFile(JSON.stringify(job))
    if (!read.ok) throw new Error(read.error.message)
    expect(read.value.setAside).toEqual([{ kind, record: raw }])
    const elsewhere = fresh()
    expect((await restoreJob(elsewhere, read.value, AT)).ok).toBe(true)
    expect(JSON.stringify((await exportJob(elsewhere, AT)).file) === JSON.stringify(job)).toBe(true)
    work.close()
    db.close()
    elsewhere.close()
  },
)

test('records set aside that a file brings are bounded', () => {
  const empty = Object.fromEntries(RECORD_KINDS.map((k) => [k, []]))
  const file = {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    savedAt: AT,
    ...empty,
    setAside: [{ kind: 'nothing', record: 1 }],
  }
  expect(readJobFile(JSON.stringify(file)).ok).toBe(false)
})
