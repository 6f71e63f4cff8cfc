import { independent } from '../netting/kernel/cover.ts'
import { itemOf, itemsIn, piecesIn, sizeOf, componentsOf } from '../netting/kernel/cover-problem.ts'
import { meaningOf, type Meaning } from '../netting/options.ts'
import { nettingTask } from '../netting/count-task.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { demandInScheme, demandKey, type Demand } from '../netting/demand.ts'
import { supplyId } from '../netting/supplies.ts'
import type { Tally } from '../netting/tally.ts'

/** A way to cover a line from what is owned; items by the name under which they are netted. */
export type OwnedWay = {
  readonly uses: readonly { readonly item: string; readonly qty: number }[]
  readonly meaning: Meaning
}

/** Lines to be decided together with a purchase, and what is owned for them. */
export type JointLines = {
  readonly lines: readonly {
    readonly demand: Demand
    readonly key: string
    readonly qty: number
    /** None for lines of a group, whose colour is settled. */
    readonly owned: readonly OwnedWay[]
  }[]
  /** Pieces owned, by the name under which they are netted. */
  readonly stock: ReadonlyMap<string, number>
}

/**
 * Everything a purchase may change: lines that are short or rest on stand-ins, and all that compete with them for a
 * piece, however indirectly. Other lines have their own pieces at no compromise: no purchase does better. Lines of
 * coherent groups keep what they have, in the colour they took; only what they lack is bought.
 */
export function jointLines(snapshot: Snapshot, result: Tally): JointLines {
  const { choices, choiceOf, required, supplies, stock: index } = nettingTask(snapshot)
  const { classOf, demands } = required
  const changes = new Set<number>()
  for (const [i, { coverage, pegs }] of result.lines.entries()) {
    const need = choiceOf[classOf[i] ?? -1] ?? -1
    if (need >= 0 && (coverage.short > 0 || pegs.some((p) => p.standIn && p.by !== 'pin'))) changes.add(need)
  }
  const contested = new Set<number>()
  for (const group of independent(choices, itemsIn(supplies)))
    if (group.some((n) => changes.has(n))) for (const n of group) contested.add(n)

  const lines = new Map<string, { demand: Demand; key: string; qty: number; owned: readonly OwnedWay[] }>()
  const add = (demand: Demand, qty: number, owned: readonly OwnedWay[]) => {
    const key = demandKey(demand)
    const known = lines.get(key)
    if (known) known.qty += qty
    else if (qty > 0) lines.set(key, { demand, key, qty, owned })
  }
  const stock = new Map<string, number>()
  for (const [n, { demand, qty, options, group }] of choices.entries()) {
    const owned: OwnedWay[] = []
    for (let o = 0; o < sizeOf(options); o++) {
      // What is in the pool as well as the need's own is had as its own.
      if (o >= options.items.length && options.items.includes(itemOf(options, o))) continue
      const meaning = meaningOf(options, o, index)
      if (!meaning) continue
      const uses = componentsOf(options, o).map((u) => ({ item: index.nameOf(u.item), qty: u.qty }))
      owned.push({ meaning, uses })
      for (const { item } of componentsOf(options, o)) {
        const key = index.nameOf(item)
        if (!stock.has(key)) stock.set(key, piecesIn(supplies, item))
      }
    }
    if (contested.has(n) && group === undefined) add(demand, qty, owned)
  }
  for (const [i, { wanted, coverage, pegs }] of result.lines.entries()) {
    const n = choiceOf[classOf[i] ?? -1] ?? -1
    const need = choices[n]
    const settled = need ? undefined : demands[classOf[i] ?? -1]
    if (settled && coverage.short > 0) add(settled, coverage.short, [])
    if (need?.group === undefined || !contested.has(n)) continue
    if (coverage.short > 0) add(demandInScheme(need.demand, wanted), coverage.short, [])
    for (const { source, item, qty, by } of pegs) {
      const id = supplyId({ source, item })
      const variant = index
        .variantsOf(item)
        .find((v) => index.rowsOf(v).some((row) => supplyId(index.supplyOf(row)) === id))
      if (variant === undefined || by === 'pin') continue
      const key = index.nameOf(variant)
      stock.set(key, Math.max(0, (stock.get(key) ?? 0) - qty))
    }
  }
  return { lines: [...lines.values()], stock }
}
