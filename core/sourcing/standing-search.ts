import type { ColumnBounds, LoadedLp, LpSolution, Milp } from '../solver/milp.ts'
import type { StepTime } from './cuts.ts'
import type { SourcingModel } from './model.ts'
import type { PresolvedProblem } from './presolve.ts'
import { heldShop, heldTo, sameWay, type Standing, type Way } from './standings.ts'

/*
 * Local search over how shops are used: one shop, or two together, are opened, closed or put into another band. What a
 * standing costs is judged by the linear program that is left when it is held, with cuts for whole packs: that is a bound on
 * every plan of that standing and, with the cuts, a near one. Held, an offer needs no row that ties it to its shop, and from one
 * standing to the next the simplex method has few steps to go (dual simplex: Lemke, 1954).
 */

/** A shop, and how it is to be used from now on. */
type Change = { readonly shop: number; readonly to: Way | undefined }

/** A change with what the last try of it alone added to the cost, and what it adds at least. */
type Tried = { readonly change: Change; readonly adds: number; readonly least: number }

/** Shares of the cost that a change alone may add to be looked at in pairs, and two of them together. */
const [NEAR, NEAR_TOGETHER] = [1e-3, 1.2e-3]
/** What is gained must be worth this many minor units. */
const WORTH = 0.5
/** Passes for which a change that added much is left alone. */
const REST = 6

/** A standing, and the solution of its linear program. */
export type Found = { readonly standing: Standing; readonly x: Float64Array }

/**
 * The best standing that is reached from one by changes of one shop or two, among the shops of a model whose program has the
 * cuts; undefined where the first has no solution or there is no time for it. Its cost is that of the linear program.
 */
export function searchStandings(
  net: PresolvedProblem,
  model: SourcingModel,
  start: Standing,
  load: (program: Milp) => LoadedLp,
  { left, over }: StepTime,
): Found | undefined {
  const judge = new Judge(net, model, start, load, left)
  try {
    if (!judge.start()) return undefined
    const memory: Memory = new Map()
    let tried = new Set<string>()
    for (let [pass, last] = [0, false]; !over(); pass++) {
      const alone = tryAlone(judge, memory, pass, over)
      const better = alone === 'better' || (alone && tryTogether(judge, alone, tried, over))
      if (better === undefined || (last && !better)) break
      // Before it ends, those that are left alone have their turn.
      last = !better
      if (last) pass += REST
      else tried = new Set()
    }
    return judge.found()
  } finally {
    judge.close()
  }
}

/** What changes added when they were last tried alone, and the pass from which they are tried again. */
type Memory = Map<string, { readonly adds: number; readonly from: number }>

const keyOf = ({ shop, to }: Change) => `${shop} ${to ? `${to.band} ${to.below}` : ''}`

/**
 * Tries changes of one shop, those first that added least, until one is better, which is kept; else gives those that add little.
 * Undefined where time is up.
 */
function tryAlone(
  judge: Judge,
  memory: Memory,
  pass: number,
  over: () => boolean,
): 'better' | readonly Tried[] | undefined {
  const near = Math.max(WORTH, Math.abs(judge.cost) * NEAR)
  const tried: Tried[] = []
  const inOrder = judge
    .changes()
    .map((change) => ({ change, key: keyOf(change) }))
    .filter(({ key }) => (memory.get(key)?.from ?? 0) <= pass)
    .sort((p, q) => (memory.get(p.key)?.adds ?? 0) - (memory.get(q.key)?.adds ?? 0))
  for (const { change, key } of inOrder) {
    if (over()) return undefined
    const least = judge.leastAdded(change)
    if (least >= near) continue
    const adds = judge.try([change], near)
    memory.set(key, { adds: Math.min(adds, near), from: adds === Infinity ? pass + REST : pass })
    if (adds < -WORTH) {
      judge.keep([change])
      return 'better'
    }
    judge.undo([change])
    if (adds < Infinity) tried.push({ change, adds, least })
  }
  return tried
}

