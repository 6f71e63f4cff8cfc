import { dueBy, readiness, type DueDays } from '../core/orders/readiness.ts'
import { temporaries } from '../core/orders/temporary.ts'
import { waitedFor } from '../core/netting/waited-for.ts'
import type { Build } from '../core/build/build.ts'
import { confusables } from '../core/making/confusable.ts'
import { waysOut } from '../core/making/missing.ts'
import { SCHOOLS, sortPlan, type SortOptions, type SortPlan } from '../core/making/sort-plan.ts'
import { unsortedOf, type Poured } from '../core/making/unsorted.ts'
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
import type { Party } from '../core/sourcing/joint-purchase.ts'
import { jointAccount, type JointAnswer, type JointTerms } from '../core/sourcing/joint-answer.ts'
import { shelfLeft } from '../core/sourcing/shelf-left.ts'
import { problemKey } from '../core/sourcing/problem-key.ts'
import type { SourcingProblem } from '../core/sourcing/problem.ts'
import type { BuildId } from '../core/units/ids.ts'
import { Memory } from '../core/units/memory.ts'
import type { Planner } from '../core/netting/planner.ts'
import { NO_SOLVER } from '../core/solver/milp.ts'
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
/** Who counts first, with a solver as soon as one was needed. */
let counting = planner

let records: SnapshotRecords | undefined

function take({ whole, patches }: RecordsChange): SnapshotRecords {
  const next: Record<string, unknown> = { ...records, ...whole }
  for (const [kind, patch] of Object.entries(patches)) next[kind] = patched(next[kind] as readonly unknown[], patch)
  return (records = next as SnapshotRecords)
}

