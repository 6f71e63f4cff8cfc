import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../../solver/highs-milp.ts'
import { MilpBuilder } from '../../solver/milp.ts'
import { FlowNetwork } from './min-cost-flow.ts'

type Arc = { readonly from: number; readonly to: number; readonly capacity: number; readonly cost: number }

/** Sends all that goes from the first node to the last, and checks what is said of it against the arcs. */
function sent(nodes: number, arcs: readonly Arc[], network = new FlowNetwork(), most?: number) {
  network.clear()
  const first = network.nodes(nodes)
  const numbers = arcs.map((a) => network.arc(first + a.from, first + a.to, a.capacity, a.cost))
  const { flow, cost } = network.send(first, first + nodes - 1, most)
  const on = numbers.map((n) => network.flowOn(n))
  for (const [i, a] of arcs.entries()) {
    expect(on[i]).toBeGreaterThanOrEqual(0)
    expect(on[i]).toBeLessThanOrEqual(a.capacity)
  }
  for (let node = 0; node < nodes; node++) {
    const net = arcs.reduce(
      (n, a, i) => n + (a.from === node ? (on[i] ?? 0) : 0) - (a.to === node ? (on[i] ?? 0) : 0),
      0,
    )
    expect(net).toBe(node === 0 ? flow : node === nodes - 1 ? 0 - flow : 0)
  }
  expect(cost).toBe(arcs.reduce((n, a, i) => n + a.cost * (on[i] ?? 0), 0))
  return { flow, cost, on }
}

const milp = highsSolver(await loadHighs())

/** The same by linear programming: first the most that can flow, then the least that costs. */
function optimum(nodes: number, arcs: readonly Arc[]): { flow: number; cost: number } {
  if (arcs.length === 0) return { flow: 0, cost: 0 }
  const out = (a: Arc) => (a.from === 0 ? 1 : 0) - (a.to === 0 ? 1 : 0)
  const solve = (held: number | undefined) => {
    const model = new MilpBuilder()
    const columns = arcs.map((a) => model.column(held === undefined ? 0 - out(a) : a.cost, 0, a.capacity, false))
    /** A row over the arcs that count in it; none where no arc does. */
    const row = (value: number, signOf: (arc: Arc) => number) => {
      const terms = arcs.flatMap((a, i): [number, number][] => (signOf(a) === 0 ? [] : [[columns[i] ?? 0, signOf(a)]]))
      if (terms.length > 0) model.row(value, value, terms)
    }
    for (let node = 1; node < nodes - 1; node++) row(0, (a) => (a.from === node ? 1 : 0) - (a.to === node ? 1 : 0))
    if (held !== undefined) row(held, out)
    const outcome = milp(model.build(), { timeLimit: 10, absGap: 0, relGap: 0 })
    if (outcome.status !== 'optimal') throw new Error('a flow of nothing is always possible')
    return Math.round(outcome.objective)
  }
  const flow = 0 - solve(undefined)
  return { flow, cost: solve(flow) }
}

// S. P. Bradley, A. C. Hax, T. L. Magnanti, "Applied Mathematical Programming" (1977), section 8.1: 20 units from node 1,
// 5 to node 4 and 15 to node 5, at 150 in all. Recalled from memory.
test('a minimum-cost-flow problem has its published optimum', () => {
  const any = 20
  const table: [number, number, number, number][] = [
    [1, 2, 15, 4],
    [1, 3, 8, 4],
    [2, 3, any, 2],
    [2, 4, 4, 2],
    [2, 5, 10, 6],
    [3, 4, 15, 1],
    [3, 5, 5, 3],
    [4, 5, any, 2],
    [5, 3, 4, 1],
  ]
  const arcs = table.map(([from, to, capacity, cost]) => ({ from, to, capacity, cost }))
  // A source before node 1, a sink after nodes 4 and 5.
  const supplies = [
    { from: 0, to: 1, capacity: 20, cost: 0 },
    { from: 4, to: 6, capacity: 5, cost: 0 },
    { from: 5, to: 6, capacity: 15, cost: 0 },
  ]
  const { flow, cost } = sent(7, [...arcs, ...supplies])
  expect({ flow, cost }).toEqual({ flow: 20, cost: 150 })
})

// Few different costs, and none at all: many shortest paths, and arcs there and back on them.
const networks = fc.integer({ min: 2, max: 9 }).chain((nodes) =>
  fc.record({
    nodes: fc.constant(nodes),
    arcs: fc.array(
      fc.record({
        from: fc.nat(nodes - 1),
        to: fc.nat(nodes - 1),
        capacity: fc.nat(5),
        cost: fc.oneof(fc.constant(0), fc.nat(3), fc.nat(1000)),
      }),
      { maxLength: 28 },
    ),
  }),
)

test('any network carries as much as linear programming says, at the same least cost', () => {
  const reused = new FlowNetwork()
  fc.assert(
    fc.property(networks, ({ nodes, arcs: all }) => {
      const arcs = all.filter((a) => a.from !== a.to)
      const { flow, cost } = sent(nodes, arcs)
      expect({ flow, cost }).toEqual(optimum(nodes, arcs))
      // A network that served before, and one that is told how much can go, do the same.
      expect(sent(nodes, arcs, reused)).toMatchObject({ flow, cost })
      expect(sent(nodes, arcs, reused, flow)).toMatchObject({ flow, cost })
    }),
    { numRuns: 300 },
  )
})

test('what is pushed along a path beforehand may be taken back where that is cheaper', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(4), fc.nat(4)), { minLength: 1, maxLength: 6 }),
      fc.nat(6),
      (demands, there) => {
        // Demands that all take one item at no cost, or another of their own that costs; first come, first served.
        const network = new FlowNetwork()
        const [source, sink, item] = [network.nodes(1), network.nodes(1), network.nodes(1)]
        const last = network.arc(item, sink, there, 0)
        let pushed = 0
        for (const [qty, cost] of demands) {
          const demand = network.nodes(1)
          const first = network.arc(source, demand, qty, 0)
          const take = network.arc(demand, item, qty, 0)
          network.arc(demand, sink, qty, cost)
          pushed += network.push([first, take, last])
        }
        const more = network.send(source, sink)
        const total = demands.reduce((n, [qty]) => n + qty, 0)
        expect(pushed).toBe(Math.min(total, there))
        expect(pushed + more.flow).toBe(total)
        // The dearest go without cost.
        const dearest = demands.flatMap(([qty, cost]) => new Array<number>(qty).fill(cost)).sort((p, q) => q - p)
        expect(more.cost).toBe(dearest.slice(there).reduce((n, cost) => n + cost, 0))
      },
    ),
  )
})
