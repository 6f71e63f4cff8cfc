import type { Network } from './network.ts'
import type { Decisions } from './plan.ts'

/** A choice of shops and donor copies, evaluated by covering every line at the cheapest marginal price. */
export type Cover = {
  /** Estimated cost in minor units; uncovered pieces and parcels too heavy are charged `miss` each. */
  readonly cost: number
  readonly uncovered: number
  readonly packs: Int32Array
  readonly assigned: readonly { readonly line: number; readonly accept: number; readonly qty: number }[]
}

/** Evaluates open shops and copies again and again on one network, reusing its arrays. */
export class Coverer {
  readonly net: Network
  readonly miss: number
  readonly #pool: Int32Array
  readonly #packs: Int32Array
  readonly #pointer: Int32Array
  readonly #value: Float64Array
  readonly #mass: Float64Array
  readonly #count: Int32Array
  readonly #order: readonly number[]

  constructor(net: Network) {
    this.net = net
    const dearest = net.offers.reduce((most, o) => Math.max(most, o.price), 1)
    const fees = net.shops.reduce((most, s) => Math.max(most, s.handling + s.minOrder + (s.bands.at(-1)?.fee ?? 0)), 0)
    this.miss = 10 * dearest + 2 * fees
    this.#pool = new Int32Array(net.items.length)
    this.#packs = new Int32Array(net.offers.length)
    this.#pointer = new Int32Array(net.items.length)
    this.#value = new Float64Array(net.shops.length)
    this.#mass = new Float64Array(net.shops.length)
    this.#count = new Int32Array(net.shops.length)
    // Lines with one option first: they have no choice, the others adapt.
    this.#order = net.lines
      .map((_, l) => l)
      .sort((p, q) => (net.lines[p]?.accepts.length ?? 0) - (net.lines[q]?.accepts.length ?? 0) || p - q)
  }

