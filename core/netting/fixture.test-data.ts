import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { DesignLine } from '../design/design.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, type BuildId, type DecisionId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules, type Rules } from '../build/house-rules.ts'
import type { Decision } from '../build/decision.ts'
import type { Snapshot } from './snapshot.ts'

export const PARTS = ['plate 2x4', 'plate 2x2', 'plate 1x4', 'plate 2x4 with hole', 'brick 2x2', 'brick 1x2'].map(
  partFromName,
)
export const COLOURS = PALETTE.slice(0, 4).map((c) => c.id)
export const of = (name: string, colour = COLOURS[0] ?? colourId('x')) => itemKey(partFromName(name).id, colour)
export const [, OTHER] = COLOURS
export const BUILD = 'b-t' as BuildId
export const EUR = currency('EUR')

export type Line = { item: ItemKey; qty: number } & Partial<DesignLine>
export type Held = { item: ItemKey; qty: number } & Partial<Holding>

/** A build of one module and a shelf of one bin. */
export function fixture(
  rules: Partial<Rules>,
  lines: readonly Line[],
  shelf: readonly Held[],
  more: Partial<Snapshot> = {},
) {
  const snapshot: Snapshot = {
    build: { id: BUILD, name: 'T', note: '', currency: EUR, rules: { ...defaultRules, ...rules } },
    design: {
      id: BUILD,
      modules: [
        {
          id: 'm-1' as ModuleId,
          name: 'M',
          repeats: 1,
          lines: lines.map((l, i) => ({ id: `n-${i}` as LineId, ...l })),
        },
      ],
    },
    sets: [],
    copies: [],
    holdings: shelf.map((h, i) => ({
      id: `h-${i}` as Holding['id'],
      place: 'l-bin' as PlaceId,
      estimate: false,
      condition: 'used',
      ...h,
    })),
    places: [],
    parts: new Map(PARTS.map((p) => [p.id, p])),
    colourById: new Map(PALETTE.map((c) => [c.id, c])),
    ...more,
  }
  return snapshot
}
export const decision = (what: Decision['what'], build: BuildId | null = BUILD, id = 'd-1'): Decision => ({
  id: id as DecisionId,
  build,
  what,
})
export const itemArb = fc
  .tuple(fc.constantFrom(...PARTS), fc.constantFrom(...COLOURS))
  .map(([part, colour]) => itemKey(part.id, colour))
export const rulesArb: fc.Arbitrary<Partial<Rules>> = fc.record({
  colours: fc.constantFrom('exact', 'near', 'free where hidden'),
  nearLimit: fc.constantFrom(5, 40),
  moulds: fc.constantFrom('never', 'where hidden', 'anywhere'),
  splits: fc.constantFrom('never', 'never', 'where hidden', 'anywhere'),
  sources: fc.constant('donors and shelf' as const),
})
export const linesArb = fc.array(
  fc.record({
    item: itemArb,
    qty: fc.integer({ min: 1, max: 5 }),
    visibility: fc.constantFrom('seen' as const, 'hidden' as const, 'structural' as const),
  }),
  { minLength: 1, maxLength: 10 },
)
export const shelfArb = (most: number) =>
  fc.array(fc.record({ item: itemArb, qty: fc.integer({ min: 1, max: 8 }), estimate: fc.boolean() }), {
    maxLength: most,
  })
