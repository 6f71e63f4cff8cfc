import { withExperience } from '../core/offers/shop.ts'
import { jobFileText, readJobFile, type JobFile, type JobFileError } from '../core/formats/job-file.ts'
import { RECORD_KINDS, type RecordKind } from '../core/records/registry.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import { Database, MARKET_DAY, OFFERS_FETCHED } from '../storage/database.ts'
import { exportJob, restoreJob } from '../storage/job.ts'
import type { Change } from '../storage/journal-entry.ts'
import { act, put, redo, remove, undo, undoAct, type StepOptions } from '../storage/journal.ts'
import { askMarket, type AskedItem, type MarketError } from './market.ts'
import { serve } from './serve.ts'

const db = new Database()

/** What a job file that was read holds. */
export type JobPreview = {
  /** Names this reading, for restoring just that. */
  readonly reading: number
  readonly savedAt: string
  readonly counts: Readonly<Record<RecordKind, number>>
  /** Records set aside in it. */
  readonly setAside: number
}

let waiting: { readonly reading: number; readonly job: JobFile } | undefined
let readings = 0

/** Acts on the user's data away from the page: writing thousands of records must not hold up typing. */
const api = {
  act: (label: string, changes: readonly Change[], at: string, by: string) => act(db, label, changes, at, { by }),
  undo: (options: StepOptions) => undo(db, options),
  redo: (options: StepOptions) => redo(db, options),
  undoAct: (entry: number, at: string, by: string) => undoAct(db, entry, at, { by }),
  /** Reads a job file; what it holds stays here until it is restored or another is read. */
  async read(file: Blob): Promise<Result<JobPreview, JobFileError>> {
    waiting = undefined
    const job = readJobFile(await file.text())
    if (!job.ok) return job
    waiting = { reading: ++readings, job: job.value }
    const { savedAt, setAside } = job.value
    const counts = Object.fromEntries(
      RECORD_KINDS.map((kind) => [kind, job.value[kind].length]),
    ) as JobPreview['counts']
    return ok({ reading: readings, savedAt, counts, setAside: setAside.length })
  },
  /** Replaces everything by the job file of a reading; throws when it is not the last one of this worker. */
  async restore(reading: number, at: string, by: string) {
    if (waiting?.reading !== reading) throw new Error('the file has to be chosen once more')
    const { job } = waiting
    waiting = undefined
    return restoreJob(db, job, at, { by })
  },
  /** Asks the market for offers of items and keeps them in place of its earlier ones, as one act. */
  async fetchOffers(
    items: readonly AskedItem[],
    at: string,
    by: string,
  ): Promise<Result<{ readonly offers: number; readonly shops: number }, MarketError>> {
    const known = await db.records('offers').toArray()
    const own = new Set(known.filter((o) => o.source === 'file').map((o) => o.shop))
    const day = Number((await db.settings.get(MARKET_DAY))?.value ?? 0)
    const answer = await askMarket(items, own, day)
    if (!answer.ok) return answer
    const { shops, offers } = answer.value
    const taught = withExperience(shops, await db.records('shops').toArray())
    const asked = new Set(items.map((i) => i.item))
    const ids = new Set(offers.map((o) => o.id))
    const old = known.filter((o) => o.source === 'market' && asked.has(o.item) && !ids.has(o.id)).map((o) => o.id)
    const kept = await act(
      db,
      `Fetched ${offers.length} offers`,
      [put('shops', taught), put('offers', offers), remove('offers', old)],
      at,
      { by },
    )
    if (!kept.ok) return fail({ code: 'storage', message: kept.error.message })
    await db.settings.put({ id: OFFERS_FETCHED, value: at })
    return ok({ offers: offers.length, shops: shops.length })
  },
  async export(at: string): Promise<{ readonly file: Blob; readonly damaged: number }> {
    const { file, damaged } = await exportJob(db, at)
    return { file: new Blob([...jobFileText(file)], { type: 'application/json' }), damaged }
  },
}

export type StoreWorker = typeof api
serve(api)
