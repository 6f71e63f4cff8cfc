import { furtherCopies } from '../core/sourcing/changed-build.ts'
import { withCopies } from '../core/sourcing/copy-mixes.ts'
import { problemKey } from '../core/sourcing/problem-key.ts'
import { sourcingTask } from '../core/sourcing/shortfall-task.ts'
import { newPlanner } from '../core/netting/planner.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'
import { tally } from '../core/netting/count.ts'
import { offersFor } from '../market/offers.ts'
import type { ItemKey } from '../core/catalogue/item.ts'
import type { Offer } from '../core/offers/offer.ts'
import { currency } from '../core/units/money.ts'
import { demoRecords } from './scenario.ts'
import { WINCH_HOUSE } from './winch-house.ts'

const records = demoRecords()
const parts = new Map(records.parts.map((p) => [p.id, p]))
const build = records.builds.find((b) => b.id === WINCH_HOUSE)
const design = records.designs.find((d) => d.id === WINCH_HOUSE)
if (!build || !design) throw new Error('the demo has a winch house')
const snapshot: Snapshot = {
  ...records,
  copies: records.copies.filter((c) => c.buildId === WINCH_HOUSE),
  build,
  design,
  parts,
  colourById: new Map(records.colours.map((c) => [c.id, c])),
}
const bare = sourcingTask(snapshot, tally(snapshot), [], [])
const answer = offersFor(
  {
    currency: 'EUR',
    items: bare.wanted.map((item) => ({
      item,
      part: parts.get(item.split('|')[0] as never)?.name ?? '',
      finish: 'opaque' as const,
    })),
  },
  7,
  0,
)
const shops = answer.shops.map((s) => ({ ...s, currency: currency(s.currency ?? 'EUR') }))
const offers = answer.offers.map((o): Offer => ({
  ...o,
  id: `${o.shop}:${o.item}`,
  item: o.item as ItemKey,
  source: 'market',
}))
const taskOf = (of: Snapshot) => sourcingTask(of, tally(of), shops, offers, newPlanner())
const task = taskOf(snapshot)

test('the winch house wants pieces that the observatory lacks as well, and two copies of a donor at prices of their own', () => {
  const [observatory] = records.builds
  const other = records.designs.find((d) => d.id === observatory?.id)
  if (!observatory || !other) throw new Error('the demo has an observatory')
  const short = tally({
    ...snapshot,
    build: observatory,
    design: other,
    copies: records.copies.filter((c) => c.buildId === observatory.id),
  }).shortfall
  expect([...tally(snapshot).shortfall.keys()].filter((item) => short.has(item)).length).toBeGreaterThan(2)
  expect(task.anyCopies.sets.map((s) => [s.maxCopies, s.figures?.length])).toEqual([
    [1, 1],
    [1, 1],
  ])
})

test.each([
  [0, 0],
  [0, 1],
  [1, 0],
  [1, 1],
  [3, 0],
])('a purchase with %i and %i copies that is kept answers the build with the rule it was kept with', (...mix) => {
  const firsts = task.anyCopies.sets.map(({ id }) => snapshot.copies.find((c) => c.id === id))
  let n = 0
  const further = firsts.flatMap((first, s) =>
    first ? furtherCopies(first, 1, (mix[s] ?? 0) - 1, () => `y-more-${++n}`) : [],
  )
  const kept: Snapshot = {
    ...snapshot,
    copies: [...snapshot.copies, ...further],
    build: {
      ...build,
      rules: {
        ...build.rules,
        buyCopies: Object.fromEntries(task.anyCopies.sets.map(({ id }, s) => [id, mix[s] ?? 0])),
      },
    },
  }
  expect(problemKey(taskOf(kept).asked)).toBe(problemKey(withCopies(task.anyCopies, mix)))
})
