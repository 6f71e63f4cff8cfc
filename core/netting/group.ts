import type { SolveMilp } from '../solver/milp.ts'
import { FlowNetwork } from './min-cost-flow.ts'
import {
  NONE_SEVERAL,
  piecesIn,
  SEVERAL,
  type GroupPlan,
  type Need,
  type Options,
  type Stock,
  type Uses,
} from './numbered.ts'
import { proveGroup } from './prove.ts'

type Bounds = { readonly low: number; readonly high: number }
type Weighed = { readonly short: number; readonly cost: number }

const better = (p: Weighed, q: Weighed) => p.short < q.short || (p.short === q.short && p.cost < q.cost)

/** Nodes of the search after which a solver takes over, and after which its best plan is taken unproven. */
const PATIENCE = 40
const MAX_NODES = 400

/** Room to work in, for one group after the other: the place of each item in the group, −1 outside of it; a network. */
export type Room = { readonly placeOf: Int32Array; readonly network: FlowNetwork }

export const roomFor = (items: number): Room => ({
  placeOf: new Int32Array(items).fill(-1),
  network: new FlowNetwork(),
})

/** Needs that compete, and the stock they compete for; items have a place in it. */
type Group = {
  readonly needs: readonly Need[]
  readonly placeOf: Int32Array
  readonly stock: readonly Stock[]
  /** Pieces there are of each item. */
  readonly pieces: readonly number[]
}

/**
 * The best cover of one group of needs that compete for the same stock: fewest pieces short, then least compromise,
 * then least rank. Options that use a single piece make a minimum-cost flow. Options that use several are branched on:
 * a node fixes how many pieces such an option covers at least and at most; what it must cover is drawn in full, what it
 * may cover beyond is relaxed to one piece of its first item, which is a bound. A node whose relaxation covers no more
 * than it must is solved. What the search leaves open goes to a solver, if there is one.
 */
export function solveGroup(
  needs: readonly Need[],
  stockOf: (item: number) => Stock,
  { placeOf, network }: Room,
  milp?: SolveMilp,
): GroupPlan {
  const items: number[] = []
  const place = (item: number) => {
    if ((placeOf[item] as number) >= 0) return
    placeOf[item] = items.length
    items.push(item)
  }
  for (const { options } of needs) {
    for (const item of options.items) if (item !== SEVERAL) place(item)
    for (const uses of options.several.values()) for (const { item } of uses) place(item)
  }
  const stock = items.map(stockOf)
  const plan = solvePlaced({ needs, placeOf, stock, pieces: stock.map(piecesIn) }, network, milp)
  for (const item of items) placeOf[item] = -1
  return plan
}

function solvePlaced(group: Group, network: FlowNetwork, milp: SolveMilp | undefined): GroupPlan {
  const { needs, placeOf, stock, pieces } = group
  let total = 0
  let maxUse = 1
  let maxCompromise = 0
  for (const { qty, options } of needs) {
    total += qty
    for (const compromise of options.compromises) if (compromise > maxCompromise) maxCompromise = compromise
    for (const uses of options.several.values())
      maxUse = Math.max(
        maxUse,
        uses.reduce((sum, use) => sum + use.qty, 0),
      )
  }
  let maxRank = 0
  for (const { tiers } of stock) for (const { rank } of tiers) if (rank > maxRank) maxRank = rank
  // One point of compromise outweighs all rank there can be, within exact integers.
  const wanted = 1 + total * maxUse * maxRank
  const weight = Math.max(1, Math.min(wanted, Math.floor(2 ** 51 / (1 + maxCompromise * total))))

  const multis: { readonly need: number; readonly option: number }[] = []
  const start: Bounds[] = []
  const multiOf = needs.map(({ qty, options: { several } }, need) => {
    if (several.size === 0) return undefined
    const found = new Map<number, number>()
    for (const [option, uses] of several) {
      found.set(option, multis.length)
      multis.push({ need, option })
      const most = uses.map((u) => Math.floor((pieces[placeOf[u.item] as number] ?? 0) / u.qty))
      start.push({ low: 0, high: Math.min(qty, ...most) })
    }
    return found
  })
  const hubs = findHubs(group)
  const at = (bounds: readonly Bounds[], relaxed: boolean) =>
    evaluate(group, network, hubs, multiOf, bounds, relaxed, weight)
  let best: { value: Weighed; cover: number[][] } | undefined
  const keep = (found: { value: Weighed; cover: number[][] } | undefined) => {
    if (found && (!best || better(found.value, best.value))) best = found
  }
  const open = [start]
  let nodes = 0
  const patience = milp ? PATIENCE : MAX_NODES
  while (open.length > 0 && nodes < patience) {
    const bounds = open.pop() ?? []
    nodes++
    const bound = at(bounds, true)
    if (!bound || (best && !better(bound.value, best.value))) continue
    const branch = multis.findIndex(({ need, option }, i) => (bound.cover[need]?.[option] ?? 0) > (bounds[i]?.low ?? 0))
    if (branch < 0) {
      keep(bound)
      continue
    }
    keep(at(bounds, false))
    const { low, high } = bounds[branch] ?? { low: 0, high: 0 }
    const chosen = multis[branch]
    const relaxed = Math.min(high, (chosen && bound.cover[chosen.need]?.[chosen.option]) ?? 0)
    const withBounds = (next: Bounds) => bounds.map((b, i) => (i === branch ? next : b))
    open.push(withBounds({ low, high: relaxed - 1 }), withBounds({ low: relaxed, high }))
  }
  const searched = open.length === 0 && weight === wanted
  if (searched || !milp) return { cover: best?.cover ?? nothing(needs), proven: searched }
  return proveGroup(placed(group), stock, milp) ?? { cover: best?.cover ?? nothing(needs), proven: false }
}