/** What a purchase of a build would have to bring, without the problem itself, which may be large. */
export type TaskSummary = Pick<SourcingTask, 'wanted' | 'unavailable' | 'otherCurrency' | 'currencies'> & {
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

/** What is to be bought for a build beside others, and what a market should be asked about for it. */
export type PartyTask = Party & Pick<SourcingTask, 'wanted'> & { readonly key: string; readonly short: number }

/** The purchase problem of a build and its key; and with any number of the copies wanted. */
export type PurchaseProblem = Pick<SourcingTask, 'asked' | 'anyCopies'> & { readonly key: string }

/** A count that was made, with what it was made from. */
type Counted = {
  readonly on: readonly unknown[]
  readonly snapshot: Snapshot
  readonly sheet: TallySheet
  readonly result: Tally
  /** A solver was not asked yet that may better or prove it. */
  readonly open: boolean
}
const counts = new Map<BuildId, Counted>()

/** Builds whose last proof took longer than one waits for: their counts are told before they are proven. */
const slow = new Set<BuildId>()
const SLOW_PROOF_MS = 700

/** Counts a build, unless that was done of just this state; the solver is asked where it is there and quick enough. */
function countOf(build: Build, changed: RecordsChange): Counted {
  const known = take(changed)
  const { designs, sets, copies, holdings, places, partById, colourById, market, decisions } = known
  const on = [
    ...[JSON.stringify(build), designs, sets, copies, holdings, places, partById, colourById, market, decisions],
    known.made,
  ]
  const last = counts.get(build.id)
  if (last?.on.every((value, i) => value === on[i])) return last
  return keep(build.id, on, snapshotOf(build, known), slow.has(build.id) ? planner : counting)
}

function keep(id: BuildId, on: readonly unknown[], snapshot: Snapshot, by: Planner): Counted {
  const sheet = tallied(snapshot, by)
  const open = !by.milp && sheet.unproven !== undefined && sheet.unproven <= WORTH_PROVING
  const made = { on, snapshot, sheet, result: openTally(snapshot, sheet, memory), open }
  counts.set(id, made)
  return made
}

/**
 * A count that was left open, with all that a solver can do for it; none where that is nothing, or the build has changed.
 */
async function proofOf(id: BuildId, first: Counted): Promise<Counted | undefined> {
  const milp = await highs()
  const last = counts.get(id)
  // Who asked at the same time has had it proven meanwhile.
  if (last !== first) return last?.on === first.on ? last : undefined
  if (milp === NO_SOLVER) return undefined
  counting = { ...counting, milp }
  const started = performance.now()
  const proven = keep(id, first.on, first.snapshot, counting)
  if (performance.now() - started > SLOW_PROOF_MS) slow.add(id)
  else slow.delete(id)
  return proven
}

/** The count that purchases rest on: as well as it can be made. */
async function provenCount(build: Build, changed: RecordsChange): Promise<Counted> {
  const first = countOf(build, changed)
  return first.open ? ((await proofOf(build.id, first)) ?? first) : first
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
  const { shops, offers } = snapshot.market ?? { shops: [], offers: [] }
  const task = sourcingTask(snapshot, result, shops, offers, planner)
  const priceOf = priceOfTask(count)
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

/** What loose pieces cost by the offers that the count's purchase may use. */
const priceOfTask = ({ snapshot }: Counted) => {
  const { shops, offers } = snapshot.market ?? { shops: [], offers: [] }
  return goodsPricer(offers, shops, snapshot.build.currency, snapshot.build.rules)
}

const lineOf = ({ result }: Counted, id: string): TallyLine | undefined => result.lines.find((l) => l.id === id)

/** Rare pieces of which it is told what would avoid them. */
const MOST_HINTED = 6

/** What was to be bought for several builds when that was asked last, and of what. */
let lastParties: { readonly on: readonly unknown[]; readonly parties: PartyTask[] } | undefined

async function partiesOf(build: Build, changed: RecordsChange, others: readonly Build[]): Promise<PartyTask[]> {
  const counted = provenCount(build, changed)
  // Others may change them while that is waited for.
  const known = records
  const made = await counted
  if (!known) throw new Error('nothing was tallied yet')
  // A count that is the same was made of the same records.
  const on = [made, JSON.stringify(others)]
  // The same builds in the same state: what is asked about them again.
  if (lastParties?.on.length === on.length && lastParties.on.every((value, i) => value === on[i]))
    return lastParties.parties
  const partyOf = ({ snapshot, result }: Pick<Counted, 'snapshot' | 'result'>, task: SourcingTask): PartyTask => ({
    build: snapshot.build.id,
    asked: task.asked,
    wanted: task.wanted,
    key: problemKey(task.asked),
    short: result.coverage.short,
  })
  const first = taskOf(made).task
  const parties = [partyOf(made, first)]
  let holdings = shelfLeft(made.snapshot.holdings, made.result, first.asked)
  for (const other of others) {
    const snapshot = snapshotOf(other, { ...known, holdings })
    const sheet = tallied(snapshot, planner)
    const result = openTally(snapshot, sheet, memory)
    const { shops, offers } = snapshot.market ?? { shops: [], offers: [] }
    const task = sourcingTask(snapshot, result, shops, offers, planner)
    parties.push(partyOf({ snapshot, result }, task))
    holdings = shelfLeft(holdings, result, task.asked)
  }
  lastParties = { on, parties }
  return parties
}

/** What else is asked of a count; answers are worked out where the count is, as that takes the page too long. */
const questions = {
  palette: ({ snapshot, result }: Counted, _: null) => ({
    counts: colourCounts(snapshot, result, planner),
    alike: lookAlikes(
      new Set([...result.lines.map((l) => l.wanted), ...snapshot.holdings.map((h) => h.item)]),
      snapshot.colourById ?? new Map(),
    ),
  }),
  /** What is still to come from places on the shelf. */
  waits: ({ result }: Counted, _: null) => waitedFor(result),
  /** What can be built already and when the rest, given when each parcel and each copy on order is here; what makes do until then. */
  ready: ({ snapshot, result }: Counted, days: DueDays) => ({
    modules: readiness(snapshot.design, result.lines, dueBy(days)),
    temporaries: temporaries(snapshot.design, result.lines),
    uncounted: result.lines.reduce(
      (n, l) => n + l.pegs.reduce((m, p) => m + (p.source.kind === 'shelf' && p.source.uncounted ? p.qty : 0), 0),
      0,
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
  /** Ways out for pieces of a line that are missing at the table; nothing for a line that is gone. */
  missing: (
    count: Counted,
    { line, qty, days }: { readonly line: string; readonly qty: number; readonly days: DueDays },
  ) => {
    const found = lineOf(count, line)
    if (!found) return undefined
    const { snapshot, result } = count
    const choices = lineChoices(snapshot, result, found, planner)
    return waysOut(snapshot, result, found, qty, choices, priceOfTask(count), dueBy(days))
  },
  /** Piles to sort what is poured out into, school by school. */
  sort: (
    { snapshot, result }: Counted,
    { poured, ...options }: { readonly poured: Poured } & SortOptions,
  ): readonly SortPlan[] => {
    const unsorted = unsortedOf(snapshot, result, poured)
    const items = unsorted.map((u) => u.item)
    const alike = confusables(items, snapshot.parts, snapshot.colourById ?? new Map())
    return SCHOOLS.map((school) => sortPlan(school, unsorted, snapshot.parts, alike, options))
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
   * neither sent nor sorted again. `open` where a proof is still to be asked for (`prove`).
   */
  tally(build: Build, changed: RecordsChange): { readonly sheet: TallySheet; readonly open: boolean } {
    const { sheet, open } = countOf(build, changed)
    return { sheet, open }
  },

  /**
   * The tally of a build, with what a solver can do for one that was left open; none where that is nothing, or the build has
   * changed.
   */
  async prove(build: Build, changed: RecordsChange): Promise<TallySheet | undefined> {
    const first = countOf(build, changed)
    return first.open ? (await proofOf(build.id, first))?.sheet : first.sheet
  },

  /** What a purchase for a build would have to bring. */
  async task(build: Build, changed: RecordsChange): Promise<TaskSummary> {
    const { task, key, anyCopiesKey, loose } = taskOf(await provenCount(build, changed))
    const { wanted, unavailable, otherCurrency, currencies, problem } = task
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
      currencies,
      lines: problem.lines.length,
      offers: problem.offers.length,
      itemsOf,
    }
  },

  /** The purchase problem of a build, and its key; with any number of the copies wanted as well. */
  async problem(build: Build, changed: RecordsChange): Promise<PurchaseProblem> {
    const { task, key } = taskOf(await provenCount(build, changed))
    return { asked: task.asked, key, anyCopies: task.anyCopies }
  },

  /**
   * What is to be bought for a build and for others beside it, in this order: each counts on the shelf as those before it
   * leave it.
   */
  async parties(build: Build, changed: RecordsChange, others: readonly Build[]): Promise<PartyTask[]> {
    return partiesOf(build, changed, others)
  },

  /** What was found for a build and others beside it comes to, of just what is to be bought for them now. */
  async together(
    build: Build,
    changed: RecordsChange,
    others: readonly Build[],
    answer: JointAnswer,
    terms: JointTerms,
  ): Promise<ReturnType<typeof jointAccount>> {
    return jointAccount(await partiesOf(build, changed, others), answer, terms)
  },

  /** Answers a question about a count. */
  async about(build: Build, changed: RecordsChange, name: keyof CountQuestions, question: unknown): Promise<unknown> {
    const count = countOf(build, changed)
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
