import type { PresolvedProblem } from './presolve.ts'
import { MilpBuilder, type Milp } from '../solver/milp.ts'
import type { Decisions } from './plan.ts'

/**
 * The sourcing problem as a mixed-integer program. It generalises the Internet shopping optimisation problem
 * (Błażewicz et al., 2010). Packs are continuous unless a pack holds several pieces, an option uses several pieces, or
 * the shop is listed in `whole`; padding to a minimum order or a service threshold is money at face value unless the
 * shop is in `whole`, where it becomes whole surplus pieces. With nothing in `whole` the optimum is a lower bound on
 * every plan; with every shop in it the model is exact.
 */
export type ModelOptions = {
  /** Only these shops may be used; all when left out. */
  readonly only?: ReadonlySet<number>
  readonly whole: 'all' | ReadonlySet<number>
  /** Adds a slack per line, charged at `elasticCost` per piece, to find what cannot be had together. */
  readonly elasticCost?: number
}

export type SourcingModel = {
  readonly milp: Milp
  /** Columns of packs per offer; −1 when the offer is left out. */
  readonly packs: Int32Array
  readonly used: Int32Array
  readonly copies: Int32Array
  readonly pads: ReadonlyMap<number, number>
  /** Columns of pieces per line and option; empty for lines with a single option. */
  readonly pieces: readonly (readonly number[])[]
  readonly slacks: readonly number[]
}

type Terms = [number, number][]

export function buildModel(net: PresolvedProblem, options: ModelOptions): SourcingModel {
  const b = new MilpBuilder()
  const inWhole = (shop: number) => options.whole === 'all' || options.whole.has(shop)
  const exact = options.whole === 'all'

  // Lines: how many pieces each option covers.
  const supplyRow: Terms[] = net.items.map(() => [])
  const fixedUse = net.items.map(() => 0)
  const lumpy = net.items.map(() => false)
  const slacks: number[] = []
  /** What lines without a choice pay in penalties, whatever is bought. */
  let settled = 0
  const pieces = net.lines.map((line) => {
    const only = line.accepts[0]
    const slack = options.elasticCost === undefined ? undefined : b.column(options.elasticCost, 0, line.qty, exact)
    if (slack !== undefined) slacks.push(slack)
    if (line.accepts.length === 1 && only && slack === undefined) {
      settled += only.penalty * line.qty
      for (const use of only.uses) fixedUse[use.item] = (fixedUse[use.item] ?? 0) + use.qty * line.qty
      for (const use of only.uses) if (only.uses.length > 1 || use.qty > 1) lumpy[use.item] = true
      return []
    }
    const several = line.accepts.some((a) => a.uses.length > 1 || a.uses.some((u) => u.qty > 1))
    const columns = line.accepts.map((accept) => b.column(accept.penalty, 0, line.qty, exact || several))
    b.row(line.qty, line.qty, [
      ...columns.map((c) => [c, 1] as const),
      ...(slack === undefined ? [] : [[slack, 1] as const]),
    ])
    for (const [a, accept] of line.accepts.entries())
      for (const use of accept.uses) {
        supplyRow[use.item]?.push([columns[a] ?? 0, -use.qty])
        if (use.qty > 1) lumpy[use.item] = true
      }
    return columns
  })

  if (settled > 0) b.column(settled, 1, 1, false)

  // Donor copies.
  const inSets = net.items.map(() => 0)
  const procuredRow: Terms[] = net.items.map(() => [])
  const copies = Int32Array.from(
    net.sets.map((set) => {
      const column = b.column(set.price, 0, set.maxCopies, true)
      for (const { item, qty } of set.contents) {
        procuredRow[item]?.push([column, qty])
        inSets[item] = (inSets[item] ?? 0) + qty * set.maxCopies
      }
      return column
    }),
  )

  // Shops, their bands, fees and offers.
  const packs = new Int32Array(net.offers.length).fill(-1)
  const pads = new Map<number, number>()
  const used = new Int32Array(net.shops.length).fill(-1)
  for (const [s, shop] of net.shops.entries()) {
    if (options.only && !options.only.has(s) && shop.status !== 'pinned') continue
    const pinned = shop.status === 'pinned'
    const padded = shop.minOrder > 0 || shop.service !== null || pinned
    const columns: { column: number; price: number; mass: number; most: number }[] = []
    let mostMass = 0
    const zCost = shop.handling + (shop.bands.length === 1 ? (shop.bands[0]?.fee ?? 0) : 0)
    const z = b.column(zCost, pinned ? 1 : 0, 1, true)
    used[s] = z
    for (const o of net.offersOfShop[s] ?? []) {
      const offer = net.offers[o]
      const item = offer && net.items[offer.item]
      if (!offer || !item) continue
      const worthSurplus =
        item.creditMax > 0 && item.credit > 0 && (padded || offer.price < item.credit || offer.pack > 1)
          ? item.creditMax
          : 0
      const needed = Math.max(0, item.demand - item.free) + worthSurplus
      const most =
        padded && inWhole(s)
          ? offer.packs
          : Math.min(offer.packs, Math.max(pinned ? 1 : 0, Math.ceil(needed / offer.pack)))
      if (most === 0) continue
      const money = offer.price * offer.pack
      const column = b.column(money, 0, most, inWhole(s) || offer.pack > 1 || lumpy[offer.item] === true)
      packs[o] = column
      columns.push({ column, price: money, mass: item.mass * offer.pack, most })
      mostMass += item.mass * offer.pack * most
      procuredRow[offer.item]?.push([column, offer.pack])
      if (shop.lineFee > 0) {
        const l = b.column(shop.lineFee, 0, 1, true)
        b.row(-Infinity, 0, [
          [column, 1],
          [l, -most],
        ])
        b.row(-Infinity, 0, [
          [l, 1],
          [z, -1],
        ])
      } else
        b.row(-Infinity, 0, [
          [column, 1],
          [z, -most],
        ])
    }
    if (pinned)
      b.row(
        1,
        Infinity,
        columns.map((c) => [c.column, 1] as const),
      )
    const heaviest = shop.bands.at(-1)
    if (heaviest && (shop.bands.length > 1 || mostMass > heaviest.maxMass)) {
      const weights: Terms = columns.map((c) => [c.column, c.mass])
      if (shop.bands.length === 1) b.row(-Infinity, 0, [...weights, [z, -heaviest.maxMass]])
      else {
        // Bands above what the shop can ever be asked to send are left out, the last is cut to that mass.
        const reachable = shop.bands.filter((_, k) => k === 0 || (shop.bands[k - 1]?.maxMass ?? 0) < mostMass)
        const bands = reachable.map(
          (band) => [b.column(band.fee, 0, 1, true), Math.min(band.maxMass, mostMass)] as const,
        )
        b.row(0, 0, [...bands.map(([c]) => [c, 1] as const), [z, -1]])
        b.row(-Infinity, 0, [...weights, ...bands.map(([c, w]) => [c, -w] as const)])
      }
    }
    if (shop.minOrder > 0 || shop.service) {
      const basket: Terms = columns.map((c) => [c.column, c.price])
      if (!inWhole(s)) {
        const pad = b.column(1, 0, Math.max(shop.minOrder, shop.service?.threshold ?? 0), false)
        pads.set(s, pad)
        basket.push([pad, 1])
      }
      if (shop.minOrder > 0) b.row(0, Infinity, [...basket, [z, -shop.minOrder]])
      if (shop.service && shop.service.fee > 0 && shop.service.threshold > 0) {
        const f = b.column(shop.service.fee, 0, 1, true)
        b.row(0, Infinity, [...basket, [z, -shop.service.threshold], [f, shop.service.threshold]])
      }
    }
  }
  if (net.problem.maxShops !== null)
    b.row(
      -Infinity,
      net.problem.maxShops,
      [...used].filter((z) => z >= 0).map((z) => [z, 1] as const),
    )

  // Supply covers use; surplus may earn credit.
  for (const [i, item] of net.items.entries()) {
    const procured = procuredRow[i] ?? []
    const flow = [...procured, ...(supplyRow[i] ?? [])]
    const need = (fixedUse[i] ?? 0) - item.free
    if ((supplyRow[i]?.length ?? 0) > 0 || need > 0) b.row(need, Infinity, flow)
    if (item.credit > 0 && item.creditMax > 0 && procured.length > 0) {
      const c = b.column(-item.credit, 0, item.creditMax, false)
      b.row(need, Infinity, [...flow, [c, -1]])
      if (item.free > 0) b.row(0, Infinity, [...procured, [c, -1]])
    }
  }
  return { milp: b.build(), packs, used, copies, pads, pieces, slacks }
}

