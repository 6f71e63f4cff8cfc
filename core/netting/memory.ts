import { SEVERAL, type CoverPlan, type Need, type Options, type Stock } from './numbered.ts'

type Kept = {
  readonly needs: readonly Need[]
  /** What the needs could draw on then; sorted out when first asked for. */
  readonly stockOf: (item: number) => Stock
  drawn: { readonly items: readonly number[]; readonly tiers: readonly Stock['tiers'][] } | undefined
  readonly plan: CoverPlan
}

/**
 * Groups of needs as they were covered in the problem before, so that those that did not change are not solved again:
 * the same options (by identity) and pieces, and the same stock of every item. Items must be numbered alike from one
 * problem to the next. Only what is proven is kept.
 */
export class CoverMemory {
  /** By the options of the first need. */
  #known = new Map<Options, Kept>()
  #next = new Map<Options, Kept>()
  #recalled = 0

  /** Groups of the last problem that were not solved again. */
  recalled = 0

  /** The cover of a group, if nothing about it has changed since the problem before. */
  recall(needs: readonly Need[], stockOf: (item: number) => Stock): CoverPlan | undefined {
    const options = needs[0]?.options
    const kept = options && this.#known.get(options)
    if (!kept || kept.needs.length !== needs.length) return undefined
    for (let n = 0; n < needs.length; n++) {
      const [now, then] = [needs[n] as Need, kept.needs[n] as Need]
      if (now.options !== then.options || now.qty !== then.qty || now.group !== then.group) return undefined
    }
    const { items, tiers } = (kept.drawn ??= drawnBy(kept.needs, kept.stockOf))
    for (let i = 0; i < items.length; i++)
      if (!sameTiers(stockOf(items[i] as number).tiers, tiers[i] as Stock['tiers'])) return undefined
    this.#next.set(options, kept)
    this.#recalled++
    return kept.plan
  }

  /** Keeps a group's cover for the problem after this. */
  keep(needs: readonly Need[], stockOf: (item: number) => Stock, plan: CoverPlan): void {
    const options = needs[0]?.options
    if (options && plan.proven) this.#next.set(options, { needs, stockOf, drawn: undefined, plan })
  }

  /** The problem is solved; another may follow. */
  turn(): void {
    this.#known = this.#next
    this.#next = new Map()
    this.recalled = this.#recalled
    this.#recalled = 0
  }
}

function drawnBy(needs: readonly Need[], stockOf: (item: number) => Stock): NonNullable<Kept['drawn']> {
  const items = new Set<number>()
  for (const { options } of needs) {
    for (const item of options.items) if (item !== SEVERAL) items.add(item)
    for (const uses of options.several.values()) for (const { item } of uses) items.add(item)
  }
  return { items: [...items], tiers: Array.from(items, (item) => stockOf(item).tiers) }
}

function sameTiers(p: Stock['tiers'], q: Stock['tiers']): boolean {
  if (p === q) return true
  return p.length === q.length && p.every((tier, i) => tier.rank === q[i]?.rank && tier.qty === q[i]?.qty)
}
