import fc from 'fast-check'
import type { SourcingProblem } from './problem.ts'
import { currency } from '../units/money.ts'

/** Test data: small sourcing problems with every feature of the format, for fast-check. */
export const smallProblem = (): fc.Arbitrary<SourcingProblem> =>
  fc
    .record({
      items: fc.array(
        fc.record({
          mass: fc.integer({ min: 100, max: 900 }),
          owned: fc.integer({ min: 0, max: 3 }),
          resale: fc.option(
            fc.record({ credit: fc.integer({ min: 1, max: 12 }), max: fc.integer({ min: 1, max: 4 }) }),
          ),
        }),
        { minLength: 2, maxLength: 3 },
      ),
      lines: fc.array(
        fc.record({
          qty: fc.integer({ min: 1, max: 6 }),
          exact: fc.nat(),
          other: fc.option(
            fc.record({ item: fc.nat(), qty: fc.integer({ min: 1, max: 2 }), penalty: fc.integer({ min: 0, max: 8 }) }),
          ),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      shops: fc.array(
        fc.record({
          minOrder: fc.constantFrom(0, 0, 40, 90),
          bands: fc.constantFrom<SourcingProblem['shops'][number]['bands'][]>(
            [],
            [{ maxMass: 20_000, fee: 30 }],
            [
              { maxMass: 2_000, fee: 20 },
              { maxMass: 20_000, fee: 45 },
            ],
          ),
          service: fc.constantFrom(null, { threshold: 80, fee: 25 }),
          handling: fc.constantFrom(0, 7),
          lineFee: fc.constantFrom(0, 3),
          leadDays: fc.constantFrom(3, 40),
          status: fc.constantFrom(
            'free' as const,
            'free' as const,
            'free' as const,
            'pinned' as const,
            'excluded' as const,
          ),
          offers: fc.array(
            fc.record({
              item: fc.nat(),
              price: fc.integer({ min: 1, max: 30 }),
              stock: fc.integer({ min: 0, max: 12 }),
              pack: fc.constantFrom(1, 1, 3),
            }),
            { minLength: 1, maxLength: 3 },
          ),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      set: fc.option(fc.record({ price: fc.integer({ min: 20, max: 120 }), qty: fc.integer({ min: 1, max: 4 }) })),
      maxShops: fc.constantFrom(null, null, 1, 2),
      deadlineDays: fc.constantFrom(null, null, 10),
      onOrder: fc.option(fc.integer({ min: 1, max: 2 })),
    })
    .map((raw) => {
      const id = (n: number) => `e${n % raw.items.length}`
      return {
        format: 'sourcing-problem',
        version: 1,
        id: 'random',
        currency: currency('EUR'),
        maxShops: raw.maxShops,
        deadlineDays: raw.deadlineDays,
        items: raw.items.map((item, i) => ({ id: `e${i}`, part: 'p', colour: 'c', ...item })),
        lines: raw.lines.map((line, i) => ({
          id: `d${i}`,
          qty: line.qty,
          accepts: [
            { id: 'exact', uses: [{ item: id(line.exact), qty: 1 }], penalty: 0 },
            ...(line.other
              ? [
                  {
                    id: 'other',
                    uses: [{ item: id(line.other.item), qty: line.other.qty }],
                    penalty: line.other.penalty,
                  },
                ]
              : []),
          ],
        })),
        shops: raw.shops.map(({ offers: _, ...shop }, s) => ({ id: `s${s}`, kind: 'shop', reliability: 0.9, ...shop })),
        offers: raw.shops.flatMap((shop, s) =>
          shop.offers.map((o, k) => ({ id: `o${s}-${k}`, shop: `s${s}`, ...o, item: id(o.item) })),
        ),
        sets: raw.set
          ? [{ id: 'x0', price: raw.set.price, maxCopies: 2, contents: [{ item: 'e0', qty: raw.set.qty }] }]
          : [],
        onOrder: raw.onOrder ? [{ item: 'e1', qty: raw.onOrder }] : [],
      } satisfies SourcingProblem
    })
