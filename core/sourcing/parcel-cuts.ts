import { MilpBuilder, type Row, type SolveMilp } from '../solver/milp.ts'
import type { ModelOptions, SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'

/*
 * Cuts that say what sending a parcel costs. A shop's order is in one of few states: each band of its parcel, below or above
 * the threshold of its service fee. The relaxed model mixes them as suits it best; the hull of the states (disjunctive
 * programming: Balas, 1979) does so only as far as each state could hold its share of the order. What bands, fee and padding
 * then cost at least is a convex function of what is bought; a cut is a plane below it (Benders, 1962), found where a
 * relaxed solution pays less.
 */

/** Of a shop: fees of bands + fee below the threshold + padding ≥ Σ offers · packs + used · use, in the shop's money. */
export type ParcelCut = {
  readonly shop: number
  readonly offers: readonly (readonly [offer: number, perPack: number])[]
  readonly used: number
}

/** A state of an order: what it costs, the most it weighs (g), and what its goods come to at least. */
type State = { readonly fee: number; readonly mass: number; readonly goods: number }

type Pack = {
  readonly offer: number
  readonly price: number
  readonly mass: number
  readonly most: number
  readonly taken: number
}

/** Minor units by which a solution must pay too little. */
const WORTH = 0.2
const NOTHING = 1e-7
const GRAM = 1000

/** Cuts that a solution of the wholly relaxed model violates, at most one for each shop. */
export function violatedParcels(
  net: PresolvedProblem,
  model: SourcingModel,
  x: Float64Array,
  milp: SolveMilp,
  over: () => boolean,
): ParcelCut[] {
  const at = (column: number | undefined) => x[column ?? -1] ?? 0
  return [...model.used.entries()].flatMap(([s, z]) => {
    if (z < 0 || at(z) < NOTHING || over()) return []
    const packs = packsOf(net, model, s, at)
    const states = statesOf(net, model, s, packs)
    if (states.length === 1 && states[0]?.goods === 0) return []
    const paid = feesOf(net, model, s).reduce((sum, [column, fee]) => sum + fee * at(column), 0)
    const cut = planeAt(states, packs, at(z), milp)
    const least = cut && cut.offers.reduce((sum, price, i) => sum + price * (packs[i]?.taken ?? 0), cut.used * at(z))
    if (!cut || least === undefined || least < paid + WORTH) return []
    const offers = packs.flatMap(({ offer }, i) => (cut.offers[i] === 0 ? [] : [[offer, cut.offers[i] ?? 0] as const]))
    return [{ shop: s, offers, used: cut.used }]
  })
}

const packsOf = (
  net: PresolvedProblem,
  { packs, milp }: SourcingModel,
  s: number,
  at: (column: number | undefined) => number,
): Pack[] =>
  (net.offersOfShop[s] ?? []).flatMap((o) => {
    const { item = -1, pack = 1, billed = 0 } = net.offers[o] ?? {}
    const column = packs[o] ?? -1
    if (column < 0) return []
    const mass = ((net.items[item]?.mass ?? 0) * pack) / GRAM
    return [{ offer: o, price: billed * pack, mass, most: milp.upper[column] ?? 0, taken: Math.max(0, at(column)) }]
  })

/** The states of a shop's order, as its model has them. */
function statesOf(net: PresolvedProblem, model: SourcingModel, s: number, packs: readonly Pack[]): State[] {
  const shop = net.shops[s]
  if (!shop) return []
  const all = packs.reduce((sum, { mass, most }) => sum + mass * most, 0)
  const bands = model.bands.get(s)
  // A single band's fee is in what using the shop costs.
  const parcels = bands
    ? shop.bands.slice(0, bands.length).map(({ fee, maxMass }) => ({ fee, mass: Math.min(maxMass / GRAM, all) }))
    : [{ fee: 0, mass: Math.min((shop.bands.at(-1)?.maxMass ?? Infinity) / GRAM, all) }]
  const baskets = model.services.has(s)
    ? [
        { fee: shop.service?.fee ?? 0, goods: shop.minOrder },
        { fee: 0, goods: Math.max(shop.minOrder, shop.service?.threshold ?? 0) },
      ]
    : [{ fee: 0, goods: shop.minOrder }]
  return parcels.flatMap(({ fee, mass }) =>
    baskets.map((basket) => ({ fee: fee + basket.fee, mass, goods: basket.goods })),
  )
}

/** Columns of what depends on the state of a shop's order, with their costs in its money. */
function feesOf(net: PresolvedProblem, model: SourcingModel, s: number): [number, number][] {
  const shop = net.shops[s]
  const fees = (model.bands.get(s) ?? []).map((column, k): [number, number] => [column, shop?.bands[k]?.fee ?? 0])
  const service = model.services.get(s)
  if (service !== undefined) fees.push([service, shop?.service?.fee ?? 0])
  const pad = model.pads.get(s)
  if (pad !== undefined) fees.push([pad, 1])
  return fees
}

/**
 * The plane that is highest at an order, by linear programming: multipliers of each state's mass (α), goods (β) and
 * packs (γ) give the most that each pack (π) and the use of the shop (ρ) can be said to cost. Both are worked out from the
 * multipliers, so that the plane is true however roughly those were found.
 */
function planeAt(
  states: readonly State[],
  packs: readonly Pack[],
  use: number,
  milp: SolveMilp,
): { readonly offers: number[]; readonly used: number } | undefined {
  const taken = packs.filter((p) => p.taken > NOTHING)
  const b = new MilpBuilder()
  const pi = taken.map((p) => b.column(-p.taken, -Infinity, Infinity, false))
  const rho = b.column(-use, -Infinity, Infinity, false)
  const columns = states.map(() => ({
    alpha: b.column(0, 0, Infinity, false),
    beta: b.column(0, 0, 1, false),
    gamma: taken.map(() => b.column(0, 0, Infinity, false)),
  }))
  for (const [i, { fee, mass, goods }] of states.entries()) {
    const { alpha = -1, beta = -1, gamma = [] } = columns[i] ?? {}
    for (const [j, p] of taken.entries())
      b.row(-Infinity, 0, [
        [pi[j] ?? -1, 1],
        [alpha, -p.mass],
        [beta, p.price],
        [gamma[j] ?? -1, -1],
      ])
    b.row(-Infinity, fee, [
      [rho, 1],
      [alpha, mass],
      [beta, -goods],
      ...gamma.map((column, j) => [column, taken[j]?.most ?? 0] as const),
    ])
  }
  const outcome = milp(b.build(), { timeLimit: 1 })
  if (outcome.status !== 'optimal') return undefined
  const value = (column: number | undefined) => Math.max(0, outcome.x[column ?? -1] ?? 0)
  const priced = states.map((state, i) => {
    const { alpha, beta, gamma = [] } = columns[i] ?? {}
    return { ...state, alpha: value(alpha), beta: Math.min(1, value(beta)), gamma: gamma.map(value) }
  })
  const place = new Map(taken.map((p, j) => [p, j]))
  const offers = packs.map((p) => {
    const j = place.get(p) ?? -1
    return Math.min(...priced.map((s) => s.alpha * p.mass - s.beta * p.price + (s.gamma[j] ?? 0)))
  })
  const used = Math.min(
    ...priced.map(
      (s) =>
        s.fee -
        s.alpha * s.mass +
        s.beta * s.goods -
        taken.reduce((sum, { most }, j) => sum + most * (s.gamma[j] ?? 0), 0),
    ),
  )
  return { offers, used }
}

/** Cuts as rows of a model; they say nothing of shops that it leaves out, and not of those that it makes whole. */
export const parcelRows = (
  net: PresolvedProblem,
  model: SourcingModel,
  cuts: readonly ParcelCut[],
  { whole }: ModelOptions,
): Row[] =>
  cuts.flatMap(({ shop, offers, used }) => {
    const z = model.used[shop] ?? -1
    if (z < 0 || whole === 'all' || whole.has(shop)) return []
    const terms = [
      ...feesOf(net, model, shop),
      ...offers.map(([offer, perPack]) => [model.packs[offer] ?? -1, -perPack] as const),
      [z, -used] as const,
    ]
    return [{ least: 0, terms: terms.filter(([column, value]) => column >= 0 && value !== 0) }]
  })