const nothing = (needs: readonly Need[]): number[][] =>
  needs.map(({ options }) => new Array<number>(options.items.length).fill(0))

/** The needs with items numbered by their place in the group. */
function placed({ needs, placeOf }: Group): Need[] {
  return needs.map(({ qty, options: { items, compromises, several } }) => ({
    qty,
    options: {
      items: items.map((item) => (item === SEVERAL ? SEVERAL : (placeOf[item] as number))),
      compromises,
      several:
        several.size === 0
          ? NONE_SEVERAL
          : new Map<number, Uses>(
              [...several].map(([o, uses]) => [o, uses.map((u) => ({ item: placeOf[u.item] as number, qty: u.qty }))]),
            ),
    },
  }))
}

/** Items that several needs take at the same compromise or less: one node between them instead of an arc for each. */
type Hub = readonly number[]
/** Of one need: through which hubs, at which compromise; and its single-piece options with an arc of their own. */
type Ways = { readonly hubs: { readonly hub: number; readonly compromise: number }[]; readonly direct: number[] }
type Hubs = { readonly hubs: readonly Hub[]; readonly ways: readonly Ways[] }

/** Options of one compromise from which on a hub is worth while. */
const HUB_FROM = 3

function findHubs({ needs, placeOf, pieces }: Group): Hubs {
  const hubs: Hub[] = []
  const byHash = new Map<number, number[]>()
  const reached = new Int32Array(pieces.length).fill(-1)
  const ways = needs.map(({ options: { items, compromises } }, need): Ways => {
    const levels: { readonly compromise: number; readonly options: number[] }[] = []
    let level: (typeof levels)[number] | undefined
    for (let o = 0; o < items.length; o++) {
      const item = items[o] as number
      if (item === SEVERAL || pieces[placeOf[item] as number] === 0) continue
      const compromise = compromises[o] as number
      if (level?.compromise !== compromise) {
        level = levels.find((l) => l.compromise === compromise)
        if (!level) levels.push((level = { compromise, options: [] }))
      }
      level.options.push(o)
    }
    levels.sort((p, q) => p.compromise - q.compromise)
    const way: Ways = { hubs: [], direct: [] }
    // An item of a lower level may be reached through the hub of a higher one, never to advantage: so hubs hold all up
    // to their level, and needs of different own items share them.
    const upTo: number[] = []
    let hash = 0
    for (const { compromise, options: own } of levels) {
      for (const o of own) {
        const item = placeOf[items[o] as number] as number
        if (reached[item] === need) continue
        reached[item] = need
        upTo.push(item)
        hash = (hash + Math.imul(item + 1, 0x9e3779b1)) >>> 0
      }
      if (own.length < HUB_FROM) {
        way.direct.push(...own)
        continue
      }
      const same = byHash.get(hash)
      let hub = same?.find((h) => {
        const known = hubs[h]
        return known?.length === upTo.length && known.every((item) => reached[item] === need)
      })
      if (hub === undefined) {
        hub = hubs.length
        hubs.push([...upTo])
        if (same) same.push(hub)
        else byHash.set(hash, [hub])
      }
      way.hubs.push({ hub, compromise })
    }
    return way
  })
  return { hubs, ways }
}

