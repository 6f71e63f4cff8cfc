import fc from 'fast-check'
import { readJobFile, jobFileText, JOB_FORMAT, JOB_VERSION } from '../core/formats/job-file.ts'
import { RECORD_KINDS, REGISTRY, type RecordKind, type RecordOf } from '../core/records/registry.ts'
import { AT, PIXEL, plate, SAMPLES } from '../core/records/records.test-data.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { BuildId, HoldingId, PlaceId } from '../core/units/ids.ts'
import { Database } from './database.ts'
import { exportJob, restoreJob } from './job.ts'
import type { Change } from './journal-entry.ts'
import { act, add, edit, moveTo, put, recount, redo, remove, undo, undoAct } from './journal.ts'
import { inPieces } from './pieces.ts'
import { guarded } from './store-error.ts'
import { isDamaged, readRecord, Workspace } from './workspace.ts'

let serial = 0
const fresh = () => new Database(`safe-${serial++}`)
const sample = <K extends RecordKind>(kind: K, over: object = {}) => ({ ...SAMPLES[kind], ...over }) as RecordOf<K>
/** A database with one of everything. */
async function full(): Promise<Database> {
  const db = fresh()
  for (const kind of RECORD_KINDS) await db.table(kind).put(SAMPLES[kind])
  return db
}
const contents = async (db: Database) =>
  Object.fromEntries(await Promise.all(RECORD_KINDS.map(async (k) => [k, await db.table(k).orderBy(':id').toArray()])))
const said = (result: { ok: boolean; error?: { code: string; message: string } }) =>
  result.ok ? 'done' : `${result.error?.code}: ${result.error?.message}`

test.each(RECORD_KINDS)('the sample of the %s fits, and so the tables below mean something', (kind) => {
  expect(isDamaged(readRecord(kind, SAMPLES[kind], true))).toBe(false)
})

/** What may become of a field. */
const SPOIL: Readonly<Record<string, (record: Record<string, unknown>, field: string) => unknown>> = {
  missing: (record, field) => Object.fromEntries(Object.entries(record).filter(([f]) => f !== field)),
  wrong: (record, field) => ({ ...record, [field]: { not: ['that', 1] } }),
  null: (record, field) => ({ ...record, [field]: null }),
  endless: (record, field) => ({ ...record, [field]: 'x'.repeat(100_000) }),
  absurd: (record, field) => ({ ...record, [field]: Number.MAX_VALUE }),
}
const TABLE = RECORD_KINDS.flatMap((kind) =>
  Object.keys(SAMPLES[kind]).flatMap((field) =>
    field === 'id' ? [] : Object.keys(SPOIL).map((how) => [kind, field, how] as const),
  ),
)

test('whatever field of whatever kind is spoilt: it is used as sound or set aside, exported, restored, and no act writes it', async () => {
  const outcomes = { sound: 0, aside: 0 }
  const db = await full()
  for (const [kind, field, how] of TABLE) {
    const raw = SPOIL[how]?.(SAMPLES[kind] as unknown as Record<string, unknown>, field) as { id: string }
    const read = readRecord(kind, raw)
    const written = await act(db, 'spoil', [put(kind, [raw as never])], AT)
    if (!isDamaged(read)) {
      outcomes.sound++
      expect(said(written)).toBe('done')
      await undo(db)
      continue
    }
    outcomes.aside++
    expect([kind, field, how, said(written)]).toEqual([
      kind,
      field,
      how,
      expect.stringMatching(/^unfit: .*Nothing was changed\.$/s),
    ])
    expect(said(written).length).toBeLessThan(400)
    // A file that holds it says where, shortly; one that holds it set aside is read.
    const empty = Object.fromEntries(RECORD_KINDS.map((k) => [k, [] as unknown[]]))
    const head = { format: JOB_FORMAT, version: JOB_VERSION, savedAt: AT }
    const refused = readJobFile(JSON.stringify({ ...head, ...empty, [kind]: [raw] }))
    expect(refused.ok ? '' : refused.error.message.length).toBeLessThan(500)
    expect(readJobFile(JSON.stringify({ ...head, ...empty, setAside: [{ kind, record: raw }] })).ok).toBe(true)
  }
  expect(outcomes.aside).toBeGreaterThan(250)
  expect(outcomes.sound).toBeGreaterThan(10)
  expect((await contents(db))['holdings']).toEqual([SAMPLES.holdings])
}, 60_000)

