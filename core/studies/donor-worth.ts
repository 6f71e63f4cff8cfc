import { figurePrice, itemPrices, type Resale } from '../build/resale.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { goodsFor, type PriceOf } from '../offers/goods-cost.ts'
import type { LoosePrices } from '../offers/loose-prices.ts'

/** Prices of loose pieces known from offers, minor units. */
/** What loose pieces are known to cost: goods alone, under a build's rules. */
export type LooseMarket = {
  readonly prices: LoosePrices
  /** So many of an item at the cheapest allowed offers, in whole packs and up to their stock. */
  readonly priceOf: PriceOf
}

export type LeftoverFigure = {
  readonly name: string
  readonly pieces: number
  /** Pieces of it that the design uses; one short of complete, that piece would complete it. */
  readonly lacks: readonly ItemKey[]
  /** Sum of its left-over pieces' median prices. */
  readonly worth: number
  /** What the user expects for the complete figure, where that was said. */
  readonly price?: number
}

/** What the next copy of a set is worth to a build; money in minor units. */
export type CopyValue = {
  /** Pieces it covers that are short now. */
  readonly covers: number
  /** What those pieces save of the goods for all that is short, bought loose at the best offers; at the median offer. */
  readonly looseBest: number
  readonly looseMedian: number
  /** Covered pieces that nobody offers loose. */
  readonly unpriced: number
  readonly leftOver: number
  readonly figures: readonly LeftoverFigure[]
  readonly resale: number
  /** Price less resale; undefined when no price is known. */
  readonly net: number | undefined
  /** What it saves against buying the same pieces loose at the best offers; negative when it costs more. */
  readonly saves: number | undefined
}

/**
 * The worth of one more copy, complete and with spares, given what is short. Leftovers resell at the user's own prices,
 * all else at a share of the median price; a figure counts as a figure when all its pieces are left over, else its pieces
 * count loose.
 */
export function copyValue(
  set: DonorSet,
  shortfall: ReadonlyMap<ItemKey, number>,
  { prices, priceOf }: LooseMarket,
  price: number | undefined,
  own: Resale,
): CopyValue {
  const short = new Map(shortfall)
  let covers = 0
  let looseBest = 0
  let looseMedian = 0
  let unpriced = 0
  let leftOver = 0
  let leftWorth = 0
  let ownWorth = 0
  const ownPrices = itemPrices(own)
  const figures = new Map<string, { pieces: number; lacks: ItemKey[]; worth: number; median: number; own: number }>()
  for (const line of set.lines) {
    const used = Math.min(line.qty, short.get(line.item) ?? 0)
    if (used > 0) short.set(line.item, (short.get(line.item) ?? 0) - used)
    const known = prices.get(line.item)
    covers += used
    if (used > 0) {
      const still = short.get(line.item) ?? 0
      const [before, after] = [priceOf(line.item, still + used), priceOf(line.item, still)]
      looseBest += before.cost - after.cost
      unpriced += before.unavailable - after.unavailable
    }
    if (known) looseMedian += used * known.median
    const left = line.qty - used
    leftOver += left
    const each = ownPrices.get(line.item)
    if (each === undefined) leftWorth += left * (known?.median ?? 0)
    else ownWorth += left * each
    if (line.figure !== undefined) {
      const figure = figures.get(line.figure) ?? { pieces: 0, lacks: [], worth: 0, median: 0, own: 0 }
      figure.pieces += line.qty
      if (used > 0) figure.lacks.push(line.item)
      figure.worth += left * (known?.median ?? 0)
      if (each === undefined) figure.median += left * (known?.median ?? 0)
      else figure.own += left * each
      figures.set(line.figure, figure)
    }
  }
  for (const [name, figure] of figures) {
    const price = figure.lacks.length === 0 ? figurePrice(name, own) : undefined
    if (price === undefined) continue
    // It sells as one: its pieces no longer count loose.
    leftWorth -= figure.median
    ownWorth += price - figure.own
  }
  const resale = Math.floor((leftWorth * own.resalePercent) / 100) + ownWorth
  const net = price === undefined ? undefined : price - resale
  return {
    covers,
    looseBest,
    looseMedian,
    unpriced,
    leftOver,
    figures: [...figures].map(([name, { pieces, lacks, worth }]) => {
      const price = figurePrice(name, own)
      return { name, pieces, lacks, worth, ...(price === undefined ? {} : { price }) }
    }),
    resale,
    net,
    saves: net === undefined ? undefined : looseBest - net,
  }
}

/** The shortfall left after so many more copies of a set; a new map. */
export function shortfallAfter(
  set: DonorSet,
  shortfall: ReadonlyMap<ItemKey, number>,
  copies: number,
): Map<ItemKey, number> {
  const held = new Map<ItemKey, number>()
  for (const line of set.lines) held.set(line.item, (held.get(line.item) ?? 0) + line.qty * copies)
  const left = new Map<ItemKey, number>()
  for (const [item, qty] of shortfall) {
    const rest = qty - Math.min(qty, held.get(item) ?? 0)
    if (rest > 0) left.set(item, rest)
  }
  return left
}

export type CopiesStep = {
  readonly copies: number
  /** Pieces still short, and what they cost loose at the best offers. */
  readonly short: number
  readonly looseLeft: number
  /** Copies and loose remainder together, less resale; undefined without a price. */
  readonly cost: number | undefined
}

/** Coverage and cost for 0 to `most` more copies, each copy valued against what is then still short. */
export function copiesCurve(
  set: DonorSet,
  shortfall: ReadonlyMap<ItemKey, number>,
  market: LooseMarket,
  price: number | undefined,
  own: Resale,
  most: number,
): CopiesStep[] {
  const steps: CopiesStep[] = []
  let paid: number | undefined = 0
  for (let copies = 0; copies <= most; copies++) {
    const left = shortfallAfter(set, shortfall, copies)
    const { cost: looseLeft } = goodsFor(left, market.priceOf)
    let short = 0
    for (const qty of left.values()) short += qty
    steps.push({ copies, short, looseLeft, cost: paid === undefined ? undefined : paid + looseLeft })
    const next = copyValue(set, left, market, price, own)
    paid = paid === undefined || next.net === undefined ? undefined : paid + next.net
  }
  return steps
}
