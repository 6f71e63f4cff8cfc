import fc from 'fast-check'
import * as v from 'valibot'
import { ChangesSchema, type Changes } from '../build/scenario.ts'
import { defaultRules } from '../build/house-rules.ts'
import { looserSteps, otherValues, tighterSteps } from '../build/rule-steps.ts'
import { explode } from '../design/explode.ts'
import { fixture, of, OTHER } from '../netting/fixture.test-data.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { DesignVersion } from '../design/version.ts'
import { currency } from '../units/money.ts'
import { changedBuild } from './changed-build.ts'
import type { ColourId, CopyId, DecisionId, LineId, ModuleId, VersionId } from '../units/ids.ts'

const EUR = currency('EUR')
const set = {
  id: 's-hut',
  name: 'Hut',
  stages: [{ id: 'a', name: 'A' }],
  lines: [{ stage: 'a', item: of('plate 2x4'), qty: 3, spare: false }],
} as unknown as DonorSet
const copy = (id: string, more: Partial<Copy>): Copy =>
  ({
    id,
    setId: 's-hut',
    label: id,
    buildId: 'b-t',
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
    ...more,
  }) as Copy
const snapshot = fixture(
  {},
  [
    { item: of('plate 2x4'), qty: 3 },
    { item: of('brick 2x2'), qty: 2, visibility: 'hidden' },
  ],
  [],
  {
    sets: [set],
    copies: [copy('y-have', {}), copy('y-want', { state: 'to-buy', askingPrice: { minor: 500, currency: EUR } })],
  },
)
const versions: DesignVersion[] = [
  {
    id: 'v-1' as VersionId,
    buildId: snapshot.build.id,
    name: 'First',
    at: '2026-11-01T00:00:00.000Z',
    design: { ...snapshot.design, modules: snapshot.design.modules.map((m) => ({ ...m, lines: m.lines.slice(1) })) },
  },
]
const other = OTHER as ColourId
const serial = () => {
  let n = 0
  return () => String(n++)
}
const changed = (changes: Changes) => {
  const result = changedBuild(snapshot, changes, versions, serial())
  if (!result.ok) throw new Error(result.error.message)
  return result.value
}
const pieces = (changes: Changes) =>
  explode(changed(changes).design, { parts: snapshot.parts }).reduce((n, r) => n + r.qty, 0)
const first = snapshot.design.modules[0]
const line = first?.lines[0]
if (!first || !line) throw new Error('the design has modules with lines')

test('no changes change nothing', () => {
  const { build, design, copies, decisions } = changed({})
  expect({ build, design, copies, decisions }).toEqual({
    build: snapshot.build,
    design: snapshot.design,
    copies: snapshot.copies,
    decisions: snapshot.decisions ?? [],
  })
})

test('a module that is put off needs nothing; repeated and left out lines count as they say', () => {
  const all = pieces({})
  const own = first.lines.reduce((n, l) => n + l.qty, 0)
  expect(first.lines.every((l) => l.steps === undefined)).toBe(true)
  expect(pieces({ modules: [{ module: first.id, later: true }] })).toBe(all - own * first.repeats)
  expect(pieces({ modules: [{ module: first.id, repeats: first.repeats + 2 }] })).toBe(all + 2 * own)
  expect(pieces({ leftOut: [line.id] })).toBe(all - line.qty * first.repeats)
})

test('lines in another colour stay the same part; locked lines keep their freedom', () => {
  const { design } = changed({ recoloured: [{ lines: [line.id], colour: other }] })
  expect(design.modules[0]?.lines[0]?.item.split('|').slice(0, 2)).toEqual([line.item.split('|')[0], other])
  const locked = {
    ...snapshot,
    design: {
      ...snapshot.design,
      modules: [{ ...first, lines: [{ ...line, locked: true }, ...first.lines.slice(1)] }],
    },
  }
  const freed = changedBuild(locked, { freed: { which: 'all', freedom: 'free' } }, versions, serial())
  const lines = freed.ok ? freed.value.design.modules.flatMap((m) => m.lines) : []
  expect(lines[0]?.freedom).toBe(line.freedom)
  expect(lines.slice(1).every((l) => l.freedom === 'free')).toBe(true)
})