function evaluate(
  { needs, placeOf, stock, pieces }: Group,
  network: FlowNetwork,
  { hubs, ways }: Hubs,
  multiOf: readonly (ReadonlyMap<number, number> | undefined)[],
  bounds: readonly Bounds[],
  relaxed: boolean,
  weight: number,
): { value: Weighed; cover: number[][] } | undefined {
  network.clear()
  const [forced, source, sink] = [network.node(), network.node(), network.node()]
  // Nodes of items follow one another, and so do those of hubs.
  const items = sink + 1
  for (const _ of stock) network.node()
  for (const [item, { tiers }] of stock.entries())
    for (const { rank, qty } of tiers) network.arc(items + item, sink, qty, rank)
  const hubNodes = items + stock.length
  for (const _ of hubs) network.node()
  /** Of each hub the arc to its first item; the others follow, two numbers apart. */
  const hubOut = hubs.map((hub, h) => {
    let first = -1
    for (const item of hub) {
      const arc = network.arc(hubNodes + h, items + item, pieces[item] as number, 0)
      if (first < 0) first = arc
    }
    return first
  })
  const hubIn: { readonly need: number; readonly hub: number; readonly arc: number }[] = []
  let demand = 0
  let fixed = 0
  let total = 0
  let forcedPieces = 0
  let possible = true
  const cover = nothing(needs)
  const arcs: { readonly need: number; readonly option: number; readonly arc: number }[] = []
  for (const [n, { qty, options }] of needs.entries()) {
    const own = cover[n] ?? []
    let left = qty
    total += qty
    const node = network.node()
    for (const [o, b] of multiOf[n] ?? []) {
      const { low = 0, high = 0 } = bounds[b] ?? {}
      const uses = options.several.get(o) ?? []
      const compromise = options.compromises[o] as number
      left -= low
      forcedPieces += low
      fixed += low * compromise
      own[o] = low
      for (const use of low > 0 ? uses : []) {
        demand += use.qty * low
        network.arc(forced, items + (placeOf[use.item] as number), use.qty * low, 0)
      }
      const [first] = uses
      if (!first || !relaxed || high <= low) continue
      const to = items + (placeOf[first.item] as number)
      arcs.push({ need: n, option: o, arc: network.arc(node, to, high - low, compromise * weight) })
    }
    if (left < 0) possible = false
    network.arc(source, node, Math.max(0, left), 0)
    const way = ways[n]
    if (!way) continue
    for (const o of way.direct) {
      const to = items + (placeOf[options.items[o] as number] as number)
      const cost = (options.compromises[o] as number) * weight
      arcs.push({ need: n, option: o, arc: network.arc(node, to, qty, cost) })
    }
    for (const { hub, compromise } of way.hubs)
      hubIn.push({ need: n, hub, arc: network.arc(node, hubNodes + hub, qty, compromise * weight) })
  }
  if (!possible) return undefined
  const must = demand > 0 ? network.send(forced, sink) : { flow: 0, cost: 0 }
  if (must.flow < demand) return undefined
  const may = network.send(source, sink)
  for (const { need, option, arc } of arcs) {
    const own = cover[need]
    if (own) own[option] = (own[option] ?? 0) + network.flowOn(arc)
  }
  // What came into a hub is handed to its items; however it is handed out, the cost is the same.
  const handed = hubs.map(() => ({ at: 0, given: 0 }))
  for (const { need, hub, arc } of hubIn) {
    const [options, own, at, to] = [needs[need]?.options, cover[need], handed[hub], hubs[hub]]
    for (let open = network.flowOn(arc); open > 0;) {
      const item = to?.[at?.at ?? 0]
      if (item === undefined || !at || !own || !options) throw new Error('more came into a hub than left it')
      const left = network.flowOn((hubOut[hub] ?? 0) + 2 * at.at) - at.given
      const taken = Math.min(open, left)
      if (taken > 0) {
        const option = cheapestOf(options, placeOf, item)
        own[option] = (own[option] ?? 0) + taken
      }
      open -= taken
      at.given += taken
      if (taken < left) continue
      at.at++
      at.given = 0
    }
  }
  return { value: { short: total - forcedPieces - may.flow, cost: must.cost + may.cost + fixed * weight }, cover }
}

/** The option that takes one piece of the item of a place at the least compromise. */
function cheapestOf({ items, compromises }: Options, placeOf: Int32Array, place: number): number {
  let best = -1
  for (let o = 0; o < items.length; o++) {
    const item = items[o] as number
    if (item === SEVERAL || placeOf[item] !== place) continue
    if (best < 0 || (compromises[o] as number) < (compromises[best] as number)) best = o
  }
  return best
}
