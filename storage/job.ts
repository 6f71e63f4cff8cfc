import { dayOf } from '../core/units/instants.ts'
import { JOB_FORMAT, JOB_VERSION, type JobFile } from '../core/formats/job-file.ts'
import { RECORD_KINDS, type RecordKind } from '../core/records/registry.ts'
import type { Result } from '../core/units/result.ts'
import type { Database } from './database.ts'
import type { Change } from './journal-entry.ts'
import { act, type ActOptions } from './journal.ts'
import type { StoreError } from './store-error.ts'
import { isDamaged, readRecord } from './workspace.ts'

/** A job file, and how many of its records do not fit and are set aside in it. */
export type Export = { readonly file: JobFile; readonly damaged: number }

/**
 * Everything the browser keeps, as a job file; records in id order, so that equal data gives an equal file. There is
 * always a file: records that do not fit their schema are set aside in it as they are.
 */
export async function exportJob(db: Database, savedAt: string): Promise<Export> {
  const lists: Partial<Record<RecordKind, unknown[]>> = {}
  const setAside: { kind: RecordKind; record: { id: string } }[] = []
  for (const kind of RECORD_KINDS) {
    const rows: unknown[] = (lists[kind] = [])
    for (const raw of await everything(db, kind)) {
      const read = readRecord(kind, raw, true)
      if (isDamaged(read)) setAside.push({ kind, record: plainly(raw) })
      else rows.push(read)
    }
  }
  const file = { format: JOB_FORMAT, version: JOB_VERSION, savedAt, ...lists, setAside } as unknown as JobFile
  return { file, damaged: setAside.length }
}

/** All that is stored of a kind in the order of its ids; what the browser cannot read is told by its id alone. */
async function everything(db: Database, kind: RecordKind): Promise<unknown[]> {
  const table = db.table<unknown, string>(kind)
  try {
    return await table.orderBy(':id').toArray()
  } catch {
    const found: unknown[] = []
    for (const id of await table.toCollection().primaryKeys())
      found.push(await table.get(id).catch((error: unknown) => ({ id, unreadable: String(error).slice(0, 200) })))
    return found
  }
}

/** A record that does not fit, as far as JSON can tell it. */
function plainly(raw: unknown): { id: string } {
  const id = (raw as { id?: unknown } | null)?.id
  const name = typeof id === 'string' ? id : JSON.stringify(id ?? null)
  try {
    const told: unknown = JSON.parse(
      JSON.stringify(raw, (_, value: unknown) => (typeof value === 'bigint' ? String(value) : value)),
    )
    return { ...(told as object), id: name }
  } catch {
    return { id: name }
  }
}

/** Replaces everything by a job file's records, those set aside in it included, as one act that can be undone. */
export async function restoreJob(
  db: Database,
  job: JobFile,
  at: string,
  options: Pick<ActOptions, 'by'> = {},
): Promise<Result<number | undefined, StoreError>> {
  const changes: Change[] = []
  for (const kind of RECORD_KINDS) {
    const puts = [...job[kind], ...job.setAside.flatMap((s) => (s.kind === kind ? [s.record] : []))]
    changes.push({ kind, puts, deletes: 'all others', meets: 'as it is' } as Change)
  }
  return act(db, `Restored the job file of ${dayOf(job.savedAt)}`, changes, at, options)
}

/** How many records of each kind there are, for the preview of what a restore replaces. */
export async function countRecords(db: Database): Promise<Record<RecordKind, number>> {
  return Object.fromEntries(
    await Promise.all(RECORD_KINDS.map(async (kind) => [kind, await db.table(kind).count()])),
  ) as Record<RecordKind, number>
}
