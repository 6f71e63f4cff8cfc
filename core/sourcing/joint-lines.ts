import type { ItemKey } from '../catalogue/item.ts'
import { independent } from '../netting/kernel/cover.ts'
import { itemOf, itemsIn, piecesIn, sizeOf, componentsOf } from '../netting/kernel/cover-problem.ts'
import { meaningOf, type Meaning } from '../netting/options.ts'
import { nettingTask, type NettingTask } from '../netting/count-task.ts'
import type { SupplyIndex } from '../netting/supply-index.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { demandInScheme, demandKey, type Demand } from '../netting/demand.ts'
import { supplyId } from '../netting/supplies.ts'
import type { Memory } from '../units/memory.ts'
import type { Tally } from '../netting/tally.ts'

/** A way to cover a line from what is owned; items by the name under which they are netted. */
export type OwnedWay = {
  readonly uses: readonly { readonly item: string; readonly piece: ItemKey; readonly qty: number }[]
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
export function jointLines(snapshot: Snapshot, result: Tally, memory: Memory): JointLines {
  const task = nettingTask(snapshot, memory)
  const { choices, choiceOf, required, stock: index } = task
  const { classOf, demands } = required
  const contested = contestedChoices(task, result)
  const lines = new Map<string, { demand: Demand; key: string; qty: number; owned: readonly OwnedWay[] }>()
  const add = (demand: Demand, qty: number, owned: readonly OwnedWay[]) => {
    const key = demandKey(demand)
    const known = lines.get(key)
    if (known) known.qty += qty
    else if (qty > 0) lines.set(key, { demand, key, qty, owned })
  }
  const stock = new Map<string, number>()
  for (const [n, choice] of choices.entries()) {
    const owned = ownedWays(task, choice, stock)
    if (contested.has(n) && choice.group === undefined) add(choice.demand, choice.qty, owned)
  }
  for (const [i, { wanted, coverage, pegs }] of result.lines.entries()) {
    const n = choiceOf[classOf[i] ?? -1] ?? -1
    const choice = choices[n]
    const presolved = choice ? undefined : demands[classOf[i] ?? -1]
    if (presolved && coverage.short > 0) add(presolved, coverage.short, [])
    if (choice?.group === undefined || !contested.has(n)) continue
    if (coverage.short > 0) add(demandInScheme(choice.demand, wanted), coverage.short, [])
    // What lines of groups keep is not there for others.
    for (const { source, item, qty, by } of pegs) {
      const key = by === 'pin' ? undefined : nameIn(index, { source, item })
      if (key !== undefined) stock.set(key, Math.max(0, (stock.get(key) ?? 0) - qty))
    }
  }
  return { lines: [...lines.values()], stock }
}

/** Choices that a purchase may change, and all that compete with them, however indirectly; by number. */
function contestedChoices({ choices, choiceOf, required, supplies }: NettingTask, result: Tally): ReadonlySet<number> {
  const changes = new Set<number>()
  for (const [i, { coverage, pegs }] of result.lines.entries()) {
    const choice = choiceOf[required.classOf[i] ?? -1] ?? -1
    if (choice >= 0 && (coverage.short > 0 || pegs.some((p) => p.standIn && p.by !== 'pin'))) changes.add(choice)
  }
  const contested = new Set<number>()
  for (const group of independent(choices, itemsIn(supplies)))
    if (group.some((n) => changes.has(n))) for (const n of group) contested.add(n)
  return contested
}

/** The ways to have a choice from what is owned; notes in `stock` what there is of each piece they take. */
function ownedWays(
  { supplies, stock: index }: NettingTask,
  { options }: NettingTask['choices'][number],
  stock: Map<string, number>,
): OwnedWay[] {
  const owned: OwnedWay[] = []
  for (let o = 0; o < sizeOf(options); o++) {
    // What is in the pool as well as the demand's own is had as its own.
    if (o >= options.items.length && options.items.includes(itemOf(options, o))) continue
    const meaning = meaningOf(options, o, index)
    if (!meaning) continue
    const uses = componentsOf(options, o)
    owned.push({
      meaning,
      uses: uses.map((u) => ({ item: index.nameOf(u.item), piece: index.itemOf(u.item), qty: u.qty })),
    })
    for (const { item } of uses) {
      const key = index.nameOf(item)
      if (!stock.has(key)) stock.set(key, piecesIn(supplies, item))
    }
  }
  return owned
}

/** The name of the variant that a supply is of; undefined where it does not count. */
function nameIn(index: SupplyIndex, supply: Parameters<typeof supplyId>[0]): string | undefined {
  const id = supplyId(supply)
  const variant = index
    .variantsOf(supply.item)
    .find((v) => index.rowsOf(v).some((row) => supplyId(index.supplyOf(row)) === id))
  return variant === undefined ? undefined : index.nameOf(variant)
}
