import { FlowNetwork } from './min-cost-flow.ts'

/** Lines that accept the same: so many pieces, each covered by one of the options. */
export type Need = {
  readonly qty: number
  readonly options: readonly {
    readonly uses: readonly { readonly item: number; readonly qty: number }[]
    readonly compromise: number
  }[]
}
/** What there is of an item, by rank, lowest first. */
export type Stock = { readonly tiers: readonly { readonly rank: number; readonly qty: number }[] }

/** Required pieces covered per need and option. */
export type GroupPlan = { readonly cover: readonly (readonly number[])[]; readonly proven: boolean }

type Multi = { readonly need: number; readonly option: number }
type Bounds = { readonly low: number; readonly high: number }
type Value = { readonly short: number; readonly cost: number }

const better = (p: Value, q: Value) => p.short < q.short || (p.short === q.short && p.cost < q.cost)

/** Nodes of the search after which its best plan is taken unproven. */
const MAX_NODES = 4000

/**
 * The best cover of one group of needs that compete for the same stock: fewest pieces short, then least compromise,
 * then least rank. Options that use a single piece make a minimum-cost flow. Options that use several are branched on:
 * a node fixes how many pieces such an option covers at least and at most; what it must cover is drawn in full, what it
 * may cover beyond is relaxed to one piece of its first item, which is a bound. A node whose relaxation covers no more
 * than it must is solved.
 */
export function solveGroup(needs: readonly Need[], stock: readonly Stock[]): GroupPlan {
  const total = needs.reduce((n, need) => n + need.qty, 0)
  const maxUse = Math.max(
    1,
    ...needs.flatMap((n) => n.options.map((o) => o.uses.reduce((sum, use) => sum + use.qty, 0))),
  )
  const maxRank = Math.max(0, ...stock.flatMap((s) => s.tiers.map((t) => t.rank)))
  const maxCompromise = Math.max(0, ...needs.flatMap((n) => n.options.map((o) => o.compromise)))
  // One point of compromise outweighs all rank there can be, within exact integers.
  const wanted = 1 + total * maxUse * maxRank
  const weight = Math.max(1, Math.min(wanted, Math.floor(2 ** 51 / (1 + maxCompromise * total))))

  const multis: Multi[] = []
  const start: Bounds[] = []
  const supply = stock.map((s) => s.tiers.reduce((n, t) => n + t.qty, 0))
  for (const [need, { qty, options }] of needs.entries())
    for (const [option, { uses }] of options.entries()) {
      const [first, ...more] = uses
      if (!first || (more.length === 0 && first.qty === 1)) continue
      multis.push({ need, option })
      start.push({ low: 0, high: Math.min(qty, ...uses.map((u) => Math.floor((supply[u.item] ?? 0) / u.qty))) })
    }

  const at = (bounds: readonly Bounds[], relaxed: boolean) => evaluate(needs, stock, multis, bounds, relaxed, weight)
  let best: { value: Value; cover: number[][] } | undefined
  const keep = (found: { value: Value; cover: number[][] } | undefined) => {
    if (found && (!best || better(found.value, best.value))) best = found
  }
  const open = [start]
  let nodes = 0
  while (open.length > 0 && nodes < MAX_NODES) {
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
  return {
    cover: best?.cover ?? needs.map((n) => n.options.map(() => 0)),
    proven: open.length === 0 && weight === wanted,
  }
}

function evaluate(
  needs: readonly Need[],
  stock: readonly Stock[],
  multis: readonly Multi[],
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
  const boundOf = new Map(multis.map(({ need, option }, i) => [`${need} ${option}`, bounds[i]]))
  let demand = 0
  let fixed = 0
  let total = 0
  const arcs = needs.map(({ qty, options }, n) => {
    const must = options.map((_, o) => boundOf.get(`${n} ${o}`)?.low ?? 0)
    const left = qty - must.reduce((sum, m) => sum + m, 0)
    total += qty
    if (left < 0) return undefined
    const node = network.node()
    network.arc(source, node, left, 0)
    return options.map(({ uses, compromise }, o) => {
      const bound = boundOf.get(`${n} ${o}`)
      for (const use of bound ? uses : []) {
        const pieces = use.qty * (bound?.low ?? 0)
        demand += pieces
        if (pieces > 0) network.arc(forced, items[use.item] ?? sink, pieces, 0)
      }
      fixed += (bound?.low ?? 0) * compromise
      const room = bound ? (relaxed ? bound.high - bound.low : 0) : qty
      const [first] = uses
      const arc =
        first && room > 0 ? network.arc(node, items[first.item] ?? sink, room, compromise * weight) : undefined
      return { low: bound?.low ?? 0, arc }
    })
  })
  if (arcs.includes(undefined)) return undefined
  const must = network.send(forced, sink)
  if (must.flow < demand) return undefined
  const may = network.send(source, sink)
  const cover = arcs.map((options) =>
    (options ?? []).map(({ low, arc }) => low + (arc === undefined ? 0 : network.flowOn(arc))),
  )
  const covered = cover.reduce((sum, options) => sum + options.reduce((n, c) => n + c, 0), 0)
  return { value: { short: total - covered, cost: must.cost + may.cost + fixed * weight }, cover }
}
