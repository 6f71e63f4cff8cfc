import { splitItemKey } from '../catalogue/item.ts'
import { splitsOf } from '../catalogue/split.ts'
import type { Rules } from '../build/house-rules.ts'
import type { DecisionBook } from '../build/decision.ts'
import type { PartId } from '../units/ids.ts'
import type { Memory } from '../units/memory.ts'
import type { Demand, Requirements } from './demand.ts'
import { itemIn, lengthOf, type StockItem, type StockPart } from './stock.ts'
import type { SupplyIndex } from './supply-index.ts'
import { colourScorer, freedomOf, NO_SCORES } from './stand-ins/colour.ts'
import { mayTakeMould } from './stand-ins/mould.ts'
import { maySplit, SPLITS } from './stand-ins/split.ts'

/** What may be drawn from a part at most. */
type Draws = {
  /** Pieces that are as good for any line as any other: plain ones. */
  readonly supply: number
  /** Pieces that all lines together may draw. */
  total: number
  /** Of these, pieces that may all be of one colour, whichever, and cannot be had elsewhere at the same compromise. */
  ofOneColour: number
}

/** A class without conditions that narrow or widen what will do. */
type Plain = {
  readonly part: PartId
  readonly there: StockItem | undefined
  readonly own: StockPart | undefined
  /** It takes any colour, its own at less. */
  readonly free: boolean
  /** The numbers of the colours it may have: its own, and those that it cannot exchange for any other. */
  readonly colours: readonly number[]
  readonly mates: readonly StockPart[]
}

/** A part that smaller pieces are of, and how many of it stand for one piece at most. */
type Smaller = { readonly of: StockPart; readonly most: number }

/** What is known of classes where splits may stand in. */
export type SplitNeeds = {
  /** Of each class the smaller pieces it may need (`SPLITS`). */
  readonly needed: Uint8Array
  /** Of each class, 1 where it takes the piece itself in every optimal plan, and there is enough of it. */
  readonly settled: Uint8Array
}

/**
 * Which classes may need smaller pieces in the place of their own, and which take their own for certain. Looking for splits
 * is dear and makes a flow a branch and bound; mostly there is enough of the piece itself.
 *
 * Why leaving them out changes no optimum. Say there are no fewer plain pieces of a part, all colours together, than all
 * lines may draw from it. Then whoever takes any colour always finds one: a split in another colour, which costs more, is
 * in no optimal plan. And where there are no fewer pieces of an item than may be drawn by those who cannot do with
 * another colour at the same compromise, each line that asks for the item can have it: either a piece is left over, or
 * somebody has one who could as well take another colour, of which one is left over. Any stand-in of such a line would
 * be worse by its compromise. What is left out draws on nothing any more, so the same is asked again until no more goes.
 *
 * Nothing is left out where other things count first: the donors used up, money, or rules of the user's own; and where
 * there are no splits, for which others are quicker (`activeItems`).
 */
