import { relaxationOf, type Milp } from '../solver/milp.ts'
import { usedShops, type SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'

/*
 * Large-neighbourhood search (Shaw, 1998): a handful of shops is freed, what else is known of which shops are used, in
 * which band and beyond which threshold is held, and every piece is decided anew and exactly.
 */

/** Shops that are freed together at size 1: of those in use, and of those that are not. */
const [FREED_OPEN, FREED_CLOSED] = [5, 7]

/** What a solution of a relaxed model says of the shops it uses. */
export type Standing = {
  /** Its objective, which no plan that uses the same shops in the same way goes below. */
  readonly cost: number
  /** Of each shop in use the band of its parcel, and whether its goods are below the threshold. */
  readonly shops: ReadonlyMap<number, { readonly band: number; readonly below: boolean }>
}

/** Reads a solution of a model. */
export function standingOf(model: SourcingModel, x: Float64Array, cost: number): Standing {
  const is = (column: number | undefined) => column !== undefined && (x[column] ?? 0) > 0.5
  const shops = new Map<number, { band: number; below: boolean }>()
  for (const s of usedShops(model, x))
    shops.set(s, { band: (model.bands.get(s) ?? []).findIndex(is), below: is(model.services.get(s)) })
  return { cost, shops }
}

/** A model's program with all shops but the freed ones held as they stand. */
export function heldTo({ shops }: Standing, model: SourcingModel, freed: ReadonlySet<number>): Milp {
  const { milp } = model
  const [lower, upper] = [milp.lower.slice(), milp.upper.slice()]
  const hold = (column: number, to: boolean) => {
    lower[column] = to ? 1 : 0
    upper[column] = to ? 1 : 0
  }
  for (const [s, z] of model.used.entries()) {
    if (z < 0 || freed.has(s)) continue
    const standing = shops.get(s)
    hold(z, standing !== undefined)
    for (const [k, column] of (model.bands.get(s) ?? []).entries()) hold(column, k === standing?.band)
    const service = model.services.get(s)
    if (service !== undefined) hold(service, standing?.below === true)
  }
  return { ...milp, lower, upper }
}

/** A relaxation's solution is taken as whole from here on, and as nothing below. */
const [SURE, NOTHING] = [0.8, 0.03]

/**
 * Dives from the relaxation of a model to a choice of shops: those it uses nearly whole are held open, or an eighth of
 * those it uses in part; those it hardly uses are held closed; it is solved again, until no shop is used in part. Each parcel then takes
 * the lightest band that holds it. `relax` solves a program that has no whole numbers. Undefined where it runs out of time.
 */
export function dive(
  net: PresolvedProblem,
  model: SourcingModel,
  relax: (program: Milp) => Float64Array | undefined,
): Standing | undefined {
  const { milp, used } = model
  const [lower, upper] = [milp.lower.slice(), milp.upper.slice()]
  const solve = () => relax(relaxationOf({ ...milp, lower: lower.slice(), upper: upper.slice() }))
  let x = solve()
  for (let first = true; x; first = false) {
    const at = x
    const open = [...used].flatMap((z) => (z >= 0 && lower[z] !== upper[z] ? [{ z, use: at[z] ?? 0 }] : []))
    const most = open.filter(({ use }) => use > NOTHING).sort((p, q) => q.use - p.use)
    if (most.length === 0) break
    const sure = most.filter(({ use }) => use >= SURE)
    for (const { z } of sure.length > 0 ? sure : most.slice(0, Math.ceil(most.length / 8))) lower[z] = 1
    // What the first relaxation leaves out may come in once others are held.
    if (!first) for (const { z, use } of open) if (use <= NOTHING) upper[z] = 0
    x = solve()
    if (x) continue
    // Something was closed that is needed.
    for (const z of used) if (z >= 0) upper[z] = milp.upper[z] ?? 1
    x = solve()
  }
  return x && standingOfRelaxed(net, model, x)
}

/** The shops that a solution with whole shops uses, each in the lightest band that holds its parcel. */
function standingOfRelaxed(net: PresolvedProblem, model: SourcingModel, x: Float64Array): Standing {
  const shops = new Map<number, { band: number; below: boolean }>()
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

/**
 * A model's program in which pieces may be broken: which shops are used, in which bands, below which thresholds and how
 * many copies are bought stays whole. It bounds the model, and says where to look in a fraction of its time.
 */
export function withBrokenPieces({ milp, used, bands, services, copies }: SourcingModel): Milp {
  const integer = new Uint8Array(milp.integer.length)
  const keep = (column: number) => {
    if (column >= 0) integer[column] = milp.integer[column] ?? 0
  }
  used.forEach(keep)
  copies.forEach(keep)
  for (const columns of bands.values()) columns.forEach(keep)
  for (const column of services.values()) keep(column)
  return { ...milp, integer }
}

/** Numbers from 0 to 1, the same for the same seed (the minimal standard generator of Park and Miller, 1988). */
export function chances(seed: number): () => number {
  let state = (seed % 2_147_483_646) + 1
  return () => {
    state = (state * 48_271) % 2_147_483_647
    return state / 2_147_483_647
  }
}

/** So many of a list, none twice, each the likelier the more it weighs: the greatest u^(1/w) (Efraimidis and Spirakis, 2006). */
function draw(from: readonly number[], weight: (s: number) => number, count: number, chance: () => number): number[] {
  return from
    .map((s) => ({ s, key: Math.log(chance()) / weight(s) }))
    .sort((p, q) => q.key - p.key)
    .slice(0, count)
    .map(({ s }) => s)
}

/**
 * Shops to free next: some in use and some that are not. `relaxed` says how much of each the relaxation of the whole problem
 * uses, 0 to 1: what it uses in part, or uses and the plan does not, is where a better choice is likely.
 */
export function nextFreed(
  net: PresolvedProblem,
  { shops }: Standing,
  relaxed: readonly number[],
  size: number,
  chance: () => number,
): Set<number> {
  const [open, closed] = [[...shops.keys()], [...net.shops.keys()].filter((s) => !shops.has(s))]
  const use = (s: number) => relaxed[s] ?? 0
  const many = (n: number) => Math.max(1, Math.round(n * size))
  return new Set([
    ...draw(open, (s) => 1.1 - use(s), many(FREED_OPEN), chance),
    ...draw(closed, (s) => 0.05 + use(s), many(FREED_CLOSED), chance),
  ])
}
