import type { SolveMilp } from '../solver/milp.ts'
import { FlowNetwork } from './min-cost-flow.ts'
import type { GroupPlan, Need, Option, Stock } from './numbered.ts'
import { proveGroup } from './prove.ts'

type Bounds = { readonly low: number; readonly high: number }
type Value = { readonly short: number; readonly cost: number }

const better = (p: Value, q: Value) => p.short < q.short || (p.short === q.short && p.cost < q.cost)

/** Nodes of the search after which a solver takes over, and after which its best plan is taken unproven. */
const PATIENCE = 40
const MAX_NODES = 400

const isSingle = ({ uses }: Option) => uses.length === 1 && uses[0]?.qty === 1

/**
 * The best cover of one group of needs that compete for the same stock: fewest pieces short, then least compromise,
 * then least rank. Options that use a single piece make a minimum-cost flow. Options that use several are branched on:
 * a node fixes how many pieces such an option covers at least and at most; what it must cover is drawn in full, what it
 * may cover beyond is relaxed to one piece of its first item, which is a bound. A node whose relaxation covers no more
 * than it must is solved. What the search leaves open goes to a solver, if there is one. `scratch` is room for as many
 * numbers as there are items, all −1, and is so left.
 */
export function solveGroup(
  asked: readonly Need[],
  stockOf: (item: number) => Stock,
  scratch: Int32Array,
  milp?: SolveMilp,
): GroupPlan {
  const { needs, stock } = renumber(asked, stockOf, scratch)
  let total = 0
  let maxUse = 1
  let maxCompromise = 0
  for (const { qty, options } of needs) {
    total += qty
    for (const { uses, compromise } of options) {
      if (compromise > maxCompromise) maxCompromise = compromise
      if (uses.length === 1 && uses[0]?.qty === 1) continue
      maxUse = Math.max(
        maxUse,
        uses.reduce((sum, use) => sum + use.qty, 0),
      )
    }
  }
  let maxRank = 0
  for (const { tiers } of stock) for (const { rank } of tiers) if (rank > maxRank) maxRank = rank
  // One point of compromise outweighs all rank there can be, within exact integers.
  const wanted = 1 + total * maxUse * maxRank
  const weight = Math.max(1, Math.min(wanted, Math.floor(2 ** 51 / (1 + maxCompromise * total))))

  const multis: { readonly need: number; readonly option: number }[] = []
  const start: Bounds[] = []
  const supply = stock.map((s) => s.tiers.reduce((n, t) => n + t.qty, 0))
  const multiOf = needs.map(({ qty, options }, need) => {
    if (options.every(isSingle)) return undefined
    const found = new Map<number, number>()
    for (const [option, { uses }] of options.entries()) {
      if (uses.length === 1 && uses[0]?.qty === 1) continue
      found.set(option, multis.length)
      multis.push({ need, option })
      start.push({ low: 0, high: Math.min(qty, ...uses.map((u) => Math.floor((supply[u.item] ?? 0) / u.qty))) })
    }
    return found
  })
  const hubs = findHubs(needs, stock.length)
  const at = (bounds: readonly Bounds[], relaxed: boolean) =>
    evaluate(needs, stock, hubs, multiOf, bounds, relaxed, weight)
  let best: { value: Value; cover: number[][] } | undefined
  const keep = (found: { value: Value; cover: number[][] } | undefined) => {
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
  const none = needs.map((n) => n.options.map(() => 0))
  const searched = open.length === 0 && weight === wanted
  if (searched || !milp) return { cover: best?.cover ?? none, proven: searched }
  const exact = proveGroup(needs, stock, milp)
  return exact ?? { cover: best?.cover ?? none, proven: false }
}

/** The same needs with the items of the group numbered from 0. */
function renumber(asked: readonly Need[], stockOf: (item: number) => Stock, scratch: Int32Array) {
  const stock: Stock[] = []
  const used: number[] = []
  const made = new Map<Option, Option>()
  const place = (item: number): number => {
    const known = scratch[item] as number
    if (known >= 0) return known
    scratch[item] = used.length
    used.push(item)
    stock.push(stockOf(item))
    return used.length - 1
  }
  const needs = asked.map(({ qty, options }): Need => ({
    qty,
    options: options.map((option) => {
      const known = made.get(option)
      if (known) return known
      const fresh = {
        compromise: option.compromise,
        uses: option.uses.map((u) => ({ item: place(u.item), qty: u.qty })),
      }
      made.set(option, fresh)
      return fresh
    }),
  }))
  for (const item of used) scratch[item] = -1
  return { needs, stock }
}

/** Items that several needs take at the same compromise or less: one node between them instead of an arc for each. */
type Hub = { readonly items: Int32Array; readonly marks: Uint8Array }
/** Of one need: through which hubs, at which compromise; and its single-piece options with an arc of their own. */
type Ways = { readonly hubs: { readonly hub: number; readonly compromise: number }[]; readonly direct: number[] }
type Hubs = { readonly hubs: readonly Hub[]; readonly ways: readonly Ways[] }

/** Options of one compromise from which on a hub is worth while. */
const HUB_FROM = 3

function findHubs(needs: readonly Need[], items: number): Hubs {
  const hubs: Hub[] = []
  const byHash = new Map<number, number[]>()
  const ways = needs.map(({ options }): Ways => {
    const levels = new Map<number, number[]>()
    const direct: number[] = []
    for (const [o, { uses, compromise }] of options.entries()) {
      const [use] = uses
      if (!use || uses.length > 1 || use.qty > 1) continue
      const level = levels.get(compromise)
      if (level) level.push(o)
      else levels.set(compromise, [o])
    }
    const found: Ways['hubs'] = []
    // An item of a lower level may be reached through the hub of a higher one, never to advantage: so hubs hold all up
    // to their level, and needs of different own items share them.
    const upTo: number[] = []
    for (const [compromise, level] of [...levels].sort((p, q) => p[0] - q[0])) {
      for (const o of level) upTo.push(options[o]?.uses[0]?.item ?? 0)
      if (level.length < HUB_FROM) {
        direct.push(...level)
        continue
      }
      let hash = 0
      for (const item of upTo) hash = (hash + Math.imul(item + 1, 0x9e3779b1)) >>> 0
      hash = hash * 4096 + (upTo.length % 4096)
      const same = byHash.get(hash) ?? []
      let hub = same.find((h) => {
        const known = hubs[h]
        return known?.items.length === upTo.length && upTo.every((item) => known.marks[item] === 1)
      })
      if (hub === undefined) {
        hub = hubs.length
        const marks = new Uint8Array(items)
        for (const item of upTo) marks[item] = 1
        hubs.push({ items: Int32Array.from(upTo), marks })
        byHash.set(hash, [...same, hub])
      }
      found.push({ hub, compromise })
    }
    return { hubs: found, direct }
  })
  return { hubs, ways }
}

function evaluate(
  needs: readonly Need[],
  stock: readonly Stock[],
  { hubs, ways }: Hubs,
  multiOf: readonly (ReadonlyMap<number, number> | undefined)[],
  bounds: readonly Bounds[],
  relaxed: boolean,
  weight: number,
): { value: Value; cover: number[][] } | undefined {
  const network = new FlowNetwork()
  const [forced, source, sink] = [network.node(), network.node(), network.node()]
  const items = stock.map(({ tiers }) => {
    const node = network.node()
    for (const { rank, qty } of tiers) network.arc(node, sink, qty, rank)
    return node
  })
  const hubNodes = hubs.map(() => network.node())
  const hubOut = hubs.map((hub, h) =>
    Array.from(hub.items, (item) => {
      const there = stock[item]?.tiers.reduce((n, t) => n + t.qty, 0) ?? 0
      return { item, arc: there > 0 ? network.arc(hubNodes[h] ?? sink, items[item] ?? sink, there, 0) : -1 }
    }),
  )
  const hubIn = hubs.map((): { need: number; arc: number }[] => [])
  let demand = 0
  let fixed = 0
  let total = 0
  let forcedPieces = 0
  let possible = true
  const cover = needs.map((n) => n.options.map(() => 0))
  const arcs: { need: number; option: number; arc: number }[] = []
  for (const [n, { qty, options }] of needs.entries()) {
    const multi = multiOf[n]
    let left = qty
    total += qty
    const node = network.node()
    for (const [o, b] of multi ?? []) {
      const { low = 0, high = 0 } = bounds[b] ?? {}
      const option = options[o]
      if (!option) continue
      left -= low
      forcedPieces += low
      fixed += low * option.compromise
      const own = cover[n]
      if (own) own[o] = low
      for (const use of low > 0 ? option.uses : []) {
        demand += use.qty * low
        network.arc(forced, items[use.item] ?? sink, use.qty * low, 0)
      }
      const [first] = option.uses
      if (first && relaxed && high > low)
        arcs.push({
          need: n,
          option: o,
          arc: network.arc(node, items[first.item] ?? sink, high - low, option.compromise * weight),
        })
    }
    if (left < 0) possible = false
    network.arc(source, node, Math.max(0, left), 0)
    for (const o of ways[n]?.direct ?? []) {
      const option = options[o]
      if (!option) continue
      const item = items[option.uses[0]?.item ?? 0] ?? sink
      arcs.push({ need: n, option: o, arc: network.arc(node, item, qty, option.compromise * weight) })
    }
    for (const { hub, compromise } of ways[n]?.hubs ?? [])
      hubIn[hub]?.push({ need: n, arc: network.arc(node, hubNodes[hub] ?? sink, qty, compromise * weight) })
  }
  if (!possible) return undefined
  const must = network.send(forced, sink)
  if (must.flow < demand) return undefined
  const may = network.send(source, sink)
  for (const { need, option, arc } of arcs) {
    const own = cover[need]
    if (own) own[option] = (own[option] ?? 0) + network.flowOn(arc)
  }
  // What came into a hub is handed to its items; however it is handed out, the cost is the same.
  for (const [h, incoming] of hubIn.entries()) {
    const handed = (hubOut[h] ?? []).flatMap(({ item, arc }) => {
      const left = arc < 0 ? 0 : network.flowOn(arc)
      return left > 0 ? [{ item, left }] : []
    })
    for (const { need, arc } of incoming)
      for (let open = network.flowOn(arc); open > 0;) {
        const last = handed.at(-1)
        if (!last) throw new Error('more came into a hub than left it')
        const taken = Math.min(open, last.left)
        const option = cheapestOf(needs[need]?.options ?? [], last.item)
        const own = cover[need]
        if (own) own[option] = (own[option] ?? 0) + taken
        open -= taken
        last.left -= taken
        if (last.left === 0) handed.pop()
      }
  }
  return { value: { short: total - forcedPieces - may.flow, cost: must.cost + may.cost + fixed * weight }, cover }
}

/** The option that takes one piece of an item at the least compromise. */
function cheapestOf(options: readonly Option[], item: number): number {
  let best = -1
  for (const [o, option] of options.entries())
    if (isSingle(option) && option.uses[0]?.item === item)
      if (best < 0 || option.compromise < (options[best]?.compromise ?? 0)) best = o
  return best
}
