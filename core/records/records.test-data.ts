import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { SourcingPlan } from '../sourcing/plan.ts'
import type { SourcingProblem } from '../sourcing/problem.ts'
import { colourId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Records } from './registry.ts'

export const AT = '2026-01-01T00:00:00.000Z'
export const [PLATE, BRICK, TILE] = ['plate 2x4', 'brick 1x2', 'tile 1x1'].map(partFromName)
if (!PLATE || !BRICK || !TILE) throw new Error('test data')
export const plate = itemKey(PLATE.id, colourId('Soot'))

/** A picture of one pixel: the header of ISO/IEC 15948 and no more. */
export const PIXEL = 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJ'

const problem: SourcingProblem = {
  format: 'sourcing-problem',
  version: 1,
  id: 'b-1',
  currency: currency('EUR'),
  maxShops: null,
  deadlineDays: null,
  items: [],
  lines: [],
  shops: [],
  offers: [],
  sets: [],
  onOrder: [],
}
const plan: SourcingPlan = {
  format: 'sourcing-plan',
  version: 1,
  problem: 'b-1',
  status: 'cancelled',
  purchases: [],
  sets: [],
  assignments: [],
  total: null,
  cost: null,
  bound: null,
  gap: null,
  seconds: 0,
  unreachable: [],
}
const habit = { kind: 'fails', why: 'nothing is asked' } as const

