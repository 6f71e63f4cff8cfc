import { leviesOn } from '../costs/levy.ts'
import { serviceFee, shippingFee } from '../costs/order-cost.ts'
import type { NetAccept, NetLine, PresolvedProblem } from './presolve.ts'
import type { Decisions } from './plan.ts'

/** A choice of shops and donor copies, evaluated by covering every line at the cheapest marginal price. */
export type Cover = {
  /** Estimated cost in minor units; uncovered pieces and parcels too heavy are charged `miss` each. */
  readonly cost: number
  readonly uncovered: number
  readonly packs: Int32Array
  readonly assigned: readonly Assigned[]
}

/** Pieces of a line covered by one of its options, all by number. */
type Assigned = { readonly line: number; readonly accept: number; readonly qty: number }

/** The options of a line while it is being covered; the one that is dropped is the cheapest. */
type OptionQueue = { cheapest(): number; drop(option: number): void }

/** Lines of more options than this keep them in a heap. */
const MANY_OPTIONS = 64

/** Evaluates open shops and copies again and again on one network, reusing flat arrays: the hot path of the search. */
export class Coverer {
  readonly net: PresolvedProblem
  readonly miss: number
  readonly #pool: Float64Array
  readonly #free: Float64Array
  readonly #packs: Int32Array
  readonly #pointer: Int32Array
  readonly #value: Float64Array
  readonly #mass: Float64Array
  readonly #count: Int32Array
  readonly #order: readonly number[]
  readonly #touched: number[] = []
  /** Offers of item i, cheapest first, at #list[#first[i]] … #list[#first[i + 1] − 1]. */
  readonly #first: Int32Array
  readonly #list: Int32Array
  readonly #shop: Int32Array
  readonly #price: Float64Array
  readonly #billed: Float64Array
  readonly #pack: Int32Array
  readonly #stock: Int32Array
  /** Of the cover at hand: copies and penalties so far. */
  #cost = 0

  constructor(net: PresolvedProblem) {
    this.net = net
    const dearest = net.offers.reduce((most, o) => Math.max(most, o.price), 1)
    const fees = net.shops.reduce(
      (most, s) => Math.max(most, s.ratio * (s.handling + s.minOrder + (s.bands.at(-1)?.fee ?? 0))),
      0,
    )
    this.miss = 10 * dearest + 2 * fees
    this.#pool = new Float64Array(net.items.length)
    this.#free = Float64Array.from(net.items.map((i) => i.free))
    this.#packs = new Int32Array(net.offers.length)
    this.#pointer = new Int32Array(net.items.length)
    this.#value = new Float64Array(net.shops.length)
    this.#mass = new Float64Array(net.shops.length)
    this.#count = new Int32Array(net.shops.length)
    this.#shop = Int32Array.from(net.offers.map((o) => o.shop))
    this.#price = Float64Array.from(net.offers.map((o) => o.price))
    this.#billed = Float64Array.from(net.offers.map((o) => o.billed))
    this.#pack = Int32Array.from(net.offers.map((o) => o.pack))
    this.#stock = Int32Array.from(net.offers.map((o) => o.packs))
    this.#first = new Int32Array(net.items.length + 1)
    for (const [i, item] of net.items.entries()) this.#first[i + 1] = (this.#first[i] ?? 0) + item.offers.length
    this.#list = Int32Array.from(net.items.flatMap((i) => i.offers))
    // Lines with one option first: they have no choice, the others adapt.
    this.#order = net.lines
      .map((_, l) => l)
      .sort((p, q) => (net.lines[p]?.accepts.length ?? 0) - (net.lines[q]?.accepts.length ?? 0) || p - q)
  }

