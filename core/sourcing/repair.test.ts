import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { offerChanges, piecesChanged, repairPlan } from './repair.ts'
import type { SourcingProblem } from './problem.ts'
import { smallProblem } from './small-problem.test-data.ts'
import { coveredBy } from './plan-pieces.ts'
import { solveWithinReach } from './leave-out.ts'
import { currency } from '../units/money.ts'
import { verifyPlan } from './verify-plan.ts'

const options = { timeLimit: 20, now: () => performance.now() / 1000, milp: highsSolver(await loadHighs()) }

const shop = (id: string, fee: number): SourcingProblem['shops'][number] => ({
  ...{ id, kind: 'shop', minOrder: 0, bands: [{ maxMass: 1e9, fee }], service: null, handling: 0, lineFee: 0 },
  ...{ leadDays: 3, reliability: 1, status: 'free' },
})
const offer = (of: string, item: string, price: number, stock = 99): SourcingProblem['offers'][number] => ({
  ...{ id: `${of} ${item}`, shop: of, item, price, stock, pack: 1 },
})
const problem = (offers: SourcingProblem['offers']): SourcingProblem => ({
  ...{ format: 'sourcing-problem', version: 2, id: 'b', currency: currency('EUR'), maxShops: null, deadlineDays: null },
  items: ['x', 'y'].map((id) => ({ id, part: id, colour: '', mass: 1000, owned: 0, resale: null })),
  lines: ['x', 'y'].map((id) => ({
    ...{ id, qty: 10 },
    accepts: [{ id: 'exact', uses: [{ item: id, qty: 1 }], penalty: 0 }],
  })),
  shops: [shop('a', 300), shop('b', 100), shop('c', 50)],
  ...{ offers, sets: [], onOrder: [] },
})

const before = problem([offer('a', 'x', 10), offer('a', 'y', 10), offer('b', 'x', 40), offer('c', 'y', 30)])
const { plan } = solveWithinReach(before, options)

test('what became of the offers of a plan: gone, too few, another price', () => {
  // One order from a: 100 + 100 goods, 300 shipping.
  expect([plan.total, plan.purchases.map((p) => p.offer).sort()]).toEqual([500, ['a x', 'a y']])
  const same = offerChanges({ problem: before, plan }, before)
  expect(same).toEqual([])
  const fresh = problem([offer('a', 'x', 12, 4), offer('b', 'x', 40), offer('c', 'y', 30)])
  expect(offerChanges({ problem: before, plan }, fresh)).toMatchObject([
    { offer: 'a x', kind: 'fewer', left: 4, pieces: 10 },
    { offer: 'a x', kind: 'price', was: 10, is: 12 },
    { offer: 'a y', kind: 'gone' },
  ])
  const avoided = { ...before, shops: before.shops.map((s) => ({ ...s, status: 'excluded' as const })) }
  expect(offerChanges({ problem: before, plan }, avoided).map((c) => c.kind)).toEqual(['gone', 'gone'])
})

test('a repair changes the fewest pieces, though another plan may cost less; by hand', () => {
  // a has 4 of 10 x left: 6 come from b. Anew, all from b and c would cost 10 × 20 + 100 + 10 × 5 + 50 = 400.
  const fresh = problem([offer('a', 'x', 10, 4), offer('a', 'y', 10), offer('b', 'x', 20), offer('c', 'y', 5)])
  const anew = solveWithinReach(fresh, options)
  expect(anew.plan.total).toBe(400)
  const repaired = repairPlan(fresh, { problem: before, plan }, options)
  expect(repaired.fewest).toBe(true)
  expect(piecesChanged({ problem: before, plan }, repaired)).toEqual([
    { item: 'x', shop: 'a', pieces: -6 },
    { item: 'x', shop: 'b', pieces: 6 },
  ])
  expect(repaired.plan.total).toBe(4 * 10 + 10 * 10 + 300 + 6 * 20 + 100)
  expect(repaired.plan).toMatchObject({ status: 'feasible', bound: null, gap: null })
})

