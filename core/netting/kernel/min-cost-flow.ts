/**
 * A directed network with integer capacities and costs; arcs come in pairs, the odd one of a pair is its reverse. One
 * network serves many problems, one after the other: its workspace is kept.
 */
export class FlowNetwork {
  #nodes = 0
  #arcs = 0
  /** Of each node, the arc added last; of each arc, the one added before it at the same node. */
  #last = new Int32Array(64)
  #before = new Int32Array(256)
  #to = new Int32Array(256)
  #left = new Float64Array(256)
  #cost = new Float64Array(256)
  #distance = new Float64Array(64)
  #been = new Int32Array(64)
  #current = new Int32Array(64)
  #queue = new Int32Array(65)
  #queued = new Uint8Array(64)

  clear(): void {
    this.#nodes = 0
    this.#arcs = 0
  }

  /** Adds so many nodes, numbered one after the other, and gives the first. */
  nodes(count: number): number {
    const first = this.#nodes
    this.#nodes += count
    while (this.#nodes > this.#last.length) this.#last = grown(this.#last, Int32Array)
    this.#last.fill(-1, first, this.#nodes)
    return first
  }

  /** Adds an arc and gives its number. */
  arc(from: number, to: number, capacity: number, cost: number): number {
    const arc = this.#arcs
    this.#arcs += 2
    if (this.#arcs > this.#to.length) {
      this.#before = grown(this.#before, Int32Array)
      this.#to = grown(this.#to, Int32Array)
      this.#left = grown(this.#left, Float64Array)
      this.#cost = grown(this.#cost, Float64Array)
    }
    this.#to[arc] = to
    this.#to[arc + 1] = from
    this.#left[arc] = capacity
    this.#left[arc + 1] = 0
    this.#cost[arc] = cost
    this.#cost[arc + 1] = -cost
    this.#before[arc] = this.#last[from]
    this.#last[from] = arc
    this.#before[arc + 1] = this.#last[to]
    this.#last[to] = arc + 1
    return arc
  }

  flowOn(arc: number): number {
    return this.#left[arc + 1]
  }

  /** Sends as much as goes along a path of arcs, and says how much. */
  push(path: readonly number[]): number {
    let most = Infinity
    for (const arc of path) most = Math.min(most, this.#left[arc])
    for (const arc of path) {
      this.#left[arc] -= most
      this.#left[arc ^ 1] += most
    }
    return most
  }

  /**
   * Sends as much more as can go from source to sink at the least cost of all flows of its size; what flows already
   * must have no cycle of negative cost left. Stops at `most`, when it is known that no more can go. Primal-dual: shortest
   * distances by label correction, as arcs back have negative cost, then as much as the arcs on shortest paths let
   * through, until nothing gets through. R. K. Ahuja, T. L. Magnanti, J. B. Orlin, Network Flows (1993), section 9.8.
   */
  send(source: number, sink: number, most = Infinity): { readonly flow: number; readonly cost: number } {
    if (this.#distance.length < this.#last.length) {
      const room = this.#last.length
      this.#distance = new Float64Array(room)
      this.#been = new Int32Array(room)
      this.#current = new Int32Array(room)
      this.#queue = new Int32Array(room + 1)
      this.#queued = new Uint8Array(room)
    }
    let flow = 0
    let cost = 0
    while (flow < most && this.#measure(source, sink)) {
      const length = this.#distance[sink]
      for (let sent = Infinity; flow < most && sent > 0;) {
        sent = this.#fill(source, sink)
        flow += sent
        cost += sent * length
      }
    }
    return { flow, cost }
  }

  /** Shortest distances from the source; false when the sink is out of reach. */
  #measure(source: number, sink: number): boolean {
    const [last, before, to, left, costs] = [this.#last, this.#before, this.#to, this.#left, this.#cost]
    const [distance, queue, queued] = [this.#distance, this.#queue, this.#queued]
    distance.fill(Infinity, 0, this.#nodes)
    distance[source] = 0
    queue[0] = source
    const room = this.#nodes + 1
    for (let head = 0, tail = 1; head !== tail;) {
      const at = queue[head]
      head = head + 1 === room ? 0 : head + 1
      queued[at] = 0
      // No shortest path goes on from the sink.
      if (at === sink) continue
      const base = distance[at]
      for (let arc = last[at]; arc >= 0; arc = before[arc]) {
        if (left[arc] <= 0) continue
        const next = to[arc]
        const d = base + costs[arc]
        if (d >= distance[next]) continue
        distance[next] = d
        if (queued[next] === 0) {
          queued[next] = 1
          queue[tail] = next
          tail = tail + 1 === room ? 0 : tail + 1
        }
      }
    }
    return distance[sink] < Infinity
  }

  /**
   * Sends along shortest paths, one after the other; a node found to lead nowhere is not looked at again. Arcs there and
   * back may both be on shortest paths, so a path never comes to a node twice: that may leave something to send.
   */
  #fill(source: number, sink: number): number {
    const [before, to, left, costs] = [this.#before, this.#to, this.#left, this.#cost]
    const [distance, been, current, path] = [this.#distance, this.#been, this.#current, this.#queue]
    been.fill(0, 0, this.#nodes)
    current.set(this.#last.subarray(0, this.#nodes))
    let sent = 0
    let depth = 0
    let at = source
    been[source] = 1
    for (;;) {
      if (at === sink) {
        let push = Infinity
        for (let i = 0; i < depth; i++) {
          const room = left[path[i]]
          if (room < push) push = room
        }
        sent += push
        let keep = depth
        for (let i = depth - 1; i >= 0; i--) {
          const arc = path[i]
          const room = left[arc] - push
          left[arc] = room
          left[arc ^ 1] += push
          if (room === 0) keep = i
        }
        // Nodes after an arc that is used up may be reached another way.
        for (let i = keep; i < depth; i++) been[to[path[i]]] = 0
        depth = keep
        at = keep === 0 ? source : to[path[keep - 1]]
        continue
      }
      let arc = current[at]
      const base = distance[at]
      for (; arc >= 0; arc = before[arc]) {
        if (left[arc] <= 0) continue
        const next = to[arc]
        if (been[next] === 0 && base + costs[arc] === distance[next]) break
      }
      current[at] = arc
      if (arc >= 0) {
        path[depth++] = arc
        at = to[arc]
        been[at] = 1
      } else {
        if (depth === 0) return sent
        const back = path[--depth]
        at = to[back ^ 1]
        current[at] = before[back]
      }
    }
  }
}

/** The same numbers with twice the room. */
function grown<T extends Int32Array | Float64Array>(numbers: T, Workspace: new (length: number) => T): T {
  const more = new Workspace(numbers.length * 2)
  more.set(numbers)
  return more
}
