import fc from 'fast-check'
import { PALETTE } from '../core/colours/palette.ts'
import { explode } from '../core/design/explode.ts'
import { designFaults } from '../core/design/faults.ts'
import { RECORD_KINDS } from '../core/records/registry.ts'
import { readJobFile } from '../core/formats/job-file.ts'
import type { Holding } from '../core/shelf/holding.ts'
import { itemKey } from '../core/catalogue/item.ts'
import type { Place } from '../core/shelf/place.ts'
import type { BuildId, ColourId, HoldingId, PartId, PlaceId, VersionId } from '../core/units/ids.ts'
import { Database } from './database.ts'
import { exportJob, restoreJob } from './job.ts'
import { act, put, redo, remove, edit, undo } from './journal.ts'
import { guarded } from './store-error.ts'
import { merged } from './merge.ts'

const AT = '2026-01-01T00:00:00.000Z'
let serial = 0
const fresh = () => new Database(`test-${serial++}`)
const place = (n: number, name = `Bin ${n}`): Place => ({ id: `l-${n}` as PlaceId, name, kind: 'bin', parent: null })

test('any run of acts can be undone to the start and redone to the end', async () => {
  const step = fc.oneof(
    fc.record({
      put: fc.array(fc.tuple(fc.nat(5), fc.string({ minLength: 1, maxLength: 3 })), { minLength: 1, maxLength: 3 }),
    }),
    fc.record({ remove: fc.nat(5) }),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(step, { maxLength: 6 }), async (steps) => {
      const db = fresh()
      const states = [await db.records('places').toArray()]
      let acts = 0
      for (const s of steps) {
        const before = await db.journal.count()
        const changes =
          'put' in s
            ? [put('places', [...new Map(s.put.map(([n, name]) => [n, place(n, name)])).values()])]
            : [remove('places', [`l-${s.remove}`])]
        expect((await act(db, 'step', changes, AT)).ok).toBe(true)
        if ((await db.journal.count()) > before) {
          acts++
          states.push(await db.records('places').toArray())
        }
      }
      for (let i = acts - 1; i >= 0; i--) {
        await undo(db)
        expect(await db.records('places').toArray()).toEqual(states[i])
      }
      expect(await undo(db)).toEqual({ ok: true, value: undefined })
      for (let i = 1; i <= acts; i++) {
        await redo(db)
        expect(await db.records('places').toArray()).toEqual(states[i])
      }
      db.close()
    }),
    { numRuns: 25 },
  )
})

// A record with fields, fields of fields and lists, any of which may be missing.
const record = fc.record(
  {
    name: fc.constantFrom('a', 'b'),
    size: fc.nat(2),
    list: fc.array(fc.nat(2), { maxLength: 2 }),
    rules: fc.record(
      { aim: fc.constantFrom('x', 'y'), most: fc.nat(2), shops: fc.dictionary(fc.constantFrom('p', 'q'), fc.nat(1)) },
      { requiredKeys: [] },
    ),
  },
  { requiredKeys: ['name'] },
)
type Fields = Record<string, unknown>
/** Every value in a record by its path; lists are values. */
const leaves = (value: Fields, path = ''): [string, string][] =>
  Object.entries(value).flatMap(([key, v]) =>
    typeof v === 'object' && v !== null && !Array.isArray(v)
      ? leaves(v as Fields, `${path}${key}.`)
      : [[`${path}${key}`, JSON.stringify(v)] as [string, string]],
  )

test('however few there are or how many, what is put anew replaces what stood there, and undone it stands there again', async () => {
  // Records there, and records put, the first of them new: many where there are few, few among many.
  for (const [there, asked] of [
    [0, 30],
    [6, 4],
    [40, 40],
    [300, 25],
    [900, 600],
    [2900, 25],
  ] as const) {
    const db = fresh()
    const at = (n: number) => Math.floor((n * (there + 10)) / asked) - 5
    const before = Array.from({ length: there }, (_, n) => place(n))
    expect((await act(db, 'before', [put('places', before)], AT)).ok).toBe(true)
    const stood = await db.records('places').toArray()
    await act(
      db,
      'anew',
      [
        put(
          'places',
          Array.from({ length: asked }, (_, n) => place(at(n), 'Anew')),
        ),
      ],
      AT,
    )
    const known = new Set(Array.from({ length: asked }, (_, n) => at(n)))
    const now = await db.records('places').toArray()
    expect(now.filter(({ name }) => name === 'Anew')).toHaveLength(known.size)
    expect(now).toHaveLength(new Set([...before.keys(), ...known]).size)
    await undo(db)
    expect(await db.records('places').toArray()).toEqual(stood)
  }
})

