/** A directed network with integer capacities and costs; arcs come in pairs, the odd one of a pair is its reverse. */
export class FlowNetwork {
  /** Of each node, the arc added last; of each arc, the one added before it at the same node. */
  readonly #last: number[] = []
  readonly #before: number[] = []
  readonly #to: number[] = []
  readonly #left: number[] = []
  readonly #cost: number[] = []

  node(): number {
    return this.#last.push(-1) - 1
  }

  /** Adds an arc and gives its number. */
  arc(from: number, to: number, capacity: number, cost: number): number {
    const arc = this.#to.length
    this.#to.push(to, from)
    this.#left.push(capacity, 0)
    this.#cost.push(cost, -cost)
    this.#before.push(this.#last[from] ?? -1, this.#last[to] ?? -1)
    this.#last[from] = arc
    this.#last[to] = arc + 1
    return arc
  }

  flowOn(arc: number): number {
    return this.#left[arc + 1] ?? 0
  }

  /**
   * Sends as much as can go from source to sink at the least cost of all flows of its size. Primal-dual: shortest
   * distances by label correction, as arcs back have negative cost, then as much as the arcs on shortest paths let
   * through, until nothing gets through. R. K. Ahuja, T. L. Magnanti, J. B. Orlin, Network Flows (1993), section 9.8.
   */
  send(source: number, sink: number): { readonly flow: number; readonly cost: number } {
    const nodes = this.#last.length
    const distance = new Float64Array(nodes)
    const level = new Int32Array(nodes)
    const current = new Int32Array(nodes)
    const queue = new Int32Array(nodes + 1)
    const queued = new Uint8Array(nodes)
    const path: number[] = []
    let flow = 0
    let cost = 0
    while (this.#measure(source, sink, distance, queue, queued)) {
      const length = distance[sink] ?? 0
      while (this.#layer(source, sink, distance, level, queue)) {
        current.set(this.#last)
        const sent = this.#fill(source, sink, distance, level, current, path)
        flow += sent
        cost += sent * length
      }
    }
    return { flow, cost }
  }

  /** Shortest distances from the source; false when the sink is out of reach. */
  #measure(source: number, sink: number, distance: Float64Array, queue: Int32Array, queued: Uint8Array): boolean {
    const [last, before, to, left, costs] = [this.#last, this.#before, this.#to, this.#left, this.#cost]
    distance.fill(Infinity)
    distance[source] = 0
    queue[0] = source
    const room = queue.length
    for (let head = 0, tail = 1; head !== tail;) {
      const at = queue[head] as number
      head = head + 1 === room ? 0 : head + 1
      queued[at] = 0
      const base = distance[at] as number
      for (let arc = last[at] as number; arc >= 0; arc = before[arc] as number) {
        if ((left[arc] as number) <= 0) continue
        const next = to[arc] as number
        const d = base + (costs[arc] as number)
        if (d >= (distance[next] as number)) continue
        distance[next] = d
        if (queued[next] === 0) {
          queued[next] = 1
          queue[tail] = next
          tail = tail + 1 === room ? 0 : tail + 1
        }
      }
    }
    return (distance[sink] as number) < Infinity
  }

  /** Steps from the source over arcs on shortest paths only; false when the sink is out of reach. */
  #layer(source: number, sink: number, distance: Float64Array, level: Int32Array, queue: Int32Array): boolean {
    const [last, before, to, left, costs] = [this.#last, this.#before, this.#to, this.#left, this.#cost]
    level.fill(-1)
    level[source] = 0
    queue[0] = source
    for (let head = 0, tail = 1; head < tail; head++) {
      const at = queue[head] as number
      for (let arc = last[at] as number; arc >= 0; arc = before[arc] as number) {
        const next = to[arc] as number
        if ((left[arc] as number) <= 0 || (level[next] as number) >= 0) continue
        if ((distance[at] as number) + (costs[arc] as number) !== distance[next]) continue
        level[next] = (level[at] as number) + 1
        if (next === sink) return true
        queue[tail++] = next
      }
    }
    return false
  }

  /** Sends all that goes through the layers, path by path; an arc found useless is not looked at again. */
  #fill(
    source: number,
    sink: number,
    distance: Float64Array,
    level: Int32Array,
    current: Int32Array,
    path: number[],
  ): number {
    const [before, to, left, costs] = [this.#before, this.#to, this.#left, this.#cost]
    let sent = 0
    let at = source
    path.length = 0
    for (;;) {
      if (at === sink) {
        let push = Infinity
        for (const arc of path) push = Math.min(push, left[arc] as number)
        sent += push
        let keep = path.length
        for (let i = path.length - 1; i >= 0; i--) {
          const arc = path[i] as number
          left[arc] = (left[arc] as number) - push
          left[arc ^ 1] = (left[arc ^ 1] as number) + push
          if (left[arc] === 0) keep = i
        }
        path.length = keep
        at = keep === 0 ? source : (to[path[keep - 1] as number] as number)
        continue
      }
      let arc = current[at] as number
      for (; arc >= 0; arc = before[arc] as number) {
        const next = to[arc] as number
        if ((left[arc] as number) <= 0 || level[next] !== (level[at] as number) + 1) continue
        if ((distance[at] as number) + (costs[arc] as number) === distance[next]) break
      }
      current[at] = arc
      if (arc >= 0) {
        path.push(arc)
        at = to[arc] as number
      } else {
        const back = path.pop()
        if (back === undefined) return sent
        at = to[back ^ 1] as number
        current[at] = before[back] as number
      }
    }
  }
}