test('stored records that cannot be told as JSON, or by an id that is no text, are in the export all the same', async () => {
  const db = await full()
  const circle: Record<string, unknown> = { id: 'l-circle' }
  circle['self'] = circle
  await db.table('places').bulkPut([circle, { id: 'l-big', name: 10n }, { id: 5, name: 'five' }])
  const { file, damaged } = await exportJob(db, AT)
  expect(damaged).toBe(3)
  const text = [...jobFileText(file)].join('')
  const read = readJobFile(text)
  if (!read.ok) throw new Error(read.error.message)
  expect(read.value.setAside.map((s) => s.record.id).sort()).toEqual(['5', 'l-big', 'l-circle'])
  const elsewhere = fresh()
  expect(said(await restoreJob(elsewhere, read.value, AT))).toBe('done')
  const work = new Workspace(elsewhere)
  await work.open()
  expect(work.state()?.damaged.length).toBe(3)
  expect(work.state()?.records.places).toEqual([SAMPLES.places])
  work.close()
})

test('the text of a job file is the JSON of the file, whatever its size', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(1300), { minLength: 1, maxLength: 3 }), (sizes) => {
      const places = sizes.flatMap((n, s) =>
        Array.from({ length: n }, (_, i) => sample('places', { id: `l-${s}-${i}` })),
      )
      const lists = Object.fromEntries(RECORD_KINDS.map((k) => [k, k === 'places' ? places : []]))
      const file = { format: JOB_FORMAT, version: JOB_VERSION, savedAt: AT, ...lists, setAside: [] } as never
      expect(JSON.parse([...jobFileText(file)].join(''))).toEqual(file)
    }),
    { numRuns: 10 },
  )
})

test.each([
  [
    'a quantity that adds up past the limit',
    edit('holdings', SAMPLES.holdings, sample('holdings', { qty: 1_000_001 })),
    /number of pieces of the holding is above 1.000.000/,
  ],
  [
    'a long name of a set',
    edit('sets', SAMPLES.sets, sample('sets', { name: 'x'.repeat(201) })),
    /name of the donor set “x+…” is longer than 200 characters/,
  ],
  [
    'a budget of 10000001',
    edit('builds', SAMPLES.builds, sample('builds', { rules: { ...SAMPLES.builds.rules, budget: 1_000_000_100 } })),
    /budget of the build “One” is above 10.000.000\.00 EUR/,
  ],
  ['a huge price', put('offers', [sample('offers', { price: 1e13 })]), /price of the offer is above/],
  [
    'a long name of a shop',
    put('shops', [sample('shops', { name: 'y'.repeat(500) })]),
    /name of the shop “y+…” is longer than 120 characters/,
  ],
  ['half a piece', put('holdings', [sample('holdings', { qty: 1.5 })]), /no whole number/],
  ['no name', put('places', [sample('places', { name: '' })]), /name of the place is empty/],
])('%s is refused in words, and nothing is written', async (_, change, words) => {
  const db = await full()
  const before = await contents(db)
  const result = await act(
    db,
    'x',
    [put('parts', []), add('places', [sample('places', { id: 'l-9' })]), change as Change],
    AT,
  )
  expect(said(result)).toMatch(words)
  expect(await contents(db)).toEqual(before)
})

test('more records of a kind than can be shown are refused by act and file', async () => {
  const db = fresh()
  const many = Array.from({ length: REGISTRY.builds.most + 1 }, (_, i) => sample('builds', { id: `b-${i}` }))
  expect(said(await act(db, 'many', [put('builds', many)], AT))).toMatch(/^unfit: There are 201 records/)
  expect(said(await act(db, 'most', [put('builds', many.slice(1))], AT))).toBe('done')
  expect(said(await act(db, 'edited', [put('builds', [sample('builds', { id: 'b-1', name: 'x' })])], AT))).toBe('done')
  expect(said(await act(db, 'one more', [add('builds', many.slice(0, 1))], AT))).toMatch(/^unfit/)
})

