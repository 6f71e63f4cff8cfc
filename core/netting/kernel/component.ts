import { FlowNetwork } from './min-cost-flow.ts'
import {
  addCovered,
  slackTo,
  valueOf,
  piecesIn,
  sizeOf,
  KIT,
  UNCOVERED,
  type Cover,
  type Covered,
  type GroupPlan,
  type Least,
  type CoverDemand,
  type Options,
  type Pool,
  type Stock,
} from './cover-problem.ts'
import { coveredBy, filledUp, fixedAt, kitsOf, rounded, type Bounds, type Kits } from './kits.ts'
import { proveGroup, type Prover } from './milp-proof.ts'

type Weighed = { readonly short: number; readonly cost: number }

const better = (p: Weighed, q: Weighed) => p.short < q.short || (p.short === q.short && p.cost < q.cost)

/** Nodes of the search after which a solver takes over, and after which its best plan is taken unproven. */
const PATIENCE = 40
const MAX_NODES = 400
/** In demands, items and options of several pieces looked at; but so many nodes however large they are. */
const MAX_WORK = 10_000
const LEAST_NODES = 1

/** Workspace to work in, for one group after the other. */
export type Workspace = {
  /** The slot of each item in the group, −1 outside of it. */
  readonly slotOf: Int32Array
  readonly network: FlowNetwork
  readonly ways: Ways
  readonly arcs: {
    readonly via: number[]
    readonly direct: number[]
    readonly demand: number[]
    readonly item: number[]
  }
  readonly levels: number[]
  readonly upTo: number[]
  /** By slot: the stamp of the demand that reached the item last. */
  readonly reached: Int32Array
  stamp: number
}

export const workspaceFor = (items: number): Workspace => ({
  slotOf: new Int32Array(items).fill(-1),
  network: new FlowNetwork(),
  ways: { viaFrom: [], viaTransshipment: [], viaCompromise: [], directFrom: [], direct: [] },
  arcs: { via: [], direct: [], demand: [], item: [] },
  levels: [],
  upTo: [],
  reached: new Int32Array(items),
  stamp: 0,
})

/** Demands that compete, and the stock they compete for; items have slots in it. */
type Group = {
  readonly demands: readonly CoverDemand[]
  readonly slotOf: Int32Array
  readonly stock: Stock
  /** The items by their slots. */
  readonly items: readonly number[]
  /** Pieces there are of each item. */
  readonly pieces: readonly number[]
  /** The pools that demands draw on. */
  readonly pools: ReadonlySet<Pool>
}

/**
 * The best cover of one group of demands that compete for the same stock: fewest pieces short, then least compromise,
 * then least rank. Options that use a single piece make a minimum-cost flow. Options that use several are branched on:
 * a node fixes how many pieces such an option covers at least and at most; what it must cover is drawn in full, what it
 * may cover beyond is relaxed to one piece of its first item, which is a bound. A node whose relaxation covers no more
 * than it must is solved. What the search leaves open goes to a solver, if there is one.
 */
export function solveGroup(
  demands: readonly CoverDemand[],
  stock: Stock,
  workspace: Workspace,
  prover?: Prover,
): GroupPlan {
  const { slotOf } = workspace
  const items: number[] = []
  const slot = (item: number) => {
    if (slotOf[item] >= 0) return
    slotOf[item] = items.length
    items.push(item)
  }
  const pools = new Set<Pool>()
  for (const { options } of demands) {
    if (options.pool) pools.add(options.pool)
    for (const item of options.items) if (item !== KIT) slot(item)
    if (options.kits.size > 0) for (const uses of options.kits.values()) for (const { item } of uses) slot(item)
  }
  for (const pool of pools) for (const item of pool.items) slot(item)
  const pieces = items.map((item) => piecesIn(stock, item))
  const plan = solveInSlots({ demands, slotOf, stock, items, pieces, pools }, workspace, prover)
  for (const item of items) slotOf[item] = -1
  return plan
}

