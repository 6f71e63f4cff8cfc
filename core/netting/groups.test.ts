import fc from 'fast-check'
import type { OrderId } from '../units/ids.ts'
import { tally } from './count.ts'
import { addCoverage, coveredPieces, NO_COVERAGE, type Coverage } from './coverage.ts'
import { fixture, linesArb, rulesArb, shelfArb } from './fixture.test-data.ts'
import { byColour, byItem, bySource, gatherLines } from './groups.ts'

const sum = (all: readonly { readonly coverage: Coverage }[]) =>
  all.reduce((total, { coverage }) => addCoverage(total, coverage), NO_COVERAGE)

test('however lines are gathered, the groups add up to the tally and every line is in one', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(6), (rules, lines, shelf) => {
      const result = tally(fixture(rules, lines, shelf))
      const ways = [byItem(result.lines), byColour(result.lines), gatherLines(result.lines, (l) => l.module)]
      for (const groups of ways) {
        expect(sum(groups)).toEqual(result.coverage)
        expect(groups.reduce((n, g) => n + g.need, 0)).toBe(result.need)
        expect(groups.flatMap((g) => g.lines).length).toBe(result.lines.length)
        expect(new Set(groups.map((g) => g.key)).size).toBe(groups.length)
        for (const group of groups) {
          expect(sum(group.lines)).toEqual(group.coverage)
          expect(coveredPieces(group.coverage) + group.coverage.short).toBe(group.need)
        }
      }
      for (const group of byItem(result.lines)) expect(result.shortfall.get(group.key) ?? 0).toBe(group.coverage.short)
    }),
    { numRuns: 200 },
  )
})

test('what is taken from sources is what the lines draw, pick by pick, and no more than is there', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(6), (rules, lines, shelf) => {
      const snapshot = fixture(rules, lines, shelf)
      const result = tally(snapshot)
      const sources = bySource(result.lines)
      const drawn = result.lines.flatMap((l) => l.pegs).reduce((n, p) => n + p.qty, 0)
      expect(sources.reduce((n, s) => n + s.qty, 0)).toBe(drawn)
      for (const source of sources) {
        expect(source.picks.reduce((n, p) => n + p.qty, 0)).toBe(source.qty)
        expect(new Set(source.picks.map((p) => p.item)).size).toBe(source.picks.length)
        if (source.source.kind !== 'shelf') continue
        const { place } = source.source
        for (const pick of source.picks) {
          const there = snapshot.holdings.filter((h) => h.place === place && h.item === pick.item)
          expect(pick.qty).toBeLessThanOrEqual(there.reduce((n, h) => n + h.qty, 0))
        }
      }
    }),
    { numRuns: 200 },
  )
})

test('what is said of a source does not depend on which of its pieces is listed first', () => {
  fc.assert(
    fc.property(rulesArb, linesArb, shelfArb(6), (rules, lines, shelf) => {
      const marked = shelf.map((h, i) => (i % 2 === 0 ? h : { ...h, uncounted: 'r-1' as OrderId }))
      const result = tally(fixture(rules, lines, marked))
      const said = (of: typeof result.lines) => bySource(of).map(({ picks: _, ...group }) => group)
      expect(said([...result.lines].reverse())).toEqual(
        said(result.lines).map((g) => ({ ...g, source: expect.anything() })),
      )
      for (const { source } of said(result.lines))
        if (source.kind === 'shelf') expect([source.estimate, source.uncounted]).toEqual([false, undefined])
      const uncounted = result.lines
        .flatMap((l) => l.pegs)
        .reduce((n, p) => n + (p.source.kind === 'shelf' && p.source.uncounted !== undefined ? p.qty : 0), 0)
      expect(said(result.lines).reduce((n, g) => n + g.uncounted, 0)).toBe(uncounted)
    }),
    { numRuns: 200 },
  )
})