test('what was beyond a bound before the bound was there may still be edited', async () => {
  const db = fresh()
  const odd = sample('places', { id: 'l-a/b' })
  await db.table('places').put(odd)
  expect(said(await act(db, 'x', [put('places', [{ ...odd, name: 'New' }])], AT))).toBe('done')
  expect(said(await act(db, 'x', [add('places', [sample('places', { id: 'l-c?d' })])], AT))).toMatch(/^unfit/)
})

test('what an act changed is stored in pieces that browsers take, and comes back whole', async () => {
  const pictures = (mark: string) =>
    Array.from({ length: 60 }, (_, i) => sample('pictures', { id: `i-${i}`, data: PIXEL + mark.repeat(600_000) }))
  const db = fresh()
  expect(said(await act(db, 'first', [put('pictures', pictures('A'))], AT))).toBe('done')
  expect(said(await act(db, 'second', [put('pictures', pictures('B'))], AT))).toBe('done')
  const pieces = await db.pieces.toArray()
  for (const { changes } of pieces) expect(JSON.stringify(changes).length).toBeLessThan(20 * 1024 * 1024)
  expect(pieces.length).toBeGreaterThan(4)
  await undo(db)
  const [one] = await db.records('pictures').toArray()
  expect(one?.data.endsWith('A')).toBe(true)
  await redo(db)
  expect((await db.records('pictures').toArray()).every((p) => p.data.endsWith('B'))).toBe(true)
  await db.delete()
}, 60_000)

test('pieces in their order are the change they came from', () => {
  const one = fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd'), size: fc.nat(40) })
  fc.assert(
    fc.property(
      fc.array(one, { maxLength: 8 }),
      fc.array(one, { maxLength: 8 }),
      fc.integer({ min: 1, max: 9000 }),
      (p, q, most) => {
        const unique = (list: typeof p) => [...new Map(list.map((r) => [r.id, r])).values()]
        const [before, after] = [unique(p), unique(q)]
        const ids = [...new Set([...before, ...after].map((r) => r.id))]
        const pieces = inPieces([{ kind: 'sets', before, after, ids }], most)
        const joined = pieces.flat()
        const sorted = (list: readonly unknown[]) => list.map((r) => JSON.stringify(r)).sort()
        expect(sorted(joined.flatMap((c) => c.before))).toEqual(sorted(before))
        expect(sorted(joined.flatMap((c) => c.after))).toEqual(sorted(after))
        expect(joined.flatMap((c) => c.ids)).toEqual(ids)
      },
    ),
  )
})

test('the undo of one act takes back that act, or refuses and names what stands in its way', async () => {
  const db = await full()
  const place = (name: string) => edit('places', SAMPLES.places, sample('places', { name }))
  const ids: number[] = []
  const done = async (label: string, change: Change) => {
    const result = await act(db, label, [change], AT)
    if (result.ok && result.value !== undefined) ids.push(result.value)
  }
  await done('renamed the place', place('Top'))
  await done('renamed the part', edit('parts', SAMPLES.parts, sample('parts', { name: 'mine' })))
  const [renamed, part] = ids as [number, number]
  // Not the last, and nothing after it touched the same.
  expect(said(await undoAct(db, renamed, AT))).toBe('done')
  expect((await db.records('places').get('l-1'))?.name).toBe('Bin')
  expect((await db.records('parts').get(SAMPLES.parts.id))?.name).toBe('mine')
  expect((await db.journal.toArray()).map((e) => e.label)).toEqual([
    'renamed the place',
    'renamed the part',
    'Took back: renamed the place',
  ])
  await done(
    'renamed the part again',
    edit('parts', sample('parts', { name: 'mine' }), sample('parts', { name: 'other' })),
  )
  expect(said(await undoAct(db, part, AT))).toMatch(/^foreign: “renamed the part again” came after/)
  expect((await db.records('parts').get(SAMPLES.parts.id))?.name).toBe('other')
  // The last one is undone as ever, and can be done again.
  expect(said(await undoAct(db, ids[2] as number, AT))).toBe('done')
  expect(await redo(db)).toMatchObject({ ok: true, value: { label: 'renamed the part again' } })
  // Undone once, it is not undone twice.
  await undo(db)
  expect(said(await undoAct(db, ids[2] as number, AT))).toMatch(/undone already/)
  expect(said(await undoAct(db, 999, AT))).toMatch(/no longer in the history/)
})