test('what shops have no longer is left out, and said', () => {
  const fresh = problem([offer('a', 'x', 10, 4), offer('a', 'y', 10)])
  const repaired = repairPlan(fresh, { problem: before, plan }, options)
  expect(repaired.leftOut).toMatchObject([{ line: 'x', short: 6 }])
  expect(verifyPlan(repaired.problem, repaired.plan)).toMatchObject({ ok: true, total: repaired.plan.total })
})

test('an option of several pieces takes some that stay and some that are new', () => {
  // Ten x are bought from a, which has 8 left; two y do for one x, one y is owned and three come in a pack.
  const asked = {
    ...problem([offer('a', 'x', 10), { ...offer('b', 'y', 40), pack: 3, stock: 3 }]),
    items: ['x', 'y'].map((id) => ({ id, part: id, colour: '', mass: 1000, owned: id === 'y' ? 1 : 0, resale: null })),
    lines: [
      {
        ...{ id: 'x', qty: 10 },
        accepts: [
          { id: 'exact', uses: [{ item: 'x', qty: 1 }], penalty: 0 },
          { id: 'two', uses: [{ item: 'y', qty: 2 }], penalty: 0 },
        ],
      },
    ],
  }
  const first = solveWithinReach(asked, options)
  expect(first.plan.total).toBe(10 * 10 + 300)
  const fresh = { ...asked, offers: asked.offers.map((o) => (o.shop === 'a' ? { ...o, stock: 8 } : o)) }
  const repaired = repairPlan(fresh, first, options)
  // Two pairs of 4 y: the one owned and the three of the pack, one pair of both.
  expect(repaired).toMatchObject({ leftOut: [], fewest: true })
  expect(repaired.plan.total).toBe(8 * 10 + 300 + 3 * 40 + 100)
})

test('pieces that are bought for no use are changes too', () => {
  // Two of what a has are enough, for 2 × 20 and a fee of 25; ten more, to reach the threshold at which that fee falls
  // away, would cost 20 instead, if they were no change.
  const fee = { ...shop('a', 30), service: { threshold: 60, fee: 25 } }
  const asked: SourcingProblem = {
    ...problem([{ ...offer('a', 'x', 20, 2) }, offer('a', 'y', 2, 10)]),
    lines: [{ id: 'x', qty: 2, accepts: [{ id: 'exact', uses: [{ item: 'x', qty: 1 }], penalty: 0 }] }],
    shops: [fee],
  }
  const best = solveWithinReach(asked, options)
  expect(best.plan).toMatchObject({ total: 40 + 20 + 30, status: 'optimal' })
  const two = { ...best.plan, purchases: [{ offer: 'a x', packs: 2 }], total: 40 + 25 + 30 }
  const kept = { problem: best.problem, plan: two }
  const repaired = repairPlan(asked, kept, options)
  expect([repaired.fewest, piecesChanged(kept, repaired)]).toEqual([true, []])
})

test('a further copy of a set is a change too, though what it brings is bought already to be sold', () => {
  // x covers its need from what is on order; one more x is bought for 1, with 2 of shipping, to be sold for 6.
  const asked: SourcingProblem = {
    ...problem([offer('a', 'x', 1, 1)]),
    items: [{ id: 'x', part: 'x', colour: '', mass: 1000, owned: 1, resale: { credit: 6, max: 3 } }],
    lines: [{ id: 'x', qty: 1, accepts: [{ id: 'exact', uses: [{ item: 'x', qty: 1 }], penalty: 0 }] }],
    shops: [shop('a', 2)],
    sets: [{ id: 's', price: 20, maxCopies: 2, contents: [{ item: 'x', qty: 4 }] }],
  }
  const first = solveWithinReach(asked, options)
  expect(first.plan).toMatchObject({ total: -3, purchases: [{ offer: 'a x', packs: 1 }], sets: [] })
  const again = repairPlan(asked, first, options)
  expect(piecesChanged(first, again)).toEqual([])
  expect(again.plan).toMatchObject({ total: -3, sets: [] })
})

type Plan = Pick<ReturnType<typeof repairPlan>, 'problem' | 'plan'>