test('edits of one record that overlap lose nothing but what both changed', () => {
  fc.assert(
    fc.property(record, record, record, (base, next, now) => {
      expect(merged<object>(base, next, base)).toEqual(next)
      expect(merged<object>(base, base, now)).toEqual(now)
      const [b, n, c, m] = [base, next, now, merged<object>(base, next, now)].map((r) => new Map(leaves(r as Fields)))
      for (const path of new Set([...(b?.keys() ?? []), ...(n?.keys() ?? []), ...(c?.keys() ?? [])])) {
        const [was, mine, theirs] = [b?.get(path), n?.get(path), c?.get(path)]
        // What only one of the two touched, at its own place, is as that one left it; the later edit counts for the rest.
        if (was !== mine && was === theirs && b?.has(path) && n?.has(path)) expect(m?.get(path)).toBe(mine)
        if (was === mine && b?.has(path) && c?.has(path) && 'rules' in next && 'rules' in base && 'rules' in now)
          expect(m?.get(path)).toBe(theirs)
      }
    }),
    { numRuns: 500 },
  )
})

test('lists of records that are edited at the same time keep what each edit did to its own', () => {
  const ids = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 5 })
  const listed = ids.chain((own) => fc.tuple(...own.map((id) => fc.record({ id: fc.constant(id), qty: fc.nat(2) }))))
  fc.assert(
    fc.property(listed, listed, listed, (base, next, now) => {
      const merge = (b: unknown[], n: unknown[], c: unknown[]) => merged({ lines: b }, { lines: n }, { lines: c }).lines
      expect(merge(base, next, base)).toEqual(next)
      expect(merge(base, base, now)).toEqual(now)
      const found = merge(base, next, now) as typeof base
      const qty = (list: typeof base, id: string) => list.find((l) => l.id === id)?.qty
      expect(new Set(found.map((l) => l.id)).size).toBe(found.length)
      for (const id of ['a', 'b', 'c', 'd', 'e']) {
        const [was, mine, theirs, then] = [base, next, now, found].map((list) => qty(list, id))
        if (was === theirs) expect(then).toBe(mine)
        else if (was === mine) expect(then).toBe(theirs)
        // Both touched it: the edit's own value counts, and a change counts more than a removal.
        else expect(then).toBe(mine ?? theirs)
      }
    }),
    { numRuns: 1000 },
  )
  // The order of the edit where it moved something; what was added meanwhile stays behind what it was added behind.
  const order = (...list: string[]) => list.map((id) => ({ id }))
  expect(merged({ l: order('a', 'b') }, { l: order('b', 'a') }, { l: order('a', 'x', 'b') }).l).toEqual(
    order('b', 'a', 'x'),
  )
  // Values without ids are told apart by what they say; where two say the same, the list is one value.
  expect(merged({ l: ['a'] }, { l: ['a', 'b'] }, { l: ['a', 'c'] }).l).toEqual(['a', 'b', 'c'])
  expect(merged({ l: ['a', 'a'] }, { l: ['a', 'b'] }, { l: ['a', 'c'] }).l).toEqual(['a', 'b'])
  const missing = (...list: [string, number][]) => ({ l: list.map(([item, qty]) => ({ item, qty })) })
  expect(merged(missing(['x', 1]), missing(['x', 2]), missing(['x', 1], ['y', 3])).l).toEqual(
    missing(['x', 2], ['y', 3]).l,
  )
})

test('two edits begun from the same record are both kept, and undone one by one', async () => {
  const db = fresh()
  await act(db, 'made', [put('places', [place(1)])], AT)
  const from = place(1)
  await act(db, 'named', [edit('places', from, { ...from, name: 'Top bin' })], AT)
  await act(db, 'moved', [edit('places', from, { ...from, parent: 'l-2' as PlaceId })], AT)
  expect(await db.records('places').toArray()).toEqual([{ ...from, name: 'Top bin', parent: 'l-2' }])
  await undo(db)
  expect(await db.records('places').toArray()).toEqual([{ ...from, name: 'Top bin' }])
  await undo(db)
  await redo(db)
  await redo(db)
  expect(await db.records('places').toArray()).toEqual([{ ...from, name: 'Top bin', parent: 'l-2' }])
  db.close()
})

test('a new act drops what was undone', async () => {
  const db = fresh()
  await act(db, 'one', [put('places', [place(1)])], AT)
  await undo(db)
  await act(db, 'two', [put('places', [place(2)])], AT)
  expect(await redo(db)).toEqual({ ok: true, value: undefined })
  expect((await db.records('places').toArray()).map((p) => p.id)).toEqual(['l-2'])
})

test('an act that fails half way changes nothing', async () => {
  const db = fresh()
  await act(db, 'one', [put('places', [place(1)])], AT)
  const broken = { ...place(2), id: Symbol('no key') } as unknown as Place
  await expect(act(db, 'two', [put('colours', PALETTE), put('places', [broken])], AT)).rejects.toThrow()
  expect([await db.records('colours').count(), await db.records('places').count(), await db.journal.count()]).toEqual([
    0, 1, 1,
  ])
})

test('a full disk is reported in words', async () => {
  const full = await guarded(() => Promise.reject(new DOMException('no room', 'QuotaExceededError')))
  expect(full).toMatchObject({
    ok: false,
    error: { code: 'quota', message: expect.stringContaining('Nothing was changed') },
  })
})

