import { BRICK, PLATE, plate, SAMPLES, TILE } from '../records/records.test-data.ts'
import fc from 'fast-check'
import { itemKey, splitItemKey } from './item.ts'
import { partFromName, partIndex, type Part } from './part.ts'
import type { Design } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import { colourId, type BuildId, type HoldingId, type PlaceId } from '../units/ids.ts'
import type { Decision } from '../build/decision.ts'
import { inTermsOf, mergeParts, renamePart, type TakenOver } from './merge-parts.ts'
import { RECORD_KINDS, REGISTRY, type Records, type RecordsByKind } from '../records/registry.ts'

const PARTS = ['plate 2x4', 'plate 2x4 waffle', 'brick 1x2'].map(partFromName)
const COLOURS = ['Soot', 'Chalk'].map(colourId)
const item = fc
  .tuple(fc.constantFrom(...PARTS), fc.constantFrom(...COLOURS), fc.constantFrom('', 'sticker clock'))
  .map(([part, colour, decoration]) => itemKey(part.id, colour, decoration))
const lines = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 9 }) }), { maxLength: 6 })
const part = fc.constantFrom(...PARTS).map((p) => p.id)
const uses = fc.array(fc.record({ item, qty: fc.integer({ min: 1, max: 3 }) }), { minLength: 1, maxLength: 2 })
const decisions = fc
  .array(
    fc.oneof(
      fc.record({
        kind: fc.constant('pin'),
        line: fc.constant('n-0'),
        qty: fc.constant(1),
        source: fc.record({ kind: fc.constant('shelf'), holding: fc.constant('h-0'), item }),
      }),
      fc.record({ kind: fc.constantFrom('forbid', 'accept'), line: fc.constant('n-0'), item, uses }),
      fc.record({
        kind: fc.constant('own'),
        part,
        points: fc.constant(1),
        uses: fc.array(fc.record({ part, qty: fc.constant(2) }), { minLength: 1, maxLength: 2 }),
      }),
    ),
    { maxLength: 5 },
  )
  .map((whats) => whats.map((what, i) => ({ id: `d-${i}`, build: null, what }) as unknown as Decision))
const users = fc
  .record({ set: lines, missing: lines, design: lines, shelf: lines, decisions, reserved: fc.nat(3) })
  .map(({ set, missing, design, shelf, decisions, reserved }): Records => ({
    ...(Object.fromEntries(RECORD_KINDS.map((k) => [k, []])) as unknown as Records),
    decisions,
    sets: [
      {
        id: 's-1' as DonorSet['id'],
        name: 'Set',
        stages: [{ id: 'a', name: 'A' }],
        lines: set.map((l) => ({ ...l, stage: 'a', spare: false })),
      },
    ],
    copies: [
      { id: 'y-1', setId: 's-1', label: 'One', buildId: null, state: 'owned', stages: 'all', spares: true, missing },
    ] as unknown as Copy[],
    designs: [
      {
        id: 'b-1',
        modules: [{ id: 'm-1', name: 'M', repeats: 2, lines: design.map((l, i) => ({ ...l, id: `n-${i}` })) }],
      },
    ] as unknown as Design[],
    holdings: shelf.map((l, i): Holding => ({
      ...l,
      id: `h-${i}` as HoldingId,
      place: 'l-a' as PlaceId,
      estimate: false,
      condition: 'used',
      ...(reserved > 0 ? { reserved: [{ build: 'b-1' as BuildId, qty: Math.min(reserved, l.qty) }] } : {}),
    })),
  }))

/** Pieces per list and colour and decoration, whatever the part. */
function census(u: Pick<Records, 'sets' | 'copies' | 'designs' | 'holdings'>): Map<string, number> {
  const counts = new Map<string, number>()
  const add = (list: string, key: Holding['item'], qty: number) => {
    const { colour, decoration } = splitItemKey(key)
    counts.set(`${list} ${colour} ${decoration}`, (counts.get(`${list} ${colour} ${decoration}`) ?? 0) + qty)
  }
  for (const s of u.sets) for (const l of s.lines) add('set', l.item, l.qty)
  for (const c of u.copies) for (const m of c.missing) add('missing', m.item, m.qty)
  for (const d of u.designs) for (const m of d.modules) for (const l of m.lines) add('design', l.item, l.qty)
  for (const h of u.holdings) {
    add('shelf', h.item, h.qty)
    for (const r of h.reserved ?? []) add('reserved', h.item, r.qty)
  }
  return counts
}

/** Merges, and gives records as they are afterwards. */
function merge(from: Part, into: Part, records: Partial<Records>) {
  const merged = mergeParts<RecordsByKind>(from, into, records, REGISTRY)
  const taken = <R extends { readonly id: string }>(all: readonly R[], { put, remove }: TakenOver<R>): R[] => [
    ...all.filter((r) => !remove.includes(r.id) && !put.some((p) => p.id === r.id)),
    ...put,
  ]
  const after = (before: Records): Records =>
    Object.fromEntries(
      RECORD_KINDS.map((kind) => [kind, taken(before[kind], merged.changes[kind] as TakenOver<{ id: string }>)]),
    ) as unknown as Records
  return { ...merged, after }
}

