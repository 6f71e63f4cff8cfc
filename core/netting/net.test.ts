import fc from 'fast-check'
import { net, verifyNetting, type NettingLine, type NettingSupply } from './net.ts'

const item = fc.constantFrom('a', 'b', 'c')
const problem = fc.record({
  lines: fc.uniqueArray(fc.record({ id: fc.integer({ min: 0, max: 30 }), item, qty: fc.integer({ min: 0, max: 9 }) }), {
    selector: (l) => l.id,
    maxLength: 12,
  }),
  supplies: fc.uniqueArray(
    fc.record({
      id: fc.integer({ min: 0, max: 30 }),
      item,
      qty: fc.integer({ min: 0, max: 9 }),
      rank: fc.integer({ min: 0, max: 2 }),
    }),
    { selector: (s) => s.id, maxLength: 12 },
  ),
})
const named = (p: { lines: { id: number }[]; supplies: { id: number }[] }) => ({
  lines: p.lines.map((l) => ({ ...l, id: `n${l.id}` })) as NettingLine[],
  supplies: p.supplies.map((s) => ({ ...s, id: `s${s.id}` })) as NettingSupply[],
})

test('every netting passes the verifier, whatever the rows', () => {
  fc.assert(
    fc.property(problem.map(named), ({ lines, supplies }) => {
      expect(verifyNetting(lines, supplies, net(lines, supplies))).toEqual([])
    }),
  )
})

test('the order of rows changes nothing', () => {
  const sorted = (n: ReturnType<typeof net>) => [
    [...n.pegs].map((p) => JSON.stringify(p)).sort(),
    [...n.short].map((p) => JSON.stringify(p)).sort(),
  ]
  fc.assert(
    fc.property(problem.map(named), fc.infiniteStream(fc.nat()), ({ lines, supplies }, salt) => {
      const shuffle = <T>(rows: readonly T[]): T[] =>
        rows
          .map((row) => [salt.next().value, row] as const)
          .sort((p, q) => p[0] - q[0])
          .map(([, row]) => row)
      expect(sorted(net(shuffle(lines), shuffle(supplies)))).toEqual(sorted(net(lines, supplies)))
    }),
  )
})

test('preferred sources are drawn first', () => {
  const { pegs } = net(
    [{ id: 'n', item: 'a', qty: 5 }],
    [
      { id: 'shelf', item: 'a', qty: 9, rank: 1 },
      { id: 'donor', item: 'a', qty: 3, rank: 0 },
    ],
  )
  expect(pegs).toEqual([
    { line: 'n', supply: 'donor', qty: 3 },
    { line: 'n', supply: 'shelf', qty: 2 },
  ])
})

test('a false netting is found out', () => {
  const lines = [{ id: 'n', item: 'a', qty: 2 }]
  const supplies = [{ id: 's', item: 'a', qty: 1, rank: 0 }]
  const good = net(lines, supplies)
  expect(
    verifyNetting(lines, supplies, { ...good, pegs: [{ line: 'n', supply: 's', qty: 2 }] }).length,
  ).toBeGreaterThan(0)
  expect(verifyNetting(lines, supplies, { pegs: [], short: new Map([['n', 2]]) })).toContain(
    'line n is short while supply is left',
  )
})
