import loadHighs from 'highs'
import { demoRecords } from './scenario.ts'
import { offersFor } from '../market/offers.ts'
import type { ItemKey } from '../core/catalogue/item.ts'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { solveSourcing } from '../core/sourcing/solve.ts'
import { verifyPlan } from '../core/sourcing/verify-plan.ts'
import { currency } from '../core/units/money.ts'
import { baskets } from '../core/sourcing/baskets.ts'
import type { Offer } from '../core/offers/offer.ts'
import type { Shop } from '../core/offers/shop.ts'
import { isPaidPrint, pieceOf, pieceWanted, standInOf } from '../core/sourcing/plan-pieces.ts'
import { problemKey } from '../core/sourcing/problem-key.ts'
import { sourcingTask } from '../core/sourcing/shortfall-task.ts'
import { tally } from '../core/netting/count.ts'

const records = demoRecords()
const [build] = records.builds
const [design] = records.designs
if (!build || !design) throw new Error('the demo has a build')
const parts = new Map(records.parts.map((p) => [p.id, p]))
const snapshot = { ...records, build, design, parts }
const result = tally(snapshot)
const colours = new Map(records.colours.map((c) => [c.id, c]))

const bare = sourcingTask(snapshot, result, [], [])
const answer = offersFor(
  {
    currency: 'EUR',
    items: bare.wanted.map((item) => {
      const [part = '', colour = ''] = item.split('|')
      return {
        item,
        part: parts.get(part as never)?.name ?? part,
        finish: colours.get(colour as never)?.finish ?? 'opaque',
      }
    }),
  },
  20261125,
  0,
)
const shops: Shop[] = answer.shops.map((s) => ({ ...s, currency: currency(s.currency ?? 'EUR') }))
const offers: Offer[] = answer.offers.map((o) => ({
  ...o,
  id: `${o.shop}:${o.item}`,
  item: o.item as ItemKey,
  source: 'market',
}))
const task = sourcingTask(snapshot, result, shops, offers)

test('without offers only what a wanted copy holds can be bought; the rest is named as unavailable', () => {
  const inCopies = new Set(bare.problem.sets.flatMap((set) => set.contents.map((c) => c.item)))
  expect(bare.problem.lines.every((l) => l.accepts.some((a) => a.uses.every((u) => inCopies.has(u.item))))).toBe(true)
  const byItem = new Map<string, number>()
  const add = (piece: string, qty: number) => byItem.set(piece, (byItem.get(piece) ?? 0) + qty)
  for (const line of bare.problem.lines) add(pieceOf(line), line.qty)
  for (const gone of bare.unavailable) add(pieceWanted(gone), gone.short)
  expect(byItem).toEqual(new Map(result.shortfall))
})

test('what is bought and what is unavailable add up to the shortfall; the problem passes its own schema', () => {
  const toBuy = task.problem.lines.reduce((n, l) => n + l.qty, 0)
  const unavailable = task.unavailable.reduce((n, u) => n + u.short, 0)
  expect(toBuy + unavailable).toBe(result.coverage.short)
  expect(parseSourcingProblem(JSON.parse(JSON.stringify(task.problem))).ok).toBe(true)
  expect(new Set(task.problem.offers.map((o) => o.shop)).size).toBeGreaterThan(35)
})

test('baskets cost what the verifier says the plan costs, to the cent', async () => {
  const plan = solveSourcing(task.problem, {
    timeLimit: 12,
    now: () => performance.now() / 1000,
    milp: highsSolver(await loadHighs()),
  })
  const verdict = verifyPlan(task.problem, plan)
  if (!verdict.ok) throw new Error(verdict.faults.join())
  const mass = new Map(task.problem.items.map((i) => [i.id, i.mass]))
  const made = baskets(
    plan,
    new Map(shops.map((s) => [s.id, s])),
    new Map(offers.map((o) => [o.id, o])),
    (item) => mass.get(item) ?? 0,
  )
  const orders = made.reduce((sum, b) => sum + b.total, 0)
  expect(orders).toBe(verdict.total - verdict.cost.sets - verdict.cost.penalties + verdict.cost.credit)
  expect(made.length).toBeLessThanOrEqual(8)
  expect(made.every((b) => b.shop.leadDays <= 45)).toBe(true)
})

test('a problem that an older version kept, its meanings within its ids alone, reads the same and has the same key', () => {
  const older: typeof task.problem = {
    ...task.problem,
    items: task.problem.items.map(({ piece: _, ...item }) => item),
    lines: task.problem.lines.map(({ piece: _, accepts, ...line }) => ({
      ...line,
      accepts: accepts.map(({ standIn: __, ownRun: ___, ...accept }) => accept),
    })),
  }
  const meanings = ({ items, lines }: typeof older) => [
    items.map(pieceOf),
    lines.map((line) => [pieceOf(line), line.accepts.map((a) => [standInOf(a), isPaidPrint(a)])]),
  ]
  expect(meanings(older)).toEqual(meanings(task.problem))
  expect(task.problem.lines.some((l) => l.accepts.some((a) => a.standIn !== undefined))).toBe(true)
  expect(problemKey(older)).toBe(problemKey(task.problem))
})