export function splitsNeeded(
  rules: Rules,
  weighed: boolean,
  required: Requirements,
  index: SupplyIndex,
  book: DecisionBook,
  memory: Memory,
): SplitNeeds {
  const { demands, open, pinned } = required
  const { stock, soleAt, piecesAt } = index
  const needed = new Uint8Array(demands.length)
  const settled = new Uint8Array(demands.length)
  let any = false
  for (let c = 0; c < demands.length; c++) {
    if (!maySplit((demands[c] as Demand).visibility, rules)) continue
    needed[c] = SPLITS.any
    any = true
  }
  if (!any || weighed || rules.aim === 'use up the donors' || book.own.length > 0) return { needed, settled }

  const byPart = new Map<StockPart, Draws>()
  const drawsOf = (of: StockPart): Draws => {
    const known = byPart.get(of)
    if (known) return known
    let supply = 0
    for (const item of of.plain) if (item >= 0 && (soleAt[item] as number) >= 0) supply += piecesAt[item] as number
    const made: Draws = { supply, total: 0, ofOneColour: 0 }
    byPart.set(of, made)
    return made
  }
  /** Of each item the pieces that may be drawn by those who cannot do with another colour at the same compromise. */
  const bound = new Float64Array(stock.items.length)
  const smaller = new Map<PartId, readonly Smaller[]>()
  const smallerOf = (part: PartId): readonly Smaller[] => {
    const known = smaller.get(part)
    if (known) return known
    const whole = stock.parts.get(part)
    const most = new Map<StockPart, number>()
    for (const pieces of whole ? memory.of(splitsOf, whole) : [])
      for (const { part: id, qty } of pieces) {
        const of = stock.byPart.get(id)
        if (of) most.set(of, Math.max(qty, most.get(of) ?? 0))
      }
    const made = [...most].map(([of, most]) => ({ of, most }))
    smaller.set(part, made)
    return made
  }
  const scoresOf = colourScorer(rules, stock)
  const plainOf = (c: number): Plain | undefined => {
    const demand = demands[c] as Demand
    const { part, colour, decoration } = splitItemKey(demand.item)
    const { palette, length, instead, print, unused, group, forbidden, accepted } = demand
    if (decoration !== '' || pinned.has(c) || lengthOf(stock.parts.get(part)) !== undefined) return undefined
    if (palette ?? length ?? instead ?? print ?? unused ?? group ?? forbidden ?? accepted) return undefined
    const freedom = freedomOf(demand, rules)
    const free = freedom === 'free'
    const { others } = free || freedom === 'exact' ? NO_SCORES : scoresOf(demand, colour)
    const own = stock.colourIndexOf(colour)
    return {
      part,
      there: itemIn(stock, demand.item),
      own: stock.byPart.get(part),
      free,
      colours: own === undefined ? others : [own, ...others],
      mates: mayTakeMould(demand.visibility, rules) ? stock.matesOf(part) : [],
    }
  }
  const drawWidely = (of: StockPart | undefined, qty: number) => {
    if (!of) return
    const draws = drawsOf(of)
    draws.total += qty
    draws.ofOneColour += qty
  }
  const drawIn = (of: StockPart, colours: readonly number[], qty: number) => {
    drawsOf(of).total += qty
    for (const colour of colours) {
      const item = of.plain[colour] ?? -1
      if (item >= 0) bound[item] = (bound[item] as number) + qty
    }
  }
  /** All that a class with conditions could draw on, as if it took any colour of all of it. */
  const drawOddly = (demand: Demand, qty: number) => {
    const { part } = splitItemKey(demand.item)
    drawWidely(stock.byPart.get(part), qty)
    for (const of of stock.matesOf(part)) drawWidely(of, qty)
    for (const { of, most } of smallerOf(part)) drawWidely(of, qty * most)
    for (const uses of demand.instead ?? [])
      for (const { item, qty: each } of uses) drawWidely(stock.byPart.get(splitItemKey(item).part), qty * each)
  }
  /** Draws on the splits that a class may need, or takes that back. */
  const drawSplits = (c: number, { part, free, colours }: Plain, qty: number) => {
    if (needed[c] === SPLITS.none) return
    for (const { of, most } of smallerOf(part))
      if (free && needed[c] === SPLITS.any) drawWidely(of, qty * most)
      else drawIn(of, colours, qty * most)
  }
  for (const { pin } of book.pins) drawWidely(stock.byPart.get(splitItemKey(pin.source.item).part), pin.qty)
  /** Classes that may still be found to need less. */
  let undecided: { readonly c: number; readonly plain: Plain; readonly own: StockPart }[] = []
  for (let c = 0; c < demands.length; c++) {
    const qty = open[c] as number
    const plain = plainOf(c)
    if (!plain) {
      drawOddly(demands[c] as Demand, qty)
      continue
    }
    const { own, colours, mates } = plain
    if (own) drawIn(own, colours, qty)
    for (const of of mates) drawIn(of, colours, qty)
    drawSplits(c, plain, qty)
    if (own) undecided.push({ c, plain, own })
  }
  for (let changed = true; changed;) {
    changed = false
    undecided = undecided.filter(({ c, plain, own }) => {
      const { supply, total, ofOneColour } = drawsOf(own)
      if (supply < total) return true
      const item = plain.there?.index ?? -1
      const enough =
        item >= 0 &&
        (soleAt[item] as number) >= 0 &&
        (piecesAt[item] as number) >= (bound[item] as number) + ofOneColour
      if (!enough && !(plain.free && needed[c] === SPLITS.any)) return true
      const qty = open[c] as number
      drawSplits(c, plain, -qty)
      needed[c] = enough ? SPLITS.none : SPLITS.own
      drawSplits(c, plain, qty)
      if (enough) settled[c] = 1
      changed = true
      return !enough
    })
  }
  return { needed, settled }
}