function solveInSlots(group: Group, workspace: Workspace, prover: Prover | undefined): GroupPlan {
  const { demands, stock, items, pools } = group
  let total = 0
  let maxUse = 1
  let maxCompromise = 0
  let combined = false
  for (const { qty, options } of demands) {
    total += qty
    for (const compromise of options.compromises) if (compromise > maxCompromise) maxCompromise = compromise
    if (options.kits.size === 0) continue
    combined = true
    for (const uses of options.kits.values())
      maxUse = Math.max(
        maxUse,
        uses.reduce((sum, use) => sum + use.qty, 0),
      )
  }
  for (const { compromises } of pools) maxCompromise = Math.max(maxCompromise, compromises.at(-1) ?? 0)
  let maxRank = 0
  for (const item of items)
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++) maxRank = Math.max(maxRank, stock.rank[tier])
  // One point of compromise outweighs all rank there can be, within exact integers.
  const wanted = 1 + total * maxUse * maxRank
  const weight = Math.max(1, Math.min(wanted, Math.floor(2 ** 51 / (1 + maxCompromise * total))))
  const transshipments = findTransshipments(group, workspace)
  if (!combined) {
    const kits = kitsOf(group)
    const found = evaluate(group, workspace, transshipments, kits, kits.bounds, false, weight, weight === wanted)
    return { cover: found?.cover ?? nothing(demands), proven: weight === wanted }
  }
  return search(group, workspace, transshipments, weight, weight === wanted, prover)
}

/** The best cover where some options take several pieces. */
function search(
  group: Group,
  workspace: Workspace,
  transshipments: readonly Transshipment[],
  weight: number,
  rankIsLeast: boolean,
  prover: Prover | undefined,
): GroupPlan {
  const { demands, stock, pieces } = group
  const kits = kitsOf(group)
  const at = (bounds: Bounds, relaxed: boolean) =>
    evaluate(group, workspace, transshipments, kits, bounds, relaxed, weight, rankIsLeast)
  let best: { value: Weighed; cover: Cover } | undefined
  const keep = (found: { value: Weighed; cover: Cover } | undefined) => {
    if (found && (!best || better(found.value, best.value))) best = found
  }
  /** The value of the whole relaxation: no cover has a better one. */
  let relaxation: Weighed | undefined
  const open = [kits.bounds]
  let nodes = 0
  // A large group takes long to look at: fewer looks then.
  const size = demands.length + pieces.length + kits.option.length
  const patience = Math.max(LEAST_NODES, Math.min(prover ? PATIENCE : MAX_NODES, Math.floor(MAX_WORK / size)))
  while (open.length > 0 && nodes < patience) {
    const bounds = open.pop() ?? kits.bounds
    nodes++
    const bound = at(bounds, true)
    if (!bound || (best && !better(bound.value, best.value))) continue
    const branch = bounds.low.findIndex((low, k) => coveredBy(kits, k, bound.cover) > low)
    if (branch < 0) {
      keep(bound)
      continue
    }
    keep(at(bounds, false))
    if (nodes === 1) {
      relaxation = bound.value
      const first = at(rounded(group, kits, bound.cover), false)
      keep(first)
      const more = first && filledUp(group, kits, first.cover)
      if (more) keep(at(more, false))
    }
    // Nothing is better than the relaxation of all.
    if (best && relaxation && !better(relaxation, best.value)) {
      open.length = 0
      break
    }
    const [low, high] = [bounds.low[branch], bounds.high[branch]]
    const relaxed = Math.min(high, coveredBy(kits, branch, bound.cover))
    open.push(
      { ...bounds, high: bounds.high.with(branch, relaxed - 1) },
      { low: bounds.low.with(branch, Math.max(low, relaxed)), high: bounds.high },
    )
  }
  if (open.length === 0 && rankIsLeast) return { cover: best?.cover ?? nothing(demands), proven: true }
  const unproven = demands.reduce((n, { options }) => n + sizeOf(options), 0)
  const worthIt = prover && unproven <= (prover.most ?? Infinity)
  const proof = worthIt
    ? proveGroup(demands, stock, prover.milp, {
        short: best && relaxation?.short === best.value.short ? best.value.short : undefined,
      })
    : undefined
  const taken = proof?.kits
  if (taken) {
    // With the kits decided the rest is a flow.
    const found = at(fixedAt(kits.bounds.low.map((_, k) => coveredBy(kits, k, taken))), false)
    if (found && proof.proven && rankIsLeast) return { cover: found.cover, proven: true }
    keep(found)
  }
  const cover = best?.cover ?? nothing(demands)
  const value = valueOf(demands, cover, stock)
  // What the relaxation says of compromise holds where it outweighs all rank.
  const relaxed = {
    short: relaxation?.short ?? 0,
    compromise: rankIsLeast && relaxation ? Math.floor(relaxation.cost / weight) : 0,
  }
  return { cover, proven: false, unproven, slack: slackTo(sharper(relaxed, proof?.least), value) }
}

