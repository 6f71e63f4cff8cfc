import { freedomOf } from './stand-ins/colour.ts'
import { type CoverDemand, type Stock, KIT } from './kernel/cover-problem.ts'
import { type LineOptions, type OptionFinder, optionFinder, OptionList } from './options.ts'
import { type Demand, type Requirements, requirementsOf } from './demand.ts'
import { type SupplyIndex, supplyIndex } from './supply-index.ts'
import { type PinnedPiece, type PinOutcome, applyPins } from './pins.ts'
import { CoverCache } from './kernel/cover-cache.ts'
import type { Snapshot } from './snapshot.ts'
import { type DecisionBook, decisionBook } from '../build/decision.ts'
import { type ItemKey, splitItemKey } from '../catalogue/item.ts'
import { lowestPrices, weighsMoney } from '../offers/market.ts'
import type { Build } from '../build/build.ts'
import type { Market } from '../offers/market.ts'
import { purpose, type Memory } from '../units/memory.ts'
import { presolve } from './presolve.ts'
import type { ColourId } from '../units/ids.ts'
import { inColour } from '../design/recolour.ts'
import { BUY_RANK } from './supplies.ts'

/** What the requirements of one class ask for together. */
export type Choice = CoverDemand & { readonly options: LineOptions; readonly demand: Demand }

/** One build's netting problem with what its choices, options and items stand for. */
export type NettingTask = {
  readonly required: Requirements
  /** Of each class its options; undefined where it is presolved. */
  readonly options: readonly (LineOptions | undefined)[]
  readonly choices: readonly Choice[]
  /** Of each class the number of its choice; −1 where it is presolved: its requirements take the piece itself, as far as it goes. */
  readonly choiceOf: Int32Array
  /** Of each class the index of its item in the stock; negative where nothing is of it. */
  readonly itemAt: Int32Array
  /** What is there for the choices: variants of the stock by their numbers, then what can be bought. */
  readonly supplies: Stock
  /** What there is to draw from. */
  readonly stock: SupplyIndex
  /** Pieces fixed by pins, by the number of their requirement; they are not in the problem any more. */
  readonly pinned: ReadonlyMap<number, readonly PinnedPiece[]>
  readonly pins: readonly PinOutcome[]
  /** The colours of groups that pins or what is built in have fixed. */
  readonly fixed: ReadonlyMap<string, ColourId>
  /** Whether there is any decision by hand. */
  readonly decided: boolean
  /** Whether compromise is counted in minor units, and buying is an option. */
  readonly weighed: boolean
  /** The last problem of this stock under these rules; none where buying is an option. */
  readonly covers: CoverCache | undefined
}

/** The last option finders of a stock: options stay while neither stock, rules, own rules nor prices change. */
type Kept = { readonly on: readonly unknown[]; readonly finder: OptionFinder; readonly covers: CoverCache }

const FINDERS = purpose<SupplyIndex, readonly Kept[]>('option finders, by supply index')

const PRICES = purpose<Market['offers'], { readonly key: string; readonly prices: ReadonlyMap<ItemKey, number> }>(
  'lowest prices, by offers',
)

/** The lowest prices under a build's rules; the same map as long as neither offers, shops nor those rules change. */
function pricesOf(market: Market, { currency, rules }: Build, memory: Memory): ReadonlyMap<ItemKey, number> {
  const { condition, unstated, thirdParty, shops, rates } = rules
  const key = JSON.stringify([
    currency,
    condition,
    unstated,
    thirdParty,
    shops,
    rates,
    market.shops.map((s) => [s.id, s.currency]),
  ])
  const kept = memory.for(PRICES)
  const before = kept.get(market.offers)
  if (before?.key === key) return before.prices
  const prices = lowestPrices(market, currency, rules)
  kept.set(market.offers, { key, prices })
  return prices
}

/** Rules are tried and taken back: so many finders of a stock are kept. */
const MOST_FINDERS = 2

function finderFor(
  snapshot: Snapshot,
  stock: SupplyIndex,
  own: DecisionBook['own'],
  weighed: boolean,
  prices: ReadonlyMap<ItemKey, number> | undefined,
  memory: Memory,
): Kept {
  const finders = memory.for(FINDERS)
  const on = [JSON.stringify([snapshot.build.rules, own]), weighed, prices]
  const known = finders.get(stock) ?? []
  const before = known.find((k) => k.on.every((value, i) => value === on[i]))
  const found = before ?? {
    on,
    finder: optionFinder(snapshot, stock, own, weighed, (item) => prices?.get(item)),
    covers: new CoverCache(),
  }
  finders.set(stock, [found, ...known.filter((k) => k !== before)].slice(0, MOST_FINDERS))
  return found
}

/**
 * The netting problem of one build: classes of requirements as choices, what the rules let it draw from as stock, options
 * by rules, freedom and decisions. Pins are taken out beforehand. Where compromise is weighed against money, buying the
 * piece itself is one more option. Classes that can be settled without a choice (`presolve`) are not in the problem.
 */
