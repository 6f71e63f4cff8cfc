import type { Table } from 'dexie'
import { RECORD_KINDS, type RecordKind, type RecordOf } from '../core/records/registry.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { LotPieces, ShelfChange } from '../core/shelf/lot.ts'
import type { BuildId, PlaceId } from '../core/units/ids.ts'
import type { Result } from '../core/units/result.ts'
import type { Database } from './database.ts'
import type { Change, JournalChange, JournalEntry, Recount, ShelfWork } from './journal-entry.ts'
import { merged } from './merge.ts'
import { inPieces } from './pieces.ts'
import { shelfWorked } from './shelf-work.ts'
import { guarded, Refusal, type StoreError } from './store-error.ts'
import { refuseHomeless, refuseOvertaken, refuseTooMany, refuseUnfit } from './fitting.ts'

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
/** Records edited where the edit rests on what they were: refused where what it changes has changed meanwhile. */
export const editAsSeen = <K extends RecordKind>(
  kind: K,
  from: readonly RecordOf<K>[],
  next: readonly RecordOf<K>[],
): Change<K>[] => editAll(kind, from, next).map((change) => ({ ...change, asSeen: true }))
export const remove = <K extends RecordKind>(kind: K, deletes: readonly string[]): Change<K> => ({
  kind,
  puts: [],
  deletes,
  meets: 'whole',
})
const onShelf = (shelf: ShelfWork): Change<'holdings'> => ({
  kind: 'holdings',
  puts: [],
  deletes: [],
  meets: 'whole',
  shelf,
})
/** Pieces put on the shelf, with what lies there by then. */
export const shelve = (lots: readonly LotPieces[]): Change<'holdings'> => onShelf({ do: 'add', lots })
/** Pieces moved to a place: those that are there by then, all of them where `qty` is all that was seen. */
export const moveTo = (
  to: PlaceId,
  takes: readonly { readonly seen: Holding; readonly qty: number }[],
): Change<'holdings'> => onShelf({ do: 'move', takes, to })
/** Holdings counted again; pieces that were moved meanwhile stay moved. */
/** Pieces taken from the shelf for builds, with what lies there by then. */
export const takeForBuild = (
  takes: readonly { readonly seen: Holding; readonly qty: number; readonly build: BuildId }[],
): Change<'holdings'> => onShelf({ do: 'take', takes })
export const recount = (counts: readonly Recount[]): Change<'holdings'> => onShelf({ do: 'count', counts })
/** A change of the shelf worked out from holdings as they were. */
export const rearrange = (from: readonly RecordOf<'holdings'>[], change: ShelfChange): Change<'holdings'>[] => [
  remove('holdings', change.remove),
  ...editAll('holdings', from, change.put),
]

export type ActOptions = {
  /** A fresh unique text for new records' ids. */
  readonly fresh?: () => string
  /** The tab that acts. */
  readonly by?: string
}

/**
 * Performs one named act: all its changes and its journal entry in one transaction, or nothing. Records that do not fit
 * their schema are refused in words, and so is what belongs to a build that is gone. Gives the entry's id; undefined when
 * there was nothing to do.
 */
export function act(
  db: Database,
  label: string,
  changes: readonly Change[],
  at: string,
  { fresh = () => crypto.randomUUID(), by }: ActOptions = {},
): Promise<Result<number | undefined, StoreError>> {
  return guarded(() =>
    db.transaction('rw', [...RECORD_KINDS, 'journal', 'pieces'], async () => {
      const recorded: JournalChange[] = []
      for (const change of changes) {
        const done = await write(db, change, fresh)
        if (done) recorded.push(done)
      }
      if (changes.some((c) => c.meets !== 'as it is')) {
        await refuseHomeless(db, recorded)
        await refuseTooMany(db, recorded)
      }
      return enter(db, { label, at, done: true, ...(by === undefined ? {} : { by }) }, recorded)
    }),
  )
}