/** Shops with a fractional pack or with padding in a solution of a relaxed model: those to make whole next. */
export function roughShops(net: PresolvedProblem, model: SourcingModel, x: Float64Array): Set<number> {
  const shops = new Set<number>()
  for (const [o, offer] of net.offers.entries()) {
    const value = x[model.packs[o] ?? -1] ?? 0
    if (Math.abs(value - Math.round(value)) > 1e-6) shops.add(offer.shop)
  }
  for (const [shop, pad] of model.pads) if ((x[pad] ?? 0) > 1e-6) shops.add(shop)
  return shops
}

/** Shops in use in a solution. */
export function usedShops(model: SourcingModel, x: Float64Array): Set<number> {
  const shops = new Set<number>()
  for (const [s, z] of model.used.entries()) if (z >= 0 && (x[z] ?? 0) > 0.5) shops.add(s)
  return shops
}

/** Reads a solution as decisions, rounding to whole numbers; the verifier decides whether they hold. */
export function readDecisions(net: PresolvedProblem, model: SourcingModel, x: Float64Array): Decisions {
  const at = (column: number | undefined) => (column === undefined || column < 0 ? 0 : Math.round(x[column] ?? 0))
  return {
    purchases: net.offers.flatMap((offer, o) => {
      const packs = at(model.packs[o])
      return packs > 0 ? [{ offer: offer.id, packs }] : []
    }),
    sets: net.sets.flatMap((set, k) => {
      const copies = at(model.copies[k])
      return copies > 0 ? [{ set: set.id, copies }] : []
    }),
    assignments: net.lines.flatMap((line, l) =>
      line.accepts.flatMap((accept, a) => {
        const qty = line.accepts.length === 1 ? line.qty : at(model.pieces[l]?.[a])
        return qty > 0 ? [{ line: line.id, accept: accept.id, qty }] : []
      }),
    ),
  }
}
