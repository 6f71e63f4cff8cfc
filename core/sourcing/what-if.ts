import type { Build } from '../build/build.ts'
import type { Changes } from '../build/scenario.ts'
import { buildCost } from '../costs/build-cost.ts'
import type { DesignVersion } from '../design/version.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { tally } from '../netting/count.ts'
import type { Planner } from '../netting/planner.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Tally } from '../netting/tally.ts'
import { ok, type Result } from '../units/result.ts'
import { changedBuild, type ChangedBuild, type ChangeFault } from './changed-build.ts'
import { solveWithinReach, withLess } from './leave-out.ts'
import type { SourcingPlan, Unreachable } from './plan.ts'
import { problemKey } from './problem-key.ts'
import type { SourcingProblem } from './problem.ts'
import { netOf, purchaseSums, type PurchaseSums } from './purchase-sums.ts'
import { sourcingTask } from './shortfall-task.ts'
import { wantedCopies } from './wanted-copies.ts'
import type { SolveOptions } from './solve.ts'

/** A question: what if a build were so, on the same stock and offers? */
export type WhatIf = { readonly id: string; readonly changes: Changes }

/** What changes leave to be bought, and what is known of it before anything is sought. */
export type WhatIfTask = {
  readonly asked: SourcingProblem
  /** What tells it apart from other problems. */
  readonly key: string
  /** The changed build. */
  readonly build: Build
  /** Pieces the design then needs, and pieces short of what is there. */
  readonly need: number
  readonly short: number
  /** Pieces covered by stand-ins that no purchase changes. */
  readonly standIns: number
  /** What is paid beside the purchase: prints for pieces that are there and print runs, minor units. */
  readonly beside: number
}

/** Pieces that stand in whatever is bought: where purchases decide anew, those fixed by hand and those of groups. */
const settledStandIns = ({ weighed, coverage, lines }: Tally): number =>
  !weighed
    ? coverage.standIn
    : lines.reduce(
        (n, line) =>
          n +
          (line.group !== undefined
            ? line.coverage.standIn
            : line.pegs.reduce((k, p) => k + (p.standIn !== undefined && p.by === 'pin' ? p.qty : 0), 0)),
        0,
      )

function taskOf(snapshot: Snapshot, { build, design, copies, decisions }: ChangedBuild, planner: Planner): WhatIfTask {
  const changed: Snapshot = { ...snapshot, build, design, copies, decisions }
  const result = tally(changed, planner)
  const { offers, shops } = snapshot.market ?? { offers: [], shops: [] }
  const { asked } = sourcingTask(changed, result, shops, offers, planner)
  return {
    asked,
    key: problemKey(asked),
    build,
    need: result.need,
    short: result.coverage.short,
    standIns: settledStandIns(result),
    beside: buildCost(build, { modules: [] }, result, 0).prints,
  }
}

/** Ids of what is new in a changed build: it is only thought of. */
const serial = () => {
  let n = 0
  return () => String(n++)
}

/** What a build with changes leaves to be bought (`changedBuild`, `tally`, `sourcingTask`). */
export function whatIfTask(
  snapshot: Snapshot,
  changes: Changes,
  versions: readonly DesignVersion[],
  planner: Planner,
): Result<WhatIfTask, ChangeFault> {
  const changed = changedBuild(snapshot, changes, versions, serial())
  return changed.ok ? ok(taskOf(snapshot, changed.value, planner)) : changed
}

/** An answer to a what-if: of the problem that `key` names, less what cannot be had. */
export type WhatIfAnswer = {
  readonly id: string
  readonly key: string
  readonly plan: SourcingPlan
  readonly leftOut: readonly Unreachable[]
  /** The same for who owns the donors and nothing else; left out where that was not asked. */
  readonly owner?: OwnerAnswer | undefined
}

/** What a build costs who owns its donor copies and has no shelf. */
export type OwnerAnswer = {
  readonly key: string
  readonly plan: SourcingPlan
  readonly leftOut: readonly Unreachable[]
}

