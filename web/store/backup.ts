import { guarded } from '../../storage/store-error.ts'
import { db, nowIso } from './database.ts'
import { useStored } from './stored.ts'

const LAST_EXPORT = 'last-export'
const MANY_ACTS = 40

export type BackupState = {
  /** When everything was last exported, ISO 8601; undefined when never. */
  readonly exported: string | undefined
  /** Acts since then that still stand. */
  readonly acts: number
  /** True when it is time to export again. */
  readonly due: boolean
}

/** Notes that everything was exported just now; where that cannot be noted the file is there all the same. */
export const noteExport = () => guarded(async () => db.settings.put({ id: LAST_EXPORT, value: nowIso() }))

/** How much has changed since the last backup; `undefined` while that is being read. */
export const useBackup = (): BackupState | undefined =>
  useStored(
    async () => {
      const exported = (await db.settings.get(LAST_EXPORT))?.value
      const acts = await db.journal
        .filter((entry) => entry.done && (exported === undefined || entry.at > exported))
        .count()
      return { exported, acts, due: acts >= MANY_ACTS }
    },
    [],
    undefined,
  )
