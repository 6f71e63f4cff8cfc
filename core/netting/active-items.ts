/** What is known of items before netting: how many pieces there are, and how many are asked for by lines that could be settled with the item itself. */
export type ItemStates = { readonly there: Int32Array; readonly wanted: Int32Array }

/** Takes note of an item that options draw on: a single piece of, or more than that (or with others). */
export type NoteReach = (item: number, several: boolean) => void

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
  sources: readonly { readonly qty: number; readonly reach: (note: NoteReach) => void }[],
): Uint8Array {
  const size = there.length
  const active = new Uint8Array(size)
  // Nodes are items and, after them, sources; those connected have one root.
  const parent = new Int32Array(size + sources.length)
  for (let node = 0; node < parent.length; node++) parent[node] = node
  const root = (node: number): number => {
    let at = node
    for (let up = parent[at] as number; up !== at; up = parent[at] as number) {
      parent[at] = parent[up] as number
      at = parent[at] as number
    }
    return at
  }
  const fresh: number[] = []
  const activate = (item: number) => {
    if (active[item] === 1) return
    active[item] = 1
    fresh.push(item)
  }
  /** Nodes that have a choice, in the order in which that was found; what each reaches, once, from `first` on. */
  const nodes: number[] = []
  const first: number[] = []
  const reached: number[] = []
  const tangled = new Uint8Array(size + sources.length)
  const noted = new Int32Array(size).fill(-1)
  let noting = -1
  const note: NoteReach = (item, several) => {
    if (several) {
      tangled[noting] = 1
      activate(item)
    }
    if (noted[item] === noting) return
    noted[item] = noting
    reached.push(item)
  }
  const add = (node: number, reach: (note: NoteReach) => void) => {
    first[nodes.length] = reached.length
    nodes.push(node)
    noting = node
    reach(note)
  }
  for (let item = 0; item < size; item++) if ((wanted[item] as number) > (there[item] as number)) activate(item)
  for (const [s, { reach }] of sources.entries()) add(size + s, reach)
  const missing = new Float64Array(size + sources.length)
  const all = new Float64Array(size + sources.length)
  const several = new Uint8Array(size + sources.length)
  const incoming = new Float64Array(size)
  const stamp = new Int32Array(size)
  let round = 0
  for (;;) {
    for (let item = fresh.pop(); item !== undefined; item = fresh.pop()) {
      const own = item
      add(own, (notes) => {
        reachOf(own, notes)
      })
    }
    first[nodes.length] = reached.length
    // Connected nodes make a part; its nodes are gone through together.
    for (let n = 0; n < nodes.length; n++)
      for (let r = first[n] as number; r < (first[n + 1] as number); r++) {
        const to = reached[r] as number
        if (active[to] === 0) continue
        const [p, q] = [root(nodes[n] as number), root(to)]
        if (p !== q) parent[q] = p
      }
    missing.fill(0)
    all.fill(0)
    several.fill(0)
    const parts = new Map<number, number[]>()
    for (let n = 0; n < nodes.length; n++) {
      const node = nodes[n] as number
      const top = root(node)
      const need = node < size ? (wanted[node] as number) : (sources[node - size]?.qty ?? 0)
      const held = node < size ? (there[node] as number) : 0
      missing[top] = (missing[top] as number) + Math.max(0, need - held)
      all[top] = (all[top] as number) + need
      if (tangled[node] === 1) several[top] = 1
      const part = parts.get(top)
      if (part) part.push(n)
      else parts.set(top, [n])
    }
    incoming.fill(0)
    for (const [top, part] of parts) {
      round++
      const comes = (several[top] === 1 ? all : missing)[top] as number
      for (const n of part)
        for (let r = first[n] as number; r < (first[n + 1] as number); r++) {
          const to = reached[r] as number
          if (active[to] === 1 || stamp[to] === round) continue
          stamp[to] = round
          const total = (incoming[to] as number) + comes
          incoming[to] = total
          if (total > (there[to] as number) - (wanted[to] as number)) activate(to)
        }
    }
    if (fresh.length === 0) return active
  }
}
