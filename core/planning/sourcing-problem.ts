import type { ItemKey } from '../catalogue/item.ts'
import { splitItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { copyContents } from '../donors/copy-contents.ts'
import { CONDITIONS } from '../units/condition.ts'
import { buildNetwork, findUnreachable } from '../sourcing/network.ts'
import type { SourcingProblem } from '../sourcing/problem.ts'
import type { Unreachable } from '../sourcing/plan.ts'
import type { PartId } from '../units/ids.ts'
import type { Offer, Shop } from './market.ts'
import type { Snapshot, Tally } from './tally.ts'

export type SourcingTask = {
  readonly problem: SourcingProblem
  /** Items a market should be asked about: what is short and what wanted copies hold. */
  readonly wanted: readonly ItemKey[]
  /** Pieces left out of the problem because no allowed supply has them, with the reason. */
  readonly unavailable: readonly Unreachable[]
  /** Offers and copies left out because their prices are in another currency. */
  readonly otherCurrency: number
}

/** Estimated mass of a piece whose part is not in the catalogue, milligrams. */
const UNKNOWN_MASS = 1000

/**
 * The shortfall as a sourcing problem: one line per short item, the offers the rules allow, copies wanted as donor sets
 * with their asking price. What nobody can supply is taken out and reported, so that the rest can be bought.
 */
export function sourcingTask(
  snapshot: Snapshot,
  result: Tally,
  parts: ReadonlyMap<PartId, Part>,
  shops: readonly Shop[],
  offers: readonly Offer[],
): SourcingTask {
  const { build } = snapshot
  const { rules } = build
  let otherCurrency = 0
  const usableShops = shops.filter((s) => s.currency === build.currency)
  const shopIds = new Set(usableShops.map((s) => s.id))
  const worst = CONDITIONS.indexOf(rules.condition)
  const usableOffers = offers.filter((o) => {
    if (!shopIds.has(o.shop)) otherCurrency++
    return shopIds.has(o.shop) && CONDITIONS.indexOf(o.condition) <= worst
  })

  // Wanted copies with the same contents and price form one donor set in the problem.
  const setById = new Map(snapshot.sets.map((s) => [s.id, s]))
  const sets = new Map<
    string,
    { id: string; price: number; maxCopies: number; contents: { item: string; qty: number }[] }
  >()
  const contained = new Map<ItemKey, number>()
  for (const copy of snapshot.copies) {
    const set = setById.get(copy.setId)
    if (!set || copy.state !== 'to-buy' || !copy.askingPrice) continue
    if (copy.askingPrice.currency !== build.currency) {
      otherCurrency++
      continue
    }
    const contents = new Map<ItemKey, number>()
    for (const { item, qty } of copyContents(set, copy)) contents.set(item, (contents.get(item) ?? 0) + qty)
    for (const [item, qty] of contents) contained.set(item, (contained.get(item) ?? 0) + qty)
    const key = JSON.stringify([set.id, copy.askingPrice.minor, [...contents].sort()])
    const same = sets.get(key)
    if (same) same.maxCopies++
    else
      sets.set(key, {
        id: copy.id,
        price: copy.askingPrice.minor,
        maxCopies: 1,
        contents: [...contents].map(([item, qty]) => ({ item, qty })),
      })
  }

  const wanted = new Set<ItemKey>([...result.shortfall.keys(), ...contained.keys()])
  const pricesByItem = new Map<ItemKey, number[]>()
  for (const offer of usableOffers)
    if (wanted.has(offer.item)) pricesByItem.set(offer.item, [...(pricesByItem.get(offer.item) ?? []), offer.price])

  const items = [...wanted].map((item) => {
    const { part, colour } = splitItemKey(item)
    const inSets = contained.get(item) ?? 0
    const credit = Math.floor((median(pricesByItem.get(item) ?? []) * rules.resalePercent) / 100)
    return {
      id: item,
      part,
      colour,
      mass: parts.get(part)?.shape.mass ?? UNKNOWN_MASS,
      owned: 0,
      resale: inSets > 0 && credit > 0 ? { credit, max: inSets } : null,
    }
  })
  const full: SourcingProblem = {
    format: 'sourcing-problem',
    version: 1,
    id: build.id,
    currency: build.currency,
    maxShops: rules.maxShops,
    deadlineDays: rules.deadlineDays,
    items,
    lines: [...result.shortfall].map(([item, qty]) => ({
      id: item,
      qty,
      accepts: [{ id: 'exact', uses: [{ item, qty: 1 }], penalty: 0 }],
    })),
    shops: usableShops.map(({ name: _name, country: _country, currency: _currency, ...shop }) => ({
      ...shop,
      status: rules.shops[shop.id] ?? 'free',
    })),
    offers: usableOffers
      .filter((o) => result.shortfall.has(o.item))
      .map(({ id, shop, item, price, stock, pack }) => ({ id, shop, item, price, stock, pack })),
    sets: [...sets.values()],
    onOrder: [],
  }
  const unavailable = findUnreachable(buildNetwork(full)).filter((u) => u.line !== '')
  const short = new Map(unavailable.map((u) => [u.line, u.short]))
  return {
    problem: {
      ...full,
      lines: full.lines
        .map((line) => ({ ...line, qty: line.qty - (short.get(line.id) ?? 0) }))
        .filter((line) => line.qty > 0),
    },
    wanted: [...wanted],
    unavailable,
    otherCurrency,
  }
}

/** The lower median of integers; 0 for none. */
function median(values: readonly number[]): number {
  const sorted = [...values].sort((p, q) => p - q)
  return sorted[Math.floor((sorted.length - 1) / 2)] ?? 0
}
