import fc from 'fast-check'
import loadHighs from 'highs'
import { solve as solveWithYalps } from 'yalps'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import type { DesignLine, Module } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import { solveSourcing } from '../sourcing/solve.ts'
import { verifyPlan } from '../sourcing/verify-plan.ts'
import { colourId, type BuildId, type CopyId, type LineId, type ModuleId, type SetId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { castTask, donorsTaken, traceFigures } from './cast.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'

const milp = highsSolver(await loadHighs())
const EUR = currency('EUR')
const of = (name: string, colour = 'Soot') => itemKey(partFromName(name).id, colourId(colour))
const PIECES = [
  of('figure head smiling'),
  of('figure head plain'),
  of('figure torso coat'),
  of('figure torso jumper'),
  of('figure legs plain'),
  of('figure hat flat cap'),
]
const figure = (name: string, slots: readonly (readonly ItemKey[])[]): Module => ({
  id: `m-${name}` as ModuleId,
  name,
  repeats: 1,
  figure: true,
  lines: slots.flatMap(([item, ...others], i) =>
    item === undefined
      ? []
      : [
          {
            id: `n-${name}-${i}` as LineId,
            item,
            qty: 1,
            ...(others.length > 0 ? { instead: others.map((o) => [{ item: o, qty: 1 }]) } : {}),
          },
        ],
  ),
})
const set = (name: string, items: readonly ItemKey[], retail: number, owner?: string): DonorSet => ({
  id: `s-${name}` as SetId,
  name,
  retail: { minor: retail, currency: EUR },
  stages: [{ id: 'all', name: 'All' }],
  lines: items.map((item) => ({
    stage: 'all',
    item,
    qty: 1,
    spare: false,
    ...(owner === undefined ? {} : { figure: owner }),
  })),
})
const scene = (figures: Module[], sets: DonorSet[], copies: Copy[] = []): Snapshot => ({
  build: { id: 'b-t' as BuildId, name: 'T', note: '', currency: EUR, rules: defaultRules },
  design: { id: 'b-t' as BuildId, modules: figures },
  sets,
  copies,
  holdings: [],
  places: [],
  parts: new Map(),
})
const solve = (snapshot: Snapshot, aim: 'fewest donors' | 'least money') => {
  const task = castTask(snapshot, tally(snapshot), aim, { shops: [], offers: [] })
  const plan = solveSourcing(task.problem, { timeLimit: 20, now: () => performance.now() / 1000, milp })
  if (plan.total !== null) expect(verifyPlan(task.problem, plan)).toMatchObject({ ok: true, total: plan.total })
  return { task, plan }
}

const piece = fc.constantFrom(...PIECES)
const casts = fc.record({
  figures: fc.array(fc.array(fc.uniqueArray(piece, { minLength: 1, maxLength: 2 }), { minLength: 1, maxLength: 3 }), {
    minLength: 1,
    maxLength: 3,
  }),
  sets: fc.array(
    fc.record({ items: fc.array(piece, { minLength: 1, maxLength: 3 }), price: fc.integer({ min: 5, max: 40 }) }),
    {
      minLength: 1,
      maxLength: 3,
    },
  ),
})

/** Whether slots can be filled from a stock, each by one of its options: a matching by trying all. */
function fills(slots: readonly (readonly ItemKey[])[], stock: Map<ItemKey, number>): boolean {
  const [slot, ...rest] = slots
  if (!slot) return true
  return slot.some((item) => {
    const left = stock.get(item) ?? 0
    if (left === 0) return false
    stock.set(item, left - 1)
    const filled = fills(rest, stock)
    stock.set(item, left)
    return filled
  })
}

test('a cast is covered by as few donors, or as cheaply, as trying every choice of donors finds', () => {
  fc.assert(
    fc.property(casts, ({ figures, sets }) => {
      const slots = figures.flat()
      const supplied = new Set(sets.flatMap((s) => s.items))
      fc.pre(slots.every((slot) => slot.some((item) => supplied.has(item))))
      const most = slots.length
      let fewest = Infinity
      let cheapest = Infinity
      const visit = (at: number, taken: number, cost: number, stock: Map<ItemKey, number>) => {
        const next = sets[at]
        if (!next) {
          if (!fills(slots, new Map(stock))) return
          fewest = Math.min(fewest, taken)
          cheapest = Math.min(cheapest, cost)
          return
        }
        const own = new Map(stock)
        for (let n = 0; n <= most && taken + n <= most; n++) {
          visit(at + 1, taken + n, cost + n * next.price, own)
          for (const item of next.items) own.set(item, (own.get(item) ?? 0) + 1)
        }
      }
      visit(0, 0, 0, new Map())
      const snapshot = scene(
        figures.map((f, i) => figure(`f${i}`, f)),
        sets.map((s, i) => set(`d${i}`, s.items, s.price)),
      )
      const few = solve(snapshot, 'fewest donors')
      expect([few.plan.status, few.plan.total]).toEqual(['optimal', fewest])
      expect(donorsTaken(few.plan).reduce((n, d) => n + d.copies, 0)).toBe(fewest)
      const free = { ...snapshot, build: { ...snapshot.build, rules: { ...defaultRules, pointPrice: 0 } } }
      expect(solve(free, 'least money').plan.total).toBe(cheapest)
    }),
    { numRuns: 40 },
  )
})

// The classical set-cover example of Chvátal (1979) in small: greedy takes three where two suffice.
test('set cover where taking the largest first is not the best, as a second solver has it', () => {
  const [a, b, c, d, e, f] = PIECES as [ItemKey, ItemKey, ItemKey, ItemKey, ItemKey, ItemKey]
  const sets = [set('large', [a, b, d, e], 1), set('top', [a, b, c], 1), set('bottom', [d, e, f], 1)]
  const snapshot = scene([figure('one', [[a], [b], [c]]), figure('two', [[d], [e], [f]])], sets)
  const { plan } = solve(snapshot, 'fewest donors')
  const second = solveWithYalps({
    direction: 'minimize',
    objective: 'cost',
    constraints: Object.fromEntries(PIECES.map((p) => [p, { min: 1 }])),
    variables: Object.fromEntries(
      sets.map((s) => [s.id, { cost: 1, ...Object.fromEntries(s.lines.map((l) => [l.item, 1])) }]),
    ),
    integers: sets.map((s) => s.id as string),
  })
  expect([plan.total, second.result]).toEqual([2, 2])
  expect(donorsTaken(plan).map((t) => t.set)).toEqual(['s-top', 's-bottom'])
})

test('a slot that nobody can fill is named and does not hold up the rest', () => {
  const [a, b, c] = PIECES as [ItemKey, ItemKey, ItemKey]
  const { task, plan } = solve(scene([figure('one', [[a], [b]])], [set('x', [a, c], 5)]), 'fewest donors')
  expect(task.heldUp).toEqual([{ module: 'm-one', item: b, qty: 1 }])
  expect(plan.total).toBe(1)
})

test('a figure is traced to the figures that lend to it, and to what stands in meanwhile', () => {
  const [head, plainHead, coat, , legs] = PIECES as [ItemKey, ItemKey, ItemKey, ItemKey, ItemKey]
  const stationer = figure('stationer', [[head], [coat], [legs]])
  const [first, ...others] = stationer.lines as [DesignLine, ...DesignLine[]]
  const cast = { ...stationer, lines: [{ ...first, meanwhile: plainHead }, ...others] }
  const copy = (id: string, of: DonorSet): Copy => ({
    id: `y-${id}` as CopyId,
    setId: of.id,
    label: id,
    buildId: 'b-t' as BuildId,
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
  })
  const vera = set('post', [coat, plainHead], 10, 'Vera')
  const marek = set('tram', [legs], 10, 'Marek')
  const snapshot = scene([cast], [vera, marek], [copy('1', vera), copy('2', marek)])
  const [trace] = traceFigures(snapshot, tally(snapshot))
  expect([trace?.need, trace?.have]).toEqual([3, 2])
  expect([...(trace?.lenders ?? [])]).toEqual([
    ['Vera', [coat]],
    ['Marek', [legs]],
  ])
  expect(trace?.waiting).toEqual([{ item: head, qty: 1, meanwhile: plainHead }])
})