test('after a merge no list names the merged part, and every piece is still there', () => {
  const [into, from] = PARTS
  if (!into || !from) throw new Error('test data')
  fc.assert(
    fc.property(users, (before) => {
      const merged = merge(from, into, before)
      const after = merged.after(before)
      expect(census(after)).toEqual(census(before))
      expect(JSON.stringify(after)).not.toContain(`${from.id}|`)
      expect(JSON.stringify(after.decisions)).not.toContain(`"${from.id}"`)
      expect(partIndex([merged.part]).get(from.id)).toBe(into.id)
    }),
  )
})

test('a renamed part keeps its id, is shaped anew and answers to both names', () => {
  const part = partFromName('mystery gadget')
  const renamed = renamePart(part, 'arch 1x6, two bricks high')
  expect(renamed).toMatchObject({ id: part.id, shape: { family: 'arch', width: 1, length: 6, height: 6 } })
  const index = partIndex([renamed])
  expect(index.get(partFromName('1x6 arch two bricks high').id)).toBe(part.id)
  expect(index.get(part.id)).toBe(part.id)
})

test('a merge reaches pins, forbids, acceptances and own rules; those about one piece and itself go', () => {
  const [into, from, other] = PARTS
  const [soot] = COLOURS
  if (!into || !from || !other || !soot) throw new Error('test data')
  const [a, b, c] = [into, from, other].map((p) => itemKey(p.id, soot))
  const decisions = [
    { kind: 'pin', line: 'n-1', qty: 1, source: { kind: 'copy', copy: 'y-1', stage: 'a', item: b } },
    { kind: 'forbid', item: c, uses: [{ item: b, qty: 1 }] },
    { kind: 'accept', line: 'n-1', item: a, uses: [{ item: b, qty: 1 }] },
    { kind: 'own', part: other.id, points: 2, uses: [{ part: from.id, qty: 2 }] },
    { kind: 'own', part: into.id, points: 2, uses: [{ part: from.id, qty: 2 }] },
  ].map((what, i) => ({ id: `d-${i}`, build: null, what }) as unknown as Decision)
  const { put, remove } = merge(from, into, { decisions }).changes.decisions
  expect(put.map((d) => d.what)).toMatchObject([
    { source: { item: a } },
    { item: c, uses: [{ item: a, qty: 1 }] },
    { part: other.id, uses: [{ part: into.id, qty: 2 }] },
  ])
  expect(remove).toEqual(['d-2', 'd-4'])
})

test('records from elsewhere follow the merges of a catalogue and bring no part that it knows by another name', () => {
  const [into, from] = PARTS
  if (!into || !from) throw new Error('test data')
  fc.assert(
    fc.property(users, (foreign) => {
      const merged = merge(from, into, {}).part
      const told = inTermsOf<RecordsByKind>(partIndex([merged]), { ...foreign, parts: [into, from] }, REGISTRY)
      expect(told.parts?.map((p) => p.id)).toEqual([into.id])
      expect(JSON.stringify(told)).not.toContain(`${from.id}|`)
      expect(census({ ...foreign, ...told })).toEqual(census(foreign))
    }),
  )
})

/** A record of every kind, each with the plate wherever it can name a part. */
const NAMING = {
  ...SAMPLES,
  versions: { ...SAMPLES.versions, design: SAMPLES.designs },
  plans: {
    ...SAMPLES.plans,
    problem: {
      ...SAMPLES.plans.problem,
      items: [{ id: plate, part: PLATE?.id, colour: 'c-soot', mass: 1, owned: 0, resale: null }],
    },
  },
  decisions: {
    ...SAMPLES.decisions,
    what: { ...SAMPLES.decisions.what, part: TILE?.id, uses: [{ part: PLATE?.id, qty: 2 }] },
  },
} as unknown as { readonly [K in keyof Records]: Records[K][number] }

/** Kinds of which no record ever names a part; a new kind has to be here or be renamed. */
const NAMELESS: readonly (keyof Records)[] = ['colours', 'places', 'builds', 'shops', 'pictures', 'entries', 'notes']

test.each(RECORD_KINDS)('a merge reaches every name of the part in %s', (kind) => {
  if (!PLATE || !BRICK) throw new Error('test data')
  const before = NAMING[kind]
  const names = (record: unknown) => JSON.stringify(record).includes(PLATE?.id ?? '')
  expect(names(before)).toBe(!NAMELESS.includes(kind))
  const merged = mergeParts<RecordsByKind>(PLATE, BRICK, { [kind]: [before] }, REGISTRY)
  const { put, remove } = merged.changes[kind] as TakenOver<{ readonly id: string }>
  // The part itself is taken over as a whole: it goes, and its names are the other's.
  if (kind === 'parts' || NAMELESS.includes(kind)) {
    expect([put, remove]).toEqual([[], []])
    expect(merged.removed).toBe(PLATE.id)
    return
  }
  expect(put.length + remove.length).toBe(1)
  expect(put.some(names)).toBe(false)
  expect([...put.map((r) => r.id), ...remove]).toEqual([before.id])
})
