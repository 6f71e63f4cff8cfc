import type { NetShop, PresolvedProblem } from './presolve.ts'
import { WHOLE_RATE } from '../costs/levy.ts'
import { WHOLE_EXCHANGE } from '../units/exchange.ts'
import { MilpBuilder, type Milp } from '../solver/milp.ts'
import type { Decisions } from './plan.ts'
import { figuresOf } from './problem.ts'

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
  /** Columns that are 1 where an offer is bought from: of its line fee, else of its shop's use; −1 when it is left out. */
  readonly bought: Int32Array
  readonly used: Int32Array
  readonly copies: Int32Array
  /** Columns of the figures sold whole, by set. */
  readonly figures: readonly (readonly number[])[]
  readonly pads: ReadonlyMap<number, number>
  /** Columns of bands by shop, the lightest first, where there are several; and of the fee below a threshold. */
  readonly bands: ReadonlyMap<number, readonly number[]>
  readonly services: ReadonlyMap<number, number>
  /** Columns of rounded sums, of levies and of other money, that are not whole, by shop. */
  readonly rounded: ReadonlyMap<number, readonly number[]>
  /** Columns of pieces per line and option; empty for lines with a single option. */
  readonly pieces: readonly (readonly number[])[]
  readonly slacks: readonly number[]
}

type Terms = [number, number][]

/** A model while it is written, phase by phase. */
type Draft = {
  readonly net: PresolvedProblem
  readonly b: MilpBuilder
  readonly options: ModelOptions
  /** Of each item what lines draw, and what is procured, as terms of its balance. */
  readonly drawn: readonly Terms[]
  readonly procured: readonly Terms[]
  /** Of each item what figures that are sold whole take of its surplus. */
  readonly sold: readonly Terms[]
  /** Of each item what lines without a choice draw; whether pieces of it count only several at a time. */
  readonly fixedUse: number[]
  readonly lumpy: boolean[]
  /** Columns of padding and of rounded sums by shop, as far as they are not whole. */
  readonly pads: Map<number, number>
  readonly rounded: Map<number, number[]>
  readonly bands: Map<number, number[]>
  readonly services: Map<number, number>
}

type OfferColumn = {
  readonly column: number
  /** Per pack, in the shop's money. */
  readonly price: number
  /** Per piece. */
  readonly penalty: number
  readonly mass: number
  readonly most: number
  /** The column of its line fee; that of its packs, at no fee, where its shop has none. */
  readonly line: number
  /** The column that is 1 where any is bought. */
  readonly bought: number
}

const isWhole = ({ whole }: ModelOptions, shop: number) => whole === 'all' || whole.has(shop)

/** The model of a problem, as far as `options` make it exact. */
export function buildModel(net: PresolvedProblem, options: ModelOptions): SourcingModel {
  const draft: Draft = {
    net,
    b: new MilpBuilder(),
    options,
    drawn: net.items.map(() => []),
    procured: net.items.map(() => []),
    sold: net.items.map(() => []),
    fixedUse: net.items.map(() => 0),
    lumpy: net.items.map(() => false),
    pads: new Map(),
    rounded: new Map(),
    bands: new Map(),
    services: new Map(),
  }
  const { pieces, slacks } = addLines(draft)
  const copies = addDonorSets(draft)
  const figures = addFigures(draft, copies)
  const packs = new Int32Array(net.offers.length).fill(-1)
  const bought = new Int32Array(net.offers.length).fill(-1)
  const used = new Int32Array(net.shops.length).fill(-1)
  for (const [s, shop] of net.shops.entries()) {
    if (options.only && !options.only.has(s) && shop.status !== 'pinned') continue
    used[s] = addShop(draft, s, packs, bought)
  }
  if (net.problem.maxShops !== null)
    draft.b.row(
      -Infinity,
      net.problem.maxShops,
      [...used].filter((z) => z >= 0).map((z) => [z, 1] as const),
    )
  if (typeof net.problem.maxPieces === 'number')
    draft.b.row(
      -Infinity,
      net.problem.maxPieces,
      net.offers.flatMap(({ pack }, o) => ((packs[o] ?? -1) >= 0 ? [[packs[o] ?? 0, pack] as const] : [])),
    )
  addBalances(draft)
  const { pads, rounded, bands, services } = draft
  return { milp: draft.b.build(), packs, bought, used, copies, figures, pads, rounded, bands, services, pieces, slacks }
}

