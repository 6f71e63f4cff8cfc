import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import {
  bestMix,
  copiesKey,
  mixesOf,
  modulesDone,
  MOST_MIXES,
  summed,
  traceMixes,
  withCopies,
  type CopyMix,
  type MixOutcome,
} from './copy-mixes.ts'
import { netOf } from './purchase-sums.ts'
import { parseSourcingProblem, type SourcingProblem } from './problem.ts'
import { optimumByYalps, smallProblem } from './small-problem.test-data.ts'
import { verifyPlan } from './verify-plan.ts'

const options = { timeLimit: 20, now: () => performance.now() / 1000, milp: highsSolver(await loadHighs()) }

/** Mixes with their sums, all of which hold. */
const outcomesOf = (problem: SourcingProblem, mixes: readonly CopyMix[]) =>
  traceMixes(problem, mixes, options).map((outcome) => {
    const found = summed(outcome, 0)
    if (!found) throw new Error('a plan that holds')
    return found
  })

const donorset = (() => {
  const parsed = parseSourcingProblem(
    JSON.parse(readFileSync(new URL('./cases/tiny-3-donorset.json', import.meta.url), 'utf8')),
  )
  if (!parsed.ok) throw new Error(parsed.error.message)
  return parsed.value
})()

test('each number of copies costs what the hand calculation says, with leftovers at nothing and at their price', () => {
  const outcomes = outcomesOf(donorset, [[0], [1], [2], [3]])
  // docs/formats/sourcing.md: no set 1440, one 1380, two 1320, three 1500 with leftovers worth 210.
  const nets = outcomes.map(({ mix, sums }) => [mix[0], netOf(sums, 'nothing'), netOf(sums, 'likely')])
  expect(nets).toEqual([
    [0, 1440, 1440],
    [1, 1380, 1380],
    [2, 1320, 1320],
    [3, 1500, 1290],
  ])
  expect(outcomes.map((o) => [o.plan.status, o.leftOut.length])).toEqual(Array(4).fill(['optimal', 0]))
  // 28 pieces loose without a set, 13 a set fewer; three sets leave 6 e1 and 3 e3.
  expect(outcomes.map((o) => [o.sums.loose, o.sums.surplus])).toEqual([
    [28, 0],
    [15, 0],
    [2, 0],
    [0, 11],
  ])
  expect([bestMix(outcomes, 'likely')?.mix, bestMix(outcomes, 'nothing')?.mix]).toEqual([[3], [2]])
})

test('what no copy can bring is left out, and a mix that leaves out fewer goes before a cheaper one', () => {
  const only = { ...donorset, offers: donorset.offers.filter((o) => o.item !== 'e3') }
  const outcomes = outcomesOf(only, [[0], [1], [2]])
  expect(outcomes.map((o) => o.leftOut.reduce((n, u) => n + u.short, 0))).toEqual([6, 3, 0])
  expect(bestMix(outcomes, 'nothing')?.mix).toEqual([2])
})

test('just so many copies: the optimum of a second solver, and no plan with another number passes', () => {
  let asked = 0
  fc.assert(
    fc.property(smallProblem(), fc.nat(3), (problem, copies) => {
      if (problem.sets.length === 0) return
      const fixed = withCopies(problem, [copies])
      const [outcome] = traceMixes(problem, [[copies]], options) as [MixOutcome]
      const least = optimumByYalps(fixed)
      if (least === undefined || outcome.leftOut.length > 0) return
      asked++
      expect(outcome.plan.total).toBe(least)
      expect(outcome.plan.sets.reduce((n, s) => n + s.copies, 0)).toBe(copies)
      const other = withCopies(problem, [copies + 1])
      expect(verifyPlan(other, outcome.plan).ok).toBe(false)
    }),
    { numRuns: 150 },
  )
  expect(asked).toBeGreaterThan(15)
})

test('mixes are every number of every set, as long as they are few; else each set by itself', () => {
  const sets = (...most: number[]) => ({ sets: most.map((maxCopies) => ({ maxCopies })) as never })
  expect(mixesOf(sets(2), () => 1)).toEqual([[0], [1], [2], [3]])
  expect(mixesOf(sets(1, 2), () => 0)).toEqual([
    [0, 0],
    [0, 1],
    [1, 0],
    [0, 2],
    [1, 1],
    [1, 2],
  ])
  const many = mixesOf(sets(2, 2, 2), () => 2)
  expect(many.length).toBe(MOST_MIXES)
  expect(many.every((mix) => mix.filter((n) => n > 0).length <= 1)).toBe(true)
  expect(mixesOf(sets(), () => 2)).toEqual([[]])
  // Two offered at prices of their own: both together before more of either.
  const offered = mixesOf(sets(1, 1), () => 2)
  expect(offered).toContainEqual([1, 1])
  expect(offered).toContainEqual([3, 0])
  expect(offered.length).toBeLessThanOrEqual(MOST_MIXES)
})

test('further copies bring leftovers that earn as the first ones do', () => {
  const four = withCopies(donorset, [6])
  const e1 = (p: typeof donorset) => p.items.find((i) => i.id === 'e1')?.resale?.max ?? 0
  const [wanted = 0] = donorset.sets.map((s) => s.maxCopies)
  expect(e1(four) - e1(donorset)).toBe(6 * (6 - wanted))
  // As many wanted as are asked about: the same problem, and the same question, whoever wanted them.
  const six = { ...four, sets: donorset.sets.map((s) => ({ ...s, maxCopies: 6 })) }
  expect(withCopies(six, [2])).toEqual(withCopies(donorset, [2]))
  expect(copiesKey(six)).toBe(copiesKey(donorset))
  expect(copiesKey(donorset)).not.toBe(copiesKey({ ...donorset, maxShops: 1 }))
  expect(four.sets.map((s) => [s.minCopies, s.maxCopies])).toEqual([[6, 6]])
})

test('custom prints are paid up front, points of compromise by nobody', () => {
  const line = donorset.lines[0]
  const [accept] = line?.accepts ?? []
  if (!line || !accept) throw new Error('a line')
  // Each of its twelve pieces is a print for 0.50 and three points.
  const printed = {
    ...donorset,
    version: 2 as const,
    lines: [{ ...line, accepts: [{ ...accept, standIn: 'print' as const, penalty: 53 }] }, ...donorset.lines.slice(1)],
  }
  const [plain, paid] = [donorset, printed].map((p) => traceMixes(p, [[0]], options)[0] as MixOutcome)
  if (!plain || !paid) throw new Error('two outcomes')
  expect((summed(paid, 50)?.sums.outlay ?? 0) - (summed(plain, 50)?.sums.outlay ?? 0)).toBe(12 * 50)
})

test('modules whose pieces are not to be had, and those that take no loose piece', () => {
  const only = { ...donorset, offers: donorset.offers.filter((o) => o.item !== 'e3') }
  const [one] = outcomesOf(only, [[1]])
  if (!one) throw new Error('an outcome')
  const lines = (...wanted: [module: string, item: string, short: number][]) => ({
    lines: wanted.map(([module, item, short]) => ({ module, wanted: item, coverage: { short } })) as never,
  })
  // One set brings three of the six pieces of d3, no offer the others; d1 and d2 take loose pieces beside it, d9 none.
  expect(
    modulesDone(lines(['a', 'd1', 3], ['b', 'd3', 6], ['b', 'd2', 1], ['c', 'd1', 0], ['d', 'd9', 2]), one),
  ).toEqual({
    unfinished: ['b'],
    withoutLoose: ['d'],
  })
})