test('export and restore on a fresh profile give the same file; the restore can be undone', async () => {
  const db = fresh()
  await act(db, 'seed', [put('colours', PALETTE), put('places', [place(1), place(2)])], AT)
  const text = JSON.stringify((await exportJob(db, AT)).file)
  const read = readJobFile(text)
  if (!read.ok) throw new Error(read.error.message)
  const other = fresh()
  await act(other, 'own', [put('places', [place(9)])], AT)
  expect((await restoreJob(other, read.value, AT)).ok).toBe(true)
  expect(JSON.stringify((await exportJob(other, AT)).file)).toBe(text)
  await undo(other)
  expect((await other.records('places').toArray()).map((p) => p.id)).toEqual(['l-9'])
})

test.each([
  ['{"format":', 'not-json'],
  ['{"format":"other","version":1}', 'not-a-job-file'],
  ['{"format":"unfinished-brick-job","version":2}', 'newer-version'],
  ['{"format":"unfinished-brick-job","version":1,"savedAt":"2026-01-01T00:00:00.000Z"}', 'damaged'],
])('job file %s is refused as %s', (text, code) => {
  const read = readJobFile(text)
  expect(read.ok ? '' : read.error.code).toBe(code)
})

test('a database of version 3 opens with everything in it and takes versions of designs', async () => {
  const name = `test-${serial++}`
  const old = new Database(name, 3)
  await old.records('places').put(place(1))
  await old.journal.add({ label: 'one', at: AT, done: true })
  await old
    .table('changes')
    .put({ id: 1, changes: [{ kind: 'places', before: [], after: [place(1)], ids: [place(1).id] }] })
  old.close()
  const now = new Database(name)
  const design = { id: 'b-x' as BuildId, modules: [] }
  const version = { id: 'v-1' as VersionId, buildId: design.id, name: 'First', at: AT, design }
  await now.table('builds').put({ id: design.id })
  expect((await act(now, 'kept', [put('versions', [version])], AT)).ok).toBe(true)
  expect(await now.records('versions').toArray()).toEqual([version])
  expect([await undo(now), await undo(now)]).toMatchObject([
    { ok: true, value: { label: 'kept' } },
    { ok: true, value: { label: 'one' } },
  ])
  expect([await now.records('places').count(), await now.records('versions').count()]).toEqual([0, 0])
  expect(now.verno).toBe(11)
})

test('a job file with designs that cannot be is loaded with nothing lost', () => {
  const odd = {
    format: 'unfinished-brick-job',
    version: 1,
    savedAt: AT,
    ...Object.fromEntries(RECORD_KINDS.filter((k) => k !== 'versions' && k !== 'pictures').map((k) => [k, []])),
    designs: [
      {
        id: 'b-x',
        modules: [
          {
            id: 'm-a',
            name: 'A',
            repeats: -3,
            within: 'm-a',
            colours: [{ from: 'c-soot', to: 'c-never-heard-of' }],
            lines: [
              { id: 'n-1', qty: 2 },
              { id: 'n-2', item: 'p-plate-2x4|c-soot', qty: -5 },
            ],
          },
        ],
      },
    ],
  }
  const read = readJobFile(JSON.stringify(odd))
  if (!read.ok) throw new Error(read.error.message)
  const [design] = read.value.designs
  expect(design?.modules[0]?.lines).toHaveLength(2)
  expect(design && designFaults(design, new Map(PALETTE.map((c) => [c.id, c]))).map((f) => f.code)).toEqual([
    'cycle',
    'repeats',
    'unknown colour',
    'no part',
    'quantity',
  ])
  expect(design && explode(design)).toEqual([])
})

test('a database of version 5 opens with every holding and offer, and they are found by place and source', async () => {
  const name = `test-${serial++}`
  const old = new Database(name, 5)
  const holdings = [1, 2, 3].map((n): Holding => ({
    id: `h-${n}` as HoldingId,
    item: itemKey('p-plate-2x4' as PartId, 'c-soot' as ColourId),
    qty: n,
    place: place(n).id,
    condition: 'used',
    estimate: false,
  }))
  await old.records('holdings').bulkPut(holdings)
  old.close()
  const now = new Database(name)
  expect(await now.records('holdings').toArray()).toEqual(holdings)
  const [first] = holdings
  expect(first && (await now.records('holdings').where('place').equals(first.place).count())).toBeGreaterThan(0)
  expect(now.verno).toBe(11)
})

test.each([1, 2])(
  'a database of version %i opens with everything in it, and its last act can be undone',
  async (version) => {
    const name = `test-${serial++}`
    const old = new Database(name, version)
    await old.records('places').put(place(1))
    // As versions 1 and 2 kept it: the changes inside the entry.
    const changes = [{ kind: 'places', before: [], after: [place(1)], ids: [place(1).id] }]
    await old.journal.add({ label: 'one', at: AT, done: true, changes } as never)
    old.close()
    const now = new Database(name)
    expect(await now.records('places').toArray()).toEqual([place(1)])
    expect(await now.journal.toArray()).toEqual([{ id: 1, label: 'one', at: AT, done: true }])
    expect(await undo(now)).toMatchObject({ ok: true, value: { label: 'one' } })
    expect(await now.records('places').count()).toBe(0)
    expect(now.verno).toBe(11)
  },
)