/** Lines: how many pieces each option covers. */
function addLines({ net, b, options, drawn, fixedUse, lumpy }: Draft) {
  const exact = options.whole === 'all'
  const slacks: number[] = []
  /** What lines without a choice pay in penalties, whatever is bought. */
  let fixed = 0
  const pieces = net.lines.map((line) => {
    const only = line.accepts[0]
    const slack = options.elasticCost === undefined ? undefined : b.column(options.elasticCost, 0, line.qty, exact)
    if (slack !== undefined) slacks.push(slack)
    if (line.accepts.length === 1 && only && slack === undefined) {
      fixed += only.penalty * line.qty
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
        drawn[use.item]?.push([columns[a] ?? 0, -use.qty])
        if (use.qty > 1) lumpy[use.item] = true
      }
    return columns
  })
  if (fixed > 0) b.column(fixed, 1, 1, false)
  return { pieces, slacks }
}

/** Donor sets: columns of the copies bought of each. */
const addDonorSets = ({ net, b, procured }: Draft): Int32Array =>
  Int32Array.from(
    net.sets.map((set) => {
      const column = b.column(set.price, set.minCopies, set.maxCopies, true)
      for (const { item, qty } of set.contents) procured[item]?.push([column, qty])
      return column
    }),
  )

/** Figures sold whole, at most one for every copy of their set; gives their columns by set. */
function addFigures({ net, b, sold }: Draft, copies: Int32Array): number[][] {
  const sameId = new Map<string, { columns: number[]; max: number }>()
  const columns = net.sets.map(({ figures }, k) =>
    figures.map(({ id, credit, max, pieces }) => {
      const column = b.column(-credit, 0, credit > 0 ? max : 0, true)
      b.row(-Infinity, 0, [
        [column, 1],
        [copies[k] ?? 0, -1],
      ])
      for (const { item, qty } of pieces) sold[item]?.push([column, -qty])
      const all = sameId.get(id) ?? { columns: [], max: Infinity }
      sameId.set(id, { columns: [...all.columns, column], max: mostOf(net, id) ?? Infinity })
      return column
    }),
  )
  for (const { columns: all, max } of sameId.values())
    if (all.length > 1 && Number.isFinite(max))
      b.row(
        -Infinity,
        max,
        all.map((column) => [column, 1] as const),
      )
  return columns
}

/** The most figures of an id that may be sold, of whichever sets. */
const mostOf = ({ problem }: PresolvedProblem, id: string): number | undefined => {
  const limits = figuresOf(problem).flatMap(({ figure }) => (figure.id === id ? (figure.max ?? []) : []))
  return limits.length > 0 ? Math.min(...limits) : undefined
}

/** A shop with its offers, bands and fees; gives the column that says whether it is used. */
function addShop(draft: Draft, s: number, packs: Int32Array, bought: Int32Array): number {
  const { net, b } = draft
  const shop = net.shops[s]
  if (!shop) throw new Error(`there is no shop ${s}`)
  const pinned = shop.status === 'pinned'
  // What is due whatever is bought: handling, the only band, collecting what has no threshold.
  const always = shop.levies.reduce((sum, levy) => sum + (levy.threshold === 0 ? levy.fee : 0), 0)
  const only = shop.bands.length === 1 ? (shop.bands[0]?.fee ?? 0) : 0
  const z = b.column(always + inMoneyOf(shop, shop.handling + only), pinned ? 1 : 0, 1, true)
  const columns: OfferColumn[] = []
  for (const o of net.offersOfShop[s] ?? []) {
    const made = addOffer(draft, s, o, z)
    if (!made) continue
    packs[o] = made.column
    bought[o] = made.bought
    columns.push(made)
  }
  if (pinned)
    b.row(
      1,
      Infinity,
      columns.map((c) => [c.column, 1] as const),
    )
  const shipping = addBands(draft, s, columns, z)
  const service = shop.minOrder > 0 || shop.service ? addBasketRules(draft, s, columns, z) : []
  if (shop.levies.length > 0 || shop.rate !== undefined) {
    const lines: Terms = columns.map(({ line }) => [line, shop.lineFee])
    addCharges(draft, s, columns, z, [[z, shop.handling], ...shipping, ...lines, ...service])
  }
  return z
}

