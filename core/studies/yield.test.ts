import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import type { DesignLine, Module } from '../design/design.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, type BuildId, type HoldingId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { goodsPricer } from '../offers/goods-cost.ts'
import { mockUp, openRisks } from './mock-up.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { compareOrders } from './uncertain.ts'
import { jointYields, yieldCurve, yieldOf } from './yield.ts'

const names = ['brick 2x4', 'plate 2x4', 'plate 1x2'] as const
const catalogue = new Map(names.map(partFromName).map((p) => [p.id, p]))
const ITEMS = names.map((n) => itemKey(partFromName(n).id, colourId('Soot')))
const [BRICK, PLATE] = ITEMS as [ItemKey, ItemKey, ItemKey]
const id = (name: string) => `m-${name}` as ModuleId

type Needs = readonly number[]
const lines = (module: string, needs: Needs, instead = false): DesignLine[] =>
  needs.flatMap((qty, i) =>
    qty === 0
      ? []
      : [
          {
            id: `n-${module}-${i}` as LineId,
            item: ITEMS[i] ?? BRICK,
            qty,
            // Three plates make a brick.
            ...(instead && i === 0 ? { instead: [[{ item: PLATE, qty: 3 }]] } : {}),
          },
        ],
  )
const module = (name: string, needs: Needs, more: Partial<Module> = {}, instead = false): Module => ({
  id: id(name),
  name,
  repeats: 1,
  lines: lines(name, needs, instead),
  ...more,
})

const snapshot = (modules: Module[], stock: Needs): Snapshot => ({
  build: { id: 'b-t' as BuildId, name: 'T', note: '', currency: currency('EUR'), rules: defaultRules },
  design: { id: 'b-t' as BuildId, modules },
  sets: [],
  copies: [],
  places: [{ id: 'l-bin' as PlaceId, name: 'Bin', kind: 'bin', parent: null }],
  parts: catalogue,
  holdings: stock.flatMap((qty, i) =>
    qty === 0
      ? []
      : [
          {
            id: `h-${i}` as HoldingId,
            place: 'l-bin' as PlaceId,
            item: ITEMS[i] ?? BRICK,
            qty,
            estimate: false,
            condition: 'used' as const,
          },
        ],
  ),
})

/** Whether needs can be met, by trying every number of bricks made of plates. */
function feasible(needs: Needs, stock: Needs, instead: boolean): boolean {
  const [bricks = 0, plates = 0, small = 0] = needs
  const [haveB = 0, haveP = 0, haveS = 0] = stock
  for (let made = 0; made <= (instead ? bricks : 0); made++)
    if (bricks - made <= haveB && plates + 3 * made <= haveP && small <= haveS) return true
  return false
}
const times = (needs: Needs, n: number) => needs.map((q) => q * n)
const plus = (p: Needs, q: Needs) => p.map((n, i) => n + (q[i] ?? 0))

const amount = fc.integer({ min: 0, max: 4 })
const needs = fc.tuple(amount, amount, amount).filter((n) => n.some((q) => q > 0))
const stock = fc.tuple(fc.nat(14), fc.nat(30), fc.nat(14))

test('a yield is the largest number of repeats that trying one after the other finds', () => {
  fc.assert(
    fc.property(needs, needs, needs, stock, fc.boolean(), fc.boolean(), (a, b, rest, have, keep, instead) => {
      const scene = snapshot(
        [module('a', a, {}, instead), module('b', b), module('head', [1, 0, 0]), module('rest', rest)],
        have,
      )
      // The rest keeps its share only where it could have it at all.
      fc.pre(!keep || feasible(rest, have, false))
      const found = yieldOf(scene, { modules: [id('a'), id('a'), id('b')], head: id('head') }, { keepRest: keep })
      let best = -1
      for (let n = 0; n < 60; n++) {
        const rounds = Math.floor(n / 3)
        const pattern = plus(times(a, rounds * 2 + Math.min(2, n % 3)), times(b, rounds))
        // Only module A's bricks may be plates: the others' bricks must be left over as they are.
        const fixed = plus(plus([1, 0, 0], times(b, rounds)), keep ? rest : [0, 0, 0])
        const own = times(a, rounds * 2 + Math.min(2, n % 3))
        const left = have.map((q, i) => q - (fixed[i] ?? 0))
        if (left.every((q) => q >= 0) && feasible(own, left, instead) && pattern.length === 3) best = n
      }
      expect(found.possible).toBe(best >= 0)
      expect(found.proven).toBe(true)
      if (best >= 0) expect([found.elements, found.repeats]).toEqual([best, Math.floor(best / 3)])
    }),
    { numRuns: 150 },
  )
})

test('what stops the next repeat is named with how many more would allow it', () => {
  const parapet = snapshot(
    [
      module('parapet', [2, 1, 0], { form: { width: 4, depth: 1, height: 6, stacked: false } }),
      module('post', [0, 0, 1], { form: { width: 2, depth: 2, height: 9, stacked: false } }),
    ],
    [9, 50, 2],
  )
  const found = yieldOf(parapet, { modules: [id('parapet')], head: id('post'), tail: id('post') }, { keepRest: true })
  expect([found.elements, found.length]).toEqual([4, 2 + 4 * 4 + 2])
  expect(found.stops).toEqual([{ item: BRICK, short: 1 }])
})

