import fc from 'fast-check'
import type { Build } from '../build/build.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { BRICK, FIRST, line, orderAt, PLATE, TILE } from '../orders/orders.test-data.ts'
import type { PlanCost } from '../sourcing/plan.ts'
import type { CopyId, HoldingId, ModuleId, PlaceId, SetId } from '../units/ids.ts'
import { LOOSE } from '../shelf/place-state.ts'
import { currency } from '../units/money.ts'
import { isIncome } from './entry.ts'
import { costOf, postingsOf } from './postings.ts'
import { settlementOf, type Counted, type Planned, type SettlementRecords } from './settlement.ts'

const EUR = currency('EUR')
const build = (more: Partial<Build> = {}): Build => ({
  ...{ id: FIRST, name: 'Observatory', note: '', currency: EUR, rules: defaultRules },
  ...more,
})
/** A set of ten plates and ten bricks. */
const SET: DonorSet = {
  id: 's-1' as SetId,
  name: 'Mountain hut',
  stages: [],
  lines: [PLATE, BRICK].map((item) => ({ stage: '', item, qty: 10, spare: false })),
}
const COPY: Copy = {
  ...{ id: 'y-1' as CopyId, setId: SET.id, label: 'Mountain hut', buildId: FIRST, state: 'owned' },
  ...{ stages: 'all', spares: false, missing: [], paid: { minor: 2000, currency: EUR } },
}
const ORDER = orderAt('paid', {
  charged: { goods: 120, shipping: 350, handling: 0, lineFees: 0, service: 0, levies: 0 },
  lines: [line({ item: TILE, qty: 10, price: 12 })],
})
type Line = Counted['lines'][number]
const counted = (module: string, wanted: Line['wanted'], need: number, pegs: Line['pegs'] = []): Line => ({
  ...{ module: module as ModuleId, need, wanted, pegs },
})
const peg = (qty: number, item: Line['wanted'], source: Line['pegs'][number]['source']) => ({ source, item, qty })
const fromShelf = (qty: number, item: Line['wanted']) =>
  peg(qty, item, { kind: 'shelf', holding: 'h-1' as HoldingId, place: 'l-1' as PlaceId, estimate: false, state: LOOSE })
const fromCopy = (qty: number, item: Line['wanted']) =>
  peg(qty, item, { kind: 'copy', copy: COPY.id, stage: '', promised: false })
const count = (lines: readonly Line[], short: readonly [Line['wanted'], number][] = []): Counted => ({
  ...{ lines, shortfall: new Map(short), need: lines.reduce((n, l) => n + l.need, 0), prints: 0, printRuns: [] },
})
const RECORDS: SettlementRecords = { orders: [ORDER], units: [], copies: [COPY], sets: [SET] }
const MARKET = {
  prices: new Map([PLATE, BRICK, TILE].map((item) => [item, { best: 10, median: 15 }])),
  priceOf: (_: unknown, qty: number) => ({ cost: qty * 10, unavailable: 0 }),
} as unknown as Parameters<typeof settlementOf>[5]
const settle = (of: { build?: Build; counted: Counted; records?: SettlementRecords; planned?: Planned }) => {
  const [own, records] = [of.build ?? build(), of.records ?? RECORDS]
  const postings = postingsOf(own, [], { orders: records.orders, copies: records.copies, sales: [], entries: [] })
  return settlementOf(own, postings, of.counted, records, of.planned, MARKET)
}
const COST: PlanCost = {
  ...{ goods: 80, shipping: 300, handling: 20, lineFees: 0, service: 0, levies: 0 },
  ...{ sets: 900, penalties: 0, credit: 50 },
}

test('a donor by pieces used: half of its pieces, half of its price; the rest of the settlement follows', () => {
  const lines = [
    counted('m-dome', PLATE, 10, [fromCopy(10, PLATE)]),
    counted('m-track', TILE, 10, [fromShelf(10, TILE)]),
  ]
  const whole = settle({ counted: count(lines) })
  const shared = settle({ build: build({ donorShare: 'by pieces' }), counted: count(lines) })
  expect(whole.completion.total).toBe(2000 + 470)
  expect(shared.completion.total).toBe(1000 + 470)
  expect(shared.costs.mine).toBe(1470)
  // By module: the copy's used half to the dome, the order to the track, whose pieces it brought.
  expect(shared.byModule.map((m) => [m.module as string, m.minor])).toEqual([
    ['m-dome', 1000],
    ['m-track', 470],
  ])
})

test('a kept plan counts at its landed cost and by category while something is short, and not once nothing is', () => {
  const planned: Planned = { landed: 1250, unavailable: 2, cost: COST }
  const records = { ...RECORDS, copies: [] }
  const short = settle({ counted: count([counted('m-dome', BRICK, 8)], [[BRICK, 8]]), records, planned })
  // What leftovers may bring is in no sum: 1250 at the door, and the 50 that it was taken down by.
  expect(short.completion.rest).toEqual({ minor: 1300, unpriced: 2, basis: 'plan' })
  const row = (of: typeof short, name: string) => of.ledger.rows.find((r) => r.category === name)?.planned
  expect([row(short, 'loose pieces'), row(short, 'shipping'), row(short, 'donor copies')]).toEqual([80, 300, 900])
  expect(short.ledger.total.planned).toBe(1300)
  const covered = settle({ counted: count([counted('m-dome', TILE, 8)]), records, planned })
  expect(covered.completion.rest.basis).toBe('nothing')
  expect(covered.ledger.total.planned).toBe(0)
  expect(covered.costs.owner).toBe(470)
})

test('without a plan what is short costs its goods; modules add up to what is paid and to be bought', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          module: fc.constantFrom('m-dome', 'm-track', 'm-hut'),
          item: fc.constantFrom(PLATE, BRICK, TILE),
          need: fc.integer({ min: 1, max: 9 }),
          copy: fc.nat(9),
        }),
        { minLength: 1, maxLength: 6 },
      ),
      fc.constantFrom('by pieces' as const, undefined),
      (rows, donorShare) => {
        const lines = rows.map(({ module, item, need, copy }) =>
          counted(module, item, need, copy > 0 ? [fromCopy(Math.min(copy, need), item)] : []),
        )
        const short = rows.map((r): [Line['wanted'], number] => [r.item, Math.max(0, r.need - r.copy)])
        const sums = new Map<Line['wanted'], number>()
        for (const [item, qty] of short) if (qty > 0) sums.set(item, (sums.get(item) ?? 0) + qty)
        const of = settle({ build: build(donorShare ? { donorShare } : {}), counted: count(lines, [...sums]) })
        const goods = [...sums.values()].reduce((n, qty) => n + 10 * qty, 0)
        expect(of.completion.rest.minor).toBe(goods)
        expect(of.byModule.reduce((n, m) => n + m.minor, 0)).toBe(of.completion.total)
        expect(of.costs.mine).toBe(of.completion.total)
        // The money that moved is what the ledger says was paid and came back.
        const moved = of.movements.reduce((n, p) => n + costOf(p), 0)
        expect(moved).toBe(of.ledger.net)
        expect(of.movements.every((p) => !isIncome(p.category))).toBe(true)
        expect(of.outlay.points.at(-1)?.minor).toBe(moved)
      },
    ),
  )
})
