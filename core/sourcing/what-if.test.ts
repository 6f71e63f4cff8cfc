import loadHighs from 'highs'
import type { Changes } from '../build/scenario.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { decision, fixture, of, type Held, type Line } from '../netting/fixture.test-data.ts'
import { newPlanner } from '../netting/planner.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { offerOf, shopOf } from '../offers/offers.test-data.ts'
import { highsSolver } from '../solver/highs-milp.ts'
import type { DecisionId, LineId, ModuleId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { loosenings, tightenings } from './rule-prices.ts'
import { donorsFromNothing, rowNet, rowOutlay, traceWhatIfs, whatIfRows, whatIfTask, type WhatIf } from './what-if.ts'
import type { Rules } from '../build/house-rules.ts'

const milp = highsSolver(await loadHighs())
const planner = newPlanner(milp)
const options = { planner, milp, timeLimit: 20, now: () => performance.now() / 1000 }
const EUR = currency('EUR')
const LONG = of('plate 2x4')
const SHORT = of('plate 2x2')

/**
 * The split of docs/formats/sourcing.md (tiny-4) as a build: four long plates at 60 and 300 for the parcel, or two short
 * ones for each, at 12 and 200 for the parcel.
 */
const scene = (rules: Partial<Rules>, lines: readonly Line[] = [{ item: LONG, qty: 4 }], shelf: readonly Held[] = []) =>
  fixture({ pointPrice: 0, ...rules }, lines, shelf, {
    market: {
      shops: [
        shopOf('long', { bands: [{ maxMass: 1e9, fee: 300 }] }),
        shopOf('short', { bands: [{ maxMass: 1e9, fee: 200 }] }),
      ],
      offers: [offerOf('long', LONG, { price: 60 }), offerOf('short', SHORT, { price: 12 })],
    },
  })

const asked = (snapshot: Snapshot, changes: readonly Changes[], bases = false) => {
  const whatIfs = changes.map((c, i): WhatIf => ({ id: String(i), changes: c }))
  const answers = traceWhatIfs(snapshot, whatIfs, [], { ...options, bases })
  return { answers, rows: whatIfRows(snapshot, whatIfs, answers, [], planner), whatIfs }
}

test('what a rule costs: with splits 8 short plates do for 4 long ones, by hand 296 instead of 540', () => {
  const { rows } = asked(scene({}), [{}, { rules: { splits: 'anywhere' } }])
  expect(rows.map(rowOutlay)).toEqual([4 * 60 + 300, 8 * 12 + 200])
  expect(rows.map((r) => r.plan?.status)).toEqual(['optimal', 'optimal'])
  expect(rows.map((r) => [r.sums?.loose, r.sums?.standIns, r.sums?.orders])).toEqual([
    [4, 0, 1],
    [8, 4, 1],
  ])
})

test('a stand-in that was forbidden costs what allowing it saves', () => {
  const forbidden = decision({ kind: 'forbid', item: LONG, uses: [{ item: SHORT, qty: 2 }] })
  const snapshot = { ...scene({ splits: 'anywhere' }), decisions: [forbidden] }
  const rules = loosenings(snapshot.build, snapshot.decisions, { ...problemOf(snapshot) })
  const allowed = rules.find((r) => r.change.kind === 'stand-in')
  expect(allowed?.changes).toEqual({ takenBack: ['d-1' as DecisionId] })
  const { rows } = asked(snapshot, [{}, allowed?.changes ?? {}])
  expect(rows.map(rowNet)).toEqual([540, 296])
})

function problemOf(snapshot: Snapshot) {
  const task = whatIfTask(snapshot, {}, [], planner)
  if (!task.ok) throw new Error(task.error.message)
  return task.value.asked
}

test('every looser rule that may change a plan is asked about once, and none that cannot', () => {
  const snapshot = scene({ maxShops: 1, deadlineDays: 2, shops: { short: 'excluded' }, splits: 'anywhere' })
  const { build } = snapshot
  const market = { ...snapshot.market, shops: snapshot.market?.shops ?? [], offers: snapshot.market?.offers ?? [] }
  const slow = { ...snapshot, market: { ...market, shops: market.shops.map((s) => ({ ...s, leadDays: 9 })) } }
  const found = loosenings(build, [], problemOf(slow))
  expect(found.filter((r) => r.change.kind === 'limit').map((r) => r.changes)).toEqual([{ rules: { deadlineDays: 9 } }])
  expect(found.filter((r) => r.change.kind === 'shop').map((r) => r.changes)).toEqual([{ shops: { short: 'free' } }])
  expect(new Set(found.map((r) => r.id)).size).toBe(found.length)
  const free = scene({ splits: 'anywhere' })
  const [kept] = asked(free, [{}]).answers
  if (!kept) throw new Error('there is a plan')
  const stricter = tightenings(free.build, { problem: problemOf(free), plan: kept.plan })
  expect(stricter.map((r) => r.changes)).toContainEqual({ rules: { splits: 'where hidden' } })
  expect(found.every((r) => r.looser) && stricter.every((r) => !r.looser)).toBe(true)
})

test('what doing without a shop costs that is ordered from: by hand 540 instead of 296', () => {
  const snapshot = scene({ splits: 'anywhere' })
  const [kept] = asked(snapshot, [{}]).answers
  if (!kept) throw new Error('there is a plan')
  const without = tightenings(snapshot.build, { problem: problemOf(snapshot), plan: kept.plan }).filter(
    (r) => r.change.kind === 'shop',
  )
  expect(without.map((r) => r.changes)).toEqual([{ shops: { short: 'excluded' } }])
  const { rows } = asked(snapshot, [{}, without[0]?.changes ?? {}])
  expect(rows.map(rowNet)).toEqual([296, 540])
})

test('a what-if that names what is gone has no answer and says why; the others have theirs', () => {
  const gone: Changes = { modules: [{ module: 'm-none' as ModuleId, later: true }] }
  const { answers, rows } = asked(scene({}), [gone, { leftOut: ['n-0' as LineId] }, {}])
  expect(answers.map((a) => a.id)).toEqual(['1', '2'])
  expect(rows[0]?.fault?.code).toBe('module gone')
  expect(rows.slice(1).map(rowOutlay)).toEqual([0, 540])
})

test('an answer is old as soon as the offers it rests on have changed, and one that does not hold is none', () => {
  const snapshot = scene({})
  const { answers, whatIfs } = asked(snapshot, [{}])
  const dearer = {
    ...snapshot,
    market: { shops: snapshot.market?.shops ?? [], offers: [offerOf('long', LONG, { price: 61 })] },
  }
  expect(whatIfRows(dearer, whatIfs, answers, [], planner)[0]).toMatchObject({ old: true, leftOut: [] })
  const forged = answers.map((a) => ({ ...a, plan: { ...a.plan, total: 1 } }))
  const [row] = whatIfRows(snapshot, whatIfs, forged, [], planner)
  expect(row).toMatchObject({ old: false })
  expect(row?.sums).toBeUndefined()
})

test('three bases by hand: mine with my shelf, an owner’s without, from nothing with the donors’ price', () => {
  const set = {
    id: 's-hut',
    name: 'Hut',
    retail: { minor: 2000, currency: EUR },
    stages: [{ id: 'a', name: 'A' }],
    lines: [{ stage: 'a', item: LONG, qty: 3, spare: false }],
  } as unknown as DonorSet
  const copy = {
    id: 'y-1',
    setId: 's-hut',
    label: 'Hut',
    buildId: 'b-t',
    state: 'gift',
    stages: 'all',
    spares: true,
    missing: [],
  } as unknown as Copy
  // Ten are needed: three are in the gift, five on my shelf.
  const snapshot = {
    ...scene({}, [{ item: LONG, qty: 10 }], [{ item: LONG, qty: 5 }]),
    sets: [set],
    copies: [copy],
  }
  const { rows } = asked(snapshot, [{}], true)
  expect(rows[0] && rowOutlay(rows[0])).toBe(2 * 60 + 300)
  expect(rows[0]?.bases).toEqual({
    owner: 7 * 60 + 300,
    ownerLeftOut: 0,
    nothing: 7 * 60 + 300 + 2000,
    unknownPrices: 0,
  })
  expect(donorsFromNothing({ currency: currency('CHF') }, [copy], [set])).toEqual({ cost: 0, unknown: 1 })
})

test('an owner of the donors owns the copies that a plan buys as well', () => {
  const set = {
    id: 's-hut',
    name: 'Hut',
    stages: [{ id: 'a', name: 'A' }],
    lines: [{ stage: 'a', item: LONG, qty: 4, spare: false }],
  } as unknown as DonorSet
  const wanted = (id: string) =>
    ({
      id,
      setId: 's-hut',
      label: id,
      buildId: 'b-t',
      state: 'to-buy',
      askingPrice: { minor: 100, currency: EUR },
      stages: 'all',
      spares: true,
      missing: [],
    }) as unknown as Copy
  const snapshot = {
    ...scene({}, [{ item: LONG, qty: 8 }]),
    sets: [set],
    copies: [wanted('y-1'), wanted('y-2'), wanted('y-3')],
  }
  const { rows } = asked(snapshot, [{}, { copies: { 'y-1': 1 } }, { copies: { 'y-1': 0 } }], true)
  // Two copies for 200; one and four loose ones; eight loose ones.
  expect(rows.map(rowOutlay)).toEqual([200, 100 + 4 * 60 + 300, 8 * 60 + 300])
  expect(rows.map((r) => r.bases?.owner)).toEqual([0, 4 * 60 + 300, 8 * 60 + 300])
  expect(rows.map((r) => r.bases?.nothing)).toEqual([200, 100 + 4 * 60 + 300, 8 * 60 + 300])
})

test('copies that a plan leaves are no one’s, though others stand before them in the list', () => {
  const set = (id: string, qty: number) =>
    ({
      ...{ id, name: id, stages: [{ id: 'a', name: 'A' }] },
      lines: [{ stage: 'a', item: LONG, qty, spare: false }],
    }) as unknown as DonorSet
  const wanted = (id: string, setId: string, minor: number) =>
    ({
      ...{ id, setId, label: id, buildId: 'b-t', state: 'to-buy', stages: 'all', spares: true, missing: [] },
      askingPrice: { minor, currency: EUR },
    }) as unknown as Copy
  const snapshot = {
    ...scene({}, [{ item: LONG, qty: 8 }]),
    sets: [set('s-cheap', 4), set('s-dear', 4)],
    copies: [wanted('y-1', 's-cheap', 100), wanted('y-2', 's-dear', 90_000), wanted('y-3', 's-cheap', 100)],
  }
  const { rows } = asked(snapshot, [{}, { copies: { 'y-1': 1 } }], true)
  expect(rows.map(rowOutlay)).toEqual([200, 100 + 4 * 60 + 300])
  expect(rows.map((r) => [r.bases?.owner, r.bases?.nothing])).toEqual([
    [0, 200],
    [4 * 60 + 300, 100 + 4 * 60 + 300],
  ])
})

test('time that is over ends the questions, and what was answered stays', () => {
  let calls = 0
  const found: string[] = []
  const answers = traceWhatIfs(
    scene({}),
    [0, 1, 2].map((i) => ({ id: String(i), changes: {} })),
    [],
    { ...options, now: () => (calls++ > 40 ? 1e6 : 0), timeLimit: 5, onFound: (a) => found.push(a.id) },
  )
  expect(answers.map((a) => a.id)).toEqual(found)
  expect(answers.length).toBeLessThan(3)
})