test('modules that compete are solved together: no combination found can be bettered, and none is missed', () => {
  fc.assert(
    fc.property(needs, needs, fc.tuple(fc.nat(9), fc.nat(9), fc.nat(9)), (a, b, have) => {
      const scene = snapshot([module('a', a), module('b', b)], have)
      const most = 9
      const found = jointYields(scene, [id('a'), id('b')], { keepRest: false, most })
      const pairs: number[][] = []
      for (let n = 0; n <= most; n++)
        for (let m = 0; m <= most; m++) if (feasible(plus(times(a, n), times(b, m)), have, false)) pairs.push([n, m])
      const frontier = pairs.filter(
        ([n = 0, m = 0]) => !pairs.some(([x = 0, y = 0]) => (x > n && y >= m) || (x >= n && y > m)),
      )
      expect([...found].sort()).toEqual(frontier.sort())
    }),
    { numRuns: 60 },
  )
})

test('the curve prices what is short, cheapest offers and whole packs first', () => {
  const scene = snapshot([module('a', [2, 0, 0])], [3, 0, 0])
  const shop = { bands: [], service: null, handling: 0, lineFee: 0, leadDays: 3, reliability: 1, minOrder: 0 }
  const priceOf = goodsPricer(
    [
      { id: '1', shop: 'x', item: BRICK, price: 10, stock: 2, pack: 2, condition: 'new', source: 'file' },
      { id: '2', shop: 'x', item: BRICK, price: 15, stock: 3, pack: 1, condition: 'new', source: 'file' },
      { id: '3', shop: 'x', item: BRICK, price: 1, stock: 99, pack: 1, condition: 'worn', source: 'file' },
    ],
    [{ ...shop, id: 'x', name: 'X', country: 'AT', kind: 'shop', currency: currency('EUR') }],
    'EUR',
    defaultRules,
  )
  // 4 repeats need 8: 5 short, 2 at 10 and 3 at 15; the ninth and tenth nobody has.
  const steps = yieldCurve(scene, { modules: [id('a')] }, { keepRest: false }, [1, 2, 4, 5], priceOf)
  expect(steps.map((s) => s.items)).toEqual([[], [BRICK], [BRICK], [BRICK]])
  expect(steps.map(({ items: _, ...step }) => step)).toEqual([
    { repeats: 1, short: 0, cost: 0, unavailable: 0 },
    { repeats: 2, short: 1, cost: 20, unavailable: 0 },
    { repeats: 4, short: 5, cost: 65, unavailable: 0 },
    { repeats: 5, short: 7, cost: 65, unavailable: 2 },
  ])
})

test('a mock-up takes any colour and any mould of the same shape, and names what is missing', () => {
  const masonry = partFromName('brick 2x4 masonry')
  const scene = snapshot([module('wall', [3, 2, 0]), module('other', [9, 9, 9])], [0, 1, 5])
  const [like] = scene.holdings as [Holding, ...Holding[]]
  const red = itemKey(masonry.id, colourId('Rowanberry'))
  const found = mockUp(
    {
      ...scene,
      parts: new Map([...catalogue, [masonry.id, masonry]]),
      holdings: [
        ...scene.holdings,
        { ...like, id: 'h-red' as HoldingId, item: red, qty: 2 },
        {
          ...like,
          id: 'h-chalk' as HoldingId,
          item: itemKey(partFromName('plate 2x4').id, colourId('Chalk')),
          qty: 4,
        },
      ],
    },
    id('wall'),
  )
  expect([found.need, found.have, found.missing]).toEqual([5, 4, [{ item: BRICK, qty: 1 }]])
  expect(found.picks.reduce((n, p) => n + p.qty, 0)).toBe(4)
  const open: Module = module('dome', [1, 0, 0], { risks: [{ kind: 'overhang', state: 'open' }] })
  const design = (m: Module) => ({ id: 'b-t' as BuildId, modules: [m] })
  expect(openRisks(design(open))).toHaveLength(1)
  expect(openRisks(design({ ...open, tested: '2026-11-20' }))).toEqual([])
  expect(openRisks(design({ ...open, risks: [{ kind: 'overhang', state: 'accepted' }] }))).toEqual([])
})

// The newsvendor's critical ratio, as in inventory textbooks (e.g. Silver, Pyke and Peterson): overage over the sum.
test('ordering the high now pays above the break-even chance', () => {
  const choice = compareOrders(10_000, 10_900, 1_500)
  expect([choice.extraNow, choice.extraLater, choice.breakEven]).toEqual([900, 600, 60])
  const expected = (chance: number) => [10_900, 10_000 + (chance * 1_500) / 100] as const
  expect(expected(61)[0]).toBeLessThan(expected(61)[1])
  expect(expected(59)[0]).toBeGreaterThan(expected(59)[1])
  expect(compareOrders(100, 100, 0).breakEven).toBe(100)
})
