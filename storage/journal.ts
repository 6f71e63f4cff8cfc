import type { RecordKind, RecordOf } from '../core/formats/job-file.ts'
import type { Change, JournalChange } from './journal-entry.ts'
import { RECORD_KINDS } from '../core/formats/job-file.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import { merged } from './merge.ts'
import type { Database } from './database.ts'

export type StoreError = { readonly code: 'quota' | 'blocked'; readonly message: string }

const KEPT_ENTRIES = 200

export const put = <K extends RecordKind>(kind: K, puts: readonly RecordOf<K>[]): Change<K> => ({
  kind,
  puts,
  deletes: [],
})
/** A record edited: what else has changed in it by the time this is written stays. */
export const revise = <K extends RecordKind>(kind: K, from: RecordOf<K>, next: RecordOf<K>): Change<K> => ({
  kind,
  puts: [next],
  deletes: [],
  from: [from],
})
export const remove = <K extends RecordKind>(kind: K, deletes: readonly string[]): Change<K> => ({
  kind,
  puts: [],
  deletes,
})

/** Performs one named act: all its changes and its journal entry in one transaction, or nothing. */
export function act(
  db: Database,
  label: string,
  changes: readonly Change[],
  at: string,
): Promise<Result<undefined, StoreError>> {
  return guarded(async () => {
    await db.transaction('rw', [...RECORD_KINDS, 'journal', 'changes'], async () => {
      const recorded: JournalChange[] = []
      for (const { kind, puts: asked, deletes, from } of changes) {
        if (asked.length + deletes.length === 0) continue
        const table = db.records(kind)
        const ids = [...asked.map((r) => r.id as string), ...deletes]
        const held = await table.bulkGet(ids)
        const before = held.filter((r) => r !== undefined)
        const puts = asked.map((next, i): RecordOf<RecordKind> => {
          const [base, now] = [from?.[i], held[i]]
          return base && now ? merged<RecordOf<RecordKind>>(base, next, now as RecordOf<RecordKind>) : next
        })
        if (deletes.length > 0) await table.bulkDelete([...deletes])
        if (puts.length > 0) await table.bulkPut([...puts] as never[])
        recorded.push({ kind, before, after: puts, ids })
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
