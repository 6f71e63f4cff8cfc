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
}
const id = SAMPLES.builds.id

test('a removed build takes with it all that is its own, of every kind, and frees what served it', () => {
  const { remove, copies, holdings } = removeBuild(id, records)
  for (const kind of RECORD_KINDS) {
    const { buildOf } = kindOf(kind)
    const own = records[kind].filter((r) => (kind === 'builds' ? r.id === id : buildOf?.(r as never) === id))
    expect([kind, remove[kind]]).toEqual([kind, own.map((r) => r.id)])
  }
  expect(remove.decisions).not.toContain('d-always')
  expect(remove.holdings).toEqual([])
  expect(copies).toEqual([{ ...SAMPLES.copies, buildId: null }])
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
})
