import { partFromName } from '../catalogue/part.ts'
import { itemKey } from '../catalogue/item.ts'
import { colourId, type BuildId, type CopyId, type SetId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Shop } from '../offers/shop.ts'
import { planOrders } from '../sourcing/baskets.ts'
import type { KeptPlan } from '../sourcing/kept-plan.ts'
import { ordersOfPlan, ordersOfShared, nextNumber } from './make-orders.ts'
import { goodsOf } from './order.ts'
import { order } from './orders.test-data.ts'

const EUR = currency('EUR')
const PLATE = itemKey(partFromName('plate 2x4').id, colourId('Soot'))
const build = { id: 'b-1' as BuildId }
let serial = 0
const making = { home: EUR, on: '2026-03-01', firstNumber: 4, fresh: () => `${serial++}` }

const shop = (id: string, more: Partial<Shop> = {}): Shop => ({
  id,
  name: `Shop ${id}`,
  country: 'AT',
  kind: 'shop',
  currency: EUR,
  minOrder: 0,
  bands: [{ maxMass: 1_000_000, fee: 350 }],
  service: null,
  handling: 20,
  lineFee: 10,
  leadDays: 5,
  reliability: 1,
  ...more,
})

const kept: KeptPlan = {
  id: build.id,
  problem: {
    format: 'sourcing-problem',
    version: 2,
    id: 'b-1',
    currency: EUR,
    maxShops: null,
    deadlineDays: null,
    items: [{ id: 'i', piece: PLATE, part: 'p', colour: 'c', mass: 1100, owned: 0, resale: null }],
    lines: [{ id: 'l', piece: PLATE, qty: 7, accepts: [{ id: 'a', uses: [{ item: 'i', qty: 1 }], penalty: 0 }] }],
    shops: [shop('a'), shop('z')].map(({ name: _, country: __, currency: ___, ...terms }) => ({
      ...terms,
      status: 'free' as const,
    })),
    offers: [
      { id: 'o', shop: 'a', item: 'i', price: 11, stock: 50, pack: 5 },
      { id: 'q', shop: 'z', item: 'i', price: 10, stock: 2, pack: 1 },
    ],
    sets: [{ id: 'y-1', price: 900, maxCopies: 2, contents: [{ item: 'i', qty: 1 }] }],
    onOrder: [],
  },
  plan: {
    format: 'sourcing-plan',
    version: 2,
    problem: 'b-1',
    status: 'feasible',
    purchases: [
      { offer: 'o', packs: 1 },
      { offer: 'q', packs: 2 },
    ],
    sets: [{ set: 'y-1', copies: 2 }],
    assignments: [],
    total: 0,
    cost: null,
    bound: null,
    gap: null,
    seconds: 0,
    unreachable: [],
  },
  unavailable: [],
  habits: { lineByLine: { kind: 'fails', why: '' }, biggestShop: { kind: 'fails', why: '' } },
  madeAt: '2026-02-28T10:00:00.000Z',
}
const copy = (id: string): Copy => ({
  id: id as CopyId,
  setId: 's-1' as SetId,
  label: `Copy ${id}`,
  buildId: build.id,
  state: 'to-buy',
  stages: 'all',
  spares: true,
  missing: [],
})

test('a plan becomes an order for each shop, each copy and each maker; packs bring more than is for the build', () => {
  const shops = [shop('a'), shop('z')]
  const prints = [
    {
      vendor: 'Maker',
      runs: [{ item: PLATE, vendor: 'Maker', qty: 3, minRun: 5, price: 80, cost: 400, side: 'left' as const }],
      pieces: 5,
      total: 400,
      days: undefined,
    },
  ]
  const copies = ['y-1', 'y-2'].map((id) => ({ set: 'y-1', copy: copy(id) }))
  const made = ordersOfPlan(kept, planOrders(kept, shops, new Map()), prints, copies, build, making)
  expect(made.map((o) => [o.number, o.seller.name, o.lines.length, o.copies.length])).toEqual([
    [4, 'Shop a', 1, 0],
    [5, 'Shop z', 1, 0],
    [6, 'Seller of Copy y-1', 0, 1],
    [7, 'Seller of Copy y-2', 0, 1],
    [8, 'Maker', 1, 0],
  ])
  const [a, z, , , maker] = made
  // Five in a pack and two singles: seven are needed, all of them for the build.
  expect(a?.lines[0]).toMatchObject({ qty: 5, price: 11, for: [{ qty: 5 }] })
  expect(z?.lines[0]).toMatchObject({ qty: 2, for: [{ qty: 2 }] })
  expect(a?.planned).toEqual({ goods: 55, shipping: 350, handling: 20, lineFees: 10, service: 0, levies: 0 })
  expect(maker?.lines[0]).toMatchObject({ qty: 5, for: [{ qty: 3 }], note: 'left version', print: true })
  for (const o of made) expect(o.planned?.goods).toBe(goodsOf(o))
})

test('what packs bring beyond the need is for no build', () => {
  const more: KeptPlan = {
    ...kept,
    problem: { ...kept.problem, lines: kept.problem.lines.map((l) => ({ ...l, qty: 4 })) },
  }
  const [a, z] = ordersOfPlan(more, planOrders(more, [shop('a'), shop('z')], new Map()), [], [], build, making)
  expect([a?.lines[0]?.for, z?.lines[0]?.for]).toEqual([[{ build: 'b-1', qty: 4 }], []])
})

test('a shared order says whose pieces are whose, and bills as the purchase did', () => {
  const [b1, b2] = ['b-1', 'b-2'] as unknown as [BuildId, BuildId]
  const cost = { goods: 250, shipping: 70, handling: 0, lineFees: 0, service: 0, levies: 12, mass: 1 }
  const [made] = ordersOfShared(
    [
      {
        shop: 'a',
        cost: { ...cost, billed: { goods: 6200, shipping: 1800, handling: 0, lineFees: 0, service: 0 } },
        total: 332,
        lines: [{ item: PLATE, pieces: 62, price: 100, dealt: [20, 40], over: 2 }],
        shares: [100, 232],
      },
    ],
    [b1, b2],
    (id) => ({ shop: id, name: 'A', currency: currency('CZK'), rate: 40_000_000, leadDays: 9 }),
    () => 'used',
    making,
  )
  expect(made).toMatchObject({
    builds: [b1, b2],
    currency: 'CZK',
    planned: { goods: 6200, shipping: 1800, levies: 12 },
    lines: [
      {
        qty: 62,
        condition: 'used',
        for: [
          { build: b1, qty: 20 },
          { build: b2, qty: 40 },
        ],
      },
    ],
  })
})

test('numbers go on from the highest', () => {
  expect(nextNumber([])).toBe(1)
  expect(nextNumber([order({ number: 3 }), order({ number: 9 })])).toBe(10)
})