test('copies beyond those wanted are new, come after the first by id, and just so many are bought', () => {
  const { build, copies } = changed({ copies: { 'y-want': 3 } })
  const further = copies.filter((c) => !snapshot.copies.includes(c))
  expect(further).toHaveLength(2)
  expect(further.every((c) => c.id > ('y-want' as CopyId) && c.state === 'to-buy')).toBe(true)
  expect(build.rules.buyCopies).toEqual({ 'y-want': 3 })
  expect(changed({ copies: { 'y-want': 0 } }).copies).toEqual(snapshot.copies)
})

test('a shop that may be used again loses its stance, another gets one', () => {
  const excluded = {
    ...snapshot,
    build: { ...snapshot.build, rules: { ...snapshot.build.rules, shops: { a: 'excluded' } } },
  } as typeof snapshot
  const result = changedBuild(excluded, { shops: { a: 'free', b: 'pinned' } }, versions, serial())
  expect(result.ok && result.value.build.rules.shops).toEqual({ b: 'pinned' })
})

test.each<[string, Changes]>([
  ['version gone', { version: 'v-none' as VersionId }],
  ['colourway gone', { colourway: 'none' }],
  ['module gone', { modules: [{ module: 'm-none' as ModuleId, later: true }] }],
  ['line gone', { leftOut: ['n-none' as LineId] }],
  ['line gone', { recoloured: [{ lines: ['n-none' as LineId], colour: other }] }],
  ['copies gone', { copies: { 'y-none': 1 } }],
  ['copies gone', { copies: { 'y-have': 1 } }],
  ['decision gone', { takenBack: ['d-none' as DecisionId] }],
])('%s is told with its remedy', (code, changes) => {
  const result = changedBuild(snapshot, changes, versions, serial())
  expect(result).toMatchObject({
    ok: false,
    error: { code, message: expect.stringContaining('Take that change out') as string },
  })
})

test('another version takes the place of the design, and lines of the old one are gone there', () => {
  const [version] = versions
  if (!version) throw new Error('there is a version')
  expect(changed({ version: version.id }).design.modules).toEqual(version.design.modules)
  expect(changedBuild(snapshot, { version: version.id, leftOut: [line.id] }, versions, serial())).toMatchObject({
    ok: false,
    error: { code: 'line gone' },
  })
})

test('an empty table of rules stays empty: no rule gets its default by being read', () => {
  expect(v.parse(ChangesSchema, { rules: { maxShops: 3 } })).toEqual({ rules: { maxShops: 3 } })
  expect(v.safeParse(ChangesSchema, { rules: { maxShops: 0 } }).success).toBe(false)
  expect(v.safeParse(ChangesSchema, { copies: { y: -1 } }).success).toBe(false)
  expect(v.safeParse(ChangesSchema, { leftOut: [] }).success).toBe(false)
})

test('a step looser is never a step stricter, and each changes the rules', () => {
  const rules = fc.record({
    condition: fc.constantFrom('new', 'used', 'worn'),
    colours: fc.constantFrom('exact', 'near', 'free where hidden', 'within the palette'),
    moulds: fc.constantFrom('never', 'where hidden', 'anywhere'),
    splits: fc.constantFrom('never', 'where hidden', 'anywhere', 'structural too'),
    altering: fc.constantFrom('never', 'lengths', 'allowed'),
    wornHidden: fc.boolean(),
    thirdParty: fc.boolean(),
  })
  fc.assert(
    fc.property(rules, (some) => {
      const now = { ...defaultRules, ...some } as typeof defaultRules
      const key = (change: object) => JSON.stringify(change)
      const looser = looserSteps(now).map((s) => key(s.change))
      const tighter = tighterSteps(now).map((s) => key(s.change))
      expect(looser.filter((k) => tighter.includes(k))).toEqual([])
      for (const { change } of [...looserSteps(now), ...tighterSteps(now), ...otherValues(now)])
        expect(Object.entries(change).some(([rule, value]) => now[rule as keyof typeof now] !== value)).toBe(true)
      // What was made stricter by a step can be made looser again.
      for (const { change } of tighterSteps(now)) {
        const strict = { ...now, ...change }
        expect(looserSteps(strict).length).toBeGreaterThan(0)
      }
    }),
  )
})