test('a tab undoes what it did itself; what another did it is told of, and undoes only when asked for that', async () => {
  const db = await full()
  await act(db, 'mine', [edit('places', SAMPLES.places, sample('places', { name: 'Mine' }))], AT, { by: 'one' })
  await act(db, 'theirs', [edit('parts', SAMPLES.parts, sample('parts', { name: 'theirs' }))], AT, { by: 'two' })
  const refused = await undo(db, { by: 'one' })
  expect(said(refused)).toMatch(/^foreign: “theirs” was done in another tab/)
  const entry = refused.ok ? undefined : refused.error.entry
  await act(db, 'later', [edit('places', SAMPLES.places, sample('places', { kind: 'box' }))], AT, { by: 'one' })
  expect(said(await undo(db, { only: entry as number }))).toMatch(/Something else was done meanwhile/)
  expect(said(await undo(db, { by: 'one' }))).toBe('done')
  expect(await undo(db, { only: entry as number })).toMatchObject({ ok: true, value: { label: 'theirs' } })
  expect(said(await redo(db, { by: 'one' }))).toMatch(/^foreign/)
  expect(said(await redo(db, { by: 'two' }))).toBe('done')
})

// One holding of ten: some or all of it is moved, and it is counted again, at the same time, in either order.
test.each(
  [4, 10].flatMap((moved) =>
    [true, false].flatMap((joins) => [true, false].map((moveFirst) => ({ moved, joins, moveFirst }))),
  ),
)('a recount and a move at once keep both: %o', async ({ moved, joins, moveFirst }) => {
  const db = fresh()
  const holding = {
    id: 'h-1' as HoldingId,
    place: 'l-1' as PlaceId,
    item: plate,
    qty: 10,
    estimate: false,
    condition: 'used',
  } as const
  const there: Holding = { ...holding, id: 'h-2' as HoldingId, place: 'l-2' as PlaceId, qty: 5 }
  await db.records('holdings').bulkPut(joins ? [holding, there] : [holding])
  const move = moveTo(there.place, [{ seen: holding, qty: moved }])
  const count = recount([{ seen: holding, qty: 12, estimate: false }])
  for (const change of moveFirst ? [move, count] : [count, move])
    expect(said(await act(db, 'x', [change], AT))).toBe('done')
  const sum = async (place: string) =>
    (await db.records('holdings').where('place').equals(place).toArray()).reduce((n, h) => n + h.qty, 0)
  // Two more were found than were thought: wherever they lie, they are there, and what was moved lies where it went.
  expect(await sum('l-1')).toBe(moved === 10 ? 0 : 8)
  expect(await sum('l-2')).toBe((joins ? 5 : 0) + (moved === 10 ? 12 : 4))
})

test('of two recounts at once the later counts; one of what was taken away is refused', async () => {
  const db = await full()
  const seen = SAMPLES.holdings
  await act(db, 'a', [recount([{ seen, qty: 7, estimate: false }])], AT)
  await act(db, 'b', [recount([{ seen, qty: 9, estimate: true }])], AT)
  expect(await db.records('holdings').get('h-1')).toMatchObject({ qty: 9, estimate: true, place: 'l-1' })
  await act(db, 'c', [recount([{ seen: sample('holdings', { qty: 9 }), qty: 0, estimate: false }])], AT)
  expect(await db.records('holdings').count()).toBe(0)
  expect(said(await act(db, 'd', [recount([{ seen, qty: 3, estimate: false }])], AT))).toMatch(/^gone/)
  expect(said(await act(db, 'e', [moveTo('l-2' as PlaceId, [{ seen, qty: 1 }])], AT))).toMatch(/^gone/)
})

