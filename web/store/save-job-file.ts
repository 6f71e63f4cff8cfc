import { dayOf } from '../../core/units/instants.ts'
import { jobFileText } from '../../core/formats/job-file.ts'
import { exportJob } from '../../storage/job.ts'
import { WorkerFailure } from '../../workers/port.ts'
import { storeWorker } from '../../workers/store-client.ts'
import { noteExport } from './backup.ts'
import { db, nowIso } from './database.ts'
import { downloadBlob } from './download.ts'

/** Everything as a file, made by the worker; by the page itself where the worker fails: an export is always to be had. */
async function exported(at: string): Promise<{ readonly file: Blob; readonly damaged: number }> {
  try {
    return await storeWorker().call('export', at)
  } catch (failure) {
    if (!(failure instanceof WorkerFailure)) throw failure
    const { file, damaged } = await exportJob(db, at)
    return { file: new Blob([...jobFileText(file)], { type: 'application/json' }), damaged }
  }
}

/** Hands everything that is stored to the user as a job file; gives how many records are set aside in it. */
export async function saveJobFile(): Promise<number> {
  const at = nowIso()
  const { file, damaged } = await exported(at)
  downloadBlob(`unfinished-brick-${dayOf(at)}.json`, file)
  await noteExport()
  return damaged
}
