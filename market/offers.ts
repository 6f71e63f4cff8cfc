import { readPartName } from '../core/catalogue/name-grammar.ts'
import { hash, normal, uniform } from './random.ts'
import { makeShops, type SimulatedShop } from './shops.ts'
import type { OffersRequest, OffersResponse, WireOffer } from './wire.ts'

const FINISH_FACTOR = { opaque: 1, clear: 1.25, metal: 2.6, shimmer: 1.9, glow: 3.2 } as const

/**
 * Base price of a piece in cents: grows with the square root of its mass, by finish and by the rarity of the item
 * (log-normal, a part in a colour has one rarity wherever it is sold).
 */
export function basePrice(item: string, part: string, finish: keyof typeof FINISH_FACTOR, seed: number): number {
  const grams = readPartName(part).shape.mass / 1000
  return (2 + 7.5 * Math.sqrt(grams)) * FINISH_FACTOR[finish] * Math.exp(0.45 * normal(seed, 'rarity', item))
}

/** The last day, up to one, on which something changed that changes on a share of days. */
function lastChange(day: number, share: number, ...words: readonly (string | number)[]): number {
  for (let d = day; d > 0; d--) if (uniform(...words, 'changed', d) < share) return d
  return 0
}

/** The share of items that one shop alone has, by finish. */
const SCARCE_SHARE = { opaque: 0.01, clear: 0.02, metal: 0.3, shimmer: 0.2, glow: 0.3 } as const

const isScarce = (item: string, finish: keyof typeof FINISH_FACTOR, seed: number): boolean =>
  uniform(seed, 'scarce', item) < SCARCE_SHARE[finish]

/** Days that a shop takes at most which alone has something. */
const SOON = 5

/** The shop that would carry an item before any other; one that sends soon in the answer's money, the counter never. */
function likeliest(shops: readonly SimulatedShop[], item: string, seed: number): string | undefined {
  const asked = shops
    .filter(({ terms }) => terms.kind === 'shop' && terms.currency === undefined && terms.leadDays <= SOON)
    .map(({ terms, trait }) => ({ id: terms.id, odds: uniform(seed, terms.id, item, 'carries') / trait.breadth }))
  return asked.sort((p, q) => p.odds - q.odds)[0]?.id
}

/**
 * The market's answer for the items asked: which shops carry them, at which price (log-normal around the base price,
 * used pieces cheaper), in what stock and packs. From one day to the next a tenth of all stocks changes and a few prices
 * do. Depends on seed, day and items alone.
 */
export function offersFor(request: OffersRequest, seed: number, day: number): OffersResponse {
  const shops = makeShops(seed)
  const offers: WireOffer[] = []
  for (const { item, part, finish } of request.items) {
    const base = basePrice(item, part, finish, seed)
    // Some items are everywhere, some nearly nowhere.
    const popularity = 0.25 + 1.5 * uniform(seed, 'popularity', item) ** 1.3
    const only = isScarce(item, finish, seed) ? likeliest(shops, item, seed) : undefined
    for (const { terms, trait, perCent } of shops) {
      const u = (what: string) => uniform(seed, terms.id, item, what)
      if (only === undefined && u('carries') > trait.breadth * (terms.kind === 'counter' ? 1 : popularity)) continue
      if (only !== undefined && terms.id !== only) continue
      const stock =
        terms.kind === 'counter'
          ? 500
          : Math.floor(
              Math.exp(
                2.6 + 1.2 * normal(seed, terms.id, item, 'stock', lastChange(day, 0.1, seed, terms.id, item, 'stock')),
              ),
            )
      if (stock < 1) continue
      const used = u('used') < trait.usedShare
      const priced = lastChange(day, 0.03, seed, terms.id, item, 'price')
      const spread = Math.exp(0.28 * normal(seed, terms.id, item, 'price', ...(priced === 0 ? [] : [priced])))
      const price = Math.max(1, Math.round(base * trait.level * spread * (used ? 0.72 : 1) * perCent))
      const pack = terms.kind === 'shop' && u('pack') < 0.08 ? ([2, 4, 5, 10][hash(seed, terms.id, item) % 4] ?? 1) : 1
      if (stock < pack) continue
      offers.push({ shop: terms.id, item, price, stock, pack, condition: used ? 'used' : 'new' })
    }
  }
  const present = new Set(offers.map((o) => o.shop))
  return { currency: 'EUR', day, shops: shops.map((s) => s.terms).filter((s) => present.has(s.id)), offers }
}
