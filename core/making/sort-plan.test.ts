import fc from 'fast-check'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import { confusables } from './confusable.ts'
import { SCHOOLS, shareOutWork, sortPlan, type PileRule, type Unsorted } from './sort-plan.ts'
import { choiceFactor, lookedAt, RATE_PILES, sortMinutes, sortRate, USUAL_RATES } from './sort-rate.ts'

const NAMES = ['plate', 'brick', 'tile', 'slope', 'round plate', 'wedge plate'].flatMap((family) =>
  ['1x1', '1x2', '1x4', '2x2', '2x4', '2x8', '4x4', '4x8', '6x12'].map((size) => `${family} ${size}`),
)
const PARTS = new Map(NAMES.map((n) => [partFromName(n).id, partFromName(n)]))
const COLOURS = new Map(PALETTE.map((c) => [c.id, c]))
const unsorted = (count: number): Unsorted[] =>
  Array.from({ length: count }, (_, i) => {
    const part = partFromName(NAMES[(i * 7) % NAMES.length] ?? '').id
    const item = itemKey(part, PALETTE[(i * 5 + Math.floor(i / NAMES.length)) % PALETTE.length]?.id ?? ('c-x' as never))
    const qty = 1 + ((i * 13) % 25)
    return { item, qty, uses: [{ work: `m-${i % 9}`, qty: i % 4 === 0 ? 0 : Math.ceil(qty / 2) }] }
  }).filter((u, i, all) => all.findIndex((v) => v.item === u.item) === i)

test('times: the rates of common practice, Hick’s factor, and the mean of the negative hypergeometric', () => {
  expect(USUAL_RATES).toEqual({ low: 1000, likely: 1500, high: 2100 })
  // At the piles that rates are told for the factor is one; more piles take longer, two take less.
  expect(choiceFactor(RATE_PILES)).toBe(1)
  expect(choiceFactor(40)).toBeCloseTo(0.5 + (0.5 * Math.log2(41)) / Math.log2(21))
  expect(sortMinutes(1500, 20, 1500)).toBeCloseTo(60)
  // Two aces among four cards: 1 first with 1/2, second 1/3, third 1/6: 10/6 = (4 + 1) / (2 + 1).
  expect(lookedAt(4, 2)).toBeCloseTo(10 / 6)
  expect(lookedAt(52, 4)).toBeCloseTo(10.6)
})

test('a rate from one’s own timed sortings, told for twenty piles', () => {
  const sorts = [
    { person: 'me', pieces: 400, minutes: 20, piles: 20 },
    { person: 'me', pieces: 600, minutes: 20, piles: 20 },
  ]
  expect(sortRate(sorts)).toEqual({ low: 1200, likely: 1500, high: 1800, timed: 2 })
  expect(sortRate([])).toMatchObject({ likely: 1500, timed: 0 })
  // As many an hour into more piles is a higher rate.
  expect(sortRate([{ person: 'me', pieces: 400, minutes: 20, piles: 40 }]).likely).toBeGreaterThan(1200)
})

const fits = (rules: readonly PileRule[], { item, qty, uses }: Unsorted): boolean =>
  rules.every(({ rule, is }) => {
    const { part, colour } = splitItemKey(item)
    const shape = PARTS.get(part)?.shape
    const area = (shape?.width ?? 0) * (shape?.length ?? 0)
    const used = uses.filter((u) => u.qty > 0)
    const holds =
      rule.kind === 'family'
        ? shape?.family === rule.family
        : rule.kind === 'part'
          ? part === rule.part
          : rule.kind === 'colour'
            ? colour === rule.colour
            : rule.kind === 'only for'
              ? used.length === 1 && used[0]?.work === rule.work
              : rule.kind === 'big'
                ? area >= 32 && (shape?.width ?? 0) >= 4
                : rule.kind === 'small'
                  ? area > 0 && area <= 1
                  : Math.min(qty, used.length) === 0
    return holds === is
  })

