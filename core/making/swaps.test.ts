import fc from 'fast-check'
import type { ItemKey } from '../catalogue/item.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Colour } from '../colours/colour.ts'
import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { confusables, type Confusable } from './confusable.ts'
import { APART, explainLeftovers, type Stage } from './swaps.ts'

const A = 'p-a|c-1' as ItemKey
const [B, C, D] = ['p-b|c-1', 'p-c|c-1', 'p-d|c-1'] as unknown as [ItemKey, ItemKey, ItemKey]
const stage = (id: string, done: boolean, needs: readonly (readonly [ItemKey, number])[]): Stage => ({
  id,
  done,
  needs: new Map(needs),
})
const alike = (one: ItemKey, other: ItemKey, how = 0.8): Confusable => ({ one, other, by: 'colour', alike: how })

test('a planted swap is found, where it was made and which stage it will starve', () => {
  const stages = [
    stage('tower', true, [[A, 4]]),
    stage('hall', true, [
      [A, 2],
      [B, 3],
    ]),
    stage('roof', false, [[B, 5]]),
  ]
  // One B went in where an A was due: an A too many, a B too few for the roof.
  const [only, ...others] = explainLeftovers(
    stages,
    new Map([
      [A, 0],
      [B, 5],
    ]),
    new Map([
      [A, 1],
      [B, 4],
    ]),
    [alike(A, B)],
  )
  expect(others).toEqual([])
  expect(only?.swaps).toEqual([
    {
      due: A,
      used: B,
      qty: 1,
      alike: 0.8,
      where: [
        { stage: 'tower', share: 0.5 },
        { stage: 'hall', share: 0.5 },
      ],
      starves: { stage: 'roof', short: 1 },
    },
  ])
  expect([only?.forgotten, only?.lost, only?.cost]).toEqual([[], [], 1])
})

test('the likelier of two explanations comes first; chains are seen; what no swap explains was forgotten or lost', () => {
  const stages = [
    stage('one', true, [
      [A, 2],
      [B, 2],
    ]),
    stage('two', false, [[C, 2]]),
  ]
  const both = explainLeftovers(
    stages,
    new Map([
      [A, 0],
      [B, 0],
      [C, 2],
    ]),
    new Map([
      [A, 1],
      [B, 0],
      [C, 1],
    ]),
    [alike(A, C, 0.6), alike(A, B, 0.9), alike(B, C, 0.9)],
  )
  // Straight from A to C is one swap; by way of B it would be two.
  expect(both.map((e) => [e.cost, e.swaps.map((s) => `${s.due}>${s.used}`)])).toEqual([[1, [`${A}>${C}`]]])
  const chain = explainLeftovers(
    stages,
    new Map(),
    new Map([
      [A, 1],
      [B, 0],
    ]),
    [alike(A, B)],
  )
  expect(chain[0]).toMatchObject({ swaps: [], forgotten: [{ item: A, qty: 1 }], cost: APART })
  const byWay = explainLeftovers(
    stages,
    new Map([[C, 2]]),
    new Map([
      [A, 1],
      [C, 1],
    ]),
    [alike(A, B), alike(B, C)],
  )
  expect(byWay[0]?.swaps.map((s) => [s.due, s.used])).toEqual([
    [A, B],
    [B, C],
  ])
  expect(explainLeftovers(stages, new Map([[C, 2]]), new Map([[C, 1]]), [])[0]).toMatchObject({
    lost: [{ item: C, qty: 1 }],
  })
  expect(explainLeftovers(stages, new Map([[A, 1]]), new Map([[A, 1]]), [alike(A, B)])).toEqual([])
  // Nothing that is built takes an A: one too many was never due anywhere.
  expect(
    explainLeftovers(
      [stage('two', false, [[A, 9]])],
      new Map(),
      new Map([
        [A, 1],
        [B, -1],
      ]),
      [alike(A, B)],
    )[0],
  ).toMatchObject({ swaps: [], forgotten: [{ item: A }] })
})

