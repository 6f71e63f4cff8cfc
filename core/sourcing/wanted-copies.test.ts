import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import { withMost, withPrice } from '../build/resale.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { of } from '../netting/fixture.test-data.ts'
import type { BuildId, CopyId, SetId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { wantedCopies } from './wanted-copies.ts'

const EUR = currency('EUR')
const [brick, head, legs] = [of('brick 1x2'), of('figure head smiling'), of('figure legs plain')]
const set: DonorSet = {
  id: 's-1' as SetId,
  name: 'Ticket office',
  stages: [
    { id: 'a', name: 'Office' },
    { id: 'b', name: 'Clerk' },
  ],
  lines: [
    { stage: 'a', item: brick, qty: 10, spare: false },
    { stage: 'b', item: head, qty: 1, spare: false, figure: 'Clerk' },
    { stage: 'b', item: legs, qty: 1, spare: false, figure: 'Clerk' },
    { stage: 'b', item: head, qty: 1, spare: true, figure: 'Clerk' },
  ],
}
const copy = (id: string, minor: number, more: Partial<Copy> = {}): Copy => ({
  id: id as CopyId,
  setId: set.id,
  label: id,
  buildId: 'b' as BuildId,
  state: 'to-buy',
  askingPrice: { minor, currency: EUR },
  stages: 'all',
  spares: false,
  missing: [],
  ...more,
})
const build: Build = {
  id: 'b' as BuildId,
  name: 'b',
  note: '',
  currency: EUR,
  rules: { ...defaultRules, resalePrices: [{ kind: 'figure', name: 'Clerk', price: 400 }] },
}
const wanted = (...copies: Copy[]) => wantedCopies({ build, sets: [set], copies })

test('any number of asking prices: copies alike at one price are one set, others are sets of their own', () => {
  const { sets, setOf } = wanted(
    copy('y-1', 900),
    copy('y-2', 900),
    copy('y-3', 700, { missing: [{ item: brick, qty: 2 }] }),
    copy('y-4', 700),
  )
  expect(sets.map((s) => [s.id, s.price, s.maxCopies])).toEqual([
    ['y-1', 900, 2],
    ['y-3', 700, 1],
    ['y-4', 700, 1],
  ])
  expect(setOf.get('y-2' as CopyId)).toBe('y-1')
  expect(sets[1]?.contents.find((c) => c.item === brick)?.qty).toBe(8)
})

test('a figure with a price is one to be sold whole, spares apart, also where the copy lacks a piece of it', () => {
  const whole = [
    {
      id: 'Clerk',
      credit: 400,
      pieces: [
        { item: head, qty: 1 },
        { item: legs, qty: 1 },
      ],
    },
  ]
  expect(wanted(copy('y-1', 900)).sets[0]?.figures).toEqual(whole)
  // The head can be bought to complete it.
  const headless = copy('y-1', 900, { missing: [{ item: head, qty: 1 }] })
  expect(wanted(headless).sets[0]?.figures).toEqual(whole)
})

test('no figure is sold of stages that stay closed, or without a price', () => {
  expect(wanted(copy('y-1', 900, { stages: ['a'] })).sets[0]).not.toHaveProperty('figures')
  const unpriced = { ...build, rules: defaultRules }
  expect(wantedCopies({ build: unpriced, sets: [set], copies: [copy('y-1', 900)] }).sets[0]).not.toHaveProperty(
    'figures',
  )
})

test('copies in a condition that the rules refuse are not weighed', () => {
  const worn = copy('y-1', 500, { condition: 'worn' })
  expect(wanted(worn).sets).toEqual([])
  const any = { ...build, rules: { ...build.rules, condition: 'worn' as const } }
  expect(wantedCopies({ build: any, sets: [set], copies: [worn] }).sets).toHaveLength(1)
})

test('a figure of which few find a buyer says so, and a new price keeps that', () => {
  const prices = withPrice(withMost(build.rules.resalePrices, 'Clerk', 2), { kind: 'figure', name: 'Clerk' }, 500)
  const few = { ...build, rules: { ...build.rules, resalePrices: prices } }
  const [figure] = wantedCopies({ build: few, sets: [set], copies: [copy('y-1', 900)] }).sets[0]?.figures ?? []
  expect([figure?.credit, figure?.max]).toEqual([500, 2])
  expect(withMost(prices, 'Clerk', undefined)[0]).not.toHaveProperty('most')
})
