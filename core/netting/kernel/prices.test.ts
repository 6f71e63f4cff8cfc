import fc from 'fast-check'
import { coverDemands } from './cover.ts'
import { optionsFrom, valueOf, type CoverDemand, type Stock } from './cover-problem.ts'
import { boundAt, leastOf, pricesOf, scaleOf, weightOf } from './prices.ts'

const ITEMS = 5
const SCHEMES = ['red', 'slate'] as const

const some = (several: boolean, groups: boolean): fc.Arbitrary<{ demands: CoverDemand[]; stock: Stock }> =>
  fc
    .record({
      demands: fc.array(
        fc.record({
          qty: fc.integer({ min: 1, max: 4 }),
          group: groups ? fc.constantFrom(undefined, 'roof', 'ring') : fc.constant(undefined),
          options: fc.array(
            fc.record({
              item: fc.nat(ITEMS - 1),
              other: fc.nat(ITEMS - 1),
              qty: several ? fc.constantFrom(1, 1, 2) : fc.constant(1),
              compromise: fc.nat(6),
              scheme: fc.constantFrom(...SCHEMES),
            }),
            { minLength: 1, maxLength: 3 },
          ),
        }),
        { minLength: 1, maxLength: 5 },
      ),
      tiers: fc.array(fc.tuple(fc.nat(4), fc.nat(3)), { minLength: ITEMS, maxLength: ITEMS }),
    })
    .map(({ demands, tiers }) => ({
      demands: demands.map(({ qty, group, options }) => ({
        ...{ qty, group },
        options: optionsFrom(
          options.map(({ item, other, qty: each, compromise, scheme }) => ({
            uses:
              each === 1
                ? [{ item, qty: 1 }]
                : item === other
                  ? [{ item, qty: 2 }]
                  : [item, other].map((of) => ({ item: of, qty: 1 })),
            compromise,
            ...(group !== undefined && { scheme }),
          })),
        ),
      })),
      // Two tiers of each item, at ranks 0 and 2.
      stock: {
        from: Array.from({ length: ITEMS + 1 }, (_, i) => 2 * i),
        rank: Array.from({ length: 2 * ITEMS }, (_, i) => 2 * (i % 2)),
        qty: tiers.flat(),
      },
    }))

const schemesOf = (demands: readonly CoverDemand[]) =>
  new Map(demands.flatMap((d) => (d.group === undefined ? [] : [[d.group, SCHEMES] as const])))

test('whatever the prices, no cover weighs less than their bound: with groups, and with options of several pieces', () => {
  let tight = 0
  fc.assert(
    fc.property(some(true, true), fc.array(fc.nat(2000), { minLength: ITEMS, maxLength: ITEMS }), (scene, own) => {
      const { demands, stock } = scene
      const scale = scaleOf(demands, stock)
      if (!scale) throw new Error('a small problem has exact weights')
      const plan = coverDemands(demands, stock)
      if (!plan.proven) return
      const value = valueOf(demands, plan.cover, stock)
      const best = weightOf(value, scale)
      const priced = pricesOf(demands, plan.cover, stock, scale, plan.schemes)
      for (const prices of [Float64Array.from(own), priced]) {
        const { weight } = boundAt(demands, stock, prices, scale, schemesOf(demands))
        expect(weight).toBeLessThanOrEqual(best)
        const least = leastOf(weight, scale)
        expect(least.short).toBeLessThanOrEqual(value.short)
        if (least.short === value.short) expect(least.compromise).toBeLessThanOrEqual(value.compromise)
        if (weight === best) tight++
      }
    }),
    { numRuns: 500 },
  )
  expect(tight).toBeGreaterThan(100)
})

// Strong duality of linear programming (Dantzig 1951; Ahuja, Magnanti, Orlin, Network Flows, 1993, theorem 9.3).
test('shadow prices of the best cover by single pieces bound all others at just what it weighs', () => {
  fc.assert(
    fc.property(some(false, false), ({ demands, stock }) => {
      const scale = scaleOf(demands, stock)
      if (!scale) throw new Error('a small problem has exact weights')
      const { cover } = coverDemands(demands, stock)
      const prices = pricesOf(demands, cover, stock, scale)
      expect(boundAt(demands, stock, prices, scale).weight).toBe(weightOf(valueOf(demands, cover, stock), scale))
    }),
    { numRuns: 1000 },
  )
})

test('ranks that could not be weighed exactly are left out; a bound says no less than nothing', () => {
  const stock = { from: [0, 1], rank: [1_000_000], qty: [1_000_000] }
  const options = optionsFrom([{ uses: [{ item: 0, qty: 1 }], compromise: 1000 }])
  expect(scaleOf([{ qty: 100_000, options }], stock)).toMatchObject({ ranked: false, weight: 1 })
  expect(scaleOf([{ qty: 1_000_000_000, options }], stock)).toBeUndefined()
  expect(leastOf(-5, { short: 10, weight: 2, ranked: true })).toEqual({ short: 0, compromise: 0 })
})

test('forty groups of eight schemes, of which one each is planted to have all there is to want, are found and proven', () => {
  const [groups, schemes, lines] = [40, 8, 6]
  const planted = (group: number) => (group * 5) % schemes
  const itemOf = (group: number, line: number, scheme: number) => (group * lines + line) * schemes + scheme
  const demands = Array.from({ length: groups * lines }, (_, n): CoverDemand => {
    const [group, line] = [Math.floor(n / lines), n % lines]
    return {
      qty: 3,
      group: `g${group}`,
      // Its own pieces by scheme, and one of the next group's that competes for them.
      options: optionsFrom(
        Array.from({ length: schemes }, (_unused, scheme) => [
          { uses: [{ item: itemOf(group, line, scheme), qty: 1 }], compromise: 1, scheme: `s${scheme}` },
          {
            uses: [{ item: itemOf((group + 1) % groups, line, scheme), qty: 1 }],
            compromise: 2,
            scheme: `s${scheme}`,
          },
        ]).flat(),
      ),
    }
  })
  const count = groups * lines * schemes
  const stock = {
    from: Array.from({ length: count + 1 }, (_, i) => i),
    rank: new Array<number>(count).fill(0),
    // All of it in the planted scheme; else every other line lacks some.
    qty: Array.from({ length: count }, (_, i) => {
      const [line, scheme] = [Math.floor(i / schemes), i % schemes]
      return scheme === planted(Math.floor(line / lines)) ? 3 : line % 2 === 0 ? 3 : 0
    }),
  }
  const plan = coverDemands(demands, stock)
  expect(valueOf(demands, plan.cover, stock)).toMatchObject({ short: 0, compromise: groups * lines * 3 })
  expect([plan.proven, plan.schemes.get('g3')]).toEqual([true, `s${planted(3)}`])
})
