import fc from 'fast-check'
import { billTotal } from '../costs/order-cost.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import type { Copy } from '../donors/donor-set.ts'
import { exchanged } from '../units/exchange.ts'
import { line, order, orderAt, FIRST, SECOND } from '../orders/orders.test-data.ts'
import type { Order } from '../orders/order.ts'
import type { BuildId, CopyId, EntryId, ModuleId, SaleId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { sharesOf } from '../units/share-out.ts'
import { costByModule } from './by-module.ts'
import { completionOf, countedPostings, restToBuy } from './completion.ts'
import { sharedDonors } from './donor-share.ts'
import { CATEGORIES, isIncome, type Category, type Entry } from './entry.ts'
import { ledgerOf, movementsOf, outlayOf } from './ledger.ts'
import { costOf, postingsOf, postingsOfPurchase, type LedgerRecords, type Posting } from './postings.ts'
import { threeCosts } from './three-costs.ts'
import type { Sale } from './sale.ts'

const EUR = currency('EUR')
const CZK = currency('CZK')
const build = (id: BuildId, more: Partial<Build> = {}): Build => ({
  ...{ id, name: id, note: '', currency: EUR, rules: defaultRules },
  ...more,
})
const NOTHING: LedgerRecords = { orders: [], copies: [], sales: [], entries: [] }
const postings = (of: Partial<LedgerRecords>, b = build(FIRST), modules: Parameters<typeof postingsOf>[1] = []) =>
  postingsOf(b, modules, { ...NOTHING, ...of })
const ledger = (of: Partial<LedgerRecords>, b = build(FIRST)) => ledgerOf(postings(of, b).postings)
const entry = (id: string, minor: number, more: Partial<Entry> = {}): Entry => ({
  ...{ id: `e-${id}` as EntryId, build: FIRST, on: '2026-03-02', category: 'other', text: id },
  ...{ amount: { minor, currency: EUR } },
  ...more,
})
const copy = (id: string, minor: number | undefined, more: Partial<Copy> = {}): Copy => ({
  ...{ id: `y-${id}` as CopyId, setId: 's-1' as Copy['setId'], label: id, buildId: FIRST, state: 'owned' },
  ...{ stages: 'all', spares: false, missing: [] },
  ...(minor !== undefined && { paid: { minor, currency: EUR } }),
  ...more,
})
const sale = (got: number, costs: number, more: Partial<Sale> = {}): Sale => ({
  ...{ id: 'z-1' as SaleId, build: FIRST, title: 'Plates', way: 'price', lots: [], currency: EUR, got, costs },
  history: [
    { state: 'listed', on: '2026-03-01' },
    { state: 'sold', on: '2026-04-01' },
  ],
  ...more,
})

const amount = fc.integer({ min: 0, max: 100_000 })
const charges = fc.record({
  goods: amount,
  shipping: amount,
  handling: amount,
  lineFees: amount,
  service: amount,
  levies: amount,
})

test('what builds bear of shared orders adds up to what the orders cost, to the minor unit', () => {
  fc.assert(
    fc.property(
      charges,
      fc.array(fc.record({ price: amount, first: fc.nat(9), second: fc.nat(9), print: fc.boolean() }), {
        maxLength: 5,
      }),
      fc.option(fc.integer({ min: 1, max: 5_000_000_000 }), { nil: undefined }),
      (charged, rows, rate) => {
        const shared = orderAt('paid', {
          builds: [FIRST, SECOND],
          charged,
          ...(rate !== undefined && { rate, currency: CZK }),
          lines: rows.map(({ price, first, second, print }, i) =>
            line({
              id: `${i}`,
              price,
              print,
              qty: first + second + 1,
              for: [
                ...(first > 0 ? [{ build: FIRST, qty: first }] : []),
                ...(second > 0 ? [{ build: SECOND, qty: second }] : []),
              ],
            }),
          ),
        })
        const [p, q] = [ledger({ orders: [shared] }), ledger({ orders: [shared] }, build(SECOND))]
        const seller = rate === undefined ? billTotal(charged) : exchanged(billTotal(charged), rate)
        expect(p.total.paid + q.total.paid).toBe(seller + charged.levies)
        for (const { rows: own, total } of [p, q]) expect(own.reduce((n, r) => n + r.paid, 0)).toBe(total.paid)
      },
    ),
  )
})

test('planned, ordered, paid and paid back are kept apart; what was cancelled unpaid cost nothing', () => {
  const planned = { goods: 120, shipping: 350, handling: 10, lineFees: 5, service: 0, levies: 40 }
  const provenance = { author: 'A', licence: 'L', permits: { share: true, sell: false } }
  const { rows, total, net } = ledger(
    {
      orders: [
        order({ planned }),
        orderAt('placed', { id: 'r-2' as Order['id'], planned }),
        orderAt('paid', {
          id: 'r-3' as Order['id'],
          planned,
          charged: { ...planned, shipping: 390 },
          claims: [
            {
              ...{ id: 'k', lines: [{ line: '1', reason: 'short', qty: 1 }], asked: 12, refunded: 12 },
              history: [{ state: 'refunded', on: '2026-04-01' }],
            },
          ],
        }),
        order({
          ...{ id: 'r-4' as Order['id'], planned },
          history: [
            { state: 'drafted', on: '2026-03-01' },
            { state: 'cancelled', on: '2026-03-02' },
          ],
        }),
      ],
    },
    build(FIRST, { provenance: { ...provenance, price: { minor: 250, currency: EUR } } }),
  )
  const row = (c: Category) => rows.find((r) => r.category === c)
  expect(row('loose pieces')).toMatchObject({ planned: 360, ordered: 240, paid: 120, back: 12 })
  expect(row('shipping')).toMatchObject({ planned: 1050, ordered: 740, paid: 390 })
  expect(row('fees')).toMatchObject({ planned: 45, paid: 15 })
  expect(row('plans')).toMatchObject({ planned: 250, paid: 250 })
  expect(total.paid).toBe(120 + 390 + 15 + 40 + 250)
  expect(net).toBe(total.paid - 12)
})

test('copies are paid once: through their order, or by what is noted of them; gifts and what was owned cost what was paid', () => {
  const ordered = orderAt('paid', {
    ...{ lines: [], copies: [{ id: 'y-bought' as CopyId, label: 'Bought', price: 4_000 }] },
    charged: { goods: 4_000, shipping: 500, handling: 0, lineFees: 0, service: 0, levies: 0 },
  })
  const copies = [
    copy('bought', 4_000),
    copy('owned', 1_500, { paidOn: '2025-12-24' }),
    copy('gift', undefined, { state: 'gift' }),
    copy('wanted', 9_000, { state: 'to-buy' }),
    copy('elsewhere', 700, { buildId: SECOND }),
  ]
  const { rows, net } = ledger({ orders: [ordered], copies })
  expect(rows.find((r) => r.category === 'donor copies')).toMatchObject({ paid: 4_000 + 1_500, ordered: 5_500 })
  expect(net).toBe(6_000)
})

test('money of other currencies counts at the rate of its day, the rates of the build, or not at all, and is named', () => {
  // One crown is 0.04 euros then and 0.05 now; both have hundredths (ISO 4217).
  const rates = [{ currency: CZK, rate: 50_000_000, on: '2026-05-01' }]
  const at = build(FIRST, { rules: { ...defaultRules, rates } })
  const then = entry('then', 10_000, { amount: { minor: 10_000, currency: CZK }, rate: 40_000_000 })
  const now = entry('now', 10_000, { amount: { minor: 10_000, currency: CZK } })
  expect(postings({ entries: [then, now] }, at).postings.map((p) => p.minor)).toEqual([400, 500])
  // What corrects an entry is below 0 and is changed like it.
  const less = { ...then, id: 'e-less' as EntryId, amount: { minor: -2_500, currency: CZK }, corrects: 'e-then' }
  expect(ledger({ entries: [then, less] }, at).net).toBe(300)
  const none = postings({ entries: [then, now] })
  expect(none.postings.map((p) => p.minor)).toEqual([400])
  expect(none.unchanged).toEqual(['now: 100.00 CZK'])
  const foreign = postings({ orders: [orderAt('paid', { home: CZK })] })
  expect([foreign.postings, foreign.unchanged]).toEqual([[], ['Order 7, A, reckoned in CZK']])
})

test('what is sold comes in less what selling took; listed it brings nothing yet', () => {
  const listed = sale(900, 150, { id: 'z-2' as SaleId, history: [{ state: 'listed', on: '2026-03-01' }] })
  const { income, net, rows, total } = ledger({ sales: [sale(900, 150), listed], entries: [entry('glue', 200)] })
  expect([income, net, total.paid]).toEqual([750, -550, 200])
  expect(rows.find((r) => r.category === 'resale')?.paid).toBe(750)
})

test('the peak of the outlay, and when; what has no day comes first', () => {
  const { points, peak } = outlayOf(
    postings({
      copies: [copy('long owned', 1_000)],
      entries: [
        entry('a', 500, { on: '2026-03-05' }),
        entry('b', 2_000, { on: '2026-03-01' }),
        entry('c', 300, { on: '2026-05-01', category: 'instructions sold' }),
      ],
      sales: [sale(1_000, 0)],
    }).postings,
  )
  expect(points).toEqual([
    { on: undefined, minor: 1_000 },
    { on: '2026-03-01', minor: 3_000 },
    { on: '2026-03-05', minor: 3_500 },
    { on: '2026-04-01', minor: 2_500 },
    { on: '2026-05-01', minor: 2_200 },
  ])
  expect(peak).toEqual({ on: '2026-03-05', minor: 3_500 })
  const moved = movementsOf(
    postings({ copies: [copy('long owned', 1_000)], entries: [entry('a', 5), entry('b', 5, { on: '2026-03-05' })] })
      .postings,
  )
  expect(moved.map((p) => p.on)).toEqual(['2026-03-05', '2026-03-02', undefined])
  expect(outlayOf([])).toEqual({ points: [], peak: { on: undefined, minor: 0 } })
})

test('a donor’s price is shared by pieces, as joint costs are by a physical measure', () => {
  // C. T. Horngren, Cost Accounting, the chapter on joint costs (from memory): 110,000 gallons of raw milk become 25,000
  // of cream and 75,000 of liquid skim at a joint cost of $400,000; by volume cream bears $100,000, skim $300,000.
  const joint = postings({ copies: [copy('milk', 40_000_000)] }).postings
  const uses = new Map([['y-milk' as CopyId, { label: 'milk', used: 25_000, held: 100_000 }]])
  const off = sharedDonors(joint, uses)
  const paid = (list: readonly Posting[]) => ledgerOf(list).total.paid
  expect(paid(off)).toBe(-30_000_000)
  expect(paid([...joint, ...off])).toBe(10_000_000)
  expect(off[0]?.text).toBe('milk: the share of 75000 of 100000 pieces that are left over')
  // Of a copy that nothing is known of the build bears all; of one that is used up too.
  expect(sharedDonors(joint, new Map())).toEqual([])
  expect(sharedDonors(joint, new Map([['y-milk' as CopyId, { label: '', used: 9, held: 9 }]]))).toEqual([])
})

test('at completion: paid, due, drafts and the rest; against budget, pieces and the set that it is built in place of', () => {
  const planned = { goods: 120, shipping: 80, handling: 0, lineFees: 0, service: 0, levies: 0 }
  const orders = [
    order({ planned }),
    orderAt('placed', { id: 'r-2' as Order['id'], planned }),
    orderAt('paid', { id: 'r-3' as Order['id'], planned, charged: { ...planned, shipping: 100 } }),
  ]
  const all = postings({ orders }).postings
  const rest = restToBuy(
    FIRST,
    new Map([
      ['p-a|c-a' as never, 4],
      [line().item, 12],
    ]),
    orders,
    undefined,
    (_, qty) => ({ cost: qty * 3, unavailable: qty - 1 }),
    7,
  )
  // Ten of the plates are in the draft.
  expect(rest).toEqual({ minor: 4 * 3 + 2 * 3 + 7, unpriced: 3 + 1, basis: 'goods' })
  const done = completionOf(all, rest, 100, { budget: 500, replaced: 1_000 })
  expect(done).toMatchObject({ soFar: 220, due: 200, drafts: 200, total: 645, perPiece: 6 })
  expect([done.overBudget, done.overReplaced]).toEqual([145, -355])
  const none = completionOf([], { minor: 0, unpriced: 0, basis: 'nothing' }, 0, { budget: null, replaced: undefined })
  expect([none.total, none.perPiece, none.overBudget, none.overReplaced]).toEqual([0, undefined, undefined, undefined])
  const noRest = restToBuy(FIRST, new Map(), orders, undefined, () => ({ cost: 0, unavailable: 0 }), 0)
  expect(noRest.basis).toBe('nothing')
  expect(
    restToBuy(
      FIRST,
      new Map([[line().item, 1]]),
      [],
      { minor: 90, unavailable: 2 },
      () => ({ cost: 1, unavailable: 0 }),
      5,
    ),
  ).toEqual({
    ...{ minor: 95, unpriced: 2, basis: 'plan' },
  })
})

test('a kept purchase plan is planned by category, prints as what the parts leave; what leftovers may bring is no part', () => {
  const cost = {
    ...{ goods: 500, shipping: 120, handling: 10, lineFees: 6, service: 0, levies: 30, sets: 900 },
    ...{ penalties: 70, credit: 45 },
  }
  const planned = postingsOfPurchase(cost, 500 + 120 + 16 + 30 + 900 + 250)
  expect(planned.map((p) => [p.category, p.stage, p.minor])).toEqual([
    ['donor copies', 'planned', 900],
    ['loose pieces', 'planned', 500],
    ['shipping', 'planned', 120],
    ['fees', 'planned', 16],
    ['duty and tax', 'planned', 30],
    ['prints', 'planned', 250],
  ])
  // Planned is neither paid nor due: it counts once, as what is still to be bought.
  expect([ledgerOf(planned).total.planned, ledgerOf(planned).net, countedPostings(planned)]).toEqual([1816, 0, []])
})

const someEntry = fc.record({
  minor: fc.integer({ min: -50_000, max: 500_000 }),
  day: fc.integer({ min: 1, max: 28 }),
  category: fc.constantFrom(...CATEGORIES),
  module: fc.constantFrom(undefined, 'm-1', 'm-2', 'm-gone'),
})

test('whatever happens, categories, days, modules and the three costs add up to the same money', () => {
  fc.assert(
    fc.property(
      fc.array(someEntry, { maxLength: 12 }),
      fc.array(fc.tuple(amount, fc.nat(40), fc.integer({ min: 1, max: 40 })), { maxLength: 3 }),
      fc.array(fc.tuple(charges, fc.constantFrom('drafted', 'placed', 'paid', 'lost'), amount), { maxLength: 4 }),
      fc.array(fc.array(fc.nat(30), { minLength: 4, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
      amount,
      (rows, donors, bills, modules, rest) => {
        const orders = bills.map(([charged, state, refunded], i) =>
          orderAt(state as 'paid', {
            ...{ id: `r-${i}` as Order['id'], planned: charged, charged },
            copies: i % 2 === 1 ? [{ id: `y-o${i}` as CopyId, label: 'o', price: 70 }] : [],
            ...(state === 'lost' && {
              claims: [
                {
                  ...{ id: 'k', lines: [{ reason: 'lost' as const, qty: 1 }], asked: refunded, refunded },
                  history: [{ state: 'refunded' as const, on: '2026-03-20' }],
                },
              ],
            }),
          }),
        )
        const plain = postings({
          orders,
          copies: donors.map(([paid], i) => copy(`${i}`, paid)),
          entries: rows.map(({ minor, day, category, module }, i) =>
            entry(`${i}`, minor, {
              ...{ on: `2026-02-${String(day).padStart(2, '0')}`, category },
              ...(module !== undefined && { module: module as ModuleId }),
            }),
          ),
        }).postings
        const held = new Map(donors.map(([, used, all], i) => [`y-${i}` as CopyId, { label: `${i}`, used, held: all }]))
        const all = [...plain, ...sharedDonors(plain, held)]
        expect(new Set(all.map((p) => p.key)).size).toBe(all.length)
        const { net, rows: byCategory } = ledgerOf(all)
        expect(byCategory.reduce((n, r) => n + (isIncome(r.category) ? -r.paid : r.paid) - r.back, 0)).toBe(net)
        expect(outlayOf(all).points.at(-1)?.minor ?? 0).toBe(net)
        const { points, peak } = outlayOf(all)
        if (points.length > 0) expect(peak.minor).toBe(Math.max(...points.map((p) => p.minor)))
        const counted = countedPostings(all)
        const { total } = completionOf(all, { minor: rest, unpriced: 0, basis: 'goods' }, 10, {
          ...{ budget: null, replaced: undefined },
        })
        // Each order once, as far as it has come.
        expect(counted.reduce((n, p) => n + costOf(p), rest)).toBe(total)
        const use = modules.map(([pieces = 0, one = 0, other = 0, short = 0], i) => ({
          ...{ module: `m-${i}` as ModuleId, pieces, copies: new Map([['y-0' as CopyId, one]]) },
          ...{ others: new Map([[line().item, other]]), short: new Map([[line().item, short]]) },
        }))
        const shares = costByModule(counted, rest, use, () => 5)
        expect(shares.reduce((n, m) => n + m.minor, 0)).toBe(total)
        const shelf = { pieces: 3, minor: 30, unpriced: 0 }
        const costs = threeCosts(counted, { rest, restCopies: 0 }, shelf, { cost: 900, unknown: 0 })
        expect(costs.mine).toBe(total)
        expect(costs.nothing - costs.owner).toBe(900)
      },
    ),
    { numRuns: 200 },
  )
})

test('a module bears its own plan and entries, its pieces of donors, and its loose pieces with their shipping', () => {
  const orders = [
    orderAt('paid', { charged: { goods: 120, shipping: 30, handling: 0, lineFees: 0, service: 0, levies: 0 } }),
  ]
  const { postings: all } = postings(
    { orders, copies: [copy('hut', 1_000)], entries: [entry('wire', 40, { module: 'm-b' as ModuleId })] },
    build(FIRST),
    [
      {
        ...{ id: 'm-a' as ModuleId, name: 'A' },
        provenance: {
          author: '',
          licence: '',
          permits: { share: true, sell: true },
          price: { minor: 500, currency: EUR },
        },
      },
    ],
  )
  const [a, b] = costByModule(
    countedPostings(all),
    0,
    [
      {
        ...{ module: 'm-a' as ModuleId, pieces: 8, copies: new Map([['y-hut' as CopyId, 8]]) },
        ...{ others: new Map(), short: new Map() },
      },
      {
        ...{ module: 'm-b' as ModuleId, pieces: 12, copies: new Map([['y-hut' as CopyId, 2]]) },
        ...{ others: new Map([[line().item, 10]]), short: new Map() },
      },
    ],
    () => 12,
  )
  expect([a?.minor, b?.minor]).toEqual([500 + 800, 40 + 200 + 150])
  expect(sharesOf(1_000, [8, 2])).toEqual([800, 200])
})