test('in every school each piece has just one pile, and that is the one whose words fit it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 2, max: 40 }),
      fc.constantFrom(...SCHOOLS),
      (count, piles, school) => {
        const list = unsorted(count)
        const plan = sortPlan(school, list, PARTS, [], { piles, rate: 1500 })
        expect(plan.piles.length).toBeLessThanOrEqual(piles)
        expect(plan.pieces).toBe(list.reduce((n, u) => n + u.qty, 0))
        const where = new Map<ItemKey, number>()
        for (const [i, pile] of plan.piles.entries())
          for (const { item } of pile.items) {
            expect(where.has(item)).toBe(false)
            where.set(item, i)
          }
        for (const u of list) {
          const own = where.get(u.item)
          const fitting = plan.piles.flatMap((p, i) => (fits(p.rules, u) ? [i] : []))
          expect(fitting).toEqual([own])
          // Read in order, what a pile is says enough.
          const first = plan.piles.findIndex((p) =>
            fits(
              p.rules.filter((r) => r.is),
              u,
            ),
          )
          expect(first).toBe(own)
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('people’s way: big plates and small things apart, and no more searching than any one school', () => {
  const list = unsorted(400)
  const plans = SCHOOLS.map((school) => sortPlan(school, list, PARTS, [], { piles: 20, rate: 1500 }))
  const mixed = plans.find((p) => p.school === 'mixed')
  const kinds = mixed?.piles.map((p) => p.rules.filter((r) => r.is).map((r) => r.rule.kind))
  expect(kinds?.some((k) => k.includes('big'))).toBe(true)
  expect(mixed?.piles.filter((p) => p.tray).length).toBeGreaterThan(0)
  const total = (p: (typeof plans)[number] | undefined) => (p?.sortMinutes ?? 0) + (p?.searchMinutes ?? 0)
  for (const plan of plans) expect(total(mixed)).toBeLessThanOrEqual(total(plan) * 1.001)
  // One heap of all is searched far longer.
  const heap = sortPlan('mixed', list, PARTS, [], { piles: 2, rate: 1500 })
  expect(heap.searchMinutes).toBeGreaterThan(4 * (mixed?.searchMinutes ?? 0))
})

test('look-alikes go apart where a plain question tells them apart; what stays together is named', () => {
  const plate = partFromName('plate 1x4').id
  const dear = ['c-x1', 'c-x2'] as const
  const colours = new Map(
    dear.map((id, i) => [
      id as never,
      { ...(PALETTE[0] as object), id, hex: i ? '#757575' : '#707070', finish: 'opaque' } as never,
    ]),
  )
  const list = dear.map((c) => ({ item: itemKey(plate, c as never), qty: 6, uses: [{ work: 'm-1', qty: 6 }] }))
  const alike = confusables(
    list.map((u) => u.item),
    PARTS,
    colours,
  )
  expect(alike).toHaveLength(1)
  const byColour = sortPlan('by colour', list, PARTS, alike, { piles: 20, rate: 1500 })
  expect(byColour.piles.map((p) => p.items.length)).toEqual([1, 1])
  const byType = sortPlan('by type', list, PARTS, alike, { piles: 20, rate: 1500 })
  expect(byType.piles.map((p) => p.mixUps.length)).toEqual([1])
})

test('5,000 pieces of 400 items in all four schools well within two seconds', () => {
  const list = unsorted(420).slice(0, 400)
  const alike = confusables(
    list.map((u) => u.item),
    PARTS,
    COLOURS,
  )
  const started = performance.now()
  for (const school of SCHOOLS) sortPlan(school, list, PARTS, alike, { piles: 20, rate: 1500 })
  // Measured: some 60 ms on a quiet machine.
  expect(performance.now() - started).toBeLessThan(2000)
})

test('shared-out work keeps Graham’s bound: at most 4/3 − 1/(3m) of the best', () => {
  const best = (jobs: readonly number[], people: number): number => {
    let least = Infinity
    const loads = new Array<number>(people).fill(0)
    const visit = (at: number): void => {
      if (at === jobs.length) {
        least = Math.min(least, Math.max(...loads))
        return
      }
      for (let p = 0; p < people; p++) {
        loads[p] = (loads[p] ?? 0) + (jobs[at] ?? 0)
        visit(at + 1)
        loads[p] = (loads[p] ?? 0) - (jobs[at] ?? 0)
      }
    }
    visit(0)
    return least
  }
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 7 }),
      fc.integer({ min: 1, max: 3 }),
      (jobs, people) => {
        const shares = shareOutWork(jobs, (m) => m, people)
        expect(shares.flatMap((s) => s.jobs).sort()).toEqual([...jobs].sort())
        const longest = Math.max(...shares.map((s) => s.minutes))
        expect(longest).toBeLessThanOrEqual(best(jobs, people) * (4 / 3 - 1 / (3 * people)) + 1e-9)
      },
    ),
  )
})