  /** Cost of the cover; O(lines × offers looked at). With `record`, also the purchases and assignments. */
  evaluate(open: Uint8Array, copies: Int32Array, record = false): Cover {
    const { net } = this
    const assigned: { line: number; accept: number; qty: number }[] = []
    this.#packs.fill(0)
    this.#pointer.fill(0)
    let cost = 0
    for (const [i, item] of net.items.entries()) this.#pool[i] = item.free
    for (const [k, set] of net.sets.entries()) {
      const n = copies[k] ?? 0
      if (n === 0) continue
      cost += n * set.price
      for (const { item, qty } of set.contents) this.#pool[item] = (this.#pool[item] ?? 0) + n * qty
    }

    let uncovered = 0
    for (const l of this.#order) {
      const line = net.lines[l]
      if (!line) continue
      let need = line.qty
      const dead = new Set<number>()
      while (need > 0) {
        let best = -1
        let bestUnit = Infinity
        for (const [a, accept] of line.accepts.entries()) {
          if (dead.has(a)) continue
          let unit = accept.penalty
          for (const use of accept.uses) unit += use.qty * this.#unitPrice(use.item, open)
          if (unit < bestUnit) [best, bestUnit] = [a, unit]
        }
        const accept = line.accepts[best]
        if (!accept) break
        let batch = need
        for (const use of accept.uses) batch = Math.min(batch, this.#atThisPrice(use.item, open, use.qty))
        let got = batch
        for (const use of accept.uses) got = Math.min(got, Math.floor(this.#fill(use.item, use.qty * batch, open) / use.qty))
        if (got === 0) {
          dead.add(best)
          continue
        }
        for (const use of accept.uses) this.#pool[use.item] = (this.#pool[use.item] ?? 0) - got * use.qty
        cost += got * accept.penalty
        need -= got
        if (record) assigned.push({ line: l, accept: best, qty: got })
      }
      uncovered += need
    }
    cost += uncovered * this.miss
    cost += this.#shopCosts(open)
    for (const [i, item] of net.items.entries())
      if (item.credit > 0) {
        const left = (this.#pool[i] ?? 0) - item.free
        if (left > 0) cost -= item.credit * Math.min(left, item.creditMax)
      }
    return { cost, uncovered, packs: record ? this.#packs.slice() : this.#packs, assigned }
  }

  /** Moves the item's pointer to its cheapest open offer with stock; −1 when there is none. */
  #current(item: number, open: Uint8Array): number {
    const list = this.net.items[item]?.offers ?? []
    let p = this.#pointer[item] ?? 0
    for (; p < list.length; p++) {
      const o = list[p] ?? 0
      const offer = this.net.offers[o]
      if (offer && open[offer.shop] === 1 && (this.#packs[o] ?? 0) < offer.packs) break
    }
    this.#pointer[item] = p
    return p < list.length ? (list[p] ?? -1) : -1
  }

  #unitPrice(item: number, open: Uint8Array): number {
    if ((this.#pool[item] ?? 0) > 0) return 0
    const o = this.#current(item, open)
    return o < 0 ? Infinity : (this.net.offers[o]?.price ?? Infinity)
  }

  #atThisPrice(item: number, open: Uint8Array, qty: number): number {
    const pool = this.#pool[item] ?? 0
    if (pool > 0) return Math.max(1, Math.floor(pool / qty))
    const o = this.#current(item, open)
    const offer = this.net.offers[o]
    return offer ? Math.max(1, Math.floor(((offer.packs - (this.#packs[o] ?? 0)) * offer.pack) / qty)) : 0
  }

  /** Buys until the pool holds `wanted` pieces or nothing is left; returns what the pool holds. */
  #fill(item: number, wanted: number, open: Uint8Array): number {
    for (;;) {
      const short = wanted - (this.#pool[item] ?? 0)
      if (short <= 0) break
      const o = this.#current(item, open)
      const offer = this.net.offers[o]
      if (!offer) break
      const packs = Math.min(offer.packs - (this.#packs[o] ?? 0), Math.ceil(short / offer.pack))
      this.#packs[o] = (this.#packs[o] ?? 0) + packs
      this.#pool[item] = (this.#pool[item] ?? 0) + packs * offer.pack
    }
    return this.#pool[item] ?? 0
  }

  #shopCosts(open: Uint8Array): number {
    const { net } = this
    this.#value.fill(0)
    this.#mass.fill(0)
    this.#count.fill(0)
    for (let o = 0; o < this.#packs.length; o++) {
      const packs = this.#packs[o] ?? 0
      if (packs === 0) continue
      const offer = net.offers[o]
      if (!offer) continue
      this.#value[offer.shop] = (this.#value[offer.shop] ?? 0) + packs * offer.pack * offer.price
      this.#mass[offer.shop] = (this.#mass[offer.shop] ?? 0) + packs * offer.pack * (net.items[offer.item]?.mass ?? 0)
      this.#count[offer.shop] = (this.#count[offer.shop] ?? 0) + 1
    }
    let cost = 0
    for (const [s, shop] of net.shops.entries()) {
      const value = this.#value[s] ?? 0
      if (open[s] !== 1 || ((this.#count[s] ?? 0) === 0 && shop.status !== 'pinned')) continue
      const basket = Math.max(value, shop.minOrder)
      cost += basket + shop.handling + shop.lineFee * (this.#count[s] ?? 0)
      if (shop.service && basket < shop.service.threshold)
        cost += Math.min(shop.service.fee, shop.service.threshold - basket)
      if (shop.bands.length > 0) {
        const mass = this.#mass[s] ?? 0
        cost += shop.bands.find((band) => mass <= band.maxMass)?.fee ?? this.miss
      }
    }
    return cost
  }
}

/**
 * Turns a cover into decisions that keep every rule it can: trims packs nothing uses, then pads baskets below a minimum
 * order (or just below a service threshold) with whole pieces. `undefined` when pieces are uncovered.
 */
export function settleCover(net: Network, cover: Cover, copies: Int32Array): Decisions | undefined {
  if (cover.uncovered > 0) return undefined
  const packs = cover.packs.slice()
  for (const [s, shop] of net.shops.entries()) {
    const offers = net.offersOfShop[s] ?? []
    const basketOf = () => offers.reduce((sum, o) => sum + (packs[o] ?? 0) * packPrice(net, o), 0)
    const value = basketOf()
    if (value === 0 && offers.every((o) => packs[o] === 0) && shop.status !== 'pinned') continue
    let target = value === 0 && shop.status === 'pinned' ? Math.max(1, shop.minOrder) : shop.minOrder
    const toThreshold = shop.service ? shop.service.threshold - Math.max(value, target) : 0
    if (shop.service && toThreshold > 0 && toThreshold < shop.service.fee) target = shop.service.threshold
    pad(net, offers, packs, target - value)
  }
  return {
    purchases: net.offers.flatMap((offer, o) => {
      const n = packs[o] ?? 0
      return n > 0 ? [{ offer: offer.id, packs: n }] : []
    }),
    sets: net.sets.flatMap((set, k) => {
      const n = copies[k] ?? 0
      return n > 0 ? [{ set: set.id, copies: n }] : []
    }),
    assignments: mergeAssignments(net, cover),
  }
}

const packPrice = (net: Network, o: number) => (net.offers[o]?.price ?? 0) * (net.offers[o]?.pack ?? 1)

/** Adds packs worth at least `missing`: the dearest that fit, then the cheapest that closes the rest. */
function pad(net: Network, offers: readonly number[], packs: Int32Array, missing: number): void {
  const byPrice = offers.filter((o) => packPrice(net, o) > 0).sort((p, q) => packPrice(net, q) - packPrice(net, p))
  for (const o of byPrice) {
    if (missing <= 0) return
    const price = packPrice(net, o)
    const n = Math.min((net.offers[o]?.packs ?? 0) - (packs[o] ?? 0), Math.floor(missing / price))
    packs[o] = (packs[o] ?? 0) + n
    missing -= n * price
  }
  for (const o of byPrice.reverse()) {
    const price = packPrice(net, o)
    while (missing > 0 && (packs[o] ?? 0) < (net.offers[o]?.packs ?? 0)) {
      packs[o] = (packs[o] ?? 0) + 1
      missing -= price
    }
  }
}

function mergeAssignments(net: Network, cover: Cover): Decisions['assignments'] {
  const merged = new Map<string, { line: string; accept: string; qty: number }>()
  for (const { line, accept, qty } of cover.assigned) {
    const lineId = net.lines[line]?.id ?? ''
    const acceptId = net.lines[line]?.accepts[accept]?.id ?? ''
    const key = JSON.stringify([lineId, acceptId])
    merged.set(key, { line: lineId, accept: acceptId, qty: (merged.get(key)?.qty ?? 0) + qty })
  }
  return [...merged.values()]
}
