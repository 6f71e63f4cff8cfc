import type { RecordKind, RecordOf } from '../core/planning/record-kinds.ts'
import type { Change, JournalChange } from './journal-entry.ts'
import { RECORD_KINDS } from '../core/planning/record-kinds.ts'
import { addLots, type LotPieces, type ShelfChange } from '../core/shelf/lot.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import { merged } from './merge.ts'
import type { Table } from 'dexie'
import type { Database } from './database.ts'

export type StoreError = {
  readonly code: 'quota' | 'blocked' | 'gone' | 'failed'
  readonly message: string
}

const KEPT_ENTRIES = 200

/** Records made anew by the app or an outside service: they replace what has their id. */
export const put = <K extends RecordKind>(kind: K, puts: readonly RecordOf<K>[]): Change<K> => ({
  kind,
  puts,
  deletes: [],
  meets: 'whole',
})
/** Records that are new; one that is there already by its id stays as it is. */
export const add = <K extends RecordKind>(kind: K, puts: readonly RecordOf<K>[]): Change<K> => ({
  kind,
  puts,
  deletes: [],
  meets: 'new',
})
/** A record edited: what else has changed in it by the time this is written stays. */
export const edit = <K extends RecordKind>(kind: K, from: RecordOf<K>, next: RecordOf<K>): Change<K> => ({
  kind,
  puts: [next],
  deletes: [],
  meets: [from],
})
/** Several records edited, each from its own; those that were not there are new. */
export function editAll<K extends RecordKind>(
  kind: K,
  from: readonly RecordOf<K>[],
  next: readonly RecordOf<K>[],
): Change<K>[] {
  const before = new Map(from.map((r) => [r.id as string, r]))
  const edited = next.filter((r) => before.has(r.id))
  return [
    { kind, puts: edited, deletes: [], meets: edited.flatMap((r) => before.get(r.id) ?? []) },
    add(
      kind,
      next.filter((r) => !before.has(r.id)),
    ),
  ]
}
export const remove = <K extends RecordKind>(kind: K, deletes: readonly string[]): Change<K> => ({
  kind,
  puts: [],
  deletes,
  meets: 'whole',
})
/** Pieces put on the shelf, with what lies there by then. */
export const shelve = (lots: readonly LotPieces[]): Change<'holdings'> => ({
  kind: 'holdings',
  puts: [],
  deletes: [],
  meets: 'whole',
  lots,
})
/** A change of the shelf worked out from holdings as they were. */
export const rearrange = (from: readonly RecordOf<'holdings'>[], change: ShelfChange): Change<'holdings'>[] => [
  remove('holdings', change.remove),
  ...editAll('holdings', from, change.put),
]

/** An act cannot be done as asked; nothing of it is written. */
class Refusal extends Error {
  readonly error: StoreError
  constructor(error: StoreError) {
    super(error.message)
    this.error = error
  }
}

/** Performs one named act: all its changes and its journal entry in one transaction, or nothing. */
export function act(
  db: Database,
  label: string,
  changes: readonly Change[],
  at: string,
  fresh: () => string = () => crypto.randomUUID(),
): Promise<Result<undefined, StoreError>> {
  return guarded(async () => {
    await db.transaction('rw', [...RECORD_KINDS, 'journal', 'changes'], async () => {
      const recorded: JournalChange[] = []
      for (const change of changes) {
        const done = await write(db, change, fresh)
        if (done) recorded.push(done)
      }
      if (recorded.length === 0) return
      await forget(db, await db.journal.filter((entry) => !entry.done).primaryKeys())
      const id = await db.journal.add({ label, at, done: true })
      await db.changes.put({ id, changes: recorded })
      const surplus = (await db.journal.count()) - KEPT_ENTRIES
      if (surplus > 0) await forget(db, await db.journal.limit(surplus).primaryKeys())
    })
    return undefined
  })
}

