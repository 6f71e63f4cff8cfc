import { activeItems, type NoteReach } from './kernel/active-items.ts'
import { KIT } from './kernel/cover-problem.ts'
import type { Rules } from '../build/house-rules.ts'
import type { DecisionBook } from '../build/decision.ts'
import type { LineOptions, OptionFinder } from './options.ts'
import { type Demand, indexIn, type Requirements } from './demand.ts'
import type { Memory } from '../units/memory.ts'
import { splitsNeeded } from './needless-splits.ts'
import type { SupplyIndex } from './supply-index.ts'

export type Presolved = {
  /** Of each class its options; undefined where it is settled: its requirements take the piece itself as far as it goes. */
  readonly options: readonly (LineOptions | undefined)[]
  /** Of each class the index of its item in the stock; negative where nothing is of it. */
  readonly itemAt: Int32Array
  /** Pieces that settled classes take, by the number of the lot; lots of an item in their order. */
  readonly claimed: Float64Array
}

/**
 * Settles classes without a choice (`activeItems`): they take the piece itself. Options are found for the others alone, and
 * splits for those only that may need them (`splitsNeeded`).
 * Classes with pins, groups, lengths, accepted stand-ins, or whose item has variants, always have a choice.
 */
export function presolve(
  rules: Rules,
  weighed: boolean,
  required: Requirements,
  stock: SupplyIndex,
  finder: OptionFinder,
  book: DecisionBook,
  memory: Memory,
): Presolved {
  const { demands, keyOf, plainDemands, open, pinned } = required
  const mayChooseFreely = rules.aim === 'use up the donors' || (weighed && rules.pointPrice === 0)
  const { needed, settled } = splitsNeeded(rules, weighed, required, stock, book, memory)
  const states = { there: stock.piecesAt.slice(), wanted: new Float64Array(stock.piecesAt.length) }
  const { indexOf: itemIndexOf } = stock
  const options = new Array<LineOptions | undefined>(demands.length).fill(undefined)
  const optionsOf = finder.ofClasses({ demands, keyOf, plainDemands }, needed)
  /** Notes what a class draws on beside one item. */
  const reach = (c: number, itemIndex: number, note: NoteReach, several: boolean) => {
    const own = optionsOf(c)
    options[c] = own
    for (const item of own.items) {
      const there = item === KIT ? itemIndex : (itemIndexOf[item] as number)
      if (there !== itemIndex) note.item(there, several)
    }
    if (own.pool) note.pool(own.pool.indexes, several)
    if (own.kits.size > 0)
      for (const uses of own.kits.values()) for (const use of uses) note.item(itemIndexOf[use.item] as number, true)
  }
  /** Of each item the last of its classes that may be settled; of each class the one before it. */
  const lastOf = new Int32Array(stock.piecesAt.length).fill(-1)
  const before = new Int32Array(demands.length)
  const itemAt = indexesOf(demands, plainDemands, stock)
  /** Of each item the pieces that settled classes take whatever the rest does. */
  const certain = new Float64Array(stock.piecesAt.length)
  /** Classes that always have a choice; their pieces, and after them those of pins. */
  const always: number[] = []
  const pieces: number[] = []
  for (let c = 0; c < demands.length; c++) {
    const { group, accepted, length } = demands[c] as Demand
    const itemIndex = itemAt[c] as number
    if (settled[c] === 1) {
      const own = open[c] as number
      states.there[itemIndex] = (states.there[itemIndex] as number) - own
      certain[itemIndex] = (certain[itemIndex] as number) + own
      continue
    }
    if (
      itemIndex >= 0 &&
      (stock.soleAt[itemIndex] as number) >= 0 &&
      !mayChooseFreely &&
      group === undefined &&
      accepted === undefined &&
      length === undefined &&
      !pinned.has(c)
    ) {
      states.wanted[itemIndex] = (states.wanted[itemIndex] as number) + (open[c] as number)
      before[c] = lastOf[itemIndex] as number
      lastOf[itemIndex] = c
      continue
    }
    always.push(c)
    pieces.push(open[c] as number)
  }
  const pins: number[] = []
  for (const { pin } of book.pins) {
    const itemIndex = stock.stock.indexes.get(pin.source.item)
    if (itemIndex === undefined) continue
    pins.push(itemIndex)
    pieces.push(pin.qty)
  }
  const { active, alone } = activeItems(
    states,
    (item, note) => {
      for (let c = lastOf[item] as number; c >= 0; c = before[c] as number) reach(c, item, note, false)
    },
    {
      qty: pieces,
      reach(source, note) {
        const c = always[source]
        if (c === undefined) note.item(pins[source - always.length] as number, true)
        else {
          // What it draws on has a choice as well; where nothing is of its item, it merely lacks the piece.
          const itemIndex = itemAt[c] as number
          if (itemIndex >= 0) note.item(itemIndex, true)
          reach(c, itemIndex, note, itemIndex >= 0)
        }
      },
    },
  )
  const claimed = new Float64Array(stock.lots)
  for (let index = 0; index < active.length; index++) {
    let claim = certain[index] as number
    if (active[index] === 0 || alone[index] === 1)
      claim += Math.min(states.wanted[index] as number, states.there[index] as number)
    if (claim === 0) continue
    if (alone[index] === 1)
      for (let c = lastOf[index] as number; c >= 0; c = before[c] as number) options[c] = undefined
    for (let lot = stock.lotsFrom[stock.variantsFrom[index] as number] as number; claim > 0; lot++) {
      const taken = Math.min(claim, stock.piecesOf[lot] as number)
      claimed[lot] = taken
      claim -= taken
    }
  }
  for (let s = 0; s < always.length; s++) {
    const c = always[s] as number
    if (alone[active.length + s] === 1 && (demands[c] as Demand).group === undefined && !pinned.has(c))
      options[c] = undefined
  }
  return { options, itemAt, claimed }
}

/** Of each class the index of its item, where pieces of it count; −1 else. */
function indexesOf(
  demands: readonly Demand[],
  plainDemands: readonly Demand[],
  { stock, piecesAt }: SupplyIndex,
): Int32Array {
  const indexes = new Int32Array(demands.length)
  indexes.set(stock.indexesOf(plainDemands))
  for (let c = plainDemands.length; c < demands.length; c++) indexes[c] = indexIn(stock, demands[c] as Demand)
  for (let c = 0; c < indexes.length; c++) {
    const itemIndex = indexes[c] as number
    if (itemIndex >= 0 && piecesAt[itemIndex] === 0) indexes[c] = -1
  }
  return indexes
}
