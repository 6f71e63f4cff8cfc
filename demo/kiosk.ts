import type { Build } from '../core/build/build.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Design, Module } from '../core/design/design.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import type { Charges, Claim, Order, OrderLine, OrderStep, Receipt } from '../core/orders/order.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { Place } from '../core/shelf/place.ts'
import { PARCEL_SURPLUS, pileIdOf } from '../core/orders/piles.ts'
import { addDays } from '../core/units/instants.ts'
import {
  colourId,
  type BuildId,
  type CopyId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type OrderId,
  type SetId,
} from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

const KIOSK = 'b-yard-kiosk' as BuildId
const EUR = currency('EUR')
const PILE = pileIdOf(KIOSK)
const SURPLUS = PARCEL_SURPLUS.id

const item = (part: string, colour: string): ItemKey => itemKey(partFromName(part).id, colourId(colour))

/** What the kiosk needs, by short names that its orders use as well. */
const PIECES = {
  wall: item('brick 1x4', 'Tarn'),
  corner: item('brick 1x1', 'Tarn'),
  plinth: item('plate 4x8', 'Scree'),
  pane: item('panel 1x2', 'Clear ice'),
  shutter: item('window shutter 1x2', 'Meltwater'),
  roof: item('slope 2x4 45°', 'Foxglove'),
  ridge: item('tile 1x4', 'Foxglove'),
  gutter: item('plate 1x8', 'Weathered slate'),
  mast: item('bar 6 long', 'Pewter metal'),
  lamp: item('round plate 1x1', 'Clear berry'),
  rail: item('fence 1x4', 'Brass metal'),
  counter: item('tile 2x4', 'Hazelnut'),
  stool: item('round brick 1x1', 'Hazelnut'),
  sheet: item('sticker sheet newsstand', 'Chalk'),
  paper: item('tile 1x2', 'Oatmeal'),
} as const
type Piece = keyof typeof PIECES

const module = (name: string, rows: readonly (readonly [Piece, number])[], more: Partial<Module> = {}): Module => ({
  id: `m-kiosk-${name.toLowerCase().replace(/ /g, '-')}` as ModuleId,
  name,
  repeats: 1,
  lines: rows.map(([piece, qty]) => ({
    id: `n-kiosk-${name.toLowerCase().replace(/ /g, '-')}-${piece}` as LineId,
    item: PIECES[piece],
    qty,
  })),
  ...more,
})

const MODULES: readonly Module[] = [
  module('Base', [
    ['plinth', 4],
    ['gutter', 4],
  ]),
  module('Walls', [
    ['wall', 24],
    ['corner', 12],
    ['pane', 6],
    ['shutter', 4],
  ]),
  module('Roof', [
    ['roof', 14],
    ['ridge', 4],
  ]),
  module(
    'Signal mast',
    [
      ['mast', 2],
      ['lamp', 3],
    ],
    { repeats: 3 },
  ),
  module('Counter', [
    ['counter', 3],
    ['stool', 4],
    ['rail', 2],
    ['paper', 8],
    ['sheet', 1],
  ]),
]

/** A small donor of which one copy was bought second hand. */
const NEWSSTAND: DonorSet = {
  id: 's-newsstand' as SetId,
  name: 'Newsstand',
  year: 2021,
  retail: { minor: 999, currency: EUR },
  stages: [
    { id: 'stand', name: 'Stand' },
    { id: 'papers', name: 'Papers' },
  ],
  lines: [
    { stage: 'stand', item: PIECES.counter, qty: 2, spare: false },
    { stage: 'stand', item: PIECES.stool, qty: 4, spare: false },
    { stage: 'stand', item: item('plate 2x8', 'Hazelnut'), qty: 3, spare: false },
    { stage: 'papers', item: PIECES.paper, qty: 8, spare: false },
    { stage: 'papers', item: PIECES.sheet, qty: 1, spare: false },
    { stage: 'papers', item: item('figure torso coat', 'Soot'), qty: 1, spare: false, figure: 'Paper seller Ida' },
    { stage: 'papers', item: item('figure head plain', 'Apricot'), qty: 1, spare: false, figure: 'Paper seller Ida' },
    { stage: 'papers', item: item('figure legs plain', 'Peat'), qty: 1, spare: false, figure: 'Paper seller Ida' },
  ],
}
const COPY: Copy = {
  id: 'y-newsstand-1' as CopyId,
  setId: NEWSSTAND.id,
  label: 'Newsstand, from a flat being cleared',
  buildId: KIOSK,
  state: 'owned',
  paid: { minor: 550, currency: EUR },
  condition: 'used',
  stages: 'all',
  spares: true,
  missing: [{ item: PIECES.sheet, qty: 1 }],
}

/** Days between the steps of an order that goes the usual way, from its draft on. */
type Steps = readonly (readonly [state: OrderStep['state'], daysAgo: number])[]
type Row = readonly [piece: Piece, qty: number, price: number, got?: Partial<Receipt> | undefined, spare?: number]