/** The problem an answer is of. */
const answered = (asked: SourcingProblem, { leftOut }: Pick<WhatIfAnswer, 'leftOut'>): SourcingProblem =>
  withLess(asked, new Map(leftOut.map((u) => [u.line, u.short])))

/** A build as it stands for who owns all its donor copies, those that a plan buys as well, and has no shelf. */
function forOwner(changed: ChangedBuild, { setOf }: Wanted, plan: Pick<SourcingPlan, 'sets'>): ChangedBuild {
  const left = new Map(plan.sets.map((s) => [s.set, s.copies]))
  const copies = changed.copies.flatMap((copy): Copy[] => {
    if (copy.state !== 'to-buy') return [{ ...copy, state: 'owned' }]
    const set = setOf.get(copy.id) ?? ''
    const more = left.get(set) ?? 0
    left.set(set, more - 1)
    return more > 0 ? [{ ...copy, state: 'owned' }] : []
  })
  return { ...changed, copies }
}

type Wanted = Pick<ReturnType<typeof wantedCopies>, 'setOf'>

/** What the donor copies of a build would cost today: those without a price in its currency are counted. */
export function donorsFromNothing(
  { currency }: Pick<Build, 'currency'>,
  copies: readonly Copy[],
  sets: readonly DonorSet[],
): { readonly cost: number; readonly unknown: number } {
  const setById = new Map(sets.map((s) => [s.id, s]))
  let cost = 0
  let unknown = 0
  for (const copy of copies) {
    const price = [copy.askingPrice, setById.get(copy.setId)?.retail, copy.paid].find((p) => p?.currency === currency)
    if (price) cost += price.minor
    else unknown++
  }
  return { cost, unknown }
}

/** Three costs of the same build, kept apart; minor units. */
export type CostBases = {
  /** For who owns its donor copies and has no shelf: loose pieces at the door. */
  readonly owner: number
  readonly ownerLeftOut: number
  /** The same with all its donor copies bought today; those whose price is not known cost nothing here. */
  readonly nothing: number
  readonly unknownPrices: number
}

/** An answer as it is shown: with its sums, where it holds for the build as it is. */
export type WhatIfRow = {
  readonly id: string
  /** What it names is gone. */
  readonly fault?: ChangeFault
  readonly task?: Omit<WhatIfTask, 'asked'>
  /** The answer is of another problem: the build or the offers have changed. */
  readonly old: boolean
  readonly plan?: SourcingPlan
  readonly leftOut: readonly Unreachable[]
  readonly sums?: PurchaseSums
  readonly bases?: CostBases
}

/** What is paid in all for a row, prints beside the purchase included, and what is left of it after resale. */
export const rowOutlay = ({ task, sums }: Pick<WhatIfRow, 'task' | 'sums'>): number | undefined =>
  sums && sums.outlay + (task?.beside ?? 0)
export const rowNet = ({ task, sums }: Pick<WhatIfRow, 'task' | 'sums'>): number | undefined =>
  sums && netOf(sums, 'likely') + (task?.beside ?? 0)

/**
 * What-ifs with their answers, by an independent count of each: an answer of another problem is old, one that does not
 * hold is none.
 */
export function whatIfRows(
  snapshot: Snapshot,
  whatIfs: readonly WhatIf[],
  answers: readonly WhatIfAnswer[],
  versions: readonly DesignVersion[],
  planner: Planner,
  onStep?: () => void,
): WhatIfRow[] {
  const answerOf = new Map(answers.map((a) => [a.id, a]))
  return whatIfs.map(({ id, changes }) => {
    const changed = changedBuild(snapshot, changes, versions, serial())
    onStep?.()
    if (!changed.ok) return { id, fault: changed.error, old: false, leftOut: [] }
    const { asked, ...task } = taskOf(snapshot, changed.value, planner)
    const answer = answerOf.get(id)
    if (!answer || answer.key !== task.key) return { id, task, old: answer !== undefined, leftOut: [] }
    const { plan, leftOut } = answer
    const sums = purchaseSums({ problem: answered(asked, answer), plan }, task.build.rules.printPrice)
    const bases = sums && basesOf(snapshot, changed.value, answer, planner)
    return { id, task, old: false, plan, leftOut, ...(sums && { sums }), ...(bases && { bases }) }
  })
}