/** One sound record of every kind, with every list in it filled; they belong together. */
export const SAMPLES = {
  parts: { ...PLATE, aliases: ['x=1'] },
  colours: { ...PALETTE[0], aliases: ['coal'] },
  sets: {
    id: 's-1',
    name: 'Hut',
    year: 1999,
    retires: '2027-01-31',
    note: 'n',
    stages: [{ id: 'a', name: 'A' }],
    lines: [{ stage: 'a', item: plate, qty: 2, spare: false, figure: 'Guard' }],
  },
  copies: {
    id: 'y-1',
    setId: 's-1',
    label: 'One',
    buildId: 'b-1',
    state: 'owned',
    askingPrice: { minor: 100, currency: currency('EUR') },
    condition: 'used',
    stages: ['a'],
    spares: true,
    missing: [{ item: plate, qty: 1 }],
  },
  places: { id: 'l-1', name: 'Bin', kind: 'bin', parent: null },
  holdings: {
    id: 'h-1',
    place: 'l-1',
    item: plate,
    qty: 4,
    estimate: true,
    condition: 'used',
    length: 30,
    reserved: [{ build: 'b-1', qty: 1 }],
  },
  builds: { id: 'b-1', name: 'One', note: '', currency: currency('EUR'), rules: defaultRules, purpose: 'keep' },
  designs: {
    id: 'b-1',
    modules: [
      {
        id: 'm-1',
        name: 'M',
        repeats: 2,
        risks: [{ kind: 'heavy', state: 'open' }],
        lines: [{ id: 'n-1', item: plate, qty: 3, steps: [1, 2], instead: [[{ item: plate, qty: 1 }]], note: 'n' }],
      },
    ],
    colourways: [{ id: 'w', name: 'W', colours: [{ from: 'c-soot', to: 'c-chalk' }] }],
  },
  shops: {
    id: 'a',
    name: 'A',
    country: 'AT',
    kind: 'shop',
    currency: currency('EUR'),
    minOrder: 0,
    bands: [{ maxMass: 1000, fee: 100 }],
    service: { threshold: 1, fee: 1 },
    handling: 0,
    lineFee: 0,
    leadDays: 1,
    reliability: 1,
  },
  offers: { id: 'o', shop: 'a', item: plate, price: 5, stock: 9, pack: 1, condition: 'new', source: 'file' },
  plans: {
    id: 'b-1',
    problem,
    plan,
    unavailable: [{ line: 'x', short: 1, reason: 'stock', detail: '' }],
    habits: { lineByLine: habit, biggestShop: habit },
    madeAt: AT,
  },
  versions: { id: 'v-1', buildId: 'b-1', name: 'First', at: AT, design: { id: 'b-1', modules: [] } },
  pictures: { id: 'i-1', name: 'a', data: PIXEL },
  decisions: {
    id: 'd-1',
    build: 'b-1',
    what: { kind: 'own', part: PLATE.id, uses: [{ part: BRICK.id, qty: 2 }], points: 1 },
  },
  scenarios: {
    id: 'w-1',
    buildId: 'b-1',
    name: 'Later',
    changes: {
      rules: { maxShops: 2 },
      shops: { a: 'excluded' },
      copies: { 'y-1': 1 },
      version: 'v-1',
      colourway: null,
      modules: [{ module: 'm-1', later: true }],
      freed: { which: 'hidden', freedom: 'near' },
      recoloured: [{ lines: ['n-1'], colour: 'c-soot' }],
      leftOut: ['n-1'],
      accepted: [{ line: 'n-1', item: plate, uses: [{ item: plate, qty: 1 }] }],
      takenBack: ['d-1'],
    },
  },
  orders: {
    id: 'r-1',
    number: 1,
    seller: { shop: 'a', name: 'A', country: 'AT' },
    builds: ['b-1'],
    currency: currency('EUR'),
    home: currency('EUR'),
    lines: [
      {
        id: '1',
        item: plate,
        qty: 4,
        price: 5,
        condition: 'new',
        for: [{ build: 'b-1', qty: 3 }],
        note: 'any grey',
        got: { right: 2, short: 1, damaged: 0, wrong: [{ item: plate, qty: 1 }], extra: 0, uncounted: true },
      },
    ],
    copies: [{ id: 'y-1', label: 'One', price: 100 }],
    planned: { goods: 120, shipping: 1, handling: 1, lineFees: 1, service: 1, levies: 1 },
    history: [
      { state: 'drafted', on: '2026-01-01' },
      { state: 'placed', on: '2026-01-02', note: 'by mail' },
    ],
    tracking: 'RN473124829AT',
    leadDays: 3,
    bench: [{ id: '1', right: 1, short: 0, damaged: 0, wrong: [], extra: 0 }],
    bookings: 1,
    claims: [
      {
        id: 'k',
        lines: [{ line: '1', reason: 'short', qty: 1 }],
        asked: 5,
        history: [{ state: 'open', on: '2026-01-05' }],
      },
    ],
  },
  units: {
    id: 'u-1',
    build: 'b-1',
    path: ['m-1'],
    repeat: 1,
    put: [
      {
        line: 'n-1',
        item: plate,
        qty: 2,
        covers: 2,
        from: { kind: 'place', place: 'l-1', reserved: 1 },
        condition: 'used',
        shown: { item: plate, on: '2026-01-02' },
      },
      { item: plate, qty: 1, covers: 0, from: { kind: 'copy', copy: 'y-1' }, condition: 'new', stayed: true },
      { line: 'n-1', item: plate, qty: 1, covers: 1, kit: 1, from: { kind: 'found' }, condition: 'not stated' },
    ],
    leftOut: [{ line: 'n-1', qty: 1 }],
    exceptions: [{ id: 'e', kind: 'failed', on: '2026-01-02', note: 'fell apart', minutes: 40 }],
    times: [{ id: 't', kind: 'building', from: AT, to: '2026-01-01T01:00:00.000Z' }],
  },
  makings: {
    id: 'b-1',
    people: 2,
    piles: 20,
    fetched: [{ from: 'h-1', item: plate, qty: 1 }],
    sorts: [{ id: 's', on: '2026-01-01', person: 'me', pieces: 500, minutes: 20, piles: 20 }],
    stickers: [{ id: 'k', name: '4', of: plate, state: 'put off', line: 'n-1' }],
    checks: [{ id: 'c', kind: 'count', text: 'eight windows', state: 'departs', note: 'six' }],
    counted: [{ item: plate, qty: 3 }],
  },
  entries: {
    id: 'e-1',
    build: 'b-1',
    on: '2026-01-03',
    category: 'other',
    amount: { minor: 450, currency: 'EUR' },
    text: 'Hose',
    module: 'm-1',
    corrects: 'r-1 paid shipping',
    receipt: 'i-1',
  },
  sales: {
    id: 'z-1',
    build: 'b-1',
    title: 'Figure and plates',
    way: 'price',
    lots: [
      { item: plate, qty: 2, from: { kind: 'place', place: 'l-1', reserved: 0 }, condition: 'used' },
      { item: plate, qty: 1, from: { kind: 'copy', copy: 'y-1' }, condition: 'new', figure: 'Keeper' },
    ],
    currency: 'EUR',
    ask: 700,
    likely: 300,
    hoped: 600,
    history: [{ state: 'listed', on: '2026-01-04' }],
    note: 'two asked',
  },
  notes: {
    id: 'k-1',
    build: 'b-1',
    on: '2026-01-05',
    kind: 'failed try',
    text: 'The joint gave way.',
    module: 'm-1',
    minutes: 40,
    pictures: ['i-1'],
  },
} as unknown as { readonly [K in keyof Records]: Records[K][number] }
