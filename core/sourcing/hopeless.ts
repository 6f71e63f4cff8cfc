import type { LoadedLp, LpSolution, Milp } from '../solver/milp.ts'
import type { Solved } from './cuts.ts'
import type { SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'

/*
 * Where a plan is known, most shops cannot be part of a better one, and that can be shown shop by shop. Rows that bind shops
 * together are priced by the relaxation's dual values; what is left falls apart into one small program for each shop
 * (Lagrangian relaxation: Geoffrion, 1974). The sum of their optima bounds every plan; where it is a known plan's total or more once a
 * shop is used, or an offer bought, no better plan does so. It bounds plans whatever the prices are, so rounding does no harm.
 */

/** What no plan that is better than a known one does. */
export type Hopeless = {
  /** What every plan costs at least, minor units. */
  readonly bound: number
  /** Shops that it does not use, shops that it does not do without, and offers that it does not buy, by index. */
  readonly closed: ReadonlySet<number>
  readonly open: ReadonlySet<number>
  readonly offers: ReadonlySet<number>
}

export const NOTHING_HOPELESS: Hopeless = {
  bound: -Infinity,
  closed: new Set(),
  open: new Set(),
  offers: new Set(),
}

/** Totals are whole numbers: a bound this near below a plan's total leaves nothing better. */
const MARGIN = 0.5

/**
 * What no plan of the problem that costs less than `total` (minor units) does, by a relaxation of its model, `whole`; nothing where
 * `over` tells that there is no time to know.
 */
export function hopelessFor(
  net: PresolvedProblem,
  whole: SourcingModel,
  { program, solution: { prices } }: Solved,
  total: number,
  load: (program: Milp) => LoadedLp,
  over: () => boolean,
): Hopeless {
  const parts = partsOf(net, whole, program)
  const { base, cost } = priced(program, parts, prices)
  const found: ShopCosts[] = []
  for (const [shop, z] of whole.used.entries()) {
    if (z < 0) continue
    if (over()) return NOTHING_HOPELESS
    found.push(costsOf(net, whole, shop, partOf(program, parts, shop, cost), load))
  }
  const bound = found.reduce((sum, { off, on }) => sum + Math.min(off, on), base)
  if (!Number.isFinite(bound)) return NOTHING_HOPELESS
  const [closed, open, offers] = [new Set<number>(), new Set<number>(), new Set<number>()]
  const isHopeless = (least: number) => least > total - MARGIN
  for (const { shop, off, on, more } of found) {
    const others = bound - Math.min(off, on)
    if (isHopeless(others + on)) closed.add(shop)
    if (isHopeless(others + off)) open.add(shop)
    for (const [offer, adds] of more) if (isHopeless(others + on + adds)) offers.add(offer)
  }
  return { bound, closed, open, offers }
}

/** The least a shop's part costs where it is not used and where it is, and what buying of an offer adds to that at least. */
type ShopCosts = {
  readonly shop: number
  readonly off: number
  readonly on: number
  readonly more: readonly (readonly [offer: number, adds: number])[]
}

function costsOf(
  net: PresolvedProblem,
  { used, packs }: SourcingModel,
  shop: number,
  { columns, milp }: Part,
  load: (program: Milp) => LoadedLp,
): ShopCosts {
  const place = new Map(columns.map((column, i) => [column, i]))
  const z = place.get(used[shop] ?? -1) ?? -1
  const lp = load(milp)
  try {
    const solvedAs = (use: 0 | 1): Pick<LpSolution, 'objective' | 'reduced'> => {
      const reduced = new Float64Array(columns.length)
      if ((milp.lower[z] ?? 0) > use || (milp.upper[z] ?? 0) < use) return { objective: Infinity, reduced }
      lp.hold([[z, use, use]])
      // Where there is no answer nothing is known.
      return lp.solve({ timeLimit: 1 }) ?? { objective: lp.isInfeasible() ? Infinity : -Infinity, reduced }
    }
    const off = solvedAs(0).objective
    const { objective: on, reduced } = solvedAs(1)
    const more = (net.offersOfShop[shop] ?? []).flatMap((o) => {
      const i = place.get(packs[o] ?? -1)
      return i === undefined ? [] : [[o, Math.max(0, reduced[i] ?? 0)] as const]
    })
    return { shop, off, on, more }
  } finally {
    lp.close()
  }
}

/** A model whose program leaves out what is hopeless: its bound is one on every better plan. */
export function withoutHopeless({ milp, ...model }: SourcingModel, { closed, open, offers }: Hopeless): SourcingModel {
  const [lower, upper] = [milp.lower.slice(), milp.upper.slice()]
  for (const shop of closed) upper[model.used[shop] ?? -1] = 0
  for (const shop of open) lower[model.used[shop] ?? -1] = 1
  for (const offer of offers) {
    const column = model.packs[offer] ?? -1
    if (column >= 0) upper[column] = 0
  }
  return { ...model, milp: { ...milp, lower, upper } }
}

/** Which shop each column and each row is of; −1 for what is of several or of none. */
type Parts = { readonly columns: Int32Array; readonly rows: Int32Array }

function partsOf(net: PresolvedProblem, model: SourcingModel, program: Milp): Parts {
  const columns = new Int32Array(program.cost.length).fill(-1)
  const give = (column: number | undefined, shop: number) => {
    if (column !== undefined && column >= 0) columns[column] = shop
  }
  for (const [shop, z] of model.used.entries()) {
    if (z < 0) continue
    const { bands, services, pads, rounded } = model
    for (const column of [
      z,
      services.get(shop),
      pads.get(shop),
      ...(bands.get(shop) ?? []),
      ...(rounded.get(shop) ?? []),
    ])
      give(column, shop)
    for (const o of net.offersOfShop[shop] ?? []) {
      give(model.packs[o], shop)
      give(model.bought[o], shop)
    }
  }
  // Line fees and the like are in rows with columns of their shop alone.
  const near = new Map<number, number>()
  for (let r = 0; r < program.rowLower.length; r++) {
    const entries = program.indices.subarray(program.starts[r], program.starts[r + 1])
    const shops = new Set([...entries].map((column) => columns[column] ?? -1).filter((shop) => shop >= 0))
    for (const column of entries) {
      if ((columns[column] ?? -1) >= 0) continue
      const [only = -1, ...others] = [...shops, ...(near.has(column) ? [near.get(column) ?? -1] : [])]
      near.set(column, others.every((shop) => shop === only) ? only : -1)
    }
  }
  for (const [column, shop] of near) give(column, shop)
  const rows = Int32Array.from(program.rowLower, (_, r) => {
    const entries = program.indices.subarray(program.starts[r], program.starts[r + 1])
    const only = columns[entries[0] ?? -1] ?? -1
    return entries.every((column) => columns[column] === only) ? only : -1
  })
  return { columns, rows }
}

/** What columns cost where rows of no single shop are priced, and what these and the columns of no shop come to at least. */
function priced(
  program: Milp,
  parts: Parts,
  prices: Float64Array,
): { readonly base: number; readonly cost: Float64Array } {
  const cost = program.cost.slice()
  let base = 0
  for (const [r, shop] of parts.rows.entries()) {
    const price = prices[r] ?? 0
    const limit = (price > 0 ? program.rowLower[r] : program.rowUpper[r]) ?? 0
    if (shop >= 0 || price === 0 || !Number.isFinite(limit)) continue
    base += price * limit
    for (let k = program.starts[r] ?? 0; k < (program.starts[r + 1] ?? 0); k++) {
      const column = program.indices[k] ?? -1
      cost[column] = (cost[column] ?? 0) - price * (program.values[k] ?? 0)
    }
  }
  for (const [column, shop] of parts.columns.entries()) {
    const each = cost[column] ?? 0
    if (shop < 0 && each !== 0) base += each * ((each > 0 ? program.lower[column] : program.upper[column]) ?? 0)
  }
  return { base, cost }
}

/** The program of one shop's columns and rows. */
type Part = { readonly columns: readonly number[]; readonly milp: Milp }

function partOf(program: Milp, parts: Parts, shop: number, cost: Float64Array): Part {
  const columns = [...parts.columns.keys()].filter((column) => parts.columns[column] === shop)
  const rows = [...parts.rows.keys()].filter((r) => parts.rows[r] === shop)
  const place = new Map(columns.map((column, i) => [column, i]))
  const starts = [0]
  const indices: number[] = []
  const values: number[] = []
  for (const r of rows) {
    for (let k = program.starts[r] ?? 0; k < (program.starts[r + 1] ?? 0); k++) {
      indices.push(place.get(program.indices[k] ?? -1) ?? -1)
      values.push(program.values[k] ?? 0)
    }
    starts.push(indices.length)
  }
  const of = (array: Float64Array, keys: readonly number[]) => Float64Array.from(keys, (key) => array[key] ?? 0)
  return {
    columns,
    milp: {
      cost: of(cost, columns),
      lower: of(program.lower, columns),
      upper: of(program.upper, columns),
      integer: new Uint8Array(columns.length),
      rowLower: of(program.rowLower, rows),
      rowUpper: of(program.rowUpper, rows),
      starts: Int32Array.from(starts),
      indices: Int32Array.from(indices),
      values: Float64Array.from(values),
    },
  }
}