/** Writes an act's entry and drops those that were undone and the oldest; inside the act's transaction. */
async function enter(
  db: Database,
  entry: JournalEntry,
  recorded: readonly JournalChange[],
): Promise<number | undefined> {
  if (recorded.length === 0) return undefined
  await forget(db, await db.journal.filter((e) => !e.done).primaryKeys())
  const id = await db.journal.add(entry)
  for (const changes of inPieces(recorded)) await db.pieces.add({ entry: id, changes })
  const surplus = (await db.journal.count()) - KEPT_ENTRIES
  if (surplus > 0) await forget(db, await db.journal.limit(surplus).primaryKeys())
  return id
}

/** Writes one change as it meets what is stored, and gives what it replaced; nothing when there is nothing to write. */
async function write(db: Database, change: Change, fresh: () => string): Promise<JournalChange | undefined> {
  const { kind, meets } = change
  const shelf = change.shelf && (await shelfWorked(db, change.shelf, fresh))
  const asked = shelf ? shelf.put : change.puts
  const table = db.records(kind) as Table<RecordOf<RecordKind>, string>
  const deletes = shelf
    ? shelf.remove
    : change.deletes === 'all others'
      ? await allOthers(table, asked)
      : change.deletes
  if (asked.length + deletes.length === 0) return undefined
  const ids = [...asked.map((r) => r.id as string), ...deletes]
  const held = await readHeld(table, ids)
  const bases: (RecordOf<RecordKind> | undefined)[] = []
  const met = asked.flatMap((next, i): RecordOf<RecordKind>[] => {
    const now = held[i]
    if (meets !== 'new' || !now) bases.push(now)
    if (meets === 'whole' || meets === 'as it is') return [next]
    if (meets === 'new') return now ? [] : [next]
    const base = meets[i]
    if (!now)
      throw new Refusal({
        code: 'gone',
        message: 'What this changes was removed meanwhile, perhaps in another tab. Nothing was changed.',
      })
    if (base) refuseOvertaken(kind, base, next, now, change.asSeen)
    return [base ? merged<RecordOf<RecordKind>>(base, next, now) : next]
  })
  if (meets !== 'as it is') refuseUnfit(kind, met, bases)
  // In the order of their ids the database takes very many a tenth sooner.
  const puts = met.length < VERY_MANY ? met : met.sort((a, b) => (a.id < b.id ? -1 : 1))
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

/** The ids of all that is stored but of some records. */
async function allOthers(table: Table<RecordOf<RecordKind>, string>, but: readonly RecordOf<RecordKind>[]) {
  const kept = new Set<string>(but.map((r) => r.id))
  return (await table.toCollection().primaryKeys()).filter((id) => !kept.has(id))
}

/** So many records are put in the order of their ids; and asking for them one by one takes longer than asking which there are. */
const VERY_MANY = 500
/** Of so many it is asked which there are where the table holds not many times more: most are new then. */
const [MANY, MANY_TIMES] = [20, 10]

/** The stored records of some ids, in their order; undefined where there is none. */
async function readHeld(
  table: Table<RecordOf<RecordKind>, string>,
  ids: readonly string[],
): Promise<(RecordOf<RecordKind> | undefined)[]> {
  const few = ids.length < MANY || (ids.length < VERY_MANY && (await table.count()) > MANY_TIMES * ids.length)
  if (few) return table.bulkGet([...ids])
  const there = new Set(await table.toCollection().primaryKeys())
  const asked = ids.filter((id) => there.has(id))
  const found = new Map<string, RecordOf<RecordKind> | undefined>()
  for (const [i, record] of (await table.bulkGet(asked)).entries()) found.set(asked[i] ?? '', record)
  return ids.map((id) => found.get(id))
}

async function forget(db: Database, ids: number[]): Promise<void> {
  await db.journal.bulkDelete(ids)
  await db.pieces.where('entry').anyOf(ids).delete()
}

/** An act that was undone or done again; `undefined` when there is none. */
export type Stepped = { readonly id: number; readonly label: string } | undefined

export type StepOptions = {
  /** The tab that asks: what another one did is refused (`foreign`). */
  readonly by?: string
  /** The one act that may be stepped over. */
  readonly only?: number
}

/** Undoes the last act that stands, unless the options speak against it. */
export const undo = (db: Database, options: StepOptions = {}): Promise<Result<Stepped, StoreError>> =>
  step(db, 'undo', options)

/** Does the first undone act again, unless the options speak against it. */
export const redo = (db: Database, options: StepOptions = {}): Promise<Result<Stepped, StoreError>> =>
  step(db, 'redo', options)

function step(
  db: Database,
  direction: 'undo' | 'redo',
  { by, only }: StepOptions,
): Promise<Result<Stepped, StoreError>> {
  return guarded(() =>
    db.transaction('rw', [...RECORD_KINDS, 'journal', 'pieces'], async () => {
      const entry =
        direction === 'undo'
          ? await db.journal
              .reverse()
              .filter((e) => e.done)
              .first()
          : await db.journal.filter((e) => !e.done).first()
      if (!entry || entry.id === undefined) return undefined
      if (by !== undefined && entry.by !== by)
        throw new Refusal({
          code: 'foreign',
          message: `“${entry.label}” was done in another tab or on an earlier visit.`,
          entry: entry.id,
        })
      if (only !== undefined && entry.id !== only)
        throw new Refusal({ code: 'gone', message: 'Something else was done meanwhile. Nothing was undone.' })
      const { id, label } = entry
      const changes = (await db.piecesOf(id)).flatMap((piece) => piece.changes)
      await replay(db, direction === 'undo' ? inverted(changes) : changes)
      await db.journal.update(id, { done: direction === 'redo' })
      return { id, label }
    }),
  )
}

/** The changes that take others back, the last first. */
const inverted = (changes: readonly JournalChange[]): readonly JournalChange[] =>
  [...changes].reverse().map((change) => ({ ...change, before: change.after, after: change.before }))

/** Writes what changes led to; inside a transaction. */
async function replay(db: Database, changes: readonly JournalChange[]): Promise<void> {
  for (const { kind, ids, after } of changes) {
    const table = db.records(kind)
    await table.bulkDelete([...ids])
    if (after.length > 0) await table.bulkPut([...after] as never[])
  }
}

/**
 * Undoes one act and no other. The last one is undone as ever; an earlier one is taken back by an act of its own, unless
 * something that stands after it changed the same records: then it is refused, naming that.
 */
export function undoAct(
  db: Database,
  id: number,
  at: string,
  { by }: Pick<ActOptions, 'by'> = {},
): Promise<Result<Stepped, StoreError>> {
  return guarded(() =>
    db.transaction('rw', [...RECORD_KINDS, 'journal', 'pieces'], async () => {
      const entry = await db.journal.get(id)
      if (!entry) throw new Refusal({ code: 'gone', message: 'This is no longer in the history: it stays as it is.' })
      const { label } = entry
      if (!entry.done) throw new Refusal({ code: 'gone', message: `“${label}” is undone already.` })
      const later = await db.journal
        .where(':id')
        .above(id)
        .filter((e) => e.done)
        .toArray()
      const done = (await db.piecesOf(id)).flatMap((piece) => piece.changes)
      const mine = new Set(done.flatMap((c) => c.ids.map((one) => `${c.kind} ${one}`)))
      for (const next of later)
        for (const { changes } of await db.piecesOf(next.id ?? 0))
          if (changes.some((c) => c.ids.some((one) => mine.has(`${c.kind} ${one}`))))
            throw new Refusal({
              code: 'foreign',
              message: `“${next.label}” came after “${label}” and changed the same. Undo that first (Ctrl Z).`,
            })
      const inverse = inverted(done)
      await replay(db, inverse)
      // The last act is undone as ever, so that it can be done again.
      if (later.length === 0) await db.journal.update(id, { done: false })
      else await enter(db, { label: `Took back: ${label}`, at, done: true, ...(by ? { by } : {}) }, inverse)
      return { id, label }
    }),
  )
}
