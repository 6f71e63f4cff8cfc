/** A directed network with integer capacities and costs; arcs come in pairs, the odd one of a pair is its reverse. */
export class FlowNetwork {
  readonly #from: number[][] = []
  readonly #to: number[] = []
  readonly #left: number[] = []
  readonly #cost: number[] = []

  node(): number {
    return this.#from.push([]) - 1
  }

  /** Adds an arc and gives its number. */
  arc(from: number, to: number, capacity: number, cost: number): number {
    const arc = this.#to.length
    this.#to.push(to, from)
    this.#left.push(capacity, 0)
    this.#cost.push(cost, -cost)
    this.#from[from]?.push(arc)
    this.#from[to]?.push(arc + 1)
    return arc
  }

  flowOn(arc: number): number {
    return this.#left[arc + 1] ?? 0
  }

  /**
   * Sends as much as can go from source to sink, each unit on the cheapest path left (successive shortest paths), so
   * that the flow sent has the least cost of all flows of its size. Shortest paths by label correction, as arcs back
   * have negative cost. R. K. Ahuja, T. L. Magnanti, J. B. Orlin, Network Flows (1993), section 9.7.
   */
  send(source: number, sink: number): { readonly flow: number; readonly cost: number } {
    const nodes = this.#from.length
    let flow = 0
    let cost = 0
    for (;;) {
      const distance = new Float64Array(nodes).fill(Infinity)
      const by = new Int32Array(nodes).fill(-1)
      const queued = new Uint8Array(nodes)
      const queue = [source]
      distance[source] = 0
      for (let i = 0; i < queue.length; i++) {
        const at = queue[i] ?? 0
        queued[at] = 0
        for (const arc of this.#from[at] ?? []) {
          const to = this.#to[arc] ?? 0
          const d = (distance[at] ?? 0) + (this.#cost[arc] ?? 0)
          if ((this.#left[arc] ?? 0) <= 0 || d >= (distance[to] ?? 0)) continue
          distance[to] = d
          by[to] = arc
          if (queued[to] === 0) {
            queued[to] = 1
            queue.push(to)
          }
        }
      }
      const length = distance[sink] ?? Infinity
      if (length === Infinity) return { flow, cost }
      let push = Infinity
      for (let at = sink; at !== source; at = this.#to[(by[at] ?? 0) ^ 1] ?? source)
        push = Math.min(push, this.#left[by[at] ?? 0] ?? 0)
      for (let at = sink; at !== source; at = this.#to[(by[at] ?? 0) ^ 1] ?? source) {
        const arc = by[at] ?? 0
        this.#left[arc] = (this.#left[arc] ?? 0) - push
        this.#left[arc ^ 1] = (this.#left[arc ^ 1] ?? 0) + push
      }
      flow += push
      cost += push * length
    }
  }
}
