import * as v from 'valibot'
import { RECORD_KINDS, type RecordKind } from '../core/planning/record-kinds.ts'
import { JobFileSchema, JOB_FORMAT, JOB_VERSION, type JobFile } from '../core/formats/job-file.ts'
import type { Result } from '../core/units/result.ts'
import type { Database } from './database.ts'
import type { Change } from './journal-entry.ts'
import { act, type StoreError } from './journal.ts'

/**
 * Everything the browser keeps, as a job file; checked against its schema; records in id order, so that equal
 * data gives an equal file.
 */
export async function exportJob(db: Database, savedAt: string): Promise<JobFile> {
  const records = Object.fromEntries(
    await Promise.all(RECORD_KINDS.map(async (kind) => [kind, await db.table(kind).orderBy(':id').toArray()])),
  ) as Pick<JobFile, RecordKind>
  return v.parse(JobFileSchema, { format: JOB_FORMAT, version: JOB_VERSION, savedAt, ...records })
}

/** Replaces everything by a job file's records, as one act that can be undone. */
export async function restoreJob(db: Database, job: JobFile, at: string): Promise<Result<undefined, StoreError>> {
  const changes: Change[] = []
  for (const kind of RECORD_KINDS) {
    const kept = new Set<string>(job[kind].map((r) => r.id))
    const present = (await db.table(kind).toCollection().primaryKeys()) as string[]
    changes.push({ kind, puts: job[kind], deletes: present.filter((id) => !kept.has(id)), meets: 'whole' } as Change)
  }
  return act(db, `Restored the job file of ${job.savedAt.slice(0, 10)}`, changes, at)
}

/** How many records of each kind there are, for the preview of what a restore replaces. */
export async function countRecords(db: Database): Promise<Record<RecordKind, number>> {
  return Object.fromEntries(
    await Promise.all(RECORD_KINDS.map(async (kind) => [kind, await db.table(kind).count()])),
  ) as Record<RecordKind, number>
}