/**
 * Tries changes of two shops that were not `tried` yet, those first that add least alone, until one is better, which is
 * kept; says whether one was, undefined where time is up.
 */
function tryTogether(
  judge: Judge,
  alone: readonly Tried[],
  tried: Set<string>,
  over: () => boolean,
): boolean | undefined {
  const most = Math.max(WORTH, Math.abs(judge.cost) * NEAR_TOGETHER)
  const pairs = alone.flatMap((p, i) =>
    alone.slice(i + 1).flatMap((q) => {
      const adds = p.adds + q.adds
      const hopeless = p.change.shop === q.change.shop || p.least + q.least >= -WORTH || adds > most
      return hopeless ? [] : [{ changes: [p.change, q.change], adds }]
    }),
  )
  for (const { changes } of pairs.sort((p, q) => p.adds - q.adds)) {
    if (over()) return undefined
    const pair = changes.map(keyOf).sort().join(' and ')
    if (tried.has(pair)) continue
    tried.add(pair)
    if (judge.try(changes, -WORTH) < -WORTH) {
      judge.keep(changes)
      return true
    }
    judge.undo(changes)
  }
  return false
}

/** Judges standings by a linear program that stays loaded. */
class Judge {
  readonly #net: PresolvedProblem
  readonly #model: SourcingModel
  readonly #ways: Map<number, Way>
  readonly #lp: LoadedLp
  readonly #left: () => number
  /** Columns that need a shop to be used, by shop, with the most of them if it is. */
  readonly #tied: ReadonlyMap<number, ReadonlyMap<number, number>>
  #at: LpSolution | undefined
  #tried: LpSolution | undefined

  constructor(
    net: PresolvedProblem,
    model: SourcingModel,
    { shops }: Standing,
    load: (program: Milp) => LoadedLp,
    left: () => number,
  ) {
    this.#net = net
    this.#model = model
    this.#ways = new Map(shops)
    this.#left = left
    const { program, tied } = withoutTies(heldTo({ cost: 0, shops }, model, new Set()), model)
    this.#tied = tied
    const upper = program.upper.slice()
    for (const [shop, columns] of tied) for (const [column, most] of columns) upper[column] = shops.has(shop) ? most : 0
    this.#lp = load({ ...program, upper })
  }

  /** Whether the standing it starts from has a solution. */
  start(): boolean {
    this.#at = this.#lp.solve({ timeLimit: this.#left() })
    return this.#at !== undefined
  }

  /** The least that goods and orders come to as shops are used now. */
  get cost(): number {
    return this.#at?.objective ?? Infinity
  }

  found(): Found | undefined {
    return this.#at && { x: this.#at.x, standing: { cost: this.cost, shops: new Map(this.#ways) } }
  }