function basesOf(
  snapshot: Snapshot,
  changed: ChangedBuild,
  { plan, owner }: WhatIfAnswer,
  planner: Planner,
): CostBases | undefined {
  if (!owner) return undefined
  const own = forOwner(changed, wantedCopies({ ...snapshot, ...changed }), plan)
  const task = taskOf(withoutShelf(snapshot), own, planner)
  if (owner.key !== task.key) return undefined
  const sums = purchaseSums({ problem: answered(task.asked, owner), plan: owner.plan }, own.build.rules.printPrice)
  if (!sums) return undefined
  const paid = netOf(sums, 'nothing') + task.beside
  const { cost, unknown } = donorsFromNothing(own.build, own.copies, snapshot.sets)
  return {
    owner: paid,
    ownerLeftOut: owner.leftOut.reduce((n, u) => n + u.short, 0),
    nothing: paid + cost,
    unknownPrices: unknown,
  }
}

const withoutShelf = (snapshot: Snapshot): Snapshot => ({ ...snapshot, holdings: [], places: [] })

export type WhatIfOptions = Omit<SolveOptions, 'onProgress' | 'likelyShops'> & {
  readonly planner: Planner
  /** Ask for who owns the donors as well. */
  readonly bases?: boolean
  /** A plan that is known already, of the build as it is: the search looks at its shops first. */
  readonly known?: SourcingPlan
  readonly onAsk?: (id: string) => void
  readonly onFound?: (answer: WhatIfAnswer) => void
}

/** The shops that a plan orders from, as far as a problem knows its offers. */
function shopsOf({ offers }: SourcingProblem, { purchases }: Pick<SourcingPlan, 'purchases'>): string[] {
  const bought = new Set(purchases.flatMap((p) => (p.packs > 0 ? [p.offer] : [])))
  return [...new Set(offers.flatMap((o) => (bought.has(o.id) ? [o.shop] : [])))]
}

/**
 * The best purchase for each what-if, each a solve of its own (`solveWithinReach`). `timeLimit` is seconds for all of
 * them together; what one leaves over goes to those after it. What-ifs that name what is gone have no answer.
 */
export function traceWhatIfs(
  snapshot: Snapshot,
  whatIfs: readonly WhatIf[],
  versions: readonly DesignVersion[],
  { planner, bases = false, known, onAsk, onFound, ...options }: WhatIfOptions,
): WhatIfAnswer[] {
  const started = options.now()
  const found: WhatIfAnswer[] = []
  let solves = whatIfs.length * (bases ? 2 : 1)
  const share = () => Math.max(1, (options.timeLimit - (options.now() - started)) / Math.max(1, solves--))
  const solved = (asked: SourcingProblem) => {
    const likelyShops = known ? shopsOf(asked, known) : []
    const { plan, leftOut } = solveWithinReach(asked, { ...options, timeLimit: share(), likelyShops })
    return { key: problemKey(asked), plan, leftOut }
  }
  for (const { id, changes } of whatIfs) {
    if (options.now() - started >= options.timeLimit || options.shouldStop?.()) break
    onAsk?.(id)
    const changed = changedBuild(snapshot, changes, versions, serial())
    if (!changed.ok) {
      solves -= bases ? 2 : 1
      continue
    }
    const first = solved(taskOf(snapshot, changed.value, planner).asked)
    const owner = bases
      ? solved(
          taskOf(
            withoutShelf(snapshot),
            forOwner(changed.value, wantedCopies({ ...snapshot, ...changed.value }), first.plan),
            planner,
          ).asked,
        )
      : undefined
    const answer = { id, ...first, ...(owner && { owner }) }
    found.push(answer)
    onFound?.(answer)
  }
  return found
}