/** The least cost by trying every multiset of swaps of up to so many, with all else forgotten or lost. */
function leastByExhaustion(
  stages: readonly Stage[],
  more: ReadonlyMap<ItemKey, number>,
  pairs: readonly Confusable[],
): number {
  const built = new Map<ItemKey, number>()
  for (const s of stages) if (s.done) for (const [i, n] of s.needs) built.set(i, (built.get(i) ?? 0) + n)
  const edges = pairs.flatMap(({ one, other }) => [
    [one, other],
    [other, one],
  ]) as [ItemKey, ItemKey][]
  let best = Infinity
  const visit = (
    at: number,
    left: ReadonlyMap<ItemKey, number>,
    used: ReadonlyMap<ItemKey, number>,
    cost: number,
  ): void => {
    const apart = [...left.values()].reduce((n, q) => n + Math.abs(q), 0) * APART
    best = Math.min(best, cost + apart)
    if (at === edges.length || cost >= best || cost >= 8) return
    const [due, by] = edges[at] as [ItemKey, ItemKey]
    for (let n = 0; n <= 4; n++) {
      if ((used.get(due) ?? 0) + n > (built.get(due) ?? 0)) break
      const next = new Map(left)
      next.set(due, (next.get(due) ?? 0) - n)
      next.set(by, (next.get(by) ?? 0) + n)
      visit(at + 1, next, new Map(used).set(due, (used.get(due) ?? 0) + n), cost + n)
    }
  }
  visit(0, more, new Map(), 0)
  return best
}

test('the smallest sets are as small as an exhaustive search finds, and each of them accounts for every piece', () => {
  const items = [A, B, C, D]
  const pair = fc.subarray([alike(A, B), alike(B, C), alike(C, D), alike(A, D), alike(A, C)])
  const amount = fc.integer({ min: -2, max: 2 })
  fc.assert(
    fc.property(
      fc.tuple(amount, amount, amount, amount),
      fc.tuple(fc.nat(3), fc.nat(3), fc.nat(3), fc.nat(3)),
      pair,
      (more, needs, pairs) => {
        const stages = [
          stage(
            'built',
            true,
            items.map((i, n) => [i, needs[n] ?? 0]),
          ),
        ]
        const expected = new Map(items.map((i) => [i, 5]))
        const counted = new Map(items.map((i, n) => [i, 5 + (more[n] ?? 0)]))
        const found = explainLeftovers(stages, expected, counted, pairs)
        const differences = new Map(items.map((i, n) => [i, more[n] ?? 0]))
        if ([...differences.values()].every((n) => n === 0)) expect(found).toEqual([])
        else expect(found[0]?.cost).toBe(leastByExhaustion(stages, differences, pairs))
        for (const { swaps, forgotten, lost, cost } of found) {
          const sums = new Map<ItemKey, number>()
          const add = (i: ItemKey, n: number) => sums.set(i, (sums.get(i) ?? 0) + n)
          for (const s of swaps) {
            add(s.due, s.qty)
            add(s.used, -s.qty)
            expect(s.where.reduce((n, w) => n + w.share, 0)).toBeCloseTo(1)
          }
          for (const f of forgotten) add(f.item, f.qty)
          for (const l of lost) add(l.item, -l.qty)
          for (const [i, n] of differences) expect([i, sums.get(i) ?? 0]).toEqual([i, n])
          const apart = [...forgotten, ...lost].reduce((n, p) => n + p.qty, 0)
          expect(cost).toBe(swaps.reduce((n, s) => n + s.qty, 0) + APART * apart)
        }
      },
    ),
    { numRuns: 400 },
  )
})

test('what is taken for one another: near colours of one finish, and hands, slopes and a stud of length', () => {
  const names = ['plate 1x6', 'plate 1x7', 'plate 1x2', 'plate 1x3', 'wedge plate 2x4, left', 'wedge plate 2x4, right']
  const parts = new Map(names.map((n) => [partFromName(n).id, partFromName(n)]))
  const colours = new Map<Colour['id'], Colour>(
    (
      [
        ['c-x', '#707070', 'opaque'],
        ['c-y', '#757575', 'opaque'],
        ['c-z', '#757575', 'clear'],
        ['c-red', '#c00000', 'opaque'],
      ] as const
    ).map(([id, hex, finish]) => [
      id as Colour['id'],
      { ...(PALETTE[0] as Colour), id: id as Colour['id'], hex, finish },
    ]),
  )
  const of = (name: string, colour: string) => itemKey(partFromName(name).id, colour as Colour['id'])
  const items = [
    ...names.map((n) => of(n, 'c-x')),
    of('plate 1x6', 'c-y'),
    of('plate 1x6', 'c-z'),
    of('plate 1x6', 'c-red'),
  ]
  const found = confusables(items, parts, colours).map((c) => [c.by, c.one, c.other])
  expect(found).toEqual([
    ['colour', of('plate 1x6', 'c-x'), of('plate 1x6', 'c-y')],
    ['shape', of('plate 1x6', 'c-x'), of('plate 1x7', 'c-x')],
    ['shape', of('wedge plate 2x4, left', 'c-x'), of('wedge plate 2x4, right', 'c-x')],
  ])
})
