import {
  itemsIn,
  KIT,
  type Cover,
  type CoverDemand,
  type Least,
  type Options,
  type Pool,
  type Stock,
  type Value,
} from './cover-problem.ts'

/** What a piece short and a point of compromise weigh, so that one number orders covers as `isBetter` does. */
export type Scale = {
  readonly short: number
  readonly weight: number
  /** Whether ranks are weighed; else they count as nothing, which keeps a bound. */
  readonly ranked: boolean
}

/** The weights for some demands, without ranks where they would not be exact with them; undefined where not even so. */
export function scaleOf(demands: readonly CoverDemand[], stock: Stock): Scale | undefined {
  let [total, most, compromise, rank] = [0, 1, 0, 0]
  for (const { qty, options } of demands) {
    total += qty
    for (const one of options.compromises) compromise = Math.max(compromise, one)
    for (const one of options.pool?.compromises ?? []) compromise = Math.max(compromise, one)
    for (const uses of options.kits.values())
      most = Math.max(
        most,
        uses.reduce((n, use) => n + use.qty, 0),
      )
  }
  for (let tier = 0; tier < stock.rank.length; tier++) rank = Math.max(rank, stock.rank[tier])
  for (const ranked of [true, false]) {
    const weight = ranked ? 1 + total * most * rank : 1
    const short = weight * (1 + total * compromise)
    if (short * (1 + total) * 4 < Number.MAX_SAFE_INTEGER) return { short, weight, ranked }
  }
  return undefined
}

/** What a cover weighs. */
export const weightOf = ({ short, compromise, rank }: Value, scale: Scale): number =>
  short * scale.short + compromise * scale.weight + (scale.ranked ? rank : 0)

/** What a bound on the weight of covers says of them. */
export const leastOf = (weight: number, scale: Scale): Least => {
  const short = Math.max(0, Math.floor(weight / scale.short))
  return { short, compromise: Math.max(0, Math.floor((weight - short * scale.short) / scale.weight)) }
}

/** The scheme that options must be of, by the group of their demand; any where it has none. */
type Chosen = ReadonlyMap<string, string>

/** What pieces are worth to a cover: of each item what one piece fewer would cost, as far as that is followed. */
export type Prices = Float64Array

/** Times that prices are followed from demand to demand. */
const SWEEPS = 60

/**
 * Prices at which a cover is near its equilibrium: of items with pieces left their rank, of others the least that a demand
 * which takes them would pay to take something else, or to go short. Shortest ways in the residual network of the flow, by
 * the label correction of Bellman and Ford; where the cover is the best one they are its shadow prices. Any prices make a
 * valid bound (`boundAt`).
 */
export function pricesOf(
  demands: readonly CoverDemand[],
  cover: Cover,
  stock: Stock,
  scale: Scale,
  chosen: Chosen = new Map(),
): Prices {
  const prices = new Float64Array(itemsIn(stock))
  const drawn = new Float64Array(prices.length)
  for (const [n, { options }] of demands.entries()) {
    const own = cover[n] ?? []
    for (let at = 0; at < own.length; at += 2)
      eachUse(options, own[at], (item, qty) => {
        drawn[item] += qty * own[at + 1]
      })
  }
  for (let item = 0; item < prices.length; item++) {
    let open = drawn[item]
    prices[item] = scale.short
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++) {
      open -= stock.qty[tier]
      if (open >= 0) continue
      prices[item] = scale.ranked ? stock.rank[tier] : 0
      break
    }
  }
  const pools = new Map<Pool, Cheapest>()
  for (let sweep = 0, changed = true; changed && sweep < SWEEPS; sweep++) {
    changed = false
    pools.clear()
    for (const [n, { options, group }] of demands.entries()) {
      const own = cover[n] ?? []
      if (own.length === 0) continue
      const scheme = group === undefined ? undefined : chosen.get(group)
      const { price: least } = cheapest(options, prices, scale, pools, scheme)
      for (let at = 0; at < own.length; at += 2) {
        const spare = least - priceOf(options, own[at], prices, scale)
        if (spare >= 0) continue
        eachUse(options, own[at], (item, qty) => {
          const next = Math.max(0, Math.floor(prices[item] + spare / qty))
          if (next >= prices[item]) return
          prices[item] = next
          changed = true
        })
      }
    }
  }
  return prices
}

