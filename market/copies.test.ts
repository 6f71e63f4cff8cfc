import * as v from 'valibot'
import { copiesFor } from './copies.ts'
import { CopiesResponseSchema } from './wire.ts'

const set = (n: number) => ({
  set: `s-${n}`,
  retail: 4000,
  lines: Array.from({ length: 80 }, (_, i) => ({ item: `p-${i}|c-x`, qty: 1 + (i % 5), figure: i < 8 })),
})
const sets = Array.from({ length: 50 }, (_, n) => set(n))
const { copies } = copiesFor({ sets }, 7, 0)

test('the same seed, day and set give the same copies, whatever else is asked; on later days others are offered', () => {
  expect(copiesFor({ sets }, 7, 0).copies).toEqual(copies)
  expect(copiesFor({ sets: [set(3)] }, 7, 0).copies).toEqual(copies.filter((c) => c.set === 's-3'))
  const later = copiesFor({ sets }, 7, 30).copies
  const keys = new Set(copies.map((c) => `${c.set} ${c.id}`))
  expect(later.some((c) => keys.has(`${c.set} ${c.id}`))).toBe(false)
  const next = copiesFor({ sets }, 7, 1).copies.filter((c) => keys.has(`${c.set} ${c.id}`)).length
  expect(next / copies.length).toBeGreaterThan(0.8)
})

test('copies fit the wire; new ones are complete, used ones lack some, worn ones more, and cost less', () => {
  expect(v.is(CopiesResponseSchema, copiesFor({ sets }, 7, 0))).toBe(true)
  const of = (condition: string) => copies.filter((c) => c.condition === condition)
  const mean = (list: typeof copies, value: (c: (typeof copies)[number]) => number) =>
    list.reduce((sum, c) => sum + value(c), 0) / list.length
  const lacks = (c: (typeof copies)[number]) => c.missing.reduce((n, m) => n + m.qty, 0)
  expect(of('new').every((c) => c.missing.length === 0)).toBe(true)
  expect(mean(of('worn'), lacks)).toBeGreaterThan(mean(of('used'), lacks))
  expect(mean(of('worn'), (c) => c.price)).toBeLessThan(mean(of('used'), (c) => c.price))
  expect(mean(of('used'), (c) => c.price)).toBeLessThan(mean(of('new'), (c) => c.price))
  for (const { missing } of copies)
    for (const { item, qty } of missing)
      expect(qty).toBeLessThanOrEqual(sets[0]?.lines.find((l) => l.item === item)?.qty ?? 0)
})
