import { kindOf, RECORD_KINDS, type Records } from './registry.ts'
import { SAMPLES } from './records.test-data.ts'
import { copyBuild, removeBuild } from './build-acts.ts'
import type { BuildId } from '../units/ids.ts'

const all = Object.fromEntries(RECORD_KINDS.map((kind) => [kind, [SAMPLES[kind]]])) as unknown as Records
const records: Records = {
  ...all,
  decisions: [
    { ...SAMPLES.decisions, id: 'd-own' },
    { ...SAMPLES.decisions, id: 'd-always', build: null },
    {
      ...SAMPLES.decisions,
      id: 'd-pin',
      what: { kind: 'pin', line: 'n-1', qty: 1, source: { kind: 'shelf', holding: 'h-1' } },
    },
  ] as unknown as Records['decisions'],
  designs: [
    { ...SAMPLES.designs, modules: SAMPLES.designs.modules.map((m) => ({ ...m, built: ['l-1'] })) },
  ] as unknown as Records['designs'],
  scenarios: [
    { changes: { rules: { condition: 'worn' }, copies: { 'y-1': 2 }, takenBack: ['d-own', 'd-gone'] } },
    { changes: { version: 'v-1' } },
    { buildId: 'b-other', changes: { freed: { which: 'all', freedom: 'free' } } },
  ].map((s, i) => ({ ...SAMPLES.scenarios, id: `w-${i}`, ...s })) as unknown as Records['scenarios'],
}
const id = SAMPLES.builds.id

test('a removed build takes with it all that is its own, of every kind, and frees what served it', () => {
  const { remove, copies, holdings, lots } = removeBuild(id, records)
  for (const kind of RECORD_KINDS) {
    const { buildOf } = kindOf(kind)
    const own = records[kind].filter((r) => (kind === 'builds' ? r.id === id : buildOf?.(r as never) === id))
    expect([kind, remove[kind]]).toEqual([kind, own.map((r) => r.id)])
  }
  expect(remove.decisions).not.toContain('d-always')
  expect(remove.holdings).toEqual([])
  // What was in its unfinished model goes back: to the copy, to its place, and what was found lies with what comes out.
  const [copy] = copies
  expect(copy?.buildId).toBeNull()
  const lacks = (of: typeof copy) =>
    of?.missing.reduce((n, m) => n + (m.item === SAMPLES.units.put[1]?.item ? m.qty : 0), 0) ?? 0
  expect(lacks(SAMPLES.copies) - lacks(copy)).toBe(Math.min(2, lacks(SAMPLES.copies)))
  expect(lots.map((l) => [l.place, l.qty, l.reserved])).toEqual([
    ['l-1', 2, undefined],
    ['l-out-of-models', 1, undefined],
    // So does what it offered for sale.
    ['l-1', 2, undefined],
  ])
  const { reserved: _, ...free } = SAMPLES.holdings
  expect(holdings).toEqual([free])
})

test('a copy has rules, design and decisions of its own, and nothing that there is only once', () => {
  let n = 0
  const copy = copyBuild(SAMPLES.builds, records, 'b-2' as BuildId, () => `x${n++}`)
  expect(copy.build).toMatchObject({ id: 'b-2', name: `${SAMPLES.builds.name} (copy)`, rules: SAMPLES.builds.rules })
  expect(copy.design.id).toBe('b-2')
  expect(copy.design.modules.map((m) => [m.name, m.built])).toEqual([['M', undefined]])
  expect(copy.design.modules[0]?.lines).toEqual(records.designs[0]?.modules[0]?.lines)
  expect(copy.decisions.map((d) => [d.id, d.build, d.what.kind])).toEqual([['d-x0', 'b-2', 'own']])
  // What names donor copies or versions of the first build is left out, decisions are the copy's own.
  expect(copy.scenarios.map((s) => [s.id, s.buildId, s.changes])).toEqual([
    ['w-x1', 'b-2', { rules: { condition: 'worn' }, takenBack: ['d-x0'] }],
  ])
})
