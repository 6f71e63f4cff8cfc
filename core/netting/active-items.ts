import { disjointSets } from './disjoint.ts'

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
  const sets = disjointSets(size + sources.length)
  const fresh: number[] = []
  const activate = (item: number) => {
    if (active[item] === 1) return
    active[item] = 1
    fresh.push(item)
  }
  /** Nodes that have a choice, in the order in which that was found; what each reaches, once, from `first` on. */
  const nodes: number[] = []
  const first: number[] = []
  let reached = new Int32Array(4096)
  let ends = 0
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
    if (ends === reached.length) {
      const more = new Int32Array(ends * 2)
      more.set(reached)
      reached = more
    }
    reached[ends++] = item
  }
  for (let item = 0; item < size; item++) if ((wanted[item] as number) > (there[item] as number)) activate(item)
  for (const [s, { reach }] of sources.entries()) {
    first[nodes.length] = ends
    nodes.push(size + s)
    noting = size + s
    reach(note)
  }
  const missing = new Float64Array(size + sources.length)
  const all = new Float64Array(size + sources.length)
  const several = new Uint8Array(size + sources.length)
  const incoming = new Float64Array(size)
  const stamp = new Int32Array(size)
  /** Of each root the node of its part that came last; of each node the one before it. */
  const lastIn = new Int32Array(size + sources.length)
  const before = new Int32Array(size + sources.length)
  let round = 0
  for (;;) {
    for (let item = fresh.pop(); item !== undefined; item = fresh.pop()) {
      first[nodes.length] = ends
      nodes.push(item)
      noting = item
      reachOf(item, note)
    }
    first[nodes.length] = ends
    // Connected nodes make a part; its nodes are gone through together.
    for (let n = 0; n < nodes.length; n++) {
      let own = sets.root(nodes[n] as number)
      for (let r = first[n] as number; r < (first[n + 1] as number); r++) {
        const to = reached[r] as number
        if (active[to] === 1) own = sets.join(own, to)
      }
    }
    missing.fill(0)
    all.fill(0)
    several.fill(0)
    lastIn.fill(-1)
    const tops: number[] = []
    for (let n = 0; n < nodes.length; n++) {
      const node = nodes[n] as number
      const top = sets.root(node)
      const need = node < size ? (wanted[node] as number) : (sources[node - size]?.qty ?? 0)
      const held = node < size ? (there[node] as number) : 0
      if (need > held) missing[top] = (missing[top] as number) + need - held
      all[top] = (all[top] as number) + need
      if (tangled[node] === 1) several[top] = 1
      if (lastIn[top] === -1) tops.push(top)
      before[n] = lastIn[top] as number
      lastIn[top] = n
    }
    incoming.fill(0)
    for (const top of tops) {
      round++
      const comes = (several[top] === 1 ? all[top] : missing[top]) as number
      for (let n = lastIn[top] as number; n >= 0; n = before[n] as number)
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