export function nettingTask(snapshot: Snapshot, memory: Memory): NettingTask {
  const { build } = snapshot
  const book = decisionBook(snapshot.decisions ?? [], build.id)
  const required = requirementsOf(snapshot, book, memory)
  const { classOf, demands } = required
  const stock = supplyIndex(snapshot, memory)
  const prices = snapshot.market && pricesOf(snapshot.market, build, memory)
  const weighed = prices !== undefined && prices.size > 0 && weighsMoney(build.rules)
  const { finder, covers } = finderFor(snapshot, stock, book.own, weighed, prices, memory)
  const { options, itemAt, claimed } = presolve(build.rules, weighed, required, stock, finder, book, memory)
  const { pinned, outcomes, taken, schemes } = applyPins(book, required, options, stock)
  // What is in the model decides for the rest of its group: a ring does not change its colour half way. A piece in a colour
  // that its line does not allow is a departure, and decides nothing.
  if (required.builtIn.size > 0)
    for (const demand of demands) {
      const colour = demand.group === undefined ? undefined : required.builtIn.get(demand.group)
      if (demand.group !== undefined && colour !== undefined && freedomOf(demand, build.rules) !== 'exact')
        schemes.set(demand.group, colour)
    }

  const open = required.open.slice()
  for (const [i, pieces] of pinned) {
    const c = classOf[i] as number
    for (const { qty } of pieces) open[c] = (open[c] as number) - qty
  }
  const shop = weighed ? purchases(demands, options, prices, stock.variants) : undefined
  const list = new OptionList()
  const choices = new Array<Choice>(options.reduce((n, own) => (own ? n + 1 : n), 0))
  let number = 0
  const choiceOf = new Int32Array(demands.length).fill(-1)
  for (let c = 0; c < demands.length; c++) {
    const demand = demands[c] as Demand
    const owned = options[c]
    if (!owned) continue
    const scheme = demand.group === undefined ? undefined : schemes.get(demand.group)
    const bought = shop?.optionsOf(demand, owned) ?? NO_PURCHASES
    let ways = owned
    if (bought.length > 0 || scheme !== undefined) {
      const fits = (own: string | undefined) => scheme === undefined || own === undefined || own === scheme
      list.addFrom(owned, stock, (o) => fits(owned.schemes?.[o]))
      for (const { item, compromise, scheme: own } of bought)
        if (fits(own)) list.add([{ item, qty: 1 }], compromise, undefined, own)
      ways = list.taken()
    }
    const qty = open[c] as number
    for (const { item } of bought) shop?.order(item, qty)
    choiceOf[c] = number
    choices[number++] = { demand, qty, options: ways, group: demand.group }
  }
  const left = stock.piecesOf.slice()
  for (let lot = 0; lot < left.length; lot++)
    left[lot] = (left[lot] as number) - (claimed[lot] as number) - (taken[lot] as number)
  return {
    required,
    fixed: schemes,
    options,
    choices,
    choiceOf,
    itemAt,
    supplies: withPurchases({ from: stock.lotsFrom, rank: stock.rankOf, qty: left }, shop?.ordered() ?? []),
    stock,
    pinned,
    pins: outcomes,
    decided: !book.empty,
    weighed,
    covers: weighed ? undefined : covers,
  }
}

/** Buying as one more option: of the piece itself at its lowest price, where a class competes with a stand-in. */
function purchases(
  demands: readonly Demand[],
  options: readonly (LineOptions | undefined)[],
  prices: ReadonlyMap<ItemKey, number> | undefined,
  firstItem: number,
) {
  /** Variants that serve as a stand-in somewhere. */
  const contested = new Set<number>()
  for (const own of new Set(options)) {
    if (!own) continue
    for (const [o, item] of own.items.entries()) if (own.compromises[o] !== 0 && item !== KIT) contested.add(item)
    for (const [o, uses] of own.kits) if (own.compromises[o] !== 0) for (const u of uses) contested.add(u.item)
  }
  const numbers = new Map<ItemKey, number>()
  const ordered: number[] = []
  const numberOf = (item: ItemKey): number => {
    const known = numbers.get(item)
    if (known !== undefined) return known
    numbers.set(item, firstItem + numbers.size)
    ordered.push(0)
    return firstItem + numbers.size - 1
  }
  return {
    ordered: (): readonly number[] => ordered,
    order: (item: number, qty: number) => {
      ordered[item - firstItem] = (ordered[item - firstItem] ?? 0) + qty
    },
    optionsOf({ item, group }: Demand, owned: LineOptions): Purchase[] {
      const competes =
        owned.compromises.some((c) => c > 0) ||
        owned.items.some((i) => contested.has(i)) ||
        [...owned.kits.values()].some((uses) => uses.some((u) => contested.has(u.item)))
      if (!competes) return []
      const colours: (ColourId | undefined)[] =
        group === undefined
          ? [undefined]
          : [...new Set([splitItemKey(item).colour, ...(owned.schemes ?? []).flatMap((s) => (s as ColourId) ?? [])])]
      return colours.flatMap((scheme): Purchase[] => {
        const wanted = scheme === undefined ? item : inColour(item, scheme)
        const price = prices?.get(wanted)
        if (price === undefined) return []
        // A group's piece in another colour than it is drawn in is as much of a compromise bought as owned.
        const same = owned.compromises.filter((_, o) => owned.schemes?.[o] === scheme)
        const off = wanted === item ? 0 : Math.min(...same)
        return [{ item: numberOf(wanted), compromise: price + off, scheme }]
      })
    },
  }
}

/** A stock and, after its items, what can be bought. */
function withPurchases({ from, rank, qty }: Stock, ordered: readonly number[]): Stock {
  if (ordered.length === 0) return { from, rank, qty }
  const tiers = qty.length
  return {
    from: [...Array.from(from), ...ordered.map((_, i) => tiers + i + 1)],
    rank: [...Array.from(rank), ...ordered.map(() => BUY_RANK)],
    qty: [...Array.from(qty), ...ordered],
  }
}

/** Buying one piece; items by their numbers. */
type Purchase = { readonly item: number; readonly compromise: number; readonly scheme: ColourId | undefined }

const NO_PURCHASES: readonly Purchase[] = []
