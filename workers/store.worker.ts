import { expose } from 'comlink'
import { readJobFile, type JobFile, type JobFileError } from '../core/formats/job-file.ts'
import { RECORD_KINDS, type RecordKind } from '../core/planning/record-kinds.ts'
import { ok, type Result } from '../core/units/result.ts'
import { Database } from '../storage/database.ts'
import { exportJob, restoreJob } from '../storage/job.ts'
import type { Change } from '../storage/journal-entry.ts'
import { act, redo, undo, type StoreError } from '../storage/journal.ts'

const db = new Database()

/** What a job file that was read holds. */
export type JobPreview = {
  readonly savedAt: string
  readonly counts: Readonly<Record<RecordKind, number>>
  /** Records set aside in it. */
  readonly setAside: number
}

let waiting: JobFile | undefined

/** Acts on the user's data away from the page: writing thousands of records must not hold up typing. */
const api = {
  act: (label: string, changes: readonly Change[], at: string) => act(db, label, changes, at),
  undo: () => undo(db),
  redo: () => redo(db),
  /** Reads a job file; what it holds stays here until it is restored or another is read. */
  async read(file: Blob): Promise<Result<JobPreview, JobFileError>> {
    const job = readJobFile(await file.text())
    if (!job.ok) return job
    waiting = job.value
    const { savedAt, setAside } = job.value
    const counts = Object.fromEntries(
      RECORD_KINDS.map((kind) => [kind, job.value[kind].length]),
    ) as JobPreview['counts']
    return ok({ savedAt, counts, setAside: setAside.length })
  },
  /** Replaces everything by the job file that was read last. */
  restore(at: string): Promise<Result<undefined, StoreError>> {
    if (!waiting) throw new Error('no job file was read')
    return restoreJob(db, waiting, at)
  },
  async export(at: string): Promise<{ readonly file: Blob; readonly damaged: number }> {
    const { file, damaged } = await exportJob(db, at)
    return { file: new Blob([JSON.stringify(file)], { type: 'application/json' }), damaged }
  },
}

export type StoreWorker = typeof api
expose(api)
