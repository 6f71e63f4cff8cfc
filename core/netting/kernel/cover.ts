import { disjointSets } from './disjoint.ts'
import { workspaceFor, solveGroup } from './component.ts'
import type { CoverCache } from './cover-cache.ts'
import {
  addCovered,
  itemsIn,
  piecesIn,
  KIT,
  UNCOVERED,
  withoutPool,
  type Cover,
  type Covered,
  type CoverPlan,
  type GroupPlan,
  type CoverDemand,
  type Pool,
  type Slack,
  type Stock,
} from './cover-problem.ts'
import type { Prover } from './milp-proof.ts'
import { coverWithSchemes } from './schemes.ts'

/**
 * Covers demands from stock: fewest pieces short, then least compromise, then preferred sources, proven unless `proven`
 * says otherwise. Items that no demand can exchange for one another fall into independent groups: where there is nothing
 * to weigh, arithmetic is enough, the others take a flow (`solveGroup`); demands that choose a scheme together make one
 * group, and so do the demands that compete with them (`coverWithSchemes`). Where covers are equally good the order of
 * demands decides. Groups that `memory` knows from the problem before are not solved again.
 */
export function coverDemands(
  demands: readonly CoverDemand[],
  stock: Stock,
  prover?: Prover,
  memory?: CoverCache,
): CoverPlan {
  const items = itemsIn(stock)
  const workspace = workspaceFor(items)
  const cover: Covered[] = demands.map(() => UNCOVERED)
  const schemes = new Map<string, string>()
  let proven = true
  let unproven: number | undefined
  let slack: Slack | undefined
  const solve = (own: readonly CoverDemand[]): CoverPlan => {
    if (own.some((demand) => demand.group !== undefined))
      // Once schemes are fixed, demands of one group may have nothing to do with one another.
      return coverWithSchemes(own, stock, (free) =>
        coverDemands(
          free.map(({ qty, options }) => ({ qty, options })),
          stock,
          prover,
        ),
      )
    const plan = soleCover(own, stock) ?? solveGroup(own, stock, workspace, prover)
    return { ...plan, schemes: NO_SCHEMES }
  }
  for (const group of independent(demands, items)) {
    const own = group.map((n) => demands[n])
    const plain = plainCover(own, stock)
    if (plain) {
      for (let i = 0; i < group.length; i++) cover[group[i]] = plain[i]
      continue
    }
    let plan = memory?.recall(own, stock)
    if (!plan) {
      plan = solve(own)
      memory?.keep(own, stock, plan)
    }
    proven &&= plan.proven
    if (plan.slack)
      slack = {
        short: (slack?.short ?? 0) + plan.slack.short,
        compromise: (slack?.compromise ?? 0) + plan.slack.compromise,
      }
    if (plan.unproven !== undefined) unproven = Math.min(unproven ?? Infinity, plan.unproven)
    if (plan.schemes !== NO_SCHEMES) for (const [name, scheme] of plan.schemes) schemes.set(name, scheme)
    for (let i = 0; i < group.length; i++) cover[group[i]] = plan.cover[i] ?? UNCOVERED
  }
  memory?.turn()
  return { cover, proven, unproven, slack, schemes }
}

const NO_SCHEMES: ReadonlyMap<string, string> = new Map()

/**
 * Demands by what they compete for: the numbers of those that share an item or a group, however indirectly. Items are
 * numbered below `items`.
 */
export function independent(demands: readonly CoverDemand[], items: number): number[][] {
  const sets = disjointSets(demands.length)
  /** Of each item a demand that draws on it. */
  const drawnBy = new Int32Array(items).fill(-1)
  /** Lets a demand, whose set has that root, draw on an item, and gives the root of its set. */
  const draw = (root: number, n: number, item: number): number => {
    const other = drawnBy[item]
    if (other >= 0) return sets.join(root, other)
    drawnBy[item] = n
    return root
  }
  const firstOf = new Map<string, number>()
  const joined = new Set<Pool>()
  for (let n = 0; n < demands.length; n++) {
    const { options, group } = demands[n]
    let root = n
    if (group !== undefined) {
      const first = firstOf.get(group)
      if (first === undefined) firstOf.set(group, n)
      else root = sets.join(root, first)
    }
    for (const item of options.items) if (item !== KIT) root = draw(root, n, item)
    if (options.kits.size > 0)
      for (const uses of options.kits.values()) for (const { item } of uses) root = draw(root, n, item)
    const { pool } = options
    if (!pool) continue
    for (const item of pool.items) {
      root = draw(root, n, item)
      if (joined.has(pool)) break
    }
    joined.add(pool)
  }
  const sizes = new Int32Array(demands.length)
  for (let n = 0; n < demands.length; n++) {
    const root = sets.root(n)
    sizes[root] += 1
  }
  const groups: number[][] = []
  const numberOf = new Int32Array(demands.length).fill(-1)
  const filled = new Int32Array(demands.length)
  for (let n = 0; n < demands.length; n++) {
    const root = sets.root(n)
    if (numberOf[root] === -1) numberOf[root] = groups.push(new Array<number>(sizes[root])) - 1
    groups[numberOf[root]][filled[root]] = n
    filled[root] += 1
  }
  return groups
}

/** The best cover of demands with nothing to choose: all take single pieces of one item, in their order. */
function plainCover(demands: readonly CoverDemand[], stock: Stock): Cover | undefined {
  const { options: first } = demands[0]
  const item = first.items[0]
  if (item === KIT || (item === undefined && first.pool)) return undefined
  for (const { options, group } of demands)
    if (
      group !== undefined ||
      options.pool ||
      options.items.length > 1 ||
      options.items[0] !== item ||
      (demands.length > 1 && options.compromises[0] !== 0)
    )
      return undefined
  let left = item === undefined ? 0 : piecesIn(stock, item)
  return demands.map(({ qty }) => {
    const taken = Math.min(left, qty)
    left -= taken
    return taken > 0 ? [0, taken] : UNCOVERED
  })
}

/** The cover of a demand that competes with no other for single pieces: cheapest first, then preferred sources. */
function soleCover([demand, other]: readonly CoverDemand[], stock: Stock): GroupPlan | undefined {
  if (!demand || other || demand.options.kits.size > 0) return undefined
  const { items, compromises } = withoutPool(demand.options)
  /** Of each item the option that has it at the least compromise. */
  const bestOf = new Map<number, number>()
  for (const [o, item] of items.entries()) {
    const known = bestOf.get(item)
    if (known === undefined || compromises[o] < compromises[known]) bestOf.set(item, o)
  }
  let cover = UNCOVERED
  /** Of each option its first tier of which nothing is taken. */
  const next = items.map((item, o) => stock.from[bestOf.get(item) === o ? item : item + 1])
  for (let open = demand.qty; open > 0;) {
    let best = -1
    for (let o = 0; o < items.length; o++) {
      const tier = next[o]
      if (tier === stock.from[items[o] + 1]) continue
      const more = best < 0 ? -1 : compromises[o] - compromises[best]
      if (more < 0 || (more === 0 && stock.rank[tier] < stock.rank[next[best]])) best = o
    }
    if (best < 0) break
    const taken = Math.min(open, stock.qty[next[best]])
    cover = addCovered(cover, best, taken)
    next[best] += 1
    open -= taken
  }
  return { cover: [cover], proven: true }
}
