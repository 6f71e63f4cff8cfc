import type { Build } from '../core/build/build.ts'
import { takenFrom, type SharedRecords } from '../core/netting/shared-records.ts'
import { goodsFor, goodsPricer, type GoodsCost } from '../core/offers/goods-cost.ts'
import { patched, type Patch } from '../core/records/record-patch.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../core/netting/snapshot.ts'
import { hintsFor, rareItems, rareMarket } from '../core/sourcing/rare.ts'
import type { ItemKey } from '../core/catalogue/item.ts'
import { sourcingTask, type SourcingTask } from '../core/sourcing/shortfall-task.ts'
import type { TallySheet } from '../core/netting/sheet.ts'
import { tallied, WORTH_PROVING } from '../core/netting/count.ts'
import { openTally, type Tally, type TallyLine } from '../core/netting/tally.ts'
import { colourCounts, lookAlikes, nearestInColour } from '../core/studies/recolouring.ts'
import { lineChoices } from '../core/studies/line-choices.ts'
import { whyShort } from '../core/studies/why-short.ts'
import { copiesKey } from '../core/sourcing/copy-mixes.ts'
import { problemKey } from '../core/sourcing/problem-key.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { BuildId } from '../core/units/ids.ts'
import { Memory } from '../core/units/memory.ts'
import type { Planner } from '../core/netting/planner.ts'
import { highs } from './highs.ts'
import { serve } from './serve.ts'

/** Records that are not known yet: whole lists, or what became of those that are. */
export type RecordsChange = {
  readonly whole: Partial<SnapshotRecords>
  readonly patches: Readonly<Record<string, Patch<unknown>>>
}

/** What counts of this worker have in common. */
const memory = new Memory()
const planner: Planner = { memory }

let records: SnapshotRecords | undefined

function take({ whole, patches }: RecordsChange): SnapshotRecords {
  const next: Record<string, unknown> = { ...records, ...whole }
  for (const [kind, patch] of Object.entries(patches)) next[kind] = patched(next[kind] as readonly unknown[], patch)
  return (records = next as SnapshotRecords)
}

/** What a purchase of a build would have to bring, without the problem itself, which may be large. */
export type TaskSummary = Pick<SourcingTask, 'wanted' | 'unavailable' | 'otherCurrency'> & {
  /** Told apart from other tasks by this; and by what it asks for whatever the rules say of copies. */
  readonly key: string
  readonly anyCopiesKey: string
  /** Sets of which copies are wanted, as the purchase knows them: how many there are and what one costs. */
  readonly copies: readonly Pick<SourcingProblem['sets'][number], 'id' | 'price' | 'maxCopies'>[]
  /** All that is short, loose at the cheapest offers the rules allow: goods alone. */
  readonly loose: GoodsCost
  /** Lines that can be bought. */
  readonly lines: number
  /** Offers that may be used; of each shop the items it offers. */
  readonly offers: number
  readonly itemsOf: ReadonlyMap<string, number>
}

/** The purchase problem of a build and its key; and with any number of the copies wanted. */
export type PurchaseProblem = Pick<SourcingTask, 'asked' | 'anyCopies'> & { readonly key: string }

/** A count that was made, with what it was made from. */
type Counted = {
  readonly on: readonly unknown[]
  readonly snapshot: Snapshot
  readonly sheet: TallySheet
  readonly result: Tally
}
const counts = new Map<BuildId, Counted>()

/** Counts a build, unless that was done of just this state; what the search cannot prove goes to a solver. */
async function countOf(build: Build, changed: RecordsChange): Promise<Counted> {
  const known = take(changed)
  const { designs, sets, copies, holdings, places, partById, colourById, market, decisions } = known
  const on = [JSON.stringify(build), designs, sets, copies, holdings, places, partById, colourById, market, decisions]
  const last = counts.get(build.id)
  if (last?.on.every((value, i) => value === on[i])) return last
  const snapshot = snapshotOf(build, known)
  let sheet = tallied(snapshot, planner)
  if (sheet.unproven !== undefined && sheet.unproven <= WORTH_PROVING)
    sheet = tallied(snapshot, { memory, milp: await highs() })
  const made = { on, snapshot, sheet, result: openTally(snapshot, sheet, memory) }
  counts.set(build.id, made)
  return made
}

/** The purchase of each count, made when first asked for. */
const tasks = new WeakMap<
  Counted,
  { readonly task: SourcingTask; readonly key: string; readonly anyCopiesKey: string; readonly loose: GoodsCost }