/** The more that two bounds say together. */
function sharper(p: Least, q: Least | undefined): Least {
  if (!q || q.short < p.short) return p
  return q.short > p.short || q.compromise > p.compromise ? q : p
}

const nothing = (demands: readonly CoverDemand[]): Covered[] => new Array<Covered>(demands.length).fill(UNCOVERED)

/** Items that several demands take at the same compromise or less: one node between them instead of an arc for each. */
type Transshipment = readonly number[]
/** How each demand gets to its items: through transshipments, and by single-piece options with an arc of their own. */
type Ways = {
  /** From `viaFrom` of a demand on: a transshipment and the compromise. */
  readonly viaFrom: number[]
  readonly viaTransshipment: number[]
  readonly viaCompromise: number[]
  /** From `directFrom` of a demand on: an option. */
  readonly directFrom: number[]
  readonly direct: number[]
}

const NO_WAYS: readonly PoolWay[] = []

/** Options of one compromise from which on a transshipment is worth while. */
const HUB_FROM = 3

/** A way to the items of a pool that cost the same. */
type PoolWay = { readonly transshipment: number; readonly compromise: number }

/** Adds transshipments for the items of a pool, one for each compromise. */
function poolWays({ items, compromises }: Pool, { slotOf, pieces }: Group, transshipments: Transshipment[]): PoolWay[] {
  const ways: PoolWay[] = []
  for (let from = 0; from < items.length;) {
    const compromise = compromises[from]
    const transshipment: number[] = []
    for (; from < items.length && compromises[from] === compromise; from++) {
      const slot = slotOf[items[from]]
      if (pieces[slot] !== 0) transshipment.push(slot)
    }
    if (transshipment.length > 0) ways.push({ transshipment: transshipments.push(transshipment) - 1, compromise })
  }
  return ways
}

/** Finds the transshipments of a group and notes in the workspace how its demands get to their items. */
function findTransshipments(group: Group, workspace: Workspace): readonly Transshipment[] {
  const { ways, levels, upTo, reached } = workspace
  const { demands, slotOf, pieces, pools } = group
  const { viaFrom, viaTransshipment, viaCompromise, directFrom, direct } = ways
  const transshipments: Transshipment[] = []
  const waysOf = new Map<Pool, readonly PoolWay[]>()
  for (const pool of pools) waysOf.set(pool, poolWays(pool, group, transshipments))
  const byHash = new Map<number, number[]>()
  const worthwhile = (item: number) => item !== KIT && pieces[slotOf[item]] !== 0
  let [vias, directs] = [0, 0]
  for (let demand = 0; demand < demands.length; demand++) {
    const { items, compromises, pool } = demands[demand].options
    viaFrom[demand] = vias
    for (const { transshipment, compromise } of (pool && waysOf.get(pool)) ?? NO_WAYS) {
      viaTransshipment[vias] = transshipment
      viaCompromise[vias++] = compromise
    }
    directFrom[demand] = directs
    const stamp = ++workspace.stamp
    let depth = 0
    for (let o = 0; o < items.length; o++) {
      const compromise = compromises[o]
      if (!worthwhile(items[o])) continue
      let at = depth
      while (at > 0 && levels[at - 1] > compromise) at--
      if (at > 0 && levels[at - 1] === compromise) continue
      for (let i = depth++; i > at; i--) levels[i] = levels[i - 1]
      levels[at] = compromise
    }
    // An item of a lower level may be reached through the transshipment of a higher one, never to advantage: so transshipments hold all up
    // to their level, and demands of different own items share them.
    let [hash, many] = [0, 0]
    for (let level = 0; level < depth; level++) {
      const compromise = levels[level]
      const before = directs
      for (let o = 0; o < items.length; o++) {
        if (compromises[o] !== compromise || !worthwhile(items[o])) continue
        direct[directs++] = o
        const item = slotOf[items[o]]
        if (reached[item] === stamp) continue
        reached[item] = stamp
        upTo[many++] = item
        hash = (hash + Math.imul(item + 1, 0x9e3779b1)) >>> 0
      }
      if (directs - before < HUB_FROM) continue
      directs = before
      const same = byHash.get(hash)
      const size = many
      let transshipment = same?.find((h) => {
        const known = transshipments[h]
        return known?.length === size && known.every((item) => reached[item] === stamp)
      })
      if (transshipment === undefined) {
        transshipment = transshipments.length
        transshipments.push(upTo.slice(0, size))
        if (same) same.push(transshipment)
        else byHash.set(hash, [transshipment])
      }
      viaTransshipment[vias] = transshipment
      viaCompromise[vias++] = compromise
    }
  }
  viaFrom[demands.length] = vias
  directFrom[demands.length] = directs
  return transshipments
}