/** What an amount of a shop's adds to the total by itself: nothing where its whole bill is changed into other money at once. */
const inMoneyOf = ({ rate }: NetShop, amount: number): number => (rate === undefined ? amount : 0)

/** Packs of an offer, bought only where its shop is used; undefined where none can be of use. */
function addOffer({ net, b, options, lumpy, procured }: Draft, s: number, o: number, z: number) {
  const offer = net.offers[o]
  const item = offer && net.items[offer.item]
  const shop = net.shops[s]
  if (!offer || !item || !shop) return undefined
  const pinned = shop.status === 'pinned'
  const padded = shop.minOrder > 0 || shop.service !== null || pinned
  const earns = item.creditMax > 0 && item.credit > 0
  const worthSurplus =
    item.inFigures + (earns && (padded || offer.price < item.credit || offer.pack > 1) ? item.creditMax : 0)
  const needed = Math.max(0, item.demand - item.free) + worthSurplus
  const most =
    padded && isWhole(options, s)
      ? offer.packs
      : Math.min(offer.packs, Math.max(pinned ? 1 : 0, Math.ceil(needed / offer.pack)))
  if (most === 0) return undefined
  const price = offer.billed * offer.pack
  const column = b.column(
    inMoneyOf(shop, price) + offer.penalty * offer.pack,
    0,
    most,
    isWhole(options, s) || offer.pack > 1 || lumpy[offer.item] === true,
  )
  procured[offer.item]?.push([column, offer.pack])
  let [line, bought] = [column, z]
  if (shop.lineFee > 0) {
    const l = b.column(inMoneyOf(shop, shop.lineFee), 0, 1, true)
    b.row(-Infinity, 0, [
      [column, 1],
      [l, -most],
    ])
    b.row(-Infinity, 0, [
      [l, 1],
      [z, -1],
    ])
    line = l
    bought = l
  } else
    b.row(-Infinity, 0, [
      [column, 1],
      [z, -most],
    ])
  return { column, price, penalty: offer.penalty, mass: item.mass * offer.pack, most, line, bought }
}

/** Shipping bands by the mass of the parcel; gives what sending costs, as terms. */
function addBands({ net, b, bands: kept }: Draft, s: number, columns: readonly OfferColumn[], z: number): Terms {
  const shop = net.shops[s]
  const { bands = [] } = shop ?? {}
  const mostMass = columns.reduce((sum, c) => sum + c.mass * c.most, 0)
  const heaviest = bands.at(-1)
  if (!shop || !heaviest) return []
  // The fee of a single band is in the cost of using the shop.
  const single: Terms = [[z, heaviest.fee]]
  if (bands.length === 1 && mostMass <= heaviest.maxMass) return single
  const weights: Terms = columns.map((c) => [c.column, c.mass])
  if (bands.length === 1) {
    b.row(-Infinity, 0, [...weights, [z, -heaviest.maxMass]])
    return single
  }
  // Bands above what the shop can ever be asked to send are left out, the last is cut to that mass.
  const reachable = bands.filter((_, k) => k === 0 || (bands[k - 1]?.maxMass ?? 0) < mostMass)
  const taken = reachable.map(({ fee, maxMass }) => ({
    column: b.column(inMoneyOf(shop, fee), 0, 1, true),
    fee,
    mass: Math.min(maxMass, mostMass),
  }))
  kept.set(
    s,
    taken.map(({ column }) => column),
  )
  b.row(0, 0, [...taken.map(({ column }) => [column, 1] as const), [z, -1]])
  b.row(-Infinity, 0, [...weights, ...taken.map(({ column, mass }) => [column, -mass] as const)])
  return taken.map(({ column, fee }) => [column, fee])
}

/** Minimum order and service fee, with padding where the shop's packs are not whole; gives the fee, as terms. */
function addBasketRules(draft: Draft, s: number, columns: readonly OfferColumn[], z: number): Terms {
  const { net, b, options, pads, services } = draft
  const shop = net.shops[s]
  if (!shop) return []
  const { minOrder, service } = shop
  const basket: Terms = columns.map((c) => [c.column, c.price])
  if (!isWhole(options, s)) {
    const most = Math.max(minOrder, service?.threshold ?? 0)
    const pad = b.column(inMoneyOf(shop, 1), 0, most, false)
    pads.set(s, pad)
    basket.push([pad, 1])
    weighFiller(draft, s, columns, pad, most)
  }
  if (minOrder > 0) b.row(0, Infinity, [...basket, [z, -minOrder]])
  if (service && service.fee > 0 && service.threshold > 0) {
    const f = b.column(inMoneyOf(shop, service.fee), 0, 1, true)
    b.row(0, Infinity, [...basket, [z, -service.threshold], [f, service.threshold]])
    services.set(s, f)
    return [[f, service.fee]]
  }
  return []
}