/** A bound by prices: on all covers, and what each scheme adds to it that is not the least of its group. */
export type PriceBound = {
  readonly weight: number
  /** Of each group what its demands pay by scheme. */
  readonly schemes: ReadonlyMap<string, ReadonlyMap<string, number>>
}

/**
 * A bound on the weight of every cover, by the duality of linear programming (a Lagrangian relaxation of the stock): demands
 * pay prices for what they take, each as little as it can, groups by the scheme that is cheapest for all of theirs; what
 * stock there is is paid back. Valid for any prices that are not negative, also where options take several pieces.
 */
export function boundAt(
  demands: readonly CoverDemand[],
  stock: Stock,
  prices: Prices,
  scale: Scale,
  schemesOf: ReadonlyMap<string, readonly string[]> = new Map(),
): PriceBound {
  let weight = 0
  const schemes = new Map<string, Map<string, number>>()
  const pools = new Map<Pool, Cheapest>()
  for (const { qty, options, group } of demands) {
    const own = (group !== undefined && options.schemes && schemesOf.get(group)) || NO_NAMES
    if (own.length === 0 || group === undefined) weight += qty * cheapest(options, prices, scale, pools).price
    else {
      const sums = schemes.get(group) ?? new Map<string, number>()
      schemes.set(group, sums)
      for (const scheme of own)
        sums.set(scheme, (sums.get(scheme) ?? 0) + qty * cheapest(options, prices, scale, pools, scheme).price)
    }
  }
  for (const sums of schemes.values()) weight += Math.min(...sums.values())
  for (let item = 0; item < prices.length; item++)
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++)
      weight -= stock.qty[tier] * Math.max(0, prices[item] - (scale.ranked ? stock.rank[tier] : 0))
  return { weight, schemes }
}

const NO_NAMES: readonly string[] = []

function eachUse(options: Options, option: number, use: (item: number, qty: number) => void): void {
  const { items, pool } = options
  const item = option < items.length ? items[option] : (pool?.items[option - items.length] ?? KIT)
  if (item === KIT) for (const { item: of, qty } of options.kits.get(option) ?? []) use(of, qty)
  else use(item, 1)
}

function priceOf(options: Options, option: number, prices: Prices, { weight }: Scale): number {
  const { items, compromises, pool } = options
  let price = weight * (option < items.length ? compromises[option] : (pool?.compromises[option - items.length] ?? 0))
  eachUse(options, option, (item, qty) => {
    price += qty * prices[item]
  })
  return price
}

/** What one required piece costs at least, by which option; left short where that is -1. */
type Cheapest = { readonly price: number; readonly option: number }

/** The cheapest way to cover one required piece, by options of one scheme where that is given. */
function cheapest(
  options: Options,
  prices: Prices,
  scale: Scale,
  pools: Map<Pool, Cheapest>,
  scheme?: string,
): Cheapest {
  const { items, compromises, schemes, pool, kits } = options
  const { weight } = scale
  let [price, option] = [scale.short, -1]
  for (let o = 0; o < items.length; o++) {
    const of = schemes?.[o]
    if (scheme !== undefined && of !== undefined && of !== scheme) continue
    const item = items[o]
    let own = weight * compromises[o]
    if (item !== KIT) own += prices[item]
    else for (const { item: used, qty } of kits.get(o) ?? []) own += qty * prices[used]
    if (own < price) [price, option] = [own, o]
  }
  if (!pool) return { price, option }
  let pooled = pools.get(pool)
  if (!pooled) {
    let [least, at] = [Infinity, -1]
    for (let o = 0; o < pool.items.length; o++) {
      const own = weight * pool.compromises[o] + prices[pool.items[o]]
      if (own < least) [least, at] = [own, o]
    }
    pooled = { price: least, option: at }
    pools.set(pool, pooled)
  }
  return pooled.price < price ? { price: pooled.price, option: items.length + pooled.option } : { price, option }
}

/** The cheapest scheme of a group; the first by name of those that cost the same. */
export const cheapestScheme = (sums: ReadonlyMap<string, number>): string =>
  [...sums].reduce((p, q) => (q[1] < p[1] || (q[1] === p[1] && q[0] < p[0]) ? q : p))[0]
