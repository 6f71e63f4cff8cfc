import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import type { BuildId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { jointAccount } from './joint-answer.ts'
import { jointProblem, type Party } from './joint-purchase.ts'
import { SHARE_BASES, sharedPurchase, wantedTwice } from './joint-shares.ts'
import { parseSourcingProblem, type SourcingProblem } from './problem.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { solveSourcing } from './solve.ts'
import { verifyPlan } from './verify-plan.ts'

const milp = highsSolver(await loadHighs())
const options = { timeLimit: 20, now: () => performance.now() / 1000, milp }
const solve = (problem: SourcingProblem) => solveSourcing(problem, options)
const party = (name: string, asked: SourcingProblem): Party => ({ build: name as BuildId, asked })
const joint = (parties: readonly Party[], maxShops: number | null = null) => {
  const made = jointProblem(parties, maxShops)
  if (!made.ok) throw new Error(made.error.message)
  // What is made is a problem of the published format.
  expect(parseSourcingProblem(made.value.problem)).toMatchObject({ ok: true })
  return made.value
}

/** A problem without what is of one build alone: pieces owned, copies, leftovers that earn, limits on loose pieces. */
const bare = (problem: SourcingProblem): SourcingProblem => ({
  ...problem,
  maxPieces: null,
  items: problem.items.map((i) => ({ ...i, owned: 0, resale: null })),
  sets: [],
  onOrder: [],
})

const part = (problem: SourcingProblem, of: (line: number) => boolean): SourcingProblem => ({
  ...problem,
  lines: problem.lines.filter((_, i) => of(i)),
})

test('bought together, the lines of several builds cost what they cost as one build’s', () => {
  fc.assert(
    fc.property(smallProblem(), (some) => {
      const whole = bare(some)
      const { problem } = joint(
        [
          party(
            'a',
            part(whole, (i) => i === 0),
          ),
          party(
            'b',
            part(whole, (i) => i > 0),
          ),
        ],
        whole.maxShops,
      )
      expect(solve(problem).total).toBe(solve(whole).total)
    }),
    { numRuns: 60, seed: 5 },
  )
})

test('one build alone costs together what it costs by itself', () => {
  fc.assert(
    fc.property(smallProblem(), (some) => {
      const own = { ...some, maxPieces: null }
      expect(solve(joint([party('a', own)], own.maxShops).problem).total).toBe(solve(own).total)
    }),
    { numRuns: 60, seed: 6 },
  )
})

test('together costs no more than apart, where nothing is wanted twice; every piece and minor unit is somebody’s', () => {
  let cheaper = 0
  fc.assert(
    fc.property(smallProblem(), smallProblem(), fc.constantFrom(...SHARE_BASES), fc.nat(50), (p, q, basis, print) => {
      // The same shops and offers, each build with lines, pieces, copies and excluded shops of its own.
      const items = p.items.length <= q.items.length ? p : q
      const known = new Set(items.items.map((i) => i.id))
      const fits = (of: SourcingProblem) =>
        of.lines.every((l) => l.accepts.every((a) => a.uses.every((u) => known.has(u.item))))
      fc.pre(fits(p) && fits(q))
      const market = { shops: p.shops, offers: p.offers.filter((o) => known.has(o.item)), levies: p.levies ?? [] }
      const ofMarket = (of: SourcingProblem, barred: string): SourcingProblem => ({
        ...of,
        ...market,
        shops: market.shops.map((s) => ({ ...s, status: s.id === barred ? ('excluded' as const) : ('free' as const) })),
        maxShops: null,
        maxPieces: null,
        items: of.items.filter((i) => known.has(i.id)),
        onOrder: of.onOrder.filter((o) => known.has(o.item)),
        sets: of.sets.map(({ figures: _, ...set }) => set),
      })
      const [a, b] = [ofMarket(p, 's1'), ofMarket(q, 's2')]
      const apart = [a, b].map(solve)
      const { problem, ...names } = joint([party('a', a), party('b', b)])
      const plan = solve(problem)
      const [first, second] = apart
      if (first?.total == null || second?.total == null) return
      if (wantedTwice(apart, [a, b]) === 0) {
        expect(plan.total).not.toBeNull()
        // Leftovers of loose pieces may earn what leftovers of a copy are wanted for: not those that two builds share.
        if (a.items.concat(b.items).every((i) => i.resale === null))
          expect(plan.total).toBeLessThanOrEqual(first.total + second.total)
      }
      if (plan.total === null) return
      if (plan.total < first.total + second.total) cheaper++
      const shared = sharedPurchase(names, problem, plan, [print, print], basis)
      const verdict = verifyPlan(problem, plan)
      if (!shared || !verdict.ok) throw new Error('the plan does not hold')
      expect(shared.total).toBe(plan.total - verdict.cost.penalties)
      for (const order of shared.orders) {
        expect(order.shares.reduce((sum, s) => sum + s, 0)).toBe(order.total)
        for (const line of order.lines) expect(line.dealt.reduce((sum, n) => sum + n, 0) + line.over).toBe(line.pieces)
        // No build gets anything from a shop that its rules exclude.
        const [ofA, ofB] = [0, 1].map((k) => order.lines.reduce((sum, l) => sum + (l.dealt[k] ?? 0), 0))
        if (order.shop === 's1') expect(ofA).toBe(0)
        if (order.shop === 's2') expect(ofB).toBe(0)
      }
    }),
    { numRuns: 160, seed: 7 },
  )
  expect(cheaper).toBeGreaterThan(9)
})

const bricks = (name: string, qty: number, more: Partial<SourcingProblem> = {}): SourcingProblem => ({
  format: 'sourcing-problem',
  version: 2,
  id: name,
  currency: currency('EUR'),
  maxShops: 1,
  deadlineDays: null,
  items: [{ id: 'brick', part: 'p', colour: 'c', mass: 2000, owned: 0, resale: null }],
  lines: [{ id: 'd1', qty, accepts: [{ id: 'exact', uses: [{ item: 'brick', qty: 1 }], penalty: 0 }] }],
  shops: [
    {
      id: 's',
      kind: 'shop',
      minOrder: 0,
      bands: [{ maxMass: 100_000, fee: 301 }],
      service: null,
      handling: 0,
      lineFee: 0,
      leadDays: 3,
      reliability: 1,
      status: 'free',
    },
  ],
  offers: [{ id: 'o', shop: 's', item: 'brick', price: 10, stock: 8, pack: 1 }],
  sets: [],
  onOrder: [],
  levies: [],
  ...more,
})

test('by hand: one parcel instead of two, its fee shared by the largest remainder', () => {
  const parties = [party('a', bricks('a', 5)), party('b', bricks('b', 2))]
  expect(parties.map((p) => solve(p.asked).total)).toEqual([351, 321])
  const { problem, ...names } = joint(parties, 1)
  const plan = solve(problem)
  expect(plan.total).toBe(371)
  // 301 × 5/7 = 215 exactly, 301 × 2/7 = 86 exactly.
  const shared = sharedPurchase(names, problem, plan, [0, 0], 'goods')
  expect(shared?.builds.map((b) => [b.pieces, b.goods, b.beside, b.total])).toEqual([
    [5, 50, 215, 265],
    [2, 20, 86, 106],
  ])
  // Put to the problems again it comes to the same, beside what each costs by itself; a plan that is not so is refused.
  const answer = {
    alone: parties.map((p) => ({ plan: solve(p.asked), leftOut: [] })),
    together: { plan, leftOut: [] },
  }
  const terms = { maxShops: 1, printPrices: [0, 0], basis: 'goods' as const }
  expect(jointAccount(parties, answer, terms)).toEqual({
    ok: true,
    value: {
      shared,
      apart: [
        { total: 351, orders: 1 },
        { total: 321, orders: 1 },
      ],
      twice: 0,
      shops: ['s'],
      leftOut: [],
    },
  })
  const spoilt = { ...answer, together: { plan: { ...plan, total: 370 }, leftOut: [] } }
  expect(jointAccount(parties, spoilt, terms)).toMatchObject({ ok: false, error: { code: 'plan' } })
  const other = [party('a', bricks('a', 6)), party('b', bricks('b', 2))]
  expect(jointAccount(other, answer, terms)).toMatchObject({ ok: false, error: { code: 'plan' } })
  // Of eight bricks in stock five and four cannot both be had: apart both count on them, together it is said.
  const scarce = [party('a', bricks('a', 5)), party('b', bricks('b', 4))]
  expect(
    wantedTwice(
      scarce.map((p) => solve(p.asked)),
      scarce.map((p) => p.asked),
    ),
  ).toBe(1)
  expect(solve(joint(scarce, 1).problem).status).toBe('infeasible')
})

test('what one build owns, or gets with its copies, is not for another', () => {
  const a = bricks('a', 2, { items: [{ id: 'brick', part: 'p', colour: 'c', mass: 2000, owned: 6, resale: null }] })
  expect(solve(joint([party('a', a), party('b', bricks('b', 2))]).problem).total).toBe(321)
})

test('builds that one parcel cannot serve are refused, with the reason', () => {
  const code = (other: SourcingProblem) => {
    const made = jointProblem([party('a', bricks('a', 1)), party('b', other)], null)
    return made.ok ? 'together' : made.error.code
  }
  expect(code(bricks('b', 1))).toBe('together')
  expect(code(bricks('b', 1, { currency: currency('CHF') }))).toBe('currency')
  const [shop] = bricks('b', 1).shops
  if (shop) expect(code(bricks('b', 1, { shops: [{ ...shop, rate: 2_000_000_000 }] }))).toBe('rates')
  // A shop whose money only one of them has a rate for is that one's alone.
  if (shop)
    expect(code(bricks('b', 1, { shops: [shop, { ...shop, id: 'abroad', rate: 2_000_000_000 }] }))).toBe('together')
  expect(code(bricks('b', 1, { levies: [{ id: 'v', rate: 2000, on: 'goods', threshold: 0, fee: 0 }] }))).toBe('levies')
  expect(code(bricks('b', 1, { maxPieces: 4 }))).toBe('loose pieces')
})
