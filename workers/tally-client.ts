import { transfer, wrap, type Remote } from 'comlink'
import type { Build } from '../core/planning/build.ts'
import { divide, type Rest } from '../core/planning/lent.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../core/planning/snapshot.ts'
import { openTally, type Tally } from '../core/planning/tally.ts'
import type { TallyWorker } from './tally.worker.ts'

export type TallyClient = {
  tally(build: Build, records: SnapshotRecords): Promise<Tally>
  /** Has what the worker knows of a snapshot sent through a port; the rest has to be sent by other ways. */
  lend(snapshot: Snapshot, to: MessagePort): Rest
}

let client: TallyClient | undefined

/** The worker that tallies, if anything was tallied yet. */
export const tallyingWorker = (): TallyClient | undefined => client

/**
 * The worker that tallies; only records that changed since the last call travel to it. What it finds comes back in
 * arrays and is read here, as far as it is asked for.
 */
export function tallyWorker(): TallyClient {
  if (client) return client
  const worker = new Worker(new URL('./tally.worker.ts', import.meta.url), { type: 'module' })
  const api: Remote<TallyWorker> = wrap<TallyWorker>(worker)
  let sent: Partial<SnapshotRecords> = {}
  client = {
    async tally(build, records) {
      const changed = Object.fromEntries(
        Object.entries(records).filter(([kind, rows]) => sent[kind as keyof SnapshotRecords] !== rows),
      ) as Partial<SnapshotRecords>
      sent = records
      const failed = new Promise<never>((_, reject) => {
        worker.addEventListener(
          'error',
          (event) => {
            reject(new Error(event.message || 'the tally could not be loaded'))
          },
          { once: true },
        )
      })
      return openTally(snapshotOf(build, records), await Promise.race([api.tally(build, changed), failed]))
    },
    lend(snapshot, to) {
      const { lent, rest } = divide(snapshot, sent)
      // Calls arrive in their order: the worker has got by then what was sent.
      void api.lend(lent, transfer(to, [to]))
      return rest
    },
  }
  return client
}