  /**
   * Cost of the cover; O(lines × offers looked at). With `record`, also the purchases and assignments. `start` holds
   * packs bought beforehand (offer, packs); only what they leave open is bought on top.
   */
  evaluate(
    open: Uint8Array,
    copies: Int32Array,
    record = false,
    start: readonly (readonly [number, number])[] = [],
  ): Cover {
    const { net } = this
    const assigned: Assigned[] = []
    for (let t = 0; t < this.#touched.length; t++) this.#packs[this.#touched[t] ?? 0] = 0
    this.#touched.length = 0
    this.#pointer.set(this.#first.subarray(0, -1))
    this.#pool.set(this.#free)
    this.#cost = 0
    this.#begin(copies, start)
    let uncovered = 0
    for (const l of this.#order) {
      const line = net.lines[l]
      if (line) uncovered += this.#coverLine(line, l, open, record ? assigned : undefined)
    }
    const cost = this.#cost + uncovered * this.miss + this.#shopCosts(open) - this.#credit()
    return { cost, uncovered, packs: record ? this.#packs.slice() : this.#packs, assigned }
  }

  /** Puts the contents of copies and of packs bought beforehand into the pool. */
  #begin(copies: Int32Array, start: readonly (readonly [number, number])[]): void {
    const { net } = this
    const pool = this.#pool
    for (let k = 0; k < copies.length; k++) {
      const set = net.sets[k]
      const n = copies[k] ?? 0
      if (n === 0 || !set) continue
      this.#cost += n * set.price
      for (const { item, qty } of set.contents) pool[item] = (pool[item] ?? 0) + n * qty
    }
    for (const [o, packs] of start) {
      if (packs === 0) continue
      const item = net.offers[o]?.item ?? 0
      this.#packs[o] = packs
      this.#touched.push(o)
      pool[item] = (pool[item] ?? 0) + packs * (this.#pack[o] ?? 1)
    }
  }

  /** Covers a line at the cheapest marginal price; gives the pieces left uncovered. */
  #coverLine(line: NetLine, l: number, open: Uint8Array, assigned: Assigned[] | undefined): number {
    const only = line.accepts[0]
    const use = only?.uses[0]
    if (line.accepts.length === 1 && only && only.uses.length === 1 && use) {
      const got = Math.min(line.qty, Math.floor(this.#fill(use.item, use.qty * line.qty, open) / use.qty))
      this.#take(only, got)
      if (got > 0) assigned?.push({ line: l, accept: 0, qty: got })
      return line.qty - got
    }
    let need = line.qty
    const next = line.accepts.length > MANY_OPTIONS ? this.#fromHeap(line, open) : this.#byScan(line, open)
    while (need > 0) {
      const best = next.cheapest()
      const accept = line.accepts[best]
      if (!accept) break
      let batch = need
      for (const use of accept.uses) batch = Math.min(batch, this.#atThisPrice(use.item, open, use.qty))
      let got = batch
      for (const use of accept.uses)
        got = Math.min(got, Math.floor(this.#fill(use.item, use.qty * batch, open) / use.qty))
      if (got === 0) {
        next.drop(best)
        continue
      }
      this.#take(accept, got)
      need -= got
      assigned?.push({ line: l, accept: best, qty: got })
    }
    return need
  }

  /** Takes what so many pieces of an option use out of the pool, at its penalty. */
  #take(accept: NetAccept, pieces: number): void {
    const pool = this.#pool
    for (const use of accept.uses) pool[use.item] = (pool[use.item] ?? 0) - pieces * use.qty
    this.#cost += pieces * accept.penalty
  }

  /** What is left in the pool earns. */
  #credit(): number {
    const { items } = this.net
    let credit = 0
    for (let i = 0; i < items.length; i++) {
      const item = items[i]
      if (!item || item.credit === 0) continue
      const left = (this.#pool[i] ?? 0) - item.free
      if (left > 0) credit += item.credit * Math.min(left, item.creditMax)
    }
    return credit
  }

  /** What one more required piece costs by an option, at the moment; infinite when it is not to be had. */
  #unitOf(accept: NetAccept, open: Uint8Array): number {
    let unit = accept.penalty
    for (const use of accept.uses) unit += use.qty * this.#unitPrice(use.item, open)
    return unit
  }

  /** The cheapest option of a line, found by looking at all of them; −1 when none is left. */
  #byScan({ accepts }: NetLine, open: Uint8Array): OptionQueue {
    const dead = new Set<number>()
    return {
      cheapest: () => {
        let best = -1
        let bestUnit = Infinity
        for (const [a, accept] of accepts.entries()) {
          if (dead.has(a)) continue
          const unit = this.#unitOf(accept, open)
          if (unit < bestUnit) [best, bestUnit] = [a, unit]
        }
        return best
      },
      drop: (option) => dead.add(option),
    }
  }

  /**
   * The same for very many options: they lie in a heap by the price they had when last looked at. Prices rise as stock
   * is used up, so only the first has to be looked at again.
   */
  #fromHeap({ accepts }: NetLine, open: Uint8Array): OptionQueue {
    const price = Float64Array.from(accepts, (accept) => this.#unitOf(accept, open))
    const heap = Int32Array.from(accepts.keys()).sort((p, q) => (price[p] ?? 0) - (price[q] ?? 0) || p - q)
    let size = heap.length
    const before = (p: number, q: number) => (price[p] ?? 0) - (price[q] ?? 0) || p - q
    const sink = () => {
      for (let at = 0; ;) {
        let child = 2 * at + 1
        if (child >= size) return
        if (child + 1 < size && before(heap[child + 1] ?? 0, heap[child] ?? 0) < 0) child++
        const [own, less] = [heap[at] ?? 0, heap[child] ?? 0]
        if (before(own, less) <= 0) return
        heap[at] = less
        heap[child] = own
        at = child
      }
    }
    const removeFirst = () => {
      heap[0] = heap[--size] ?? 0
      sink()
    }
    return {
      cheapest: () => {
        while (size > 0) {
          const first = heap[0] ?? 0
          const now = this.#unitOf(accepts[first] as NetAccept, open)
          if (!Number.isFinite(now)) removeFirst()
          else if (now > (price[first] ?? 0)) {
            price[first] = now
            sink()
          } else return first
        }
        return -1
      },
      drop: removeFirst,
    }
  }

  /** Moves the item's pointer to its cheapest open offer with stock; −1 when there is none. */
  #current(item: number, open: Uint8Array): number {
    const end = this.#first[item + 1] ?? 0
    let p = this.#pointer[item] ?? 0
    for (; p < end; p++) {
      const o = this.#list[p] ?? 0
      if (open[this.#shop[o] ?? 0] === 1 && (this.#packs[o] ?? 0) < (this.#stock[o] ?? 0)) break
    }
    this.#pointer[item] = p
    return p < end ? (this.#list[p] ?? -1) : -1
  }

  #unitPrice(item: number, open: Uint8Array): number {
    if ((this.#pool[item] ?? 0) > 0) return 0
    const o = this.#current(item, open)
    return o < 0 ? Infinity : (this.#price[o] ?? Infinity)
  }

  #atThisPrice(item: number, open: Uint8Array, qty: number): number {
    const pool = this.#pool[item] ?? 0
    if (pool > 0) return Math.max(1, Math.floor(pool / qty))
    const o = this.#current(item, open)
    if (o < 0) return 0
    return Math.max(1, Math.floor((((this.#stock[o] ?? 0) - (this.#packs[o] ?? 0)) * (this.#pack[o] ?? 1)) / qty))
  }

  /** Buys until the pool holds `wanted` pieces or nothing is left; returns what the pool holds. */
  #fill(item: number, wanted: number, open: Uint8Array): number {
    let pool = this.#pool[item] ?? 0
    while (pool < wanted) {
      const o = this.#current(item, open)
      if (o < 0) break
      const had = this.#packs[o] ?? 0
      const pack = this.#pack[o] ?? 1
      const packs = Math.min((this.#stock[o] ?? 0) - had, Math.ceil((wanted - pool) / pack))
      if (had === 0) this.#touched.push(o)
      this.#packs[o] = had + packs
      pool += packs * pack
    }
    this.#pool[item] = pool
    return pool
  }

  #shopCosts(open: Uint8Array): number {
    const { net } = this
    this.#value.fill(0)
    this.#mass.fill(0)
    this.#count.fill(0)
    for (const o of this.#touched) {
      const pieces = (this.#packs[o] ?? 0) * (this.#pack[o] ?? 1)
      const s = this.#shop[o] ?? 0
      this.#value[s] = (this.#value[s] ?? 0) + pieces * (this.#billed[o] ?? 0)
      this.#mass[s] = (this.#mass[s] ?? 0) + pieces * (net.items[net.offers[o]?.item ?? 0]?.mass ?? 0)
      this.#count[s] = (this.#count[s] ?? 0) + 1
    }
    let cost = 0
    for (let s = 0; s < net.shops.length; s++) {
      const shop = net.shops[s]
      if (!shop || open[s] !== 1 || ((this.#count[s] ?? 0) === 0 && shop.status !== 'pinned')) continue
      const basket = Math.max(this.#value[s] ?? 0, shop.minOrder)
      const service = serviceFee(shop.service, basket)
      // Filling the basket up may be cheaper than the fee.
      const filled = Math.min(service, Math.max(0, (shop.service?.threshold ?? 0) - basket))
      const shipping = shippingFee(shop.bands, this.#mass[s] ?? 0)
      const fees = shop.handling + shop.lineFee * (this.#count[s] ?? 0) + filled + (shipping ?? 0)
      const asked = atRate(basket + fees, shop.ratio) + (shipping === undefined ? this.miss : 0)
      cost += asked
      if (shop.levies.length > 0) cost += leviesOn(shop.levies, atRate(basket, shop.ratio), asked)
    }
    return cost
  }
}

/** An amount in the problem's money, whole as a bill is. */
const atRate = (amount: number, ratio: number): number => (ratio === 1 ? amount : Math.floor(amount * ratio + 0.5))

/**
 * Turns a cover into decisions that keep every rule it can: trims packs nothing uses, then pads baskets below a minimum
 * order (or just below a service threshold) with whole pieces. `undefined` when pieces are uncovered.
 */
export function roundToPlan(net: PresolvedProblem, cover: Cover, copies: Int32Array): Decisions | undefined {
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

/** What a pack is worth to its shop, in the shop's money. */
const packPrice = (net: PresolvedProblem, o: number) => (net.offers[o]?.billed ?? 0) * (net.offers[o]?.pack ?? 1)

/** Adds packs worth at least `missing`: the dearest that fit, then the cheapest that closes the rest. */
function pad(net: PresolvedProblem, offers: readonly number[], packs: Int32Array, missing: number): void {
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

function mergeAssignments(net: PresolvedProblem, cover: Cover): Decisions['assignments'] {
  const merged = new Map<string, { line: string; accept: string; qty: number }>()
  for (const { line, accept, qty } of cover.assigned) {
    const lineId = net.lines[line]?.id ?? ''
    const acceptId = net.lines[line]?.accepts[accept]?.id ?? ''
    const key = JSON.stringify([lineId, acceptId])
    merged.set(key, { line: lineId, accept: acceptId, qty: (merged.get(key)?.qty ?? 0) + qty })
  }
  return [...merged.values()]
}
