import { Memory } from '../units/memory.ts'
import { offerOf, shopOf } from '../offers/offers.test-data.ts'
import fc from 'fast-check'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { splitsOf } from '../catalogue/split.ts'
import { withLines } from '../design/arrange-modules.ts'
import { explode } from '../design/explode.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import loadHighs from 'highs'
import { highsSolver } from '../solver/highs-milp.ts'
import { solveSourcing } from '../sourcing/solve.ts'
import { verifyPlan } from '../sourcing/verify-plan.ts'
import { planStandIns } from '../sourcing/plan-stand-ins.ts'
import { sourcingTask } from '../sourcing/shortfall-task.ts'
import { sizeOf, componentsOf, withoutPool } from './kernel/cover-problem.ts'
import { solveNetting } from './solve.ts'
import { countsFor, type Holding } from '../shelf/holding.ts'
import { colourId, type BuildId, type HoldingId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import { decisionBook, type Decision } from '../build/decision.ts'
import { inventoryOf } from './inventory.ts'
import { isDoubtful, lineChoices, openStandIns } from '../studies/line-choices.ts'
import { meaningOf, optionFinder } from './options.ts'
import { remedies, withFreedom } from '../studies/relaxations.ts'
import { findConflicts, reserve } from '../shelf/reservations.ts'
import type { Snapshot } from './snapshot.ts'
import { candidates, standInSearch } from './stand-ins/candidates.ts'
import { demandOf, requirementsOf } from './demand.ts'
import { splitsNeeded } from './needless-splits.ts'
import { SPLITS } from './stand-ins/split.ts'
import { supplyIndex } from './supply-index.ts'
import {
  BUILD,
  COLOURS,
  decision,
  itemArb,
  linesArb,
  of,
  OTHER,
  PARTS,
  rulesArb,
  fixture,
  shelfArb,
  type Held,
  type Line,
} from './fixture.test-data.ts'
import { eachSupply, supplyId } from './supplies.ts'
import { supplyAt } from './supply-rows.ts'
import { bySource } from './groups.ts'
import { tally } from './count.ts'

test('lines that have their options from a pool may take what each may take by itself, at the same points', () => {
  fc.assert(
    fc.property(
      rulesArb,
      fc.constantFrom('free where hidden' as const, 'within the palette' as const),
      linesArb,
      shelfArb(16),
      (rules, colours, lines, shelf) => {
        const snapshot = fixture({ ...rules, colours, palette: COLOURS.slice(0, 3), splits: 'never' }, lines, shelf)
        const stock = supplyIndex(snapshot, new Memory())
        const finder = optionFinder(snapshot, stock, [], false, () => undefined)
        for (const r of explode(snapshot.design, { parts: snapshot.parts })) {
          const demand = demandOf(r)
          const least = (ways: readonly { uses: readonly { item: ItemKey }[]; points: number }[]) => {
            const points = new Map<ItemKey, number>()
            for (const { uses, points: p } of ways)
              for (const { item } of uses) points.set(item, Math.min(p, points.get(item) ?? Infinity))
            return new Map(
              [...points].filter(([item]) => stock.variantsOf(item).length > 0).sort(([p], [q]) => (p < q ? -1 : 1)),
            )
          }
          const options = finder.optionsOf(demand)
          const pooled = Array.from({ length: sizeOf(options) }, (_, o) => meaningOf(options, o, stock)).flatMap(
            (meaning) => meaning ?? [],
          )
          expect(least(pooled)).toEqual(least(candidates(standInSearch(snapshot.build.rules, stock.stock, []), demand)))
        }
      },
    ),
    { numRuns: 300 },
  )
})

/** Some lines are free in colour by themselves, some pieces have a sticker on: ways that not all lines have alike. */
const mixedArb = fc.record({
  rules: fc
    .tuple(
      rulesArb,
      fc.record({
        stickers: fc.constantFrom('applied' as const, 'left off' as const, 'reused' as const),
        palette: fc.constantFrom(COLOURS.slice(0, 2), COLOURS.slice(1)),
        condition: fc.constantFrom('new' as const, 'used' as const),
        wornHidden: fc.boolean(),
      }),
    )
    .map(([rules, more]) => ({ ...rules, ...more })),
  lines: fc
    .tuple(
      linesArb,
      fc.array(fc.constantFrom(undefined, undefined, 'near', 'palette', 'free', 'roof'), { maxLength: 10 }),
    )
    .map(([lines, ways]) =>
      lines.map((line, i): Line => {
        const way = ways[i]
        return { ...line, ...(way === 'roof' ? { group: way, freedom: 'free' } : way && { freedom: way }) }
      }),
    ),
  shelf: fc.tuple(shelfArb(16), fc.array(fc.nat(5), { minLength: 16, maxLength: 16 })).map(([shelf, dice]) =>
    shelf.map((held, i): Held => ({
      ...held,
      ...(dice[i] === 0 && { item: `${held.item}|sticker dial` as ItemKey }),
      ...(dice[i] === 1 && { condition: 'worn' }),
      ...(dice[i] === 2 && { condition: 'new' }),
    })),
  ),
})

/** Expects of a tally what the whole problem at once comes to, all options of all lines in it. */
function expectOptimum(snapshot: Snapshot): void {
  const { design, parts } = snapshot
  const stock = supplyIndex(snapshot, new Memory())
  const finder = optionFinder(snapshot, stock, [], false, () => undefined)
  const whole = solveNetting({
    lines: explode(design, { parts }).map((r) => ({
      id: r.id,
      qty: r.qty,
      group: r.source.group,
      accepts: withoutPool(finder.optionsOf(demandOf(r))).compromises.map((compromise, o) => ({
        id: `${o}`,
        compromise,
        scheme: finder.optionsOf(demandOf(r)).schemes?.[o],
        uses: componentsOf(finder.optionsOf(demandOf(r)), o).map((u) => ({ item: `${u.item}`, qty: u.qty })),
      })),
    })),
    supplies: Array.from(stock.piecesOf, (pieces, lot) => ({
      id: `${lot}`,
      item: `${stock.lotsFrom.findLastIndex((first) => first <= lot)}`,
      qty: pieces,
      rank: stock.rankOf[lot] ?? 0,
    })),
  })
  const result = tally(snapshot)
  fc.pre(whole.proven && result.proven)
  const ranks = new Map<string | undefined, number>()
  const inventory = inventoryOf(snapshot, new Memory())
  eachSupply(inventory, snapshot, (row, qty, rank) => {
    ranks.set(supplyId(supplyAt(inventory.rows, row, qty)), rank)
  })
  let rank = 0
  for (const { source, item, qty } of result.lines.flatMap((l) => l.pegs))
    rank += qty * (ranks.get(supplyId({ source, item })) ?? NaN)
  expect([result.coverage.short, result.compromise, rank]).toEqual([whole.short, whole.compromise, whole.rank])
}

test('settling lines beforehand changes nothing: the whole problem at once has the same optimum', () => {
  fc.assert(
    fc.property(mixedArb, ({ rules, lines, shelf }) => {
      expectOptimum(fixture(rules, lines, shelf))
    }),
    { numRuns: 600 },
  )
})

/** Splits may stand in anywhere, and there is enough of much but not of all. */
const splitArb = fc
  .tuple(
    mixedArb,
    fc.constantFrom('anywhere' as const, 'structural too' as const),
    fc.constantFrom('free where hidden' as const, 'free where hidden' as const, 'near' as const),
    fc.array(fc.nat(30), { minLength: 16, maxLength: 16 }),
  )
  .map(([{ rules, lines, shelf }, splits, colours, more]) => ({
    rules: { ...rules, splits, colours },
    lines,
    shelf: shelf.map((held, i): Held => ({ ...held, qty: held.qty + (more[i] ?? 0) })),
  }))

test('leaving splits out that no line needs changes nothing: the whole problem with all of them has the same optimum', () => {
  let [settled, narrowed] = [0, 0]
  fc.assert(
    fc.property(splitArb, ({ rules, lines, shelf }) => {
      const snapshot = fixture(rules, lines, shelf)
      const found = needsOf(snapshot)
      settled += found.settled.filter((is) => is === 1).length
      narrowed += found.needed.filter((is) => is === SPLITS.own).length
      expectOptimum(snapshot)
    }),
    { numRuns: 600 },
  )
  // It was put to the test often.
  expect(settled).toBeGreaterThan(100)
  expect(narrowed).toBeGreaterThan(20)
})

/** Which lines need splits, class by class in the order of the lines. */
function needsOf(snapshot: Snapshot, decisions: readonly Decision[] = []) {
  const memory = new Memory()
  const book = decisionBook(decisions, BUILD)
  const required = requirementsOf(snapshot, book, memory)
  return splitsNeeded(snapshot.build.rules, false, required, supplyIndex(snapshot, memory), book, memory)
}

test('splits are looked for where the piece itself may not be enough, and nowhere else', () => {
  const line = { item: of('plate 2x4'), qty: 4 }
  const halves = { item: of('plate 2x2'), qty: 20 }
  const needs = (lines: readonly Line[], shelf: readonly Held[], decisions: readonly Decision[] = []) => {
    const rules = { splits: 'anywhere', colours: 'free where hidden', moulds: 'never' } as const
    return [...needsOf(fixture(rules, lines, shelf), decisions).needed]
  }
  expect(needs([line], [{ item: line.item, qty: 4 }, halves])).toEqual([SPLITS.none])
  expect(needs([line], [{ item: line.item, qty: 3 }, halves])).toEqual([SPLITS.any])
  // Where nobody looks other colours do as well: of one of them is enough, of its own is not.
  const hidden = { ...line, visibility: 'hidden' as const }
  const others = { item: of('plate 2x4', OTHER), qty: 9 }
  expect(needs([hidden], [{ item: line.item, qty: 3 }, others, halves])).toEqual([SPLITS.own])
  // Another line takes any colour, and there are enough of all together: it does not stand in the way of this one.
  const both = [line, { ...hidden, item: of('plate 2x4', OTHER) }]
  expect(needs(both, [{ item: line.item, qty: 4 }, { ...others, qty: 4 }, halves])).toEqual([SPLITS.none, SPLITS.none])
  expect(needs(both, [{ item: line.item, qty: 4 }, { ...others, qty: 3 }, halves])).toEqual([SPLITS.any, SPLITS.any])
  // A pin takes pieces away; a rule of the user's own says what it likes of other pieces.
  const pin = decision({
    kind: 'pin',
    line: 'n-9' as LineId,
    qty: 1,
    source: { kind: 'shelf', holding: 'h-0' as HoldingId, item: line.item },
  })
  expect(needs([line], [{ item: line.item, qty: 4 }, halves], [pin])).toEqual([SPLITS.any])
  const own = decision({
    kind: 'own',
    part: partFromName('plate 2x2').id,
    uses: [{ part: partFromName('plate 2x4').id, qty: 1 }],
    points: 1,
  })
  expect(needs([line], [{ item: line.item, qty: 4 }, halves], [own])).toEqual([SPLITS.any])
})

test('a line gives up its own piece to one that takes any colour when it has another way itself', () => {
  // One in the first colour and one with a sticker on; the line that is seen may peel that, the hidden one may not.
  const lines: Line[] = [
    { item: of('plate 2x4'), qty: 1 },
    { item: of('plate 2x4', COLOURS[2]), qty: 1, visibility: 'hidden' },
  ]
  const stickered = itemKey(partFromName('plate 2x4').id, COLOURS[0] ?? colourId('x'), 'sticker dial')
  const shelf: Held[] = [
    { item: of('plate 2x4'), qty: 1 },
    { item: stickered, qty: 1 },
  ]
  const result = tally(fixture({ colours: 'free where hidden', stickers: 'left off' }, lines, shelf))
  expect(result.lines.map((l) => l.pegs.map((p) => [p.item, p.standIn]))).toEqual([
    [[stickered, 'peel']],
    [[of('plate 2x4'), 'colour']],
  ])
  expect([result.coverage.short, result.proven]).toEqual([0, true])
})

const shelfIds = (snapshot: Snapshot, line = 0) =>
  tally(snapshot).lines[line]?.pegs.map((p) => [p.source.kind === 'shelf' ? p.source.holding : '', p.qty, p.by])

// A plate is a third of a brick high, and pieces of one height fill a footprint side by side: common practice.
test('splits by shape rules: halves along length and width, plates for a brick, nothing else', () => {
  const names = (name: string) =>
    splitsOf(partFromName(name)).map((s) => s.map((p) => `${p.qty} ${p.part.slice(2)}`).join(' + '))
  expect(names('plate 2x4')).toEqual(['2 plate-2x2', '1 plate-1x2 + 1 plate-2x3', '2 plate-1x4'])
  expect(names('brick 1x2')).toEqual(['2 brick-1x1', '3 plate-1x2'])
  expect(names('plate 1x1')).toEqual([])
  for (const other of ['slope 2x4 45°', 'round brick 2x2', 'brick 2x2 two bricks high', 'plate 1.5x2', 'hose 8 long'])
    expect(names(other)).toEqual([])
})

test('splits stand in where the rules let them, never for structural lines unless those are allowed too', () => {
  const covered = (splits: Rules['splits'], visibility: 'seen' | 'hidden' | 'structural') =>
    tally(fixture({ splits }, [{ item: of('brick 2x2'), qty: 2, visibility }], [{ item: of('plate 2x2'), qty: 7 }]))
      .coverage.standIn
  expect([covered('never', 'hidden'), covered('where hidden', 'hidden'), covered('where hidden', 'seen')]).toEqual([
    0, 2, 0,
  ])
  expect([
    covered('anywhere', 'seen'),
    covered('anywhere', 'structural'),
    covered('structural too', 'structural'),
  ]).toEqual([2, 0, 2])
})

test('own rules hold in their build or in all, in the colour of the piece', () => {
  const rule: Decision['what'] = {
    kind: 'own',
    part: partFromName('plate 2x4').id,
    uses: [{ part: partFromName('plate 1x4').id, qty: 2 }],
    points: 1,
  }
  const short = (decisions: Decision[]) =>
    tally(
      fixture(
        {},
        [{ item: of('plate 2x4'), qty: 2, visibility: 'structural' }],
        [
          { item: of('plate 1x4'), qty: 3 },
          { item: of('plate 1x4', OTHER), qty: 9 },
        ],
        { decisions },
      ),
    ).coverage.short
  expect(short([])).toBe(2)
  expect(short([decision(rule)])).toBe(1)
  expect(short([decision(rule, null)])).toBe(1)
  expect(short([decision(rule, 'b-other' as BuildId)])).toBe(2)
})

test('a pin takes its supply whatever is better, and says why when it cannot', () => {
  const lines: Line[] = [
    { item: of('plate 2x4'), qty: 2 },
    { item: of('plate 2x4'), qty: 2 },
  ]
  const shelf: Held[] = [
    { item: of('plate 2x4'), qty: 9 },
    { item: of('plate 2x4', OTHER), qty: 1 },
  ]
  const pin = (line: string, holding: string, item: ItemKey, qty: number): Decision['what'] => ({
    kind: 'pin',
    line: line as LineId,
    qty,
    source: { kind: 'shelf', holding: holding as Holding['id'], item },
  })
  // The rules allow no other colour: the pin is the user's own choice.
  const chosen = fixture({}, lines, shelf, { decisions: [decision(pin('n-1', 'h-1', of('plate 2x4', OTHER), 1))] })
  expect(shelfIds(chosen, 1)).toEqual([
    ['h-1', 1, 'pin'],
    ['h-0', 1, undefined],
  ])
  expect(tally(chosen).lines[1]?.pegs[0]?.standIn).toBe('chosen')
  const fault = (what: Decision['what'], held = shelf) => {
    const [outcome] = tally(fixture({}, lines, held, { decisions: [decision(what)] })).pins
    return [outcome?.held, outcome?.fault]
  }
  expect(fault(pin('n-1', 'h-1', of('plate 2x4', OTHER), 2))).toEqual([1, 'pieces'])
  expect(fault(pin('n-1', 'h-0', of('plate 2x4'), 5))).toEqual([2, 'line'])
  expect(fault(pin('n-9', 'h-0', of('plate 2x4'), 1))).toEqual([0, 'line'])
  expect(fault(pin('n-1', 'h-1', of('plate 2x4', OTHER), 1), shelf.slice(0, 1))).toEqual([0, 'supply'])
})

test('a group follows the colour of its pin; a second pin of another colour is reported', () => {
  const lines: Line[] = ['n-0', 'n-1'].map(() => ({ item: of('plate 2x2'), qty: 1, group: 'roof', freedom: 'free' }))
  const shelf: Held[] = [
    { item: of('plate 2x2'), qty: 5 },
    { item: of('plate 2x2', OTHER), qty: 5 },
  ]
  const pin = (n: number, item: ItemKey): Decision =>
    decision(
      {
        kind: 'pin',
        line: `n-${n}` as LineId,
        qty: 1,
        source: { kind: 'shelf', holding: `h-${item === of('plate 2x2') ? 0 : 1}` as Holding['id'], item },
      },
      BUILD,
      `d-${n}`,
    )
  const first = tally(fixture({}, lines, shelf, { decisions: [pin(0, of('plate 2x2', OTHER))] }))
  expect(first.lines.flatMap((l) => l.pegs.map((p) => p.item))).toEqual([
    of('plate 2x2', OTHER),
    of('plate 2x2', OTHER),
  ])
  const both = tally(
    fixture({}, lines, shelf, { decisions: [pin(0, of('plate 2x2', OTHER)), pin(1, of('plate 2x2'))] }),
  )
  expect(both.pins.map((p) => p.fault)).toEqual([undefined, 'colour'])
})

test('a stand-in can be forbidden here, in the build or always, and accepted on a line', () => {
  const lines: Line[] = [0, 1].map(() => ({ item: of('plate 2x4'), qty: 1, visibility: 'hidden' }))
  const shelf: Held[] = [{ item: of('plate 2x4', OTHER), qty: 2 }]
  const uses = [{ item: of('plate 2x4', OTHER), qty: 1 }]
  const standIns = (...decisions: Decision[]) =>
    tally(fixture({ colours: 'free where hidden' }, lines, shelf, { decisions })).lines.map((l) => l.coverage.standIn)
  const forbid = { kind: 'forbid' as const, item: of('plate 2x4'), uses }
  expect(standIns()).toEqual([1, 1])
  expect(standIns(decision({ ...forbid, line: 'n-0' as LineId }))).toEqual([0, 1])
  expect(standIns(decision(forbid))).toEqual([0, 0])
  expect(standIns(decision(forbid, null))).toEqual([0, 0])
  expect(standIns(decision(forbid, 'b-other' as BuildId))).toEqual([1, 1])
  const accepted = tally(
    fixture({ colours: 'free where hidden' }, lines, shelf, {
      decisions: [decision({ kind: 'accept', line: 'n-0' as LineId, item: of('plate 2x4'), uses })],
    }),
  )
  expect(accepted.lines.map(isDoubtful)).toEqual([false, true])
  expect(openStandIns(accepted, 9).map((s) => s.line)).toEqual(['n-1'])
  expect(accepted.compromise).toBe(2)
})

const SHOP = shopOf('shop')
const offer = (item: ItemKey, price: number) => offerOf(SHOP.id, item, { id: item, price })

test('where pieces may be bought, a cheap exact piece beats a stand-in at hand, at what a point is worth', () => {
  const lines: Line[] = [
    { item: of('plate 2x4'), qty: 2, visibility: 'hidden' },
    { item: of('plate 2x2'), qty: 1, visibility: 'hidden' },
  ]
  const shelf: Held[] = [
    { item: of('plate 2x4', OTHER), qty: 9 },
    { item: of('plate 2x2', OTHER), qty: 9 },
  ]
  const covered = (pointPrice: number, price: number, aim: Rules['aim'] = 'least spending') => {
    const market = { shops: [SHOP], offers: [offer(of('plate 2x4'), price)] }
    const result = tally(fixture({ colours: 'free where hidden', pointPrice, aim }, lines, shelf, { market }))
    return [...result.lines.map((l) => l.coverage.standIn), result.buyInstead]
  }
  // Another colour where hidden is 2 points. What nobody sells is replaced whatever a point is worth.
  expect(covered(5, 9)).toEqual([0, 1, 2])
  expect(covered(5, 11)).toEqual([2, 1, 0])
  expect(covered(0, 1)).toEqual([2, 1, 0])
  expect(covered(5, 9, 'use up the donors')).toEqual([2, 1, 0])
})

test('a group is not bought anew in a colour of which it has pieces: the compromise is the same, the price is not', () => {
  const lines: Line[] = [0, 1].map(() => ({ item: of('plate 2x2'), qty: 3, group: 'roof', freedom: 'free' }))
  const shelf: Held[] = [{ item: of('plate 2x2', OTHER), qty: 5 }]
  const market = { shops: [SHOP], offers: [offer(of('plate 2x2', OTHER), 1)] }
  const result = tally(fixture({}, lines, shelf, { market }))
  expect([result.coverage.standIn, result.coverage.short, result.groups.get('roof')]).toEqual([5, 1, OTHER])
})

test('the joint optimum over owned and bought pieces counts shipping: a stand-in at hand is kept until a parcel comes anyway', async () => {
  const milp = highsSolver(await loadHighs())
  const hidden: Line = { item: of('plate 2x4'), qty: 1, visibility: 'hidden' }
  const shelf: Held[] = [{ item: of('plate 2x4', OTHER), qty: 1 }]
  const shop = { ...SHOP, bands: [{ maxMass: 1_000_000, fee: 300 }] }
  const market = { shops: [shop], offers: [offer(of('plate 2x4'), 10), offer(of('brick 2x2'), 20)] }
  const plan = (lines: Line[]) => {
    const snapshot = fixture({ colours: 'free where hidden', pointPrice: 50 }, lines, shelf, { market })
    const { problem } = sourcingTask(snapshot, tally(snapshot), market.shops, market.offers)
    const found = solveSourcing(problem, { timeLimit: 10, now: () => performance.now() / 1000, milp })
    const verdict = verifyPlan(problem, found)
    const standIns = planStandIns({ plan: found, problem }).map((s) => [s.kind, s.qty, s.worth])
    return [found.status, found.total, verdict.ok && verdict.total, standIns]
  }
  // By itself: another colour where hidden, 2 points at 0.50, against 0.10 and a parcel at 3.00.
  expect(plan([hidden])).toEqual(['optimal', 100, 100, [['colour', 1, 100]]])
  // With a brick that has to be bought, the parcel comes anyway: 0.20 + 0.10 + 3.00.
  expect(plan([hidden, { item: of('brick 2x2'), qty: 1 }])).toEqual(['optimal', 330, 330, []])
})

test('without shipping the purchase comes to what the netting says: two models of one decision agree', async () => {
  const milp = highsSolver(await loadHighs())
  const items = PARTS.flatMap((p) => COLOURS.map((c) => itemKey(p.id, c)))
  fc.assert(
    fc.property(
      mixedArb,
      // No price is a point of compromise above another: a stand-in is worth while only where it is owned.
      fc.array(fc.integer({ min: 30, max: 39 }), { minLength: items.length, maxLength: items.length }),
      fc.constantFrom(10, 60),
      ({ rules, lines, shelf }, prices, pointPrice) => {
        const market = { shops: [SHOP], offers: items.map((item, i) => offer(item, prices[i] ?? 30)) }
        const all = { ...rules, sources: 'donors, shelf and shops', estimatePercent: 100, pointPrice } as const
        // Groups keep the colour that the netting chose: what they have is not bought anew.
        const single = lines.filter((l) => l.group === undefined)
        const snapshot = fixture(all, single, shelf, { market })
        const result = tally(snapshot)
        const { problem, unavailable } = sourcingTask(snapshot, result, market.shops, market.offers)
        const found = solveSourcing(problem, { timeLimit: 10, now: () => performance.now() / 1000, milp })
        fc.pre(result.proven && found.status === 'optimal')
        expect(verifyPlan(problem, found).ok).toBe(true)
        let bought = 0
        for (const [item, qty] of result.shortfall) bought += qty * (prices[items.indexOf(item)] ?? NaN)
        expect(found.total).toBe(bought + result.compromise * pointPrice)
        expect(unavailable).toEqual([])
      },
    ),
    { numRuns: 120 },
  )
})

test('what is bought rather than replaced frees the stand-in for a line that nobody sells a piece for', () => {
  const lines: Line[] = [
    { item: of('plate 2x4'), qty: 1, visibility: 'hidden' },
    { item: of('plate 2x4', COLOURS[2]), qty: 1, visibility: 'hidden' },
  ]
  const shelf: Held[] = [{ item: of('plate 2x4'), qty: 1 }]
  const market = { shops: [SHOP], offers: [offer(of('plate 2x4'), 30)] }
  const result = tally(fixture({ colours: 'free where hidden' }, lines, shelf, { market }))
  expect(result.lines.map((l) => [l.coverage.short, l.buyInstead, l.coverage.standIn])).toEqual([
    [1, 1, 0],
    [0, 0, 1],
  ])
})

test('choices name every way, what is left over, what is forbidden, and what only a pin could take', () => {
  const lines: Line[] = [{ item: of('plate 2x4'), qty: 1, visibility: 'hidden' }]
  const shelf: Held[] = [
    { item: of('plate 2x4 with hole'), qty: 3 },
    { item: of('plate 2x4', OTHER), qty: 2 },
  ]
  const decisions = [
    decision({ kind: 'forbid', item: of('plate 2x4'), uses: [{ item: of('plate 2x4 with hole'), qty: 1 }] }),
  ]
  const snapshot = fixture({ moulds: 'where hidden' }, lines, shelf, { decisions })
  const result = tally(snapshot)
  const [line] = result.lines
  if (!line) throw new Error('there is a line')
  expect(lineChoices(snapshot, result, line).map((c) => [c.kind, c.have, c.free, c.here, c.forbidden.length])).toEqual([
    ['mould', 3, 3, 0, 1],
    ['chosen', 2, 2, 0, 0],
  ])
})

test('remedies say what they bring to the line and to the design, the best for the line first', () => {
  const lines: Line[] = [
    { item: of('plate 2x4'), qty: 3, visibility: 'hidden' },
    { item: of('plate 2x2'), qty: 3, visibility: 'hidden' },
  ]
  const shelf: Held[] = [
    { item: of('plate 2x4', OTHER), qty: 2 },
    { item: of('plate 2x4'), qty: 3, place: 'l-tram' as PlaceId },
    { item: of('plate 2x2', OTHER), qty: 1 },
  ]
  const places = [{ id: 'l-tram' as PlaceId, name: 'Small tram', kind: 'model' as const, parent: null }]
  const snapshot = fixture({ estimatePercent: 100, moulds: 'anywhere', splits: 'structural too' }, lines, shelf, {
    places,
  })
  const found = remedies(snapshot, tally(snapshot), 'n-0' as LineId)
  const named = found.map(({ change, lineShort, short }) => [
    change.kind === 'rule'
      ? change.label
      : change.kind === 'freedom'
        ? `${change.freedom} ${change.family ?? ''}`
        : change.kind,
    lineShort,
    short,
  ])
  // Free pieces in other colours come first, then what is most telling.
  expect(named[0]).toEqual(['use', 1, 4])
  expect(named.find(([kind]) => kind !== 'use')).toEqual(['release', 0, 3])
  expect(named).toContainEqual(['free ', 1, 4])
  expect(named).toContainEqual(['free plate', 1, 3])
  expect(named).toContainEqual(['Free the colour of hidden pieces', 1, 3])

  // Done after another edit, a remedy brings what it says and leaves that edit alone.
  const [first, second] = snapshot.design.modules[0]?.lines ?? []
  if (!first || !second) throw new Error('there are two lines')
  const later = withLines(snapshot.design, (l) => (l.id === second.id ? { ...l, qty: 1 } : l))
  const free = found.find(({ change }) => change.kind === 'freedom' && change.freedom === 'free' && !change.family)
  if (free?.change.kind !== 'freedom') throw new Error('freeing the line helps')
  const done = tally({ ...snapshot, design: withFreedom(later, free.change) })
  expect(done.lines.map((l) => [l.need, l.coverage.short])).toEqual([
    [3, 1],
    [1, 1],
  ])
})

test('sums far beyond what 32 bits hold are exact: of needs, of stock and of what is short', () => {
  const lines = Array.from({ length: 5 }, (_, i): Line => ({
    item: of('plate 2x4', i < 3 ? COLOURS[0] : OTHER),
    qty: 1_000_000_000,
    visibility: 'hidden',
  }))
  const shelf = Array.from({ length: 4000 }, (): Held => ({ item: of('plate 2x4'), qty: 1_000_000 }))
  const result = tally(fixture({ colours: 'free where hidden' }, lines, shelf))
  expect([result.need, result.coverage]).toEqual([
    5_000_000_000,
    { donor: 0, shelf: 3_000_000_000, standIn: 1_000_000_000, onOrder: 0, short: 1_000_000_000 },
  ])
  expect(result.shortfall).toEqual(new Map([[of('plate 2x4', OTHER), 1_000_000_000]]))
  // Exactly as it is drawn, nobody else wants it, and there is too little: settled beforehand.
  const exact = tally(fixture({ colours: 'exact' }, lines, shelf.slice(0, 2500)))
  expect([exact.coverage.shelf, exact.coverage.short]).toEqual([2_500_000_000, 2_500_000_000])
})

test('the colours of a design are counted as its lines have them, also where groups chose', () => {
  const grouped = fc.array(
    fc.record({
      item: itemArb,
      qty: fc.integer({ min: 1, max: 5 }),
      group: fc.option(fc.constantFrom('roof', 'door'), { nil: undefined }),
    }),
    { minLength: 1, maxLength: 8 },
  )
  fc.assert(
    fc.property(grouped, shelfArb(10), (lines, shelf) => {
      const free = lines.map(({ group, ...l }): Line => (group ? { ...l, group, freedom: 'free' } : l))
      const snapshot = fixture({}, free, shelf)
      const result = tally(snapshot)
      const colours = new Set(result.lines.map((l) => splitItemKey(l.wanted).colour))
      expect(result.coloursUsed).toBe(colours.size)
    }),
  )
})

const EDITED_SET: DonorSet = {
  id: 's-x' as DonorSet['id'],
  name: 'X',
  stages: [{ id: 'a', name: 'A' }],
  lines: PARTS.slice(0, 3).map((p, i) => ({
    stage: 'a',
    item: itemKey(p.id, COLOURS[i % 2] ?? colourId('x')),
    qty: 4,
    spare: i === 2,
  })),
}
const editArb = fc.oneof(
  fc.record({
    do: fc.constant('line' as const),
    line: fc.nat(7),
    qty: fc.nat(6),
    item: itemArb,
    hidden: fc.boolean(),
  }),
  fc.record({ do: fc.constant('repeat' as const), repeats: fc.nat(3) }),
  fc.record({
    do: fc.constant('hold' as const),
    holding: fc.nat(5),
    item: itemArb,
    qty: fc.integer({ min: 1, max: 9 }),
  }),
  fc.record({ do: fc.constant('reserve' as const), build: fc.constantFrom(0, 1) }),
  fc.record({ do: fc.constant('copy' as const), spares: fc.boolean(), missing: fc.nat(5) }),
  fc.record({
    do: fc.constant('pin' as const),
    line: fc.nat(7),
    holding: fc.nat(5),
    qty: fc.integer({ min: 1, max: 4 }),
  }),
)

test('random edits never count a piece twice: not for two modules, nor for two builds that reserve', () => {
  fc.assert(
    fc.property(rulesArb, fc.array(editArb, { minLength: 4, maxLength: 14 }), (rules, edits) => {
      const ids = [BUILD, 'b-u' as BuildId] as const
      let holdings: Holding[] = []
      let copy: Copy = {
        id: 'y-1' as Copy['id'],
        setId: EDITED_SET.id,
        label: 'C',
        buildId: BUILD,
        state: 'owned',
        stages: 'all',
        spares: true,
        missing: [],
      }
      let lines: Line[] = []
      let repeats = 1
      const decisions: Decision[] = []
      const snapshotOf = (n: 0 | 1): Snapshot => {
        const one = fixture(rules, lines, [], {
          holdings,
          decisions,
          sets: [EDITED_SET],
          copies: n === 0 ? [copy] : [],
        })
        const [module] = one.design.modules
        return {
          ...one,
          build: { ...one.build, id: ids[n] },
          design: {
            id: ids[n],
            modules: module
              ? [
                  { ...module, repeats },
                  { ...module, id: 'm-2' as ModuleId },
                ]
              : [],
          },
        }
      }
      for (const [step, e] of edits.entries()) {
        if (e.do === 'line')
          lines = [
            ...lines.filter((_, i) => i !== e.line),
            ...(e.qty > 0
              ? [{ item: e.item, qty: e.qty, ...(e.hidden ? { visibility: 'hidden' as const } : {}) }]
              : []),
          ]
        if (e.do === 'repeat') repeats = e.repeats
        if (e.do === 'hold')
          holdings = [
            ...holdings.filter((h) => h.id !== `h-${e.holding}`),
            {
              id: `h-${e.holding}` as Holding['id'],
              place: 'l-bin' as PlaceId,
              item: e.item,
              qty: e.qty,
              estimate: e.holding === 0,
              condition: 'used',
            },
          ]
        if (e.do === 'reserve') {
          const changed = new Map(
            reserve(ids[e.build], tally(snapshotOf(e.build as 0 | 1)), holdings).map((h) => [h.id, h]),
          )
          holdings = holdings.map((h) => changed.get(h.id) ?? h)
        }
        if (e.do === 'copy')
          copy = {
            ...copy,
            spares: e.spares,
            missing: e.missing > 0 ? [{ item: EDITED_SET.lines[0]?.item ?? of('plate 2x4'), qty: e.missing }] : [],
          }
        if (e.do === 'pin') {
          const held = holdings.find((h) => h.id === `h-${e.holding}`)
          if (held)
            decisions.push(
              decision(
                {
                  kind: 'pin',
                  line: `n-${e.line}` as LineId,
                  qty: e.qty,
                  source: { kind: 'shelf', holding: held.id, item: held.item },
                },
                null,
                `d-${step}`,
              ),
            )
        }
        const tallies = ([0, 1] as const).map((n) => ({ build: ids[n], tally: tally(snapshotOf(n)) }))
        const drawn = new Map<string, number>()
        for (const [n, { tally: result }] of tallies.entries()) {
          for (const line of result.lines) {
            const { donor, shelf, standIn, onOrder, short } = line.coverage
            expect(donor + shelf + standIn + onOrder + short).toBe(line.need)
          }
          // A place is listed once, and each item in it once.
          const sources = bySource(result.lines)
          expect(new Set(sources.map((s) => s.key)).size).toBe(sources.length)
          const own = new Map<string, number>()
          for (const { pegs } of result.lines)
            for (const { source, item, qty } of pegs) {
              const id = source.kind === 'shelf' ? source.holding : item
              own.set(id, (own.get(id) ?? 0) + qty)
            }
          for (const h of holdings) {
            const others = (h.reserved ?? []).filter((r) => r.build !== ids[n]).reduce((m, r) => m + r.qty, 0)
            expect(own.get(h.id) ?? 0).toBeLessThanOrEqual(Math.max(0, countsFor(h, 75) - others))
            drawn.set(h.id, (drawn.get(h.id) ?? 0) + (own.get(h.id) ?? 0))
          }
          for (const { item, qty, spare } of EDITED_SET.lines) {
            const gone = copy.missing.reduce((m, x) => m + (x.item === item ? x.qty : 0), 0)
            const there = n === 1 || (spare && !copy.spares) ? 0 : Math.max(0, qty - gone)
            expect(own.get(item) ?? 0).toBeLessThanOrEqual(there)
          }
        }
        // What both builds count on beyond what there is, is said; what both have reserved is never counted twice.
        const twice = holdings.filter((h) => (drawn.get(h.id) ?? 0) > h.qty).map((h) => h.item)
        expect(new Set(findConflicts(tallies, holdings).map((c) => c.item))).toEqual(new Set(twice))
      }
    }),
    { numRuns: 120 },
  )
})
