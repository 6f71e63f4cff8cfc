import { KIT, type CoverPlan, type CoverDemand, type Options, type Pool, type Stock } from './cover-problem.ts'

type Kept = {
  readonly demands: readonly CoverDemand[]
  readonly stock: Stock
  /** What the demands could draw on; sorted out when first asked for. */
  items: readonly number[] | undefined
  readonly plan: CoverPlan
}

/**
 * Groups of demands as they were covered in the problem before, so that those that did not change are not solved again:
 * the same options (by identity) and pieces, and the same stock of every item. Items must be numbered alike from one
 * problem to the next. Only what is proven is kept.
 */
export class CoverCache {
  /** By the options of the first demand. */
  #known = new Map<Options, Kept>()
  #next = new Map<Options, Kept>()

  /** The cover of a group, if nothing about it has changed since the problem before. */
  recall(demands: readonly CoverDemand[], stock: Stock): CoverPlan | undefined {
    const options = demands[0]?.options
    const kept = options && this.#known.get(options)
    if (!kept || kept.demands.length !== demands.length) return undefined
    for (let n = 0; n < demands.length; n++) {
      const [now, then] = [demands[n], kept.demands[n]]
      if (now.options !== then.options || now.qty !== then.qty || now.group !== then.group) return undefined
    }
    for (const item of (kept.items ??= itemsOf(kept.demands))) if (!sameTiers(item, stock, kept.stock)) return undefined
    this.#next.set(options, kept)
    return kept.plan
  }

  /** Keeps a group's cover for the problem after this. */
  keep(demands: readonly CoverDemand[], stock: Stock, plan: CoverPlan): void {
    const options = demands[0]?.options
    if (options && plan.proven) this.#next.set(options, { demands, stock, items: undefined, plan })
  }

  /** The problem is solved; another may follow. */
  turn(): void {
    this.#known = this.#next
    this.#next = new Map()
  }
}

function itemsOf(demands: readonly CoverDemand[]): number[] {
  const items = new Set<number>()
  const pools = new Set<Pool>()
  for (const { options } of demands) {
    for (const item of options.items) if (item !== KIT) items.add(item)
    for (const uses of options.kits.values()) for (const { item } of uses) items.add(item)
    if (options.pool) pools.add(options.pool)
  }
  for (const pool of pools) for (const item of pool.items) items.add(item)
  return [...items]
}

/** Whether there is as much of an item in two stocks, by rank. */
function sameTiers(item: number, p: Stock, q: Stock): boolean {
  const [from, to] = [p.from[item], p.from[item + 1]]
  const other = q.from[item]
  if (to - from !== q.from[item + 1] - other) return false
  for (let i = 0; i < to - from; i++)
    if (p.rank[from + i] !== q.rank[other + i] || p.qty[from + i] !== q.qty[other + i]) return false
  return true
}