  /** All changes of one shop. */
  changes(): Change[] {
    const { used, bands, services } = this.#model
    return [...used].flatMap((z, shop) => {
      if (z < 0) return []
      const count = bands.get(shop)?.length ?? 0
      const all = count === 0 ? [-1] : Array.from({ length: count }, (_, band) => band)
      const baskets = services.has(shop) ? [false, true] : [false]
      const ways = all.flatMap((band) => baskets.map((below): Way => ({ band, below })))
      const is = this.#ways.get(shop)
      return [...(this.#net.shops[shop]?.status === 'pinned' ? [] : [undefined]), ...ways]
        .filter((way) => !sameWay(way, is))
        .map((to) => ({ shop, to }))
    })
  }

  /** What a change adds at least, by the reduced costs of what it moves. */
  leastAdded({ shop, to }: Change): number {
    const reduced = (column: number) => this.#at?.reduced[column] ?? 0
    const from = this.#ways.get(shop)
    const before = heldShop(this.#model, shop, from)
    let sum = 0
    for (const [i, [column, value]] of heldShop(this.#model, shop, to).entries())
      sum += reduced(column) * (value - (before[i]?.[1] ?? 0))
    const opened = Number(to !== undefined) - Number(from !== undefined)
    if (opened !== 0)
      for (const [column, most] of this.#tied.get(shop) ?? []) sum += opened * Math.min(0, reduced(column)) * most
    return sum
  }

  /** Makes changes and gives what they add; Infinity from `most` on. */
  try(changes: readonly Change[], most: number): number {
    this.#lp.hold(changes.flatMap(({ shop, to }) => this.#bounds(shop, this.#ways.get(shop), to)))
    this.#tried = this.#lp.solve({ timeLimit: this.#left(), cutoff: this.cost + most })
    return this.#tried ? this.#tried.objective - this.cost : Infinity
  }

  /** Takes changes back that were tried. */
  undo(changes: readonly Change[]): void {
    this.#lp.hold(changes.flatMap(({ shop, to }) => this.#bounds(shop, to, this.#ways.get(shop))))
  }

  /** Keeps changes that were tried. */
  keep(changes: readonly Change[]): void {
    this.#at = this.#tried
    for (const { shop, to } of changes)
      if (to) this.#ways.set(shop, to)
      else this.#ways.delete(shop)
  }

  close(): void {
    this.#lp.close()
  }

  #bounds(shop: number, from: Way | undefined, to: Way | undefined): ColumnBounds[] {
    const held = heldShop(this.#model, shop, to)
    if ((from === undefined) === (to === undefined)) return held
    return [...held, ...[...(this.#tied.get(shop) ?? [])].map(([column, most]) => [column, 0, to ? most : 0] as const)]
  }
}

/**
 * A program without the rows that only say that a column is nothing where a shop is not used (a · column ≤ b · use): where
 * shops are held that is a bound of the column.
 */
function withoutTies(
  milp: Milp,
  { used }: SourcingModel,
): { readonly program: Milp; readonly tied: ReadonlyMap<number, ReadonlyMap<number, number>> } {
  const shopOf = new Map([...used].flatMap((z, s) => (z < 0 ? [] : [[z, s] as const])))
  const tied = new Map<number, Map<number, number>>()
  const kept: number[] = []
  const { starts, indices, values } = milp
  for (let r = 0; r < milp.rowLower.length; r++) {
    const [from = 0, to = 0] = [starts[r], starts[r + 1]]
    const entries = [from, from + 1].map((k) => ({ column: indices[k] ?? -1, value: values[k] ?? 0 }))
    const use = to - from === 2 ? entries.find(({ column, value }) => shopOf.has(column) && value < 0) : undefined
    const what = entries.find((entry) => entry !== use)
    if (
      !use ||
      !what ||
      what.value <= 0 ||
      milp.lower[what.column] !== 0 ||
      milp.rowLower[r] !== -Infinity ||
      milp.rowUpper[r] !== 0
    ) {
      kept.push(r)
      continue
    }
    const shop = shopOf.get(use.column) ?? -1
    const columns = tied.get(shop) ?? new Map<number, number>()
    const known = columns.get(what.column) ?? milp.upper[what.column] ?? 0
    tied.set(shop, columns.set(what.column, Math.min(known, -use.value / what.value)))
  }
  return { program: onlyRows(milp, kept), tied }
}

/** A program with some of its rows. */
function onlyRows(milp: Milp, rows: readonly number[]): Milp {
  const { starts, indices, values } = milp
  const fewer = new Int32Array(rows.length + 1)
  for (const [i, r] of rows.entries()) fewer[i + 1] = (fewer[i] ?? 0) + (starts[r + 1] ?? 0) - (starts[r] ?? 0)
  const at = rows.flatMap((r) =>
    Array.from({ length: (starts[r + 1] ?? 0) - (starts[r] ?? 0) }, (_, k) => (starts[r] ?? 0) + k),
  )
  return {
    ...milp,
    rowLower: Float64Array.from(rows, (r) => milp.rowLower[r] ?? 0),
    rowUpper: Float64Array.from(rows, (r) => milp.rowUpper[r] ?? 0),
    starts: fewer,
    indices: Int32Array.from(at, (k) => indices[k] ?? 0),
    values: Float64Array.from(at, (k) => values[k] ?? 0),
  }
}