>()

function taskOf(count: Counted) {
  const known = tasks.get(count)
  if (known) return known
  const { snapshot, result } = count
  const { build } = snapshot
  const { shops, offers } = snapshot.market ?? { shops: [], offers: [] }
  const task = sourcingTask(snapshot, result, shops, offers, planner)
  const priceOf = goodsPricer(offers, shops, build.currency, build.rules)
  const key = problemKey(task.asked)
  const made = {
    task,
    key,
    anyCopiesKey: copiesKey(task.anyCopies),
    loose: goodsFor(result.shortfall, priceOf),
  }
  tasks.set(count, made)
  return made
}

const lineOf = ({ result }: Counted, id: string): TallyLine | undefined => result.lines.find((l) => l.id === id)

/** Rare pieces of which it is told what would avoid them. */
const MOST_HINTED = 6

/** What else is asked of a count; answers are worked out where the count is, as that takes the page too long. */
const questions = {
  palette: ({ snapshot, result }: Counted, _: null) => ({
    counts: colourCounts(snapshot, result, planner),
    alike: lookAlikes(
      new Set([...result.lines.map((l) => l.wanted), ...snapshot.holdings.map((h) => h.item)]),
      snapshot.colourById ?? new Map(),
    ),
  }),
  nearest: ({ snapshot, result }: Counted, _: null) => nearestInColour(snapshot, result, planner),
  /** Why a line is short; nothing for a line that is gone. */
  why: (count: Counted, line: string) => {
    const found = lineOf(count, line)
    return found && whyShort(count.snapshot, count.result, found, planner)
  },
  /** Short pieces that are hard to buy, and, where that is asked, what would avoid the first few of them. */
  rare: (
    { snapshot, result }: Counted,
    { openers, hinted }: { readonly openers: readonly ItemKey[]; readonly hinted: boolean },
  ) => {
    const market = rareMarket(snapshot)
    const items = rareItems(result, market, openers)
    const first = hinted ? items.slice(0, MOST_HINTED) : []
    return { items, hints: first.flatMap((rare) => hintsFor(snapshot, result, rare, market, memory)) }
  },
  choices: (count: Counted, line: string) => {
    const found = lineOf(count, line)
    return found && lineChoices(count.snapshot, count.result, found, planner)
  },
}
export type CountQuestions = typeof questions

const api = {
  /**
   * Tallies a build. `changed` tells the records that differ from those of the call before: what stays the same is
   * neither sent nor sorted again.
   */
  tally: async (build: Build, changed: RecordsChange): Promise<TallySheet> => (await countOf(build, changed)).sheet,

  /** What a purchase for a build would have to bring. */
  async task(build: Build, changed: RecordsChange): Promise<TaskSummary> {
    const { task, key, anyCopiesKey, loose } = taskOf(await countOf(build, changed))
    const { wanted, unavailable, otherCurrency, problem } = task
    const carried = new Map<string, Set<string>>()
    for (const { shop, item } of problem.offers) carried.set(shop, (carried.get(shop) ?? new Set()).add(item))
    const itemsOf = new Map([...carried].map(([shop, items]) => [shop, items.size]))
    return {
      key,
      anyCopiesKey,
      copies: task.anyCopies.sets.map(({ id, price, maxCopies }) => ({ id, price, maxCopies })),
      loose,
      wanted,
      unavailable,
      otherCurrency,
      lines: problem.lines.length,
      offers: problem.offers.length,
      itemsOf,
    }
  },

  /** The purchase problem of a build, and its key; with any number of the copies wanted as well. */
  async problem(build: Build, changed: RecordsChange): Promise<PurchaseProblem> {
    const { task, key } = taskOf(await countOf(build, changed))
    return { asked: task.asked, key, anyCopies: task.anyCopies }
  },

  /** Answers a question about a count. */
  async about(build: Build, changed: RecordsChange, name: keyof CountQuestions, question: unknown): Promise<unknown> {
    const count = await countOf(build, changed)
    return (questions[name] as (count: Counted, question: unknown) => unknown)(count, question)
  },

  /** Sends records to another worker, so that the page need not. */
  share(shared: SharedRecords, to: MessagePort): void {
    if (!records) throw new Error('nothing was tallied yet')
    to.postMessage(takenFrom(records, shared))
    to.close()
  },
}

export type TallyWorker = typeof api
serve(api)
