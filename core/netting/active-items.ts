import { disjointSets } from './disjoint.ts'

/** What is known of items before netting: how many pieces there are, and how many are asked for by lines that could be settled with the item itself. */
export type ItemStates = { readonly there: Int32Array; readonly wanted: Int32Array }

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

/** A list of items that many draw on: those without a choice so far; its node among the sets, and the last round in which pieces came to it. */
type Shared = { readonly items: readonly number[]; readonly idle: number[]; readonly node: number; stamp: number }

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
  // Nodes are items and, after them, sources; those connected have one root.
  const count = size + sources.qty.length
  const sets = disjointSets(count)
  const fresh: number[] = []
  const activate = (item: number) => {
    if (active[item] === 1) return
    active[item] = 1
    fresh.push(item)
  }
  /** Nodes that have a choice, in the order in which that was found; what each reaches, once, from `first` on. */
  const nodes = new Int32Array(count)
  const first = new Int32Array(count + 1)
  let known = 0
  let reached = new Int32Array(4096)
  let ends = 0
  const tangled = new Uint8Array(count)
  const noted = new Int32Array(size).fill(-1)
  let noting = -1
  const pools: Shared[] = []
  const poolOf = new Map<readonly number[], number>()
  /** By node like what it reaches: the pools it draws on. */
  const firstPool = new Int32Array(count + 1)
  const drawnOn: number[] = []
  const note: NoteReach = {
    item(item, several) {
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
    },
    pool(items, several) {
      let number = poolOf.get(items)
      if (number === undefined) {
        number = pools.push({ items, idle: [...items], node: sets.add(), stamp: 0 }) - 1
        poolOf.set(items, number)
      }
      if (several) {
        tangled[noting] = 1
        for (const item of items) activate(item)
      }
      for (let p = firstPool[known - 1] as number; p < drawnOn.length; p++) if (drawnOn[p] === number) return
      drawnOn.push(number)
    },
  }
  /** What is noted from here on is what a node reaches. */
  const begin = (node: number) => {
    first[known] = ends
    firstPool[known] = drawnOn.length
    nodes[known++] = node
    noting = node
  }
  for (let item = 0; item < size; item++) if ((wanted[item] as number) > (there[item] as number)) activate(item)
  for (let s = 0; s < sources.qty.length; s++) {
    begin(size + s)
    sources.reach(s, note)
  }
  const missing = new Float64Array(count)
  const all = new Float64Array(count)
  const several = new Uint8Array(count)
  const incoming = new Float64Array(size)
  const stamp = new Int32Array(size)
  /** Of each root the node of its part that came last; of each node the one before it. */
  const lastIn = new Int32Array(count)
  const before = new Int32Array(count)
  let round = 0
  /** Pieces may come to an item; those of one part are counted once. */
  const arrive = (to: number, comes: number) => {
    if (active[to] === 1 || stamp[to] === round) return
    stamp[to] = round
    const total = (incoming[to] as number) + comes
    incoming[to] = total
    if (total > (there[to] as number) - (wanted[to] as number)) activate(to)
  }
  for (;;) {
    for (let item = fresh.pop(); item !== undefined; item = fresh.pop()) {
      begin(item)
      reachOf(item, note)
    }
    first[known] = ends
    firstPool[known] = drawnOn.length
    // Connected nodes make a part; its nodes are gone through together.
    for (let n = 0; n < known; n++) {
      let own = sets.root(nodes[n] as number)
      for (let r = first[n] as number; r < (first[n + 1] as number); r++) {
        const to = reached[r] as number
        if (active[to] === 1) own = sets.join(own, to)
      }
      for (let p = firstPool[n] as number; p < (firstPool[n + 1] as number); p++)
        own = sets.join(own, (pools[drawnOn[p] as number] as Shared).node)
    }
    for (const { idle, node } of pools) {
      let own = sets.root(node)
      let left = 0
      for (const item of idle)
        if (active[item] === 1) own = sets.join(own, item)
        else idle[left++] = item
      idle.length = left
    }
    missing.fill(0)
    all.fill(0)
    several.fill(0)
    lastIn.fill(-1)
    const tops: number[] = []
    for (let n = 0; n < known; n++) {
      const node = nodes[n] as number
      const top = sets.root(node)
      const need = node < size ? (wanted[node] as number) : (sources.qty[node - size] as number)
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
      for (let n = lastIn[top] as number; n >= 0; n = before[n] as number) {
        for (let r = first[n] as number; r < (first[n + 1] as number); r++) arrive(reached[r] as number, comes)
        for (let p = firstPool[n] as number; p < (firstPool[n + 1] as number); p++) {
          const pool = pools[drawnOn[p] as number] as Shared
          if (pool.stamp === round) continue
          pool.stamp = round
          for (const item of pool.idle) arrive(item, comes)
        }
      }
    }
    if (fresh.length === 0) break
  }
  const drawnOnToo = new Uint8Array(size)
  for (let r = 0; r < ends; r++) drawnOnToo[reached[r] as number] = 1
  for (const { items } of pools) for (const item of items) drawnOnToo[item] = 1
  const alone = new Uint8Array(count)
  for (let n = 0; n < known; n++) {
    const node = nodes[n] as number
    if (tangled[node] === 1 || (node < size && drawnOnToo[node] === 1)) continue
    if (first[n] === first[n + 1] && firstPool[n] === firstPool[n + 1]) alone[node] = 1
  }
  return { active, alone }
}
