import { disjointSets } from './disjoint.ts'

/** What is known of items before netting: how many pieces there are, and how many are asked for by lines that could be settled with the item itself. */
export type ItemStates = { readonly there: Float64Array; readonly wanted: Float64Array }

/** Takes note of what options draw on. */
export type NoteReach = {
  /** An item: a single piece of it, or more than that (or with others). */
  item(item: number, several: boolean): void
  /** Items that many draw on alike, by one list: a single piece of each. */
  pool(items: readonly number[], several: boolean): void
}

export type ItemChoices = {
  /** Of each item whether its lines have a choice. */
  readonly active: Uint8Array
  /**
   * Of each item, and after them of each source, whether its lines draw on nothing but the item, and nobody else on it:
   * there may be less than they ask for, but nothing to choose.
   */
  readonly alone: Uint8Array
}

/**
 * A list of items that many draw on: those without a choice so far; a node that draws on it; and, while a round lasts, the
 * next list that its part draws on.
 */
type Shared = { readonly items: readonly number[]; readonly idle: number[]; readonly node: number; next: number }

/**
 * Items whose lines have a real choice to make. All others have enough for every line that asks for the item itself and
 * for every piece that could still come from elsewhere: those lines take the item, whatever the rest does.
 *
 * Why that is optimal: let every line take its own item as far as it goes, at no compromise. The optimum is reached from
 * there by augmenting paths, one per piece that is missing (Ahuja, Magnanti, Orlin, Network Flows, 1993, section 9.7),
 * and a path adds at most one piece to an item. So no more pieces than are missing among the items connected with it
 * can ever come to an item; where that many are to spare, its own lines are never displaced. Options of several pieces
 * are no flow: items they touch have a choice, and everything around them may be displaced.
 *
 * `reachOf` is asked once for each item that has a choice, for what all its lines draw on beside it; `sources` are lines
 * that always have one: their pieces and what they draw on.
 */
