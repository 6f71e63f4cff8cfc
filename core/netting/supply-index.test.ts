import { Memory } from '../units/memory.ts'
import fc from 'fast-check'
import type { ItemKey } from '../catalogue/item.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import { CONDITIONS, STATED_CONDITIONS, type Condition, type StatedCondition } from '../units/condition.ts'
import type { BuildId, CopyId, PlaceId, SetId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import { BUILD, itemArb, fixture } from './fixture.test-data.ts'
import type { Snapshot } from './snapshot.ts'
import { supplyIndex } from './supply-index.ts'
import { gatherSupplies } from './supplies.ts'

const PLACES = (
  [
    ['l-bin', 'bin', null, false],
    ['l-free', 'model', null, true],
    ['l-kept', 'model', null, false],
    ['l-inner', 'drawer', 'l-free', false],
    ['l-post', 'post', null, false],
  ] as const
).map(([id, kind, parent, released]): Place => ({
  id: id as PlaceId,
  name: id,
  kind,
  parent: parent as PlaceId | null,
  ...(released && { released }),
}))

const holdings = fc.array(
  fc.record({
    item: itemArb,
    qty: fc.integer({ min: 1, max: 40 }),
    estimate: fc.boolean(),
    condition: fc.constantFrom(...STATED_CONDITIONS),
    place: fc.constantFrom(...PLACES.map((p) => p.id), 'l-nowhere' as PlaceId),
    reserved: fc.option(
      fc.array(
        fc.record({ build: fc.constantFrom(BUILD, 'b-other' as BuildId), qty: fc.integer({ min: 1, max: 20 }) }),
        {
          maxLength: 2,
        },
      ),
      { nil: undefined },
    ),
  }),
  { maxLength: 40 },
)
const rulesArb: fc.Arbitrary<Partial<Rules>> = fc.record({
  sources: fc.constantFrom('donors', 'donors and shelf'),
  condition: fc.constantFrom(...CONDITIONS),
  unstated: fc.constantFrom(...CONDITIONS),
  wornHidden: fc.boolean(),
  estimatePercent: fc.constantFrom(0, 50, 80, 100),
  aim: fc.constantFrom('least spending', 'least compromise', 'use up the donors'),
})
const copiesArb = fc.array(
  fc.record({
    state: fc.constantFrom('owned' as const, 'promised' as const, 'to-buy' as const),
    condition: fc.option(fc.constantFrom(...CONDITIONS), { nil: undefined }),
  }),
  { maxLength: 3 },
)

type Piece = { readonly item: ItemKey; readonly where: 'seen' | 'hidden'; readonly rank: number; readonly qty: number }

/** What counts, rule by rule, one record after the other. Ranks: boxes, counted, estimated, in models, on the way. */
function counted({ build, sets, copies, holdings: shelf }: Snapshot): Piece[] {
  const { rules } = build
  const counts = (stated: StatedCondition): Condition => (stated === 'not stated' ? rules.unstated : stated)
  const use = (condition: Condition): 'seen' | 'hidden' | undefined =>
    CONDITIONS.indexOf(condition) <= CONDITIONS.indexOf(rules.condition)
      ? 'seen'
      : rules.wornHidden
        ? 'hidden'
        : undefined
  const wear = (condition: Condition) => (rules.aim === 'least compromise' ? 5 * CONDITIONS.indexOf(condition) : 0)
  const found: Piece[] = []
  for (const { state, condition, setId } of copies) {
    const where = condition === undefined ? 'seen' : use(condition)
    if (state === 'to-buy' || !where) continue
    const rank = (state === 'promised' ? 4 : 0) + wear(condition ?? 'used')
    for (const { item, qty } of sets.find((s) => s.id === setId)?.lines ?? []) found.push({ item, where, rank, qty })
  }
  for (const { item, qty, estimate, condition, place, reserved } of rules.sources === 'donors' ? [] : shelf) {
    const where = use(counts(condition))
    if (!where || place === 'l-kept') continue
    const others = (reserved ?? []).filter((r) => r.build !== BUILD).reduce((n, r) => n + r.qty, 0)
    const free = (estimate ? Math.floor((qty * rules.estimatePercent) / 100) : qty) - others
    const rank = place === 'l-post' ? 4 : place === 'l-free' || place === 'l-inner' ? 3 : estimate ? 2 : 1
    if (free > 0) found.push({ item, where, rank: rank + wear(counts(condition)), qty: free })
  }
  return found
}

const SET: SetId = 's-one' as SetId

test('the stock is what the rules count, sorted by item, by what they say of it, and by rank', () => {
  fc.assert(
    fc.property(
      rulesArb,
      holdings,
      copiesArb,
      fc.uniqueArray(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 5 }) }), {
        selector: (l) => l.item,
        maxLength: 6,
      }),
      (rules, shelf, states, contents) => {
        const set: DonorSet = {
          id: SET,
          name: 'One',
          stages: [{ id: 'a', name: 'A' }],
          lines: contents.map((l) => ({ ...l, stage: 'a', spare: false })),
        }
        const copies = states.map(({ state, condition }, i): Copy => ({
          id: `y-${i}` as CopyId,
          setId: SET,
          buildId: BUILD,
          label: `${i}`,
          state,
          stages: 'all',
          spares: true,
          missing: [],
          ...(condition && { condition }),
        }))
        const held = shelf.map(({ reserved, ...h }): Partial<Holding> & { item: ItemKey; qty: number } => ({
          ...h,
          ...(reserved && { reserved }),
        }))
        const snapshot = fixture(rules, [], held, { places: PLACES, sets: [set], copies })
        const expected = counted(snapshot)
        const index = supplyIndex(snapshot, new Memory())

        const wanted = new Map<string, number>()
        for (const { item, where, rank, qty } of expected) {
          const key = `${item} ${where} ${rank}`
          wanted.set(key, (wanted.get(key) ?? 0) + qty)
        }
        const lots = new Map<string, number>()
        for (let variant = 0; variant < index.variants; variant++) {
          const { hiddenOnly } = index.traitsOf(variant)
          let last = -1
          for (let lot = index.lotsFrom[variant] ?? 0; lot < (index.lotsFrom[variant + 1] ?? 0); lot++) {
            const rank = index.rankOf[lot] ?? NaN
            expect(rank).toBeGreaterThan(last)
            last = rank
            const key = `${index.itemOf(variant)} ${hiddenOnly ? 'hidden' : 'seen'} ${rank}`
            lots.set(key, (lots.get(key) ?? 0) + (index.piecesOf[lot] ?? 0))
          }
          // Rows of a variant add up to its lots, and each is drawn once.
          const rows = index.rowsOf(variant)
          expect(new Set(rows).size).toBe(rows.length)
          const [from, to] = [index.lotsFrom[variant], index.lotsFrom[variant + 1]]
          expect(rows.reduce((n, row) => n + index.piecesIn(row), 0)).toBe(
            index.piecesOf.slice(from, to).reduce((n, qty) => n + qty, 0),
          )
        }
        expect(lots).toEqual(wanted)
        const pieces = (list: readonly { readonly item: ItemKey; readonly qty: number }[]) =>
          list.map((s) => `${s.item} ${s.qty}`).sort()
        expect(pieces(gatherSupplies(snapshot, new Memory()))).toEqual(pieces(expected))
      },
    ),
    { numRuns: 300 },
  )
})