/**
 * Goods of which nothing is known but their worth weigh no less than such offers of the shop do: those without a penalty as
 * far as there are more of them, and then the least penalty by worth that it has.
 */
function weighFiller({ net, b }: Draft, s: number, columns: readonly OfferColumn[], pad: number, most: number): void {
  const offers = (net.offersOfShop[s] ?? []).flatMap((o) => net.offers[o] ?? [])
  const weighed = offers.filter((o) => o.penalty > 0)
  if (weighed.length === 0) return
  const least = weighed.reduce((min, o) => (o.billed > 0 ? Math.min(min, o.penalty / o.billed) : min), Infinity)
  const others = offers.reduce((sum, o) => sum + (o.penalty === 0 ? o.billed * o.pack * o.packs : 0), 0)
  b.row(-Infinity, others, [
    [pad, 1],
    // Where only what costs nothing has a penalty, there is no further filler.
    ...(Number.isFinite(least) ? [[b.column(least, 0, most, false), -1] as const] : []),
    ...columns.flatMap(({ column, price, penalty }) => (penalty === 0 ? [[column, price] as const] : [])),
  ])
}

/** What rounding half up takes off a ten-thousandth of a minor unit at most, and not quite: the next whole number is the rounded one. */
const ROUNDING = 0.4999

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b))

/**
 * What a shop's order adds in the problem's money, where its bill is in another or bears levies. `fees` are what the shop
 * asks beside the goods, as terms in its money.
 */
function addCharges(draft: Draft, s: number, columns: readonly OfferColumn[], z: number, fees: Terms): void {
  const { net, pads } = draft
  const shop = net.shops[s]
  if (!shop) return
  const { minOrder, service, bands, handling, lineFee } = shop
  const pad = pads.get(s)
  const goods: Terms = columns.map((c) => [c.column, c.price])
  if (pad !== undefined) goods.push([pad, 1])
  const most = {
    goods:
      columns.reduce((sum, c) => sum + c.price * c.most, 0) +
      (pad === undefined ? 0 : Math.max(minOrder, service?.threshold ?? 0)),
    fees: handling + (bands.at(-1)?.fee ?? 0) + lineFee * columns.length + (service?.fee ?? 0),
  }
  if (shop.rate === undefined) {
    addLevies(draft, s, z, { goods, asked: [...goods, ...fees] }, most)
    return
  }
  const bill: Terms = [...goods, ...fees]
  const asked = addExchange(draft, s, z, bill, most.goods + most.fees, 1)
  if (shop.levies.length === 0) return
  const worth = addExchange(draft, s, z, goods, most.goods, 0)
  const mostAtHome = { goods: most.goods * shop.ratio + 1, fees: most.fees * shop.ratio + 1 }
  addLevies(draft, s, z, { goods: [[worth, 1]], asked: [[asked, 1]] }, mostAtHome)
}

/**
 * A sum of a shop's in the problem's money: a column at least its rate of it, which costs `cost` each. Where the shop is
 * whole the column is whole, and so just the rounded amount (half up: amounts are whole, so at a rate they differ by no
 * less than the rate's own step); elsewhere it is what rounding takes off below that, which keeps a lower bound.
 */
function addExchange(
  { net, b, options, rounded }: Draft,
  s: number,
  z: number,
  base: Terms,
  most: number,
  cost: number,
): number {
  const { rate = WHOLE_EXCHANGE, ratio } = net.shops[s] ?? { ratio: 1 }
  const exact = isWhole(options, s)
  const column = b.column(cost, 0, Math.ceil(most * ratio) + 1, exact)
  if (!exact) rounded.set(s, [...(rounded.get(s) ?? []), column])
  const step = gcd(WHOLE_EXCHANGE, rate) / WHOLE_EXCHANGE
  const terms = new Map<number, number>([[column, -1]])
  for (const [of, value] of base) terms.set(of, (terms.get(of) ?? 0) + ratio * value)
  terms.set(z, (terms.get(z) ?? 0) - 0.5 + Math.min(0.25, step / 2))
  b.row(-Infinity, 0, terms)
  return column
}

