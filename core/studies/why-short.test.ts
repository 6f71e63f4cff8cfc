import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import type { Place } from '../shelf/place.ts'
import type { Holding } from '../shelf/holding.ts'
import {
  colourId,
  type BuildId,
  type ColourId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PlaceId,
} from '../units/ids.ts'
import { currency } from '../units/money.ts'
import { defaultRules, type Rules } from '../build/house-rules.ts'
import { nearestColours } from '../catalogue/availability.ts'
import { recolourings } from './recolouring.ts'
import { remedies } from './relaxations.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'
import { type TallyLine } from '../netting/tally.ts'
import { whyShort } from './why-short.ts'

const PLATE = partFromName('plate 2x4')
const at = (colour: string) => itemKey(PLATE.id, colourId(colour))
const MINE = 'b-1' as BuildId
const OTHER = 'b-2' as BuildId
const place = (id: string, more: Partial<Place> = {}): Place => ({
  id: id as PlaceId,
  name: id,
  kind: 'bin',
  parent: null,
  ...more,
})
let serial = 0
const holding = (qty: number, more: Partial<Holding> = {}): Holding => ({
  id: `h-${serial++}` as HoldingId,
  place: 'l-a' as PlaceId,
  item: at('Soot'),
  qty,
  estimate: false,
  condition: 'new',
  ...more,
})
const scene = (
  lines: readonly number[],
  holdings: readonly Holding[],
  rules: Partial<Rules> = {},
  places: readonly Place[] = [place('l-a')],
): Snapshot => ({
  build: { id: MINE, name: 'Mine', note: '', currency: currency('EUR'), rules: { ...defaultRules, ...rules } },
  design: {
    id: MINE,
    modules: lines.map((qty, i) => ({
      id: `m-${i}` as ModuleId,
      name: `Module ${i}`,
      repeats: 1,
      lines: [{ id: `n-${i}` as LineId, item: at('Soot'), qty }],
    })),
  },
  sets: [],
  copies: [],
  holdings,
  places,
  parts: new Map([[PLATE.id, PLATE]]),
  colourById: new Map(PALETTE.map((c) => [c.id, c])),
})
const why = (snapshot: Snapshot, i = 0) => {
  const result = tally(snapshot)
  return whyShort(snapshot, result, result.lines[i] as TallyLine)
}

test('what another build has reserved is told with its name, not as a matter of condition', () => {
  const found = why(scene([6], [holding(5, { reserved: [{ build: OTHER, qty: 4 }] })]))
  expect(found).toMatchObject({ here: 1, reserved: [{ build: OTHER, qty: 4 }], worn: 0, leftOver: 0 })
})

test('every piece that exists is told once, by what keeps the line from it', () => {
  const places = [place('l-a'), place('l-m', { kind: 'model' })]
  const holdings = [
    holding(2),
    holding(3, { condition: 'worn' }),
    holding(8, { estimate: true }),
    holding(5, { place: 'l-m' as PlaceId }),
  ]
  const found = why(scene([20, 3], holdings, { condition: 'used' }, places))
  // An estimate of 8 counts for 6; 2 + 6 are drawn by the two lines.
  const used = found.here + found.taken.reduce((n, t) => n + t.qty, 0)
  expect([used, found.worn, found.doubted, found.models]).toEqual([8, 3, 2, [{ place: 'l-m', qty: 5 }]])
  expect(used + found.worn + found.doubted + 5).toBe(holdings.reduce((n, h) => n + h.qty, 0))
})

test('donors only: what lies on the shelf is said not to count', () => {
  expect(why(scene([6], [holding(5)], { sources: 'donors' }))).toMatchObject({ here: 0, notCounted: 5, worn: 0 })
})

test('what would help lists just what helps this line, left-over pieces in other colours first', () => {
  const chalk = holding(4, { item: at('Chalk') })
  const clear = holding(9, { item: at('Clear ice') })
  const snapshot = scene([3, 2], [holding(1), chalk, clear])
  const result = tally(snapshot)
  const line = result.lines.find((l) => l.coverage.short > 0) as TallyLine
  const found = remedies(snapshot, result, line.line)
  expect(found.every((r) => r.lineShort < line.coverage.short)).toBe(true)
  const uses = found.flatMap(({ change }) => (change.kind === 'use' ? [change] : []))
  expect(uses.map((u) => u.item)).toEqual([at('Chalk'), at('Clear ice')])
  expect(uses.map((u) => u.otherFinish)).toEqual([false, true])
  expect(found.slice(0, uses.length).every((r) => r.change.kind === 'use')).toBe(true)
})

test('finishes rank before distance: a clear or metal colour is never the nearest to a solid one', () => {
  for (const own of PALETTE) {
    const known = { coloursOf: new Map([[PLATE.id, new Set(PALETTE.map((c) => c.id))]]) }
    const near = nearestColours(itemKey(PLATE.id, own.id), known, new Map(PALETTE.map((c) => [c.id, c])))
    const alike = PALETTE.filter((c) => c.finish === own.finish && c.id !== own.id).length
    expect(near.slice(0, alike).every((n) => n.sameFinish)).toBe(true)
    expect(near.slice(alike).some((n) => n.sameFinish)).toBe(false)
  }
})

test('a recolouring into another finish says so, and comes after one that is as good in the same finish', () => {
  const clear = PALETTE.find((c) => c.finish === 'clear')?.id as ColourId
  const [solid] = PALETTE.filter((c) => c.finish === 'opaque' && c.id !== colourId('Soot')).map((c) => c.id)
  if (!solid) throw new Error('test data')
  const snapshot = scene(
    [4],
    [holding(4, { item: itemKey(PLATE.id, clear) }), holding(4, { item: itemKey(PLATE.id, solid) })],
  )
  const { found } = recolourings(snapshot, tally(snapshot), 'm-0' as ModuleId)
  expect(found.map((r) => [r.swaps[0]?.to, r.otherFinish])).toEqual([
    [solid, false],
    [clear, true],
  ])
})