test('counted as none where it no longer lies leaves what was moved alone', async () => {
  const db = await full()
  const seen = SAMPLES.holdings
  await act(db, 'moved', [moveTo('l-2' as PlaceId, [{ seen, qty: seen.qty }])], AT)
  expect(said(await act(db, 'counted', [recount([{ seen, qty: 0, estimate: false }])], AT))).toBe('done')
  expect(await db.records('holdings').get('h-1')).toMatchObject({ qty: seen.qty, place: 'l-2' })
})

test('a restore in one tab while another edits leaves nothing of a build that is not there, in any order', async () => {
  const empty = {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    savedAt: AT,
    ...Object.fromEntries(RECORD_KINDS.map((k) => [k, []])),
  }
  const job = readJobFile(JSON.stringify(empty))
  if (!job.ok) throw new Error(job.error.message)
  const edits: readonly (readonly Change[])[] = [
    [add('designs', [sample('designs')]), edit('designs', SAMPLES.designs, sample('designs', { modules: [] }))],
    [put('plans', [SAMPLES.plans])],
    [add('versions', [sample('versions', { id: 'v-2' })])],
    [add('decisions', [sample('decisions', { id: 'd-2' })])],
    [edit('builds', SAMPLES.builds, sample('builds', { name: 'x' }))],
    [add('builds', [sample('builds', { id: 'b-2' })]), add('designs', [sample('designs', { id: 'b-2' })])],
  ]
  for (const first of ['restore', 'edit', 'both'])
    for (const changes of edits) {
      const db = await full()
      const other = new Database(db.name)
      const steps = [() => restoreJob(db, job.value, AT), () => act(other, 'edit', changes, AT)]
      if (first === 'edit') steps.reverse()
      if (first === 'both') await Promise.all(steps.map((step) => step()))
      else for (const step of steps) await step()
      const all = (await contents(db)) as Record<RecordKind, { id: string; buildId?: string; build?: string | null }[]>
      const builds = new Set(all.builds.map((b) => b.id))
      expect([...all.designs, ...all.plans].filter((r) => !builds.has(r.id))).toEqual([])
      expect(all.versions.filter((r) => !builds.has(r.buildId ?? ''))).toEqual([])
      expect(all.decisions.filter((r) => r.build != null && !builds.has(r.build))).toEqual([])
      other.close()
      db.close()
    }
}, 60_000)

test('an act for a build that is not there is refused; what was there before may be edited', async () => {
  const db = fresh()
  const design = sample('designs', { id: 'b-9' as BuildId })
  expect(said(await act(db, 'x', [add('designs', [design])], AT))).toMatch(/^gone: The build this belongs to/)
  await db.records('designs').put(design)
  expect(said(await act(db, 'x', [edit('designs', design, { ...design, modules: [] })], AT))).toBe('done')
  await act(db, 'x', [remove('designs', ['b-9'])], AT)
})

test.each(['UnknownError', 'AbortError', 'InvalidStateError', 'TimeoutError', 'NotReadableError'])(
  'a failure of the browser, %s, is named, with what to do',
  async (name) => {
    const failed = await guarded(() => Promise.reject(new DOMException('Internal error opening backing store.', name)))
    expect(said(failed)).toMatch(
      new RegExp(`^failed: .*${name}: Internal error opening backing store\\).*Nothing was changed.*export`),
    )
  },
)

test('a fault of our own is none of the storage', async () => {
  await expect(guarded(() => Promise.reject(new TypeError('x is not a function')))).rejects.toThrow(TypeError)
  await expect(guarded(() => Promise.reject(new DOMException('cannot be cloned', 'DataCloneError')))).rejects.toThrow()
})

test('what a newer version of the app took over is neither written nor opened by this one', async () => {
  const db = await full()
  await new Promise<void>((resolve, reject) => {
    const open = indexedDB.open(db.name, 10_000)
    open.onsuccess = () => {
      open.result.close()
      resolve()
    }
    open.onerror = () => {
      reject(new Error('not opened'))
    }
  })
  const late = await act(db, 'late', [add('places', [sample('places', { id: 'l-late' })])], AT)
  expect(said(late)).toMatch(/^blocked: The data was upgraded or closed in another tab/)
  await expect(new Database(db.name).open()).rejects.toMatchObject({ name: 'VersionError' })
})