/** Of each item what a plan leaves over, owned and bought; no copies of sets. */
function leftOver({ problem, plan }: Plan): Map<string, number> {
  const left = new Map(problem.items.map((i) => [i.id, i.owned]))
  const add = (item: string, qty: number) => left.set(item, (left.get(item) ?? 0) + qty)
  for (const { item, qty } of problem.onOrder) add(item, qty)
  for (const { offer: id, packs } of plan.purchases) {
    const bought = problem.offers.find((o) => o.id === id)
    if (bought) add(bought.item, packs * bought.pack)
  }
  for (const { accept, qty } of coveredBy(problem, plan)) for (const use of accept.uses) add(use.item, -qty * use.qty)
  return left
}

/**
 * Changes from one plan to another, counted by hand: pieces bought beyond what was bought of an offer, pieces of options
 * beyond what they covered, and what was bought and left over and is so no longer.
 */
function changesOf(before: Plan, after: Plan): number {
  const beyond = (now: Map<string, number>, then: Map<string, number>) =>
    [...now].reduce((n, [id, qty]) => n + Math.max(0, qty - (then.get(id) ?? 0)), 0)
  const bought = ({ problem, plan }: Plan) =>
    new Map(plan.purchases.map((p) => [p.offer, p.packs * (problem.offers.find((o) => o.id === p.offer)?.pack ?? 0)]))
  const covered = ({ problem, plan }: Plan) =>
    new Map(
      [...coveredBy(problem, plan)].map(({ line, accept, qty }) => [
        JSON.stringify([line.id, accept.id]),
        qty * accept.uses.reduce((n, u) => n + u.qty, 0),
      ]),
    )
  const verdict = verifyPlan(before.problem, before.plan)
  const spare = [...leftOver(before)].filter(([item]) => verdict.ok && (verdict.surplus.get(item) ?? 0) > 0)
  return (
    beyond(bought(after), bought(before)) +
    beyond(covered(after), covered(before)) +
    beyond(new Map(spare), leftOver(after))
  )
}

test('with offers as they were nothing is changed; with others the plan holds and costs no less than the best', () => {
  fc.assert(
    fc.property(smallProblem(), fc.infiniteStream(fc.integer({ min: 0, max: 3 })), (some, dice) => {
      const first = solveWithinReach(some, options)
      if (first.plan.total === null) return
      const kept = { problem: first.problem, plan: first.plan }
      const again = repairPlan(some, kept, options)
      const cover = ({ problem, plan }: Pick<typeof again, 'problem' | 'plan'>) =>
        [...coveredBy(problem, plan)].map(({ line, accept, qty }) => [line.id, accept.id, qty].join())
      if (again.fewest) expect([cover(again), piecesChanged(kept, again)]).toEqual([cover(kept), []])
      const fresh = {
        ...some,
        offers: some.offers.flatMap((o) => {
          const roll = dice.next().value ?? 0
          return roll === 0
            ? []
            : roll === 1
              ? [{ ...o, stock: Math.floor(o.stock / 2) }]
              : [{ ...o, price: o.price + roll - 2 }]
        }),
      }
      const anew = solveWithinReach(fresh, options)
      const mended = repairPlan(fresh, kept, options)
      expect(mended.plan.total === null).toBe(anew.plan.total === null)
      if (mended.plan.total === null) return
      expect(verifyPlan(mended.problem, mended.plan)).toMatchObject({ ok: true, total: mended.plan.total })
      const out = (found: Pick<typeof anew, 'leftOut'>) => found.leftOut.reduce((n, u) => n + u.short, 0)
      expect(out(mended)).toBe(out(anew))
      if (anew.plan.status === 'optimal') expect(mended.plan.total).toBeGreaterThanOrEqual(anew.plan.total ?? 0)
      const loose = [kept, mended, anew].every(({ plan }) => plan.sets.every((s) => s.copies === 0))
      if (mended.fewest && loose && out(anew) === 0)
        expect(changesOf(kept, mended)).toBeLessThanOrEqual(changesOf(kept, anew))
    }),
    { numRuns: 60 },
  )
})
