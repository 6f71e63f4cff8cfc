import { expose } from 'comlink'
import type { Build } from '../core/planning/build.ts'
import { lend, type Lent } from '../core/planning/lent.ts'
import { patched, type Patch } from '../core/planning/record-patch.ts'
import { snapshotOf, type SnapshotRecords } from '../core/planning/snapshot.ts'
import type { TallySheet } from '../core/planning/tally-sheet.ts'
import { tallied, WORTH_PROVING } from '../core/planning/tally.ts'
import { highs } from './highs.ts'

/** Records that are not known yet: whole lists, or what became of those that are. */
export type RecordsChange = {
  readonly whole: Partial<SnapshotRecords>
  readonly patches: Readonly<Record<string, Patch<unknown>>>
}

let records: SnapshotRecords | undefined

function take({ whole, patches }: RecordsChange): SnapshotRecords {
  const next: Record<string, unknown> = { ...records, ...whole }
  for (const [kind, patch] of Object.entries(patches)) next[kind] = patched(next[kind] as readonly unknown[], patch)
  return (records = next as SnapshotRecords)
}

const api = {
  /**
   * Tallies a build. `changed` tells the records that differ from those of the call before: what stays the same is
   * neither sent nor sorted again. What the search cannot prove by itself goes to a solver, loaded when first needed.
   */
  async tally(build: Build, changed: RecordsChange): Promise<TallySheet> {
    const snapshot = snapshotOf(build, take(changed))
    const sheet = tallied(snapshot)
    if (sheet.unproven === undefined || sheet.unproven > WORTH_PROVING) return sheet
    const milp = await highs()
    return tallied({ ...snapshot, milp })
  },

  /** Sends records to another worker, so that the page need not. */
  lend(lent: Lent, to: MessagePort): void {
    if (!records) throw new Error('nothing was tallied yet')
    to.postMessage(lend(records, lent))
    to.close()
  },
}

export type TallyWorker = typeof api
expose(api)
