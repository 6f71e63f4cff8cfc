import { fixture, of, EUR } from '../netting/fixture.test-data.ts'
import { tally } from '../netting/count.ts'
import { expectedSupply, placeOfOrder } from './expected-supply.ts'
import { line, orderAt } from './orders.test-data.ts'
import { temporaries } from './temporary.ts'
import { mayThrowIn, throwingInSaves, NOTHING_TO_BUY, billsOf } from './replan.ts'
import { BUILD } from '../netting/fixture.test-data.ts'
import { currency } from '../units/money.ts'

const [PLATE, BRICK, SMALL] = ['plate 2x4', 'brick 2x2', 'plate 2x2'].map((n) => of(n)) as [
  ReturnType<typeof of>,
  ReturnType<typeof of>,
  ReturnType<typeof of>,
]

test('what stands in is told with what is here, on its way and not ordered', () => {
  const order = orderAt('paid', {
    builds: [BUILD],
    lines: [line({ item: PLATE, qty: 3, condition: 'used', for: [{ build: BUILD, qty: 3 }] })],
  })
  const { holdings, places } = expectedSupply([order])
  const bare = fixture(
    { sources: 'donors and shelf' },
    [
      { item: PLATE, qty: 8, meanwhile: SMALL },
      { item: BRICK, qty: 2, meanwhile: SMALL },
      { item: SMALL, qty: 1 },
    ],
    [
      { item: PLATE, qty: 4 },
      { item: BRICK, qty: 2 },
    ],
  )
  const snapshot = { ...bare, holdings: [...bare.holdings, ...holdings], places }
  const list = temporaries(snapshot.design, tally(snapshot).lines)
  expect(list).toMatchObject([
    { wanted: PLATE, by: SMALL, here: 4, onOrder: 3, short: 1, place: placeOfOrder(order.id) },
    { wanted: BRICK, here: 2, onOrder: 0, short: 0, place: undefined },
  ])
})

test('throwing unpaid orders in saves their bills and what one plan does better; drafts are bought either way', () => {
  const planned = { goods: 120, shipping: 280, handling: 0, lineFees: 0, service: 0, levies: 20 }
  const placed = orderAt('placed', { planned })
  const draft = orderAt('drafted', { planned })
  const plan = (cost: number) => ({ ...NOTHING_TO_BUY, cost })
  expect([placed, draft, orderAt('paid')].map(mayThrowIn)).toEqual([true, true, false])
  expect(throwingInSaves(plan(500), plan(700), [placed])).toBe(220)
  expect(throwingInSaves(plan(500), plan(500), [draft])).toBe(0)
  // In koruna at 0.04 euro: 400 of them are 16 euro cents, half up.
  const foreign = { ...placed, currency: currency('CZK'), rate: 40_000_000 }
  expect(billsOf([foreign])).toBe(16 + 20)
  expect(EUR).toBe('EUR')
})