const NOTHING: Receipt = { right: 0, short: 0, damaged: 0, wrong: [], extra: 0 }

/** Makes the orders of the kiosk, one after the other, dated back from a day. */
function orderMaker(today: string) {
  const day = (ago: number) => addDays(today, -ago)
  let number = 0
  const order = (
    seller: readonly [name: string, country: string],
    steps: Steps,
    rows: readonly Row[],
    shipping: number,
    more: Partial<Order> = {},
  ): Order => {
    number++
    const lines = rows.map(([piece, qty, price, got, spare = 0], i): OrderLine => ({
      id: `${i + 1}`,
      item: PIECES[piece],
      qty,
      price,
      condition: 'used',
      for: qty > spare ? [{ build: KIOSK, qty: qty - spare }] : [],
      ...(got && { got: { ...NOTHING, ...got } }),
    }))
    const goods =
      lines.reduce((sum, l) => sum + l.qty * l.price, 0) + (more.copies ?? []).reduce((sum, c) => sum + c.price, 0)
    const planned: Charges = { goods, shipping, handling: 0, lineFees: 0, service: 0, levies: 0 }
    const paid = steps.some(([state]) => state === 'paid')
    return {
      id: `r-kiosk-${number}` as OrderId,
      number,
      seller: { name: seller[0], country: seller[1] },
      builds: [KIOSK],
      currency: EUR,
      home: EUR,
      lines,
      copies: [],
      planned,
      ...(paid && { charged: planned }),
      history: steps.map(([state, ago]) => ({ state, on: day(ago) })),
      leadDays: 7,
      bookings: steps.some(([state]) => state === 'checked in') ? 1 : 0,
      claims: [],
      ...more,
    }
  }
  return { order, day }
}
type Maker = ReturnType<typeof orderMaker>

const claim = (lines: Claim['lines'], asked: number, history: Claim['history'], refunded?: number): Claim => ({
  id: 'k-1',
  lines,
  asked,
  history,
  ...(refunded !== undefined && { refunded }),
})

/** What has come, or never did. */
function settledOrders({ order, day }: Maker): Order[] {
  return [
    order(
      ['Larch Lane pieces', 'AT'],
      [
        ['drafted', 41],
        ['placed', 40],
        ['paid', 40],
        ['dispatched', 38],
        ['arrived', 34],
        ['checked in', 34],
      ],
      [
        ['plinth', 4, 85, { right: 4 }],
        ['gutter', 4, 22, { right: 4 }],
      ],
      490,
    ),
    order(
      ['The odd drawer', 'AT'],
      [
        ['drafted', 30],
        ['placed', 30],
        ['paid', 29],
        ['dispatched', 27],
        ['arrived', 24],
        ['checked in', 23],
      ],
      [['wall', 24, 14, { right: 24, uncounted: true }]],
      420,
    ),
    order(
      ['Anvil and thimble', 'DE'],
      [
        ['drafted', 26],
        ['placed', 25],
        ['paid', 25],
        ['dispatched', 22],
        ['arrived', 16],
        ['checked in', 15],
      ],
      [
        ['corner', 12, 6, { right: 9, short: 3 }],
        ['pane', 6, 31, { right: 6 }],
      ],
      690,
      {
        reference: 'AT-2214',
        claims: [claim([{ line: '1', reason: 'short', qty: 3 }], 18, [{ state: 'open', on: day(15) }])],
      },
    ),
    order(
      ['Larch Lane pieces', 'AT'],
      [
        ['drafted', 22],
        ['placed', 21],
        ['paid', 21],
        ['dispatched', 19],
        ['arrived', 15],
        ['checked in', 14],
      ],
      [['gutter', 3, 22, { wrong: [{ item: item('plate 1x8', 'Scree'), qty: 3 }] }, 3]],
      490,
      {
        claims: [
          claim(
            [{ line: '1', reason: 'wrong', qty: 3 }],
            66,
            [
              { state: 'open', on: day(14) },
              { state: 'refunded', on: day(10) },
            ],
            66,
          ),
        ],
      },
    ),
    order(
      ['Bricks by the weir', 'CZ'],
      [
        ['drafted', 39],
        ['placed', 38],
        ['paid', 38],
        ['dispatched', 35],
        ['lost', 9],
      ],
      [['roof', 14, 38]],
      890,
      {
        tracking: 'RR473124829CZ',
        claims: [
          claim([{ line: '1', reason: 'lost', qty: 14 }], 1422, [
            { state: 'open', on: day(9) },
            { state: 'sent again', on: day(6) },
          ]),
        ],
      },
    ),
  ]
}

