import { expose } from 'comlink'
import type { Build } from '../core/planning/build.ts'
import { lend, type Lent } from '../core/planning/lent.ts'
import { goodsFor, goodsPricer, type GoodsCost } from '../core/planning/goods-cost.ts'
import { patched, type Patch } from '../core/planning/record-patch.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../core/planning/snapshot.ts'
import { sourcingTask, type SourcingTask } from '../core/planning/sourcing-problem.ts'
import type { TallySheet } from '../core/planning/tally-sheet.ts'
import { openTally, tallied, WORTH_PROVING } from '../core/planning/tally.ts'
import { problemKey } from '../core/sourcing/problem-key.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { BuildId } from '../core/units/ids.ts'
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

/** What a purchase of a build would have to bring, without the problem itself, which may be large. */
export type TaskSummary = Pick<SourcingTask, 'wanted' | 'unavailable' | 'otherCurrency'> & {
  /** Told apart from other tasks by this. */
  readonly key: string
  /** All that is short, loose at the cheapest offers the rules allow: goods alone. */
  readonly loose: GoodsCost
  /** Lines that can be bought. */
  readonly lines: number
  /** Offers that may be used; of each shop the items it offers. */
  readonly offers: number
  readonly itemsOf: ReadonlyMap<string, number>
}

/** The last task of each build, with what it was made from. */
type Made = {
  readonly on: readonly unknown[]
  readonly task: SourcingTask
  readonly key: string
  readonly loose: GoodsCost
}
const tasks = new Map<BuildId, Made>()

async function taskOf(build: Build, changed: RecordsChange) {
  const known = take(changed)
  const on = [
    JSON.stringify(build),
    known.designs,
    known.sets,
    known.copies,
    known.holdings,
    known.places,
    known.partById,
    known.colourById,
    known.market,
    known.decisions,
  ]
  const last = tasks.get(build.id)
  if (last?.on.every((value, i) => value === on[i])) return last
  const snapshot = snapshotOf(build, known)
  const result = openTally(snapshot, await counted(snapshot))
  const task = sourcingTask(snapshot, result, known.market.shops, known.market.offers)
  const priceOf = goodsPricer(known.market.offers, known.market.shops, build.currency, build.rules)
  const made = { on, task, key: problemKey(task.asked), loose: goodsFor(result.shortfall, priceOf) }
  tasks.set(build.id, made)
  return made
}

/** Counts a build; what the search cannot prove by itself goes to a solver, loaded when first needed. */
async function counted(snapshot: Snapshot): Promise<TallySheet> {
  const sheet = tallied(snapshot)
  if (sheet.unproven === undefined || sheet.unproven > WORTH_PROVING) return sheet
  return tallied({ ...snapshot, milp: await highs() })
}

const api = {
  /**
   * Tallies a build. `changed` tells the records that differ from those of the call before: what stays the same is
   * neither sent nor sorted again.
   */
  tally: (build: Build, changed: RecordsChange): Promise<TallySheet> => counted(snapshotOf(build, take(changed))),

  /** What a purchase for a build would have to bring. */
  async task(build: Build, changed: RecordsChange): Promise<TaskSummary> {
    const { task, key, loose } = await taskOf(build, changed)
    const { wanted, unavailable, otherCurrency, problem } = task
    const carried = new Map<string, Set<string>>()
    for (const { shop, item } of problem.offers) carried.set(shop, (carried.get(shop) ?? new Set()).add(item))
    const itemsOf = new Map([...carried].map(([shop, items]) => [shop, items.size]))
    const { length: lines } = problem.lines
    return { key, loose, wanted, unavailable, otherCurrency, lines, offers: problem.offers.length, itemsOf }
  },

  /** The purchase problem of a build, and its key. */
  async problem(
    build: Build,
    changed: RecordsChange,
  ): Promise<{ readonly asked: SourcingProblem; readonly key: string }> {
    const { task, key } = await taskOf(build, changed)
    return { asked: task.asked, key }
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