function evaluate(
  group: Group,
  workspace: Workspace,
  transshipments: readonly Transshipment[],
  kits: Kits,
  { low: lows, high: highs }: Bounds,
  relaxed: boolean,
  weight: number,
  rankIsLeast: boolean,
): { value: Weighed; cover: Cover } | undefined {
  const { demands, slotOf, stock, items: drawn, pieces } = group
  const { network, ways } = workspace
  const { via: viaArc, direct: directArc, demand: demandArc, item: itemArc } = workspace.arcs
  const { viaFrom, viaTransshipment, viaCompromise, directFrom, direct } = ways
  network.clear()
  const [forced, source, sink] = [network.nodes(1), network.nodes(1), network.nodes(1)]
  const items = network.nodes(drawn.length)
  for (let slot = 0; slot < drawn.length; slot++) {
    const item = drawn[slot]
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++) {
      const arc = network.arc(items + slot, sink, stock.qty[tier], stock.rank[tier])
      if (tier === stock.from[item]) itemArc[slot] = arc
    }
  }
  const transshipmentNodes = network.nodes(transshipments.length)
  /** Of each transshipment the arc to its first item; the others follow, two numbers apart. */
  const transshipmentOut = transshipments.map((transshipment, h) => {
    let first = -1
    for (const item of transshipment) {
      const arc = network.arc(transshipmentNodes + h, items + item, pieces[item], 0)
      if (first < 0) first = arc
    }
    return first
  })
  let demand = 0
  let fixed = 0
  let total = 0
  let forcedPieces = 0
  let possible = true
  let mayTakeOwn = true
  const cover = nothing(demands)
  /** Options of several pieces relaxed to one, with an arc of their own. */
  const relaxedKits: number[] = []
  const relaxedArcs: number[] = []
  for (let n = 0; n < demands.length; n++) {
    const { qty, options } = demands[n]
    let left = qty
    total += qty
    const node = network.nodes(1)
    for (let k = kits.from[n]; k < kits.from[n + 1]; k++) {
      const [low, high] = [lows[k], highs[k]]
      const compromise = options.compromises[kits.option[k]]
      if (low > 0) {
        left -= low
        forcedPieces += low
        fixed += low * compromise
        cover[n] = addCovered(cover[n], kits.option[k], low)
        for (const { item, qty: each } of kits.uses[k]) {
          demand += each * low
          network.arc(forced, items + slotOf[item], each * low, 0)
        }
      }
      if (!relaxed || high <= low) continue
      if (compromise === 0) mayTakeOwn = false
      relaxedKits.push(k)
      relaxedArcs.push(network.arc(node, items + slotOf[kits.uses[k][0].item], high - low, compromise * weight))
    }
    if (left < 0) possible = false
    demandArc[n] = network.arc(source, node, Math.max(0, left), 0)
    for (let d = directFrom[n]; d < directFrom[n + 1]; d++) {
      const o = direct[d]
      const to = items + slotOf[options.items[o]]
      directArc[d] = network.arc(node, to, qty, options.compromises[o] * weight)
    }
    for (let v = viaFrom[n]; v < viaFrom[n + 1]; v++)
      viaArc[v] = network.arc(node, transshipmentNodes + viaTransshipment[v], qty, viaCompromise[v] * weight)
  }
  if (!possible) return undefined
  const must = demand > 0 ? network.send(forced, sink) : NOTHING
  if (must.flow < demand) return undefined
  // What must be drawn is drawn in full and stays so; options of several pieces that compromise lead on as others do.
  const own = rankIsLeast && mayTakeOwn ? takeOwn(group, workspace) : NOTHING
  const held = pieces.reduce((n, qty) => n + qty, 0)
  const more = network.send(source, sink, Math.min(total - forcedPieces, held - demand) - own.flow)
  const may = { flow: own.flow + more.flow, cost: own.cost + more.cost }
  const give = (demand: number, option: number, qty: number) => {
    cover[demand] = addCovered(cover[demand], option, qty)
  }
  for (let r = 0; r < relaxedKits.length; r++) {
    const flow = network.flowOn(relaxedArcs[r])
    if (flow > 0) give(kits.demand[relaxedKits[r]], kits.option[relaxedKits[r]], flow)
  }
  // What came into a transshipment is handed to its items; however it is handed out, the cost is the same.
  const at = new Int32Array(transshipments.length)
  const given = new Float64Array(transshipments.length)
  for (let n = 0; n < demands.length; n++) {
    const { options } = demands[n]
    for (let d = directFrom[n]; d < directFrom[n + 1]; d++) {
      const flow = network.flowOn(directArc[d])
      if (flow > 0) give(n, direct[d], flow)
    }
    for (let v = viaFrom[n]; v < viaFrom[n + 1]; v++) {
      const transshipment = viaTransshipment[v]
      for (let open = network.flowOn(viaArc[v]); open > 0;) {
        const slot = at[transshipment]
        const item = transshipments[transshipment]?.[slot]
        if (item === undefined) throw new Error('more came into a transshipment than left it')
        const left = network.flowOn(transshipmentOut[transshipment] + 2 * slot) - given[transshipment]
        const taken = Math.min(open, left)
        if (taken > 0) give(n, cheapestOf(options, slotOf, item), taken)
        open -= taken
        given[transshipment] = taken < left ? given[transshipment] + taken : 0
        if (taken === left) at[transshipment] = slot + 1
      }
    }
  }
  return { value: { short: total - forcedPieces - may.flow, cost: must.cost + may.cost + fixed * weight }, cover }
}

