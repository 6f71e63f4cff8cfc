import { transfer } from 'comlink'
import type { Build } from '../core/build/build.ts'
import { withoutShared, type Rest } from '../core/netting/shared-records.ts'
import { patchBetween } from '../core/records/record-patch.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../core/netting/snapshot.ts'
import type { TallySheet } from '../core/netting/sheet.ts'
import { openTally, type Tally } from '../core/netting/tally.ts'
import type { JointAnswer, JointTerms } from '../core/sourcing/joint-answer.ts'
import { Memory } from '../core/units/memory.ts'
import { workerPort, type Port } from './port.ts'
import type {
  CountQuestions,
  PartyTask,
  PurchaseProblem,
  RecordsChange,
  TallyWorker,
  TaskSummary,
} from './tally.worker.ts'

/** A count as it is told first. */
export type FirstCount = {
  readonly result: Tally
  /** Given where that is not proven and may be: betters or proves it; none where nothing came of that. */
  readonly prove?: (() => Promise<Tally | undefined>) | undefined
}

export type TallyClient = {
  /** Counts a build as it is in these records, as well as can be done at once. */
  tally(build: Build, records: SnapshotRecords): Promise<FirstCount>
  /** What a purchase for the build would have to bring. */
  task(build: Build, records: SnapshotRecords): Promise<TaskSummary>
  /** The purchase problem of the build itself. */
  problem(build: Build, records: SnapshotRecords): Promise<PurchaseProblem>
  /** What is to be bought for the builds, in their order, each counting on the shelf as those before it leave it. */
  parties(builds: readonly [Build, ...Build[]], records: SnapshotRecords): Promise<PartyTask[]>
  /** What was found for the builds comes to, of just what is to be bought for them in these records. */
  together(
    builds: readonly [Build, ...Build[]],
    records: SnapshotRecords,
    answer: JointAnswer,
    terms: JointTerms,
  ): Promise<Awaited<ReturnType<TallyWorker['together']>>>
  /** Answers a question about the count of these records. */
  about<K extends keyof CountQuestions>(
    build: Build,
    records: SnapshotRecords,
    name: K,
    question: Parameters<CountQuestions[K]>[1],
  ): Promise<ReturnType<CountQuestions[K]>>
  /**
   * Has what the worker knows of a snapshot sent through a port; the rest has to be sent by other ways. `failed` rejects when
   * it will never be sent.
   */
  takenFrom(snapshot: Snapshot, to: MessagePort): { readonly rest: Rest; readonly failed: Promise<never> }
}

let client: TallyClient | undefined

/** Above this share of a list that changed it is sent whole. */
const MOST_PATCHED = 0.5

/** What of some records the worker does not know yet: lists as patches, where little of them has changed. */
function changesOf(sent: Partial<SnapshotRecords>, records: SnapshotRecords): RecordsChange {
  const whole: Record<string, unknown> = {}
  const patches: Record<string, unknown> = {}
  for (const [kind, rows] of Object.entries(records)) {
    const before = sent[kind as keyof SnapshotRecords]
    if (before === rows) continue
    if (Array.isArray(before) && Array.isArray(rows)) {
      const patch = patchBetween<unknown>(before, rows)
      if (patch.added.length <= rows.length * MOST_PATCHED) {
        patches[kind] = patch
        continue
      }
    }
    whole[kind] = rows
  }
  return { whole, patches } as RecordsChange
}

/** The worker that counts, behind a port: only what changed since the last call travels to it. */
export function tallyClient(port: Port<TallyWorker>): TallyClient {
  let sent: Partial<SnapshotRecords> = {}
  let told = 0
  /** What counts have in common as they are read. */
  const memory = new Memory()
  const ask = async <K extends 'tally' | 'prove' | 'task' | 'problem' | 'parties' | 'together' | 'about'>(
    name: K,
    build: Build,
    records: SnapshotRecords,
    ...more: readonly unknown[]
  ): Promise<Awaited<ReturnType<TallyWorker[K]>>> => {
    // A worker that was started anew knows nothing.
    const known = port.generation() === told ? sent : {}
    const args = [build, changesOf(known, records), ...more] as unknown as Parameters<TallyWorker[K]>
    const answer = port.call(name, ...args)
    sent = records
    told = port.generation()
    try {
      return await answer
    } catch (error) {
      // Whether it took the records in before it failed is not known.
      if (sent === records) sent = {}
      throw error
    }
  }
  return {
    async tally(build, records) {
      const opened = (sheet: TallySheet) => openTally(snapshotOf(build, records), sheet, memory)
      const { sheet, open } = await ask('tally', build, records)
      const prove = async () => {
        const proven = await ask('prove', build, records)
        return proven && opened(proven)
      }
      return { result: opened(sheet), prove: open ? prove : undefined }
    },
    task: (build, records) => ask('task', build, records),
    problem: (build, records) => ask('problem', build, records),
    parties: ([build, ...others], records) => ask('parties', build, records, others),
    together: ([build, ...others], records, answer, terms) => ask('together', build, records, others, answer, terms),
    about: (build, records, name, question) => ask('about', build, records, name, question) as Promise<never>,
    takenFrom(snapshot, to) {
      const { shared, rest } = withoutShared(snapshot, port.generation() === told ? sent : {})
      // Calls arrive in their order: the worker has got by then what was sent.
      const failed = port.call('share', shared, transfer(to, [to])).then(() => new Promise<never>(() => undefined))
      failed.catch(() => undefined)
      return { rest, failed }
    },
  }
}

/**
 * The worker that tallies; only records that changed since the last call travel to it. What it finds comes back in
 * arrays and is read here, as far as it is asked for.
 */
export const tallyWorker = (): TallyClient =>
  (client ??= tallyClient(
    workerPort<TallyWorker>(() => new Worker(new URL('./tally.worker.ts', import.meta.url), { type: 'module' })),
  ))

/**
 * How a snapshot gets to a worker: the rest that the page sends, and a port on which the worker that tallies sends what
 * it knows already, as sending that takes the page longer than an answer may. `failed` rejects when it never will.
 */
export function lentSnapshot(snapshot: Snapshot): {
  readonly args: readonly [rest: Rest, lender?: MessagePort]
  readonly failed: Promise<never>
} {
  if (!client) return { args: [snapshot], failed: new Promise(() => undefined) }
  const { port1, port2 } = new MessageChannel()
  const { rest, failed } = client.takenFrom(snapshot, port1)
  return { args: [rest, transfer(port2, [port2])], failed }
}