export function activeItems(
  { there, wanted }: ItemStates,
  reachOf: (item: number, note: NoteReach) => void,
  sources: { readonly qty: readonly number[]; readonly reach: (source: number, note: NoteReach) => void },
): ItemChoices {
  const size = there.length
  const active = new Uint8Array(size)
  // Nodes are items and, after them, sources; those connected make a part, which has one root.
  const count = size + sources.qty.length
  const sets = disjointSets(count)
  /** By root: pieces that the part lacks, and that it asks for; whether any of it takes several pieces of an item. */
  const missing = new Float64Array(count)
  const all = new Float64Array(count)
  const several = new Uint8Array(count)
  /** Of each node whether it draws on anything beside its item; of each item whether others draw on it. */
  const draws = new Uint8Array(count)
  const drawnOn = new Uint8Array(size)
  const fresh: number[] = []
  const activate = (item: number) => {
    if (active[item] === 1) return
    active[item] = 1
    all[item] = wanted[item]
    missing[item] = Math.max(0, wanted[item] - there[item])
    fresh.push(item)
  }
  const join = (p: number, q: number) => {
    const [top, other] = [sets.root(p), sets.root(q)]
    if (top === other) return
    const root = sets.join(top, other)
    const gone = root === top ? other : top
    missing[root] += missing[gone]
    all[root] += all[gone]
    if (several[gone] === 1) several[root] = 1
  }
  /** Who draws on which item, as long as that has no choice. */
  const edges = edgeList()
  const pools: Shared[] = []
  const poolOf = new Map<readonly number[], Shared>()
  const noted = new Int32Array(size).fill(-1)
  let noting = -1
  const takesKits = () => {
    draws[noting] = 1
    several[sets.root(noting)] = 1
  }
  const note: NoteReach = {
    item(item, some) {
      if (some) {
        takesKits()
        activate(item)
      }
      if (noted[item] === noting) return
      noted[item] = noting
      draws[noting] = 1
      drawnOn[item] = 1
      if (active[item] === 1) join(noting, item)
      else edges.add(noting, item)
    },
    pool(items, some) {
      let pool = poolOf.get(items)
      if (!pool) {
        pool = { items, idle: [...items], node: noting, next: -1 }
        pools.push(pool)
        poolOf.set(items, pool)
      }
      draws[noting] = 1
      join(noting, pool.node)
      if (!some) return
      takesKits()
      for (const item of items) activate(item)
    },
  }
  for (let item = 0; item < size; item++) if (wanted[item] > there[item]) activate(item)
  for (let s = 0; s < sources.qty.length; s++) {
    noting = size + s
    all[noting] = missing[noting] = sources.qty[s]
    sources.reach(s, note)
  }
  const incoming = new Float64Array(size)
  const stamp = new Int32Array(size)
  let stamps = 0
  /** Pieces may come to an item; those of one part are counted once. */
  const arrive = (to: number, comes: number) => {
    if (active[to] === 1 || stamp[to] === stamps) return
    stamp[to] = stamps
    const total = incoming[to] + comes
    incoming[to] = total
    if (total > there[to] - wanted[to]) activate(to)
  }
  /** Of each root what its part draws on, while a round lasts: an edge and a pool, from which others follow. */
  const firstEdge = new Int32Array(count).fill(-1)
  const firstPool = new Int32Array(count).fill(-1)
  do {
    for (let item = fresh.pop(); item !== undefined; item = fresh.pop()) {
      noting = item
      reachOf(item, note)
    }
    // What has got a choice meanwhile belongs to the parts that draw on it; the others may.
    const tops: number[] = []
    const partOf = (node: number): number => {
      const top = sets.root(node)
      if (firstEdge[top] === -1 && firstPool[top] === -1) tops.push(top)
      return top
    }
    edges.keep((from, to) => {
      if (active[to] === 0) return true
      join(from, to)
      return false
    })
    for (const { idle, node } of pools) {
      let left = 0
      for (const item of idle)
        if (active[item] === 1) join(node, item)
        else idle[left++] = item
      idle.length = left
    }
    for (let e = 0; e < edges.size(); e++) {
      const top = partOf(edges.from(e))
      edges.follow(e, firstEdge[top])
      firstEdge[top] = e
    }
    for (const [p, pool] of pools.entries()) {
      if (pool.idle.length === 0) continue
      const top = partOf(pool.node)
      pool.next = firstPool[top]
      firstPool[top] = p
    }
    incoming.fill(0)
    for (const top of tops) {
      stamps++
      const comes = several[top] === 1 ? all[top] : missing[top]
      for (let e = firstEdge[top]; e >= 0; e = edges.next(e)) arrive(edges.to(e), comes)
      for (let p = firstPool[top]; p >= 0; p = pools[p].next) for (const item of pools[p].idle) arrive(item, comes)
      firstEdge[top] = firstPool[top] = -1
    }
  } while (fresh.length > 0)
  for (const { items } of pools) for (const item of items) drawnOn[item] = 1
  const alone = new Uint8Array(count)
  for (let node = 0; node < count; node++) {
    const isIt = node >= size || (active[node] === 1 && drawnOn[node] === 0)
    if (isIt && draws[node] === 0) alone[node] = 1
  }
  return { active, alone }
}

/** Edges from a node to an item, by their numbers; each may be followed by another. */
function edgeList() {
  let from = new Int32Array(2048)
  let to = new Int32Array(2048)
  let next = new Int32Array(2048)
  let size = 0
  const grown = (numbers: Int32Array): Int32Array<ArrayBuffer> => {
    const more = new Int32Array(2 * numbers.length)
    more.set(numbers)
    return more
  }
  return {
    add(node: number, item: number): void {
      if (size === to.length) [from, to, next] = [grown(from), grown(to), grown(next)]
      from[size] = node
      to[size++] = item
    },
    /** Keeps those that are wanted. */
    keep(wanted: (from: number, to: number) => boolean): void {
      let left = 0
      for (let e = 0; e < size; e++) {
        if (!wanted(from[e], to[e])) continue
        from[left] = from[e]
        to[left++] = to[e]
      }
      size = left
    },
    size: () => size,
    from: (e: number) => from[e],
    to: (e: number) => to[e],
    next: (e: number) => next[e],
    follow(e: number, other: number): void {
      next[e] = other
    },
  }
}