const NOTHING = { flow: 0, cost: 0 }

/**
 * Lets every demand take the only item it has at no compromise as far as there is of it, lower ranks first: a start from
 * which the cheapest ways to send more still lead to the optimum. That holds as such a flow has no cycle of negative
 * cost to send along (Ahuja, Magnanti, Orlin, Network Flows, 1993, section 9.3): a cycle that gives up a rank goes on
 * by an option that compromises, which outweighs all rank, or by a demand that is not full, whose item is used up. Does
 * nothing where a demand has several such items.
 */
function takeOwn(
  { demands, slotOf, stock, items }: Group,
  { network, ways: { viaFrom, viaCompromise, directFrom, direct }, arcs }: Workspace,
): { flow: number; cost: number } {
  const sums = { flow: 0, cost: 0 }
  for (let n = 0; n < demands.length; n++) {
    let free = 0
    const { compromises } = demands[n].options
    for (let d = directFrom[n]; d < directFrom[n + 1]; d++) if (compromises[direct[d]] <= 0) free++
    for (let v = viaFrom[n]; v < viaFrom[n + 1]; v++) if (viaCompromise[v] <= 0) free += 2
    if (free > 1) return sums
  }
  const path: number[] = []
  for (let n = 0; n < demands.length; n++) {
    const { options } = demands[n]
    for (let d = directFrom[n]; d < directFrom[n + 1]; d++) {
      const o = direct[d]
      if (options.compromises[o] !== 0) continue
      path[0] = arcs.demand[n]
      path[1] = arcs.direct[d]
      const slot = slotOf[options.items[o]]
      const item = items[slot]
      let arc = arcs.item[slot]
      for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++, arc += 2) {
        path[2] = arc
        const pushed = network.push(path)
        sums.flow += pushed
        sums.cost += pushed * stock.rank[tier]
      }
    }
  }
  return sums
}

/** The option that takes one piece of the item of a slot at the least compromise. */
function cheapestOf({ items, compromises, pool }: Options, slotOf: Int32Array, slot: number): number {
  let best = -1
  for (let o = 0; o < items.length; o++) {
    const item = items[o]
    if (item === KIT || slotOf[item] !== slot) continue
    if (best < 0 || compromises[o] < compromises[best]) best = o
  }
  if (!pool) return best
  let pooled = 0
  while (pooled < pool.items.length && slotOf[pool.items[pooled]] !== slot) pooled++
  if (pooled === pool.items.length) return best
  return best >= 0 && compromises[best] <= pool.compromises[pooled] ? best : items.length + pooled
}