/** Sums in the problem's money that levies are reckoned on, as terms. */
type LevyBases = { readonly goods: Terms; readonly asked: Terms }

/**
 * Duty and tax: a levy's column is at least its rate of the base where it is due (`w`), which it is unless the goods stay
 * below its threshold. Where the shop is whole the column is whole, and so just the rounded amount; elsewhere it is what
 * rounding takes off below that, which keeps a lower bound.
 */
function addLevies(
  { net, b, options, rounded }: Draft,
  s: number,
  z: number,
  { goods, asked }: LevyBases,
  most: { readonly goods: number; readonly fees: number },
): void {
  const exact = isWhole(options, s)
  for (const { rate, on, threshold, fee } of net.shops[s]?.levies ?? []) {
    // Goods that cannot reach the threshold are never levied, those that cannot stay below it always.
    if (threshold > most.goods || (rate === 0 && fee === 0)) continue
    const w = threshold === 0 ? z : b.column(fee, 0, 1, true)
    if (w !== z) {
      b.row(-Infinity, 0, [...goods, [z, -(threshold - 1)], [w, -(most.goods - threshold + 1)]])
      b.row(-Infinity, 0, [
        [w, 1],
        [z, -1],
      ])
    }
    if (rate === 0) continue
    const part = rate / WHOLE_RATE
    const base = on === 'goods' ? goods : asked
    const unlevied = part * (threshold - 1 + (on === 'goods' ? 0 : most.fees))
    const t = b.column(1, 0, Math.ceil(part * (most.goods + most.fees)) + 1, exact)
    if (!exact) rounded.set(s, [...(rounded.get(s) ?? []), t])
    const terms = new Map<number, number>([[t, -1]])
    const add = (column: number, value: number) => terms.set(column, (terms.get(column) ?? 0) + value)
    for (const [column, value] of base) add(column, part * value)
    if (w === z) add(z, -ROUNDING)
    else add(z, -unlevied).set(w, unlevied - ROUNDING)
    b.row(-Infinity, 0, terms)
  }
}

/** Supply covers use; surplus may earn credit. */
function addBalances({ net, b, drawn, procured, sold, fixedUse }: Draft): void {
  for (const [i, item] of net.items.entries()) {
    const own = procured[i] ?? []
    const flow = [...own, ...(drawn[i] ?? [])]
    const need = (fixedUse[i] ?? 0) - item.free
    if ((drawn[i]?.length ?? 0) > 0 || need > 0) b.row(need, Infinity, flow)
    const whole = sold[i] ?? []
    const single: Terms =
      item.credit > 0 && item.creditMax > 0 && own.length > 0
        ? [[b.column(-item.credit, 0, item.creditMax, false), -1]]
        : []
    if (whole.length + single.length === 0) continue
    b.row(need, Infinity, [...flow, ...whole, ...single])
    if (item.free > 0) b.row(0, Infinity, [...own, ...whole, ...single])
  }
}

/** Shops with a fractional pack, with padding or with a rounded sum that is not whole in a solution of a relaxed model: those to make whole next. */
export function roughShops(net: PresolvedProblem, model: SourcingModel, x: Float64Array): Set<number> {
  const shops = new Set<number>()
  for (const [o, offer] of net.offers.entries()) {
    const value = x[model.packs[o] ?? -1] ?? 0
    if (Math.abs(value - Math.round(value)) > 1e-6) shops.add(offer.shop)
  }
  for (const [shop, pad] of model.pads) if ((x[pad] ?? 0) > 1e-6) shops.add(shop)
  for (const [shop, sums] of model.rounded)
    for (const sum of sums) if (Math.abs((x[sum] ?? 0) - Math.round(x[sum] ?? 0)) > 1e-6) shops.add(shop)
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
    figures: net.sets.flatMap((set, k) =>
      set.figures.flatMap((figure, f) => {
        const qty = at(model.figures[k]?.[f])
        return qty > 0 ? [{ set: set.id, figure: figure.id, qty }] : []
      }),
    ),
    assignments: net.lines.flatMap((line, l) =>
      line.accepts.flatMap((accept, a) => {
        const qty = line.accepts.length === 1 ? line.qty : at(model.pieces[l]?.[a])
        return qty > 0 ? [{ line: line.id, accept: accept.id, qty }] : []
      }),
    ),
  }
}
