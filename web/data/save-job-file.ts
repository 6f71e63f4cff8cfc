import { storeWorker } from '../../workers/store-client.ts'
import { noteExport } from './backup.ts'
import { nowIso } from './database.ts'
import { downloadBlob } from './download.ts'

/** Hands everything that is stored to the user as a job file; gives how many records are set aside in it. */
export async function saveJobFile(): Promise<number> {
  const at = nowIso()
  const { file, damaged } = await storeWorker().call('export', at)
  downloadBlob(`unfinished-brick-${at.slice(0, 10)}.json`, file)
  await noteExport()
  return damaged
}
