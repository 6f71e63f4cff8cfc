import { expose } from 'comlink'
import type { JobFile } from '../core/formats/job-file.ts'
import { Database } from '../storage/database.ts'
import { restoreJob } from '../storage/job.ts'
import type { Change } from '../storage/journal-entry.ts'
import { act, redo, undo } from '../storage/journal.ts'

const db = new Database()

/** Acts on the user's data away from the page: writing thousands of records must not hold up typing. */
const api = {
  act: (label: string, changes: readonly Change[], at: string) => act(db, label, changes, at),
  undo: () => undo(db),
  redo: () => redo(db),
  restore: (job: JobFile, at: string) => restoreJob(db, job, at),
}

export type StoreWorker = typeof api
expose(api)
