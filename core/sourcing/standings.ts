import type { ColumnBounds, LoadedLp, LpSolution, Milp } from '../solver/milp.ts'
import { usedShops, type SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'

/** How a shop is used: in which band, and whether its goods are below the threshold. */
export type Way = { readonly band: number; readonly below: boolean }

/** Whether a shop is used in the same way twice, or not used twice. */
export const sameWay = (one: Way | undefined, two: Way | undefined): boolean =>
  one?.band === two?.band && one?.below === two?.below

/** What a solution of a relaxed model says of the shops it uses. */
export type Standing = {
  /** Its objective, which no plan that uses the same shops in the same way goes below. */
  readonly cost: number
  readonly shops: ReadonlyMap<number, Way>
}

/** Reads a solution of a model. */
export function standingOf(model: SourcingModel, x: Float64Array, cost: number): Standing {
  const is = (column: number | undefined) => column !== undefined && (x[column] ?? 0) > 0.5
  const shops = new Map<number, Way>()
  for (const s of usedShops(model, x))
    shops.set(s, { band: (model.bands.get(s) ?? []).findIndex(is), below: is(model.services.get(s)) })
  return { cost, shops }
}

/** Bounds that hold a shop of a model to a way of using it, or to none. */
export function heldShop({ used, bands, services }: SourcingModel, shop: number, way: Way | undefined): ColumnBounds[] {
  const z = used[shop] ?? -1
  if (z < 0) return []
  const held = (column: number, on: boolean): ColumnBounds => [column, on ? 1 : 0, on ? 1 : 0]
  const service = services.get(shop)
  return [
    held(z, way !== undefined),
    ...(bands.get(shop) ?? []).map((column, k) => held(column, k === way?.band)),
    ...(service === undefined ? [] : [held(service, way?.below === true)]),
  ]
}

/** A model's program with all shops but the freed ones held as they stand. */
export function heldTo({ shops }: Standing, model: SourcingModel, freed: ReadonlySet<number>): Milp {
  const { milp } = model
  const [lower, upper] = [milp.lower.slice(), milp.upper.slice()]
  for (const s of model.used.keys()) {
    if (freed.has(s)) continue
    for (const [column, low, high] of heldShop(model, s, shops.get(s))) {
      lower[column] = low
      upper[column] = high
    }
  }
  return { ...milp, lower, upper }
}

/** A relaxed solution's use of a shop is taken as whole from here on, and as nothing below. */
const [SURE, NOTHING] = [0.8, 0.03]

/**
 * Dives from the relaxation of a model, which `lp` holds and `last` solves, to a choice of shops: those it uses nearly whole are held
 * open, or an eighth of those it uses in part; those it hardly uses are held closed; it is solved again, until no shop is used in part.
 * Each parcel then takes the lightest band that holds it. Undefined where that runs out of time, of which `left` gives the seconds.
 */
export function dive(
  net: PresolvedProblem,
  model: SourcingModel,
  lp: LoadedLp,
  last: LpSolution,
  left: () => number,
): Standing | undefined {
  const { milp, used } = model
  const columns = [...used].filter((z) => z >= 0 && milp.lower[z] !== milp.upper[z])
  const open = new Set<number>()
  const closed = new Set<number>()
  let at: LpSolution | undefined = last
  for (let first = true; at; first = false) {
    const { x } = at
    const unsettled = columns.flatMap((z) => (open.has(z) || closed.has(z) ? [] : [{ z, use: x[z] ?? 0 }]))
    const most = unsettled.filter(({ use }) => use > NOTHING).sort((p, q) => q.use - p.use)
    if (most.length === 0) return standingOfRelaxed(net, model, x)
    const sure = most.filter(({ use }) => use >= SURE)
    const taken = sure.length > 0 ? sure : most.slice(0, Math.ceil(most.length / 8))
    // What the first relaxation leaves out may come in once others are held.
    const dropped = first ? [] : unsettled.filter(({ use }) => use <= NOTHING)
    for (const { z } of taken) open.add(z)
    for (const { z } of dropped) closed.add(z)
    lp.hold([...taken.map(({ z }) => [z, 1, 1] as const), ...dropped.map(({ z }) => [z, 0, 0] as const)])
    at = lp.solve({ timeLimit: left() })
    if (at || closed.size === 0) continue
    // Something was closed that is needed.
    lp.hold([...closed].map((z) => [z, 0, 1] as const))
    closed.clear()
    at = lp.solve({ timeLimit: left() })
  }
  return undefined
}

/** The shops that a solution with whole shops uses, each in the lightest band that holds its parcel. */
function standingOfRelaxed(net: PresolvedProblem, model: SourcingModel, x: Float64Array): Standing {
  const shops = new Map<number, Way>()
  for (const [s, z] of model.used.entries()) {
    if (z < 0 || (x[z] ?? 0) < NOTHING) continue
    const shop = net.shops[s]
    let [mass, goods] = [0, x[model.pads.get(s) ?? -1] ?? 0]
    for (const o of net.offersOfShop[s] ?? []) {
      const { item = -1, pack = 1, billed = 0 } = net.offers[o] ?? {}
      const pieces = (x[model.packs[o] ?? -1] ?? 0) * pack
      mass += pieces * (net.items[item]?.mass ?? 0)
      goods += pieces * billed
    }
    const bands = model.bands.get(s)?.length ?? 0
    const band = shop ? shop.bands.findIndex((b) => mass <= b.maxMass + 1e-6) : -1
    shops.set(s, {
      // The model has no band beyond what a shop can be asked to send.
      band: bands === 0 ? -1 : band < 0 ? bands - 1 : Math.min(band, bands - 1),
      below: shop?.service ? goods < shop.service.threshold - 1e-6 : false,
    })
  }
  return { cost: Infinity, shops }
}

/**
 * A model's program held to a solution of a more relaxed one: which shops are used, and what is bought of each item that is
 * bought in whole packs there. Shops that were padded may sell more. What is left to decide is how to make the few broken
 * packs whole.
 */
export function nearTo(
  net: PresolvedProblem,
  standing: Standing,
  model: SourcingModel,
  solved: { readonly model: SourcingModel; readonly x: Float64Array },
  rough: ReadonlySet<number>,
): Milp {
  const { lower, upper, ...program } = heldTo(standing, model, rough)
  const packsOf = (o: number) => solved.x[solved.model.packs[o] ?? -1] ?? 0
  const isWhole = (n: number) => Math.abs(n - Math.round(n)) < 1e-6
  const broken = new Set(net.offers.flatMap(({ item }, o) => (isWhole(packsOf(o)) ? [] : [item])))
  for (const [o, { item, shop }] of net.offers.entries()) {
    const column = model.packs[o] ?? -1
    if (column < 0 || broken.has(item)) continue
    const packs = Math.min(upper[column] ?? 0, Math.round(packsOf(o)))
    lower[column] = packs
    if ((solved.x[solved.model.pads.get(shop) ?? -1] ?? 0) < 1e-6) upper[column] = packs
  }
  for (const [s, z] of model.used.entries()) if (z >= 0 && standing.shops.has(s)) lower[z] = 1
  return { ...program, lower, upper }
}