/** Writes one change as it meets what is stored, and gives what it replaced; nothing when there is nothing to write. */
async function write(db: Database, change: Change, fresh: () => string): Promise<JournalChange | undefined> {
  const { kind, deletes, meets } = change
  const asked = change.lots ? await shelved(db, change.lots, fresh) : change.puts
  if (asked.length + deletes.length === 0) return undefined
  const table = db.records(kind) as Table<RecordOf<RecordKind>, string>
  const ids = [...asked.map((r) => r.id as string), ...deletes]
  const held = await readHeld(table, ids)
  const met = asked.flatMap((next, i): RecordOf<RecordKind>[] => {
    const now = held[i]
    if (meets === 'whole') return [next]
    if (meets === 'new') return now ? [] : [next]
    const base = meets[i]
    if (!now)
      throw new Refusal({
        code: 'gone',
        message: 'What this changes was removed meanwhile, perhaps in another tab. Nothing was changed.',
      })
    return [base ? merged<RecordOf<RecordKind>>(base, next, now) : next]
  })
  // In the order of their ids the database takes very many a tenth sooner.
  const puts = met.length < MANY ? met : met.sort((a, b) => (a.id < b.id ? -1 : 1))
  if (puts.length + deletes.length === 0) return undefined
  if (deletes.length > 0) await table.bulkDelete([...deletes])
  if (puts.length > 0) await table.bulkPut([...puts] as never[])
  const touched = new Set([...puts.map((r) => r.id as string), ...deletes])
  return {
    kind,
    before: held.filter((r) => r !== undefined && touched.has(r.id)),
    after: puts,
    ids: [...touched],
  }
}

/** Asking for so many records one by one takes longer than asking which there are. */
const MANY = 500

/** The stored records of some ids, in their order; undefined where there is none. */
async function readHeld(
  table: Table<RecordOf<RecordKind>, string>,
  ids: readonly string[],
): Promise<(RecordOf<RecordKind> | undefined)[]> {
  if (ids.length < MANY) return table.bulkGet([...ids])
  const there = new Set(await table.toCollection().primaryKeys())
  const asked = ids.filter((id) => there.has(id))
  const found = new Map<string, RecordOf<RecordKind> | undefined>()
  for (const [i, record] of (await table.bulkGet(asked)).entries()) found.set(asked[i] ?? '', record)
  return ids.map((id) => found.get(id))
}

/** Holdings as they are once the pieces lie with them. */
async function shelved(db: Database, lots: readonly LotPieces[], fresh: () => string): Promise<RecordOf<'holdings'>[]> {
  const places = [...new Set(lots.map((l) => l.place))]
  const there = await db.records('holdings').where('place').anyOf(places).toArray()
  return [...addLots(there, lots, fresh).put]
}

async function forget(db: Database, ids: number[]): Promise<void> {
  await db.journal.bulkDelete(ids)
  await db.changes.bulkDelete(ids)
}

/** Undoes the last act that stands; the value is its label, or `undefined` when there is none. */
export const undo = (db: Database): Promise<Result<string | undefined, StoreError>> => step(db, 'undo')

/** Does the first undone act again. */
export const redo = (db: Database): Promise<Result<string | undefined, StoreError>> => step(db, 'redo')

function step(db: Database, direction: 'undo' | 'redo'): Promise<Result<string | undefined, StoreError>> {
  return guarded(() =>
    db.transaction('rw', [...RECORD_KINDS, 'journal', 'changes'], async () => {
      const entry =
        direction === 'undo'
          ? await db.journal
              .reverse()
              .filter((e) => e.done)
              .first()
          : await db.journal.filter((e) => !e.done).first()
      if (!entry || entry.id === undefined) return undefined
      const { changes: done } = (await db.changes.get(entry.id)) ?? { changes: [] }
      const changes = direction === 'undo' ? [...done].reverse() : done
      for (const change of changes) {
        const table = db.records(change.kind)
        await table.bulkDelete([...change.ids])
        const restored = direction === 'undo' ? change.before : change.after
        if (restored.length > 0) await table.bulkPut([...restored] as never[])
      }
      await db.journal.update(entry.id, { done: direction === 'redo' })
      return entry.label
    }),
  )
}

/** Turns the storage failures a user can meet into data; anything else is a bug and passes through. */
export async function guarded<T>(work: () => Promise<T>): Promise<Result<T, StoreError>> {
  try {
    return ok(await work())
  } catch (error) {
    const refusal = error instanceof Refusal ? error : (error as { inner?: unknown } | null)?.inner
    if (refusal instanceof Refusal) return fail(refusal.error)
    const names = namesOf(error)
    if (names.includes('QuotaExceededError'))
      return fail({
        code: 'quota',
        message:
          'The browser has no room left for this. Nothing was changed. Free disk space, or export and remove old builds.',
      })
    if (names.includes('DatabaseClosedError') || names.includes('VersionError'))
      return fail({ code: 'blocked', message: 'The data was upgraded in another tab. Reload this page.' })
    throw error
  }
}

function namesOf(error: unknown): string[] {
  const names: string[] = []
  for (let e = error; e instanceof Error || e instanceof DOMException; e = (e as { inner?: unknown }).inner)
    names.push(e.name)
  return names
}