/** What is on its way, came with a flaw, waits to be opened or to be placed. */
function goingOrders({ order, day }: Maker, today: string): Order[] {
  return [
    order(
      ['Bricks by the weir', 'CZ'],
      [
        ['drafted', 6],
        ['placed', 6],
        ['paid', 6],
        ['dispatched', 5],
      ],
      [['roof', 14, 0]],
      0,
      { replaces: 'r-kiosk-5' as OrderId, tracking: 'RR473124846CZ', due: addDays(today, 3) },
    ),
    order(
      ['Lantern hill parts', 'JP'],
      [
        ['drafted', 18],
        ['placed', 17],
        ['paid', 17],
        ['dispatched', 13],
      ],
      [
        ['mast', 6, 24],
        ['lamp', 12, 5, undefined, 3],
      ],
      1280,
      {
        tracking: 'EM000300005JP',
        leadDays: 21,
        due: addDays(today, 6),
        news: [
          { kind: 'accepted', on: day(13), where: 'JP' },
          { kind: 'on the way', on: day(12), where: 'North hall' },
          { kind: 'at customs', on: day(3), where: 'AT' },
        ],
      },
    ),
    order(
      ['Anvil and thimble', 'DE'],
      [
        ['drafted', 5],
        ['placed', 4],
        ['paid', 3],
      ],
      [['shutter', 4, 19]],
      690,
    ),
    order(
      ['Somebody who clears a flat', 'AT'],
      [
        ['drafted', 12],
        ['placed', 12],
        ['paid', 12],
        ['dispatched', 10],
        ['arrived', 8],
        ['checked in', 8],
      ],
      [],
      450,
      {
        copies: [{ id: COPY.id, label: COPY.label, price: 550, checked: true }],
        claims: [
          claim([{ copy: COPY.id, reason: 'damaged', qty: 1, note: 'sticker sheet newsstand bent' }], 150, [
            { state: 'open', on: day(8) },
            { state: 'promised', on: day(5) },
          ]),
        ],
      },
    ),
    order(
      ['The odd drawer', 'AT'],
      [
        ['drafted', 11],
        ['placed', 10],
        ['paid', 10],
        ['dispatched', 7],
        ['arrived', 1],
      ],
      [
        ['ridge', 4, 9],
        ['counter', 1, 45],
        ['rail', 2, 60],
        ['wall', 6, 14, undefined, 6],
      ],
      420,
    ),
    order(['Counter of the works', 'AT'], [['drafted', 2]], [['sheet', 1, 280]], 390, { leadDays: 35 }),
  ]
}

/** Orders in every state. */
function ordersOf(today: string): Order[] {
  const maker = orderMaker(today)
  return [...settledOrders(maker), ...goingOrders(maker, today)]
}

/** What lies on the shelf of the parcels that were checked in. */
const HOLDINGS: readonly Holding[] = (
  [
    ['plinth', 4, {}],
    ['gutter', 4, {}],
    ['wall', 24, { uncounted: 'r-kiosk-2' as OrderId }],
    ['corner', 9, {}],
    ['pane', 6, {}],
  ] as const
).map(([piece, qty, more]) => ({
  id: `h-kiosk-${piece}` as HoldingId,
  place: PILE,
  item: PIECES[piece],
  qty,
  estimate: false,
  condition: 'used',
  reserved: [{ build: KIOSK, qty }],
  ...more,
}))

/**
 * The demo's fourth build: a kiosk of which everything is ordered, and whose parcels are in every state there is. Dates
 * go back from `today`.
 */
export function yardKiosk(
  today: string,
  beside: BuildId,
): {
  readonly build: Build
  readonly design: Design
  readonly set: DonorSet
  readonly copy: Copy
  readonly orders: readonly Order[]
  readonly places: readonly Place[]
  readonly holdings: readonly Holding[]
} {
  const build: Build = {
    id: KIOSK,
    name: 'Yard kiosk at the lower stop',
    note: 'Sells tickets and papers. Everything is ordered; some of it has come.',
    currency: EUR,
    rules: { ...defaultRules, condition: 'used', maxShops: 6, shipTo: 'AT' },
  }
  const orders = ordersOf(today).map((order): Order => {
    // One parcel is for two builds: lanterns for the terrace came along with the shutters.
    if (order.number !== 8) return order
    const lamps: OrderLine = {
      id: '2',
      item: item('accessory lantern', 'Brass metal'),
      qty: 4,
      price: 55,
      condition: 'new',
      for: [{ build: beside, qty: 4 }],
    }
    const goods = 296
    const charges: Charges = { goods, shipping: 690, handling: 0, lineFees: 0, service: 0, levies: 0 }
    return { ...order, builds: [KIOSK, beside], lines: [...order.lines, lamps], planned: charges, charged: charges }
  })
  return {
    build,
    design: { id: KIOSK, modules: [...MODULES] },
    set: NEWSSTAND,
    copy: COPY,
    orders,
    places: [
      { id: PILE, name: `Pile of ${build.name}`, kind: 'box', parent: null },
      { id: SURPLUS, name: 'Surplus of parcels', kind: 'box', parent: null },
    ],
    holdings: [
      ...HOLDINGS,
      {
        id: 'h-kiosk-surplus' as HoldingId,
        place: SURPLUS,
        item: item('plate 1x8', 'Scree'),
        qty: 3,
        estimate: false,
        condition: 'used',
      },
    ],
  }
}
