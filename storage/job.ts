import { JOB_FORMAT, JOB_VERSION, type JobFile } from '../core/formats/job-file.ts'
import { RECORD_KINDS, type RecordKind } from '../core/planning/record-kinds.ts'
import type { Result } from '../core/units/result.ts'
import type { Database } from './database.ts'
import type { Change } from './journal-entry.ts'
import { act, type StoreError } from './journal.ts'
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
    for (const raw of await db.table<{ id: string }>(kind).orderBy(':id').toArray()) {
      const read = readRecord(kind, raw, true)
      if (isDamaged(read)) setAside.push({ kind, record: raw })
      else rows.push(read)
    }
  }
  const file = { format: JOB_FORMAT, version: JOB_VERSION, savedAt, ...lists, setAside } as unknown as JobFile
  return { file, damaged: setAside.length }
}

/** Replaces everything by a job file's records, those set aside in it included, as one act that can be undone. */
export async function restoreJob(db: Database, job: JobFile, at: string): Promise<Result<undefined, StoreError>> {
  const changes: Change[] = []
  for (const kind of RECORD_KINDS) {
    const puts = [...job[kind], ...job.setAside.flatMap((s) => (s.kind === kind ? [s.record] : []))]
    const kept = new Set<string>(puts.map((r) => r.id))
    const present = (await db.table(kind).toCollection().primaryKeys()) as string[]
    changes.push({ kind, puts, deletes: present.filter((id) => !kept.has(id)), meets: 'whole' } as Change)
  }
  return act(db, `Restored the job file of ${job.savedAt.slice(0, 10)}`, changes, at)
}

/** How many records of each kind there are, for the preview of what a restore replaces. */
export async function countRecords(db: Database): Promise<Record<RecordKind, number>> {
  return Object.fromEntries(
    await Promise.all(RECORD_KINDS.map(async (kind) => [kind, await db.table(kind).count()])),
  ) as Record<RecordKind, number>
}
