import { expectedBetween, expectedOn, quantile } from './expected-day.ts'
import { order, orderAt, line } from './orders.test-data.ts'
import { sellerRecords } from './seller-record.ts'
import { troubleOf } from './trouble.ts'
import { sentAgain, claimText } from './claims.ts'
import { withNews } from './carrier-news.ts'
import { stateOf, type Order } from './order.ts'
import type { OrderId } from '../units/ids.ts'
import { FIRST, PLATE, SECOND } from './orders.test-data.ts'
import { currency } from '../units/money.ts'

const days = (placed: string, arrived: string, more: Partial<Order> = {}): Order =>
  order({
    history: [
      { state: 'drafted', on: placed },
      { state: 'placed', on: placed },
      { state: 'arrived', on: arrived },
      { state: 'checked in', on: arrived },
    ],
    lines: [line({ got: { right: 10, short: 0, damaged: 0, wrong: [], extra: 0 } })],
    ...more,
  })

// Nearest rank, the worked example of many textbooks (from memory): of 15, 20, 35, 40, 50 the 30th percentile is 20, the 40th 20, the 50th 35, the 100th 50.
test.each([
  [30, 20],
  [40, 20],
  [50, 35],
  [100, 50],
])('the %i. percentile by the nearest rank', (percent, value) => {
  expect(quantile([15, 20, 35, 40, 50], percent)).toBe(value)
})

test('what a seller did is added up; what was sent in place of something is left out', () => {
  const short = { right: 7, short: 3, damaged: 0, wrong: [], extra: 0 }
  const records = sellerRecords([
    days('2026-03-01', '2026-03-05'),
    days('2026-03-01', '2026-03-07', { lines: [line({ got: short })] }),
    days('2026-03-02', '2026-03-12'),
    orderAt('lost'),
    days('2026-03-02', '2026-03-03', { replaces: 'r-9' as OrderId }),
    order({ seller: { name: 'Somebody' } }),
  ])
  expect(records.get('a')).toMatchObject({
    orders: 4,
    days: [4, 6, 10],
    complete: 2,
    lost: 1,
    shortLines: 1,
    typical: 6,
    slow: 10,
    reliability: 500,
  })
  expect(records.get('Somebody')).toMatchObject({ orders: 0, reliability: undefined, typical: undefined })
})

test('an order is expected when carrier or seller says, else after its days; late as its seller spreads', () => {
  const placed = orderAt('placed')
  expect(expectedOn(placed)).toBe('2026-03-08')
  expect(expectedOn({ ...placed, due: '2026-03-20' })).toBe('2026-03-20')
  expect(expectedBetween(placed, [], '2026-03-03')).toEqual({ likely: '2026-03-08', late: '2026-03-11', by: 'said' })
  expect(expectedBetween(placed, [4, 6, 10], '2026-03-03')).toEqual({
    likely: '2026-03-08',
    late: '2026-03-12',
    by: 'record',
  })
  // It has not come until today.
  expect(expectedBetween(placed, [], '2026-03-10')).toMatchObject({ likely: '2026-03-10', late: '2026-03-11' })
  expect(expectedBetween(order(), [], '2026-03-10')).toBeUndefined()
})

test.each([
  [order(), '2026-03-20', { kind: 'not placed', days: 19, act: 'place' }],
  [orderAt('placed'), '2026-03-20', { kind: 'not paid', act: 'pay' }],
  [orderAt('paid'), '2026-03-10', { kind: 'nearly overdue', days: 2, act: 'wait' }],
  [orderAt('paid'), '2026-03-13', { kind: 'overdue', days: 2, act: 'ask' }],
  [orderAt('dispatched'), '2026-03-30', { kind: 'overdue', days: 19, act: 'claim' }],
  [orderAt('arrived'), '2026-03-20', { kind: 'not counted', act: 'check in' }],
  [orderAt('lost'), '2026-03-20', { kind: 'lost', act: 'claim' }],
  [
    orderAt('checked in', {
      claims: [
        {
          id: 'k',
          lines: [{ line: '1', reason: 'short', qty: 1 }],
          asked: 1,
          history: [{ state: 'open', on: '2026-03-06' }],
        },
      ],
    }),
    '2026-03-30',
    { kind: 'claim waits', days: 24, act: 'remind' },
  ],
])('trouble is named with the next act: case %#', (of, today, told) => {
  expect(troubleOf(of, [], 14, today)).toMatchObject(told)
})

test('all is well before the day, and once it is checked in', () => {
  expect(troubleOf(orderAt('dispatched'), [], 14, '2026-03-05')).toBeUndefined()
  expect(troubleOf(orderAt('checked in'), [], 14, '2026-09-05')).toBeUndefined()
})

test('what is sent again is a parcel of its own for those who miss it, and costs nothing', () => {
  const from = orderAt('arrived', {
    builds: [FIRST, SECOND],
    reference: 'W 12',
    lines: [
      line({
        for: [
          { build: FIRST, qty: 4 },
          { build: SECOND, qty: 4 },
        ],
      }),
    ],
    claims: [
      {
        id: 'k',
        lines: [{ line: '1', reason: 'short', qty: 5 }],
        asked: 60,
        history: [{ state: 'open', on: '2026-03-06' }],
      },
    ],
  })
  const [claim] = from.claims
  if (!claim) throw new Error('test data')
  const again = sentAgain(from, claim, { home: currency('EUR'), on: '2026-03-09', firstNumber: 8, fresh: () => 'x' })
  expect(again).toMatchObject({
    number: 8,
    replaces: 'r-1',
    lines: [{ qty: 5, price: 0, for: [{ build: SECOND, qty: 3 }] }],
  })
  expect(again && stateOf(again)).toBe('dispatched')
  expect(claimText(from, claim, () => 'plate 2x4, Soot')).toBe(
    'To A: your order W 12 of 2026-03-02\nThis was not as ordered:\n5 x plate 2x4, Soot: missing\nPlease send them again, or pay back 0.60 EUR.',
  )
  expect(PLATE).toContain('plate')
})

test('a carrier’s news move an order on, and back in time nothing', () => {
  const events = [
    { kind: 'accepted' as const, on: '2026-03-01', where: 'Linz' },
    { kind: 'at customs' as const, on: '2026-03-06', where: 'Wien' },
  ]
  const sent = withNews(orderAt('paid'), { events, due: '2026-03-12' })
  expect(stateOf(sent)).toBe('dispatched')
  // The seller was paid on the third: it cannot have left before.
  expect(sent.history.at(-1)).toEqual({ state: 'dispatched', on: '2026-03-03' })
  expect(expectedOn(sent)).toBe('2026-03-12')
  const here = withNews(sent, {
    events: [...events, { kind: 'delivered', on: '2026-03-11', where: 'at the door' }],
    due: undefined,
  })
  expect(here.history.at(-1)).toEqual({ state: 'arrived', on: '2026-03-11' })
  expect(withNews(here, { events, due: '2026-03-12' })).toBe(here)
})
