import fc from 'fast-check'
import { ITEMS, PLATE, TILE } from '../making/making.test-data.ts'
import type { BuildId } from '../units/ids.ts'
import { whoServesWhom, type GivesAndWants } from './across.ts'

const pieces = fc.array(fc.record({ item: fc.constantFrom(...ITEMS), qty: fc.integer({ min: 1, max: 9 }) }), {
  maxLength: 4,
})
const someBuilds = fc.array(fc.record({ left: pieces, short: pieces, lookout: pieces }), { maxLength: 5 }).map((list) =>
  list.map(({ left, short, lookout }, i): GivesAndWants => ({
    ...{ build: `b-${i}` as BuildId, left, lookout },
    shortfall: new Map(short.map((s) => [s.item, s.qty])),
  })),
)

test('no piece serves twice, none goes where it is not wanted or to where it comes from, and none that could serve idles', () => {
  fc.assert(
    fc.property(someBuilds, (builds) => {
      const served = whoServesWhom(builds)
      const wants = (b: GivesAndWants, looksOut: boolean, item: string) =>
        looksOut
          ? b.lookout.reduce((n, l) => n + (l.item === item ? l.qty : 0), 0)
          : (b.shortfall.get(item as never) ?? 0)
      const sum = (item: string, of: (s: (typeof served)[number]) => boolean) =>
        served.filter(of).reduce((n, s) => n + s.pieces.reduce((m, p) => m + (p.item === item ? p.qty : 0), 0), 0)
      for (const s of served) expect(s.from).not.toBe(s.to)
      for (const item of ITEMS)
        for (const b of builds) {
          const left = b.left.reduce((n, l) => n + (l.item === item ? l.qty : 0), 0)
          const given = sum(item, (s) => s.from === b.build)
          expect(given).toBeLessThanOrEqual(left)
          for (const looksOut of [false, true]) {
            const got = sum(item, (s) => s.to === b.build && s.looksOut === looksOut)
            expect(got).toBeLessThanOrEqual(wants(b, looksOut, item))
            // What is still wanted lies nowhere else any more.
            if (got < wants(b, looksOut, item))
              for (const other of builds)
                if (other !== b)
                  expect(sum(item, (s) => s.from === other.build)).toBe(
                    other.left.reduce((n, l) => n + (l.item === item ? l.qty : 0), 0),
                  )
          }
        }
    }),
  )
})

test('who is short comes before who looks out; the most pieces first', () => {
  const builds: GivesAndWants[] = [
    { build: 'b-a' as BuildId, left: [{ item: PLATE, qty: 5 }], shortfall: new Map(), lookout: [] },
    { build: 'b-b' as BuildId, left: [], shortfall: new Map(), lookout: [{ item: PLATE, qty: 9 }] },
    { build: 'b-c' as BuildId, left: [{ item: TILE, qty: 1 }], shortfall: new Map([[PLATE, 4]]), lookout: [] },
  ]
  expect(whoServesWhom(builds)).toEqual([
    { from: 'b-a', to: 'b-c', looksOut: false, pieces: [{ item: PLATE, qty: 4 }] },
    { from: 'b-a', to: 'b-b', looksOut: true, pieces: [{ item: PLATE, qty: 1 }] },
  ])
})
