/** What is known of an item before netting: what there is, and what asks for the piece itself. */
export type ItemState = {
  /** Pieces there are. */
  readonly there: number
  /** Pieces asked for by lines that could be settled with the item itself. */
  readonly wanted: number
}

/** Items that options draw on, beside the item itself: a single piece of, and more than that (or with others). */
export type Reach = { readonly single: readonly number[]; readonly several: readonly number[] }

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
 * `reachOf` is asked once for each item that has a choice, for all its lines; `sources` are lines that always have one:
 * their pieces and what they reach.
 */
export function activeItems(
  items: readonly ItemState[],
  reachOf: (item: number) => Reach,
  sources: readonly { readonly qty: number; readonly reach: Reach }[],
): Uint8Array {
  const size = items.length
  const active = new Uint8Array(size)
  // Items first, sources after them; those connected have one root.
  const parent = Int32Array.from({ length: size + sources.length }, (_, i) => i)
  const root = (node: number): number => {
    let at = node
    while (parent[at] !== at) at = parent[at] = parent[parent[at] as number] as number
    return at
  }
  const reach: (readonly number[] | undefined)[] = []
  const tangled = new Uint8Array(size + sources.length)
  const fresh: number[] = []
  const activate = (item: number) => {
    if (active[item] === 1) return
    active[item] = 1
    fresh.push(item)
  }
  const noted = new Int32Array(size).fill(-1)
  const note = (node: number, { single, several }: Reach) => {
    const once: number[] = []
    for (const list of [single, several])
      for (const item of list)
        if (noted[item] !== node) {
          noted[item] = node
          once.push(item)
        }
    if (several.length > 0) tangled[node] = 1
    for (const item of several) activate(item)
    reach[node] = once
  }
  for (const [item, { there, wanted }] of items.entries()) if (wanted > there) activate(item)
  for (const [s, source] of sources.entries()) note(size + s, source.reach)
  const nodes: number[] = sources.map((_, s) => size + s)
  const incoming = new Float64Array(size)
  const stamp = new Int32Array(size)
  for (;;) {
    for (let item = fresh.pop(); item !== undefined; item = fresh.pop()) {
      nodes.push(item)
      note(item, reachOf(item))
    }
    for (const node of nodes)
      for (const to of reach[node] ?? []) {
        if (active[to] === 0) continue
        const [p, q] = [root(node), root(to)]
        if (p !== q) parent[q] = p
      }
    const parts = new Map<number, { nodes: number[]; missing: number; all: number; tangled: boolean }>()
    for (const node of nodes) {
      const top = root(node)
      const part = parts.get(top) ?? { nodes: [], missing: 0, all: 0, tangled: false }
      parts.set(top, part)
      const { there, wanted } = items[node] ?? { there: 0, wanted: sources[node - size]?.qty ?? 0 }
      part.nodes.push(node)
      part.missing += Math.max(0, wanted - there)
      part.all += wanted
      part.tangled ||= tangled[node] === 1
    }
    incoming.fill(0)
    stamp.fill(0)
    let number = 0
    for (const { nodes: own, missing, all, tangled: several } of parts.values()) {
      number++
      for (const node of own)
        for (const to of reach[node] ?? []) {
          if (active[to] === 1 || stamp[to] === number) continue
          stamp[to] = number
          const total = (incoming[to] as number) + (several ? all : missing)
          incoming[to] = total
          const { there, wanted } = items[to] ?? { there: 0, wanted: 0 }
          if (total > there - wanted) activate(to)
        }
    }
    if (fresh.length === 0) return active
  }
}
