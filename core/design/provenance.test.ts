import { currency } from '../units/money.ts'
import { defaultRules } from '../build/house-rules.ts'
import { PRESETS, presetOf } from '../build/presets.ts'
import { instructionsCost, permissionConflicts, type Provenance } from './provenance.ts'

const bought: Provenance = {
  author: 'M. Weaver',
  licence: 'for one build, not for resale',
  price: { minor: 1250, currency: currency('EUR') },
  permits: { share: true, sell: false },
}

test.each([
  ['keep', bought, []],
  ['share', bought, []],
  ['sell', bought, [{ purpose: 'sell', author: 'M. Weaver', licence: 'for one build, not for resale' }]],
  ['sell', undefined, []],
  [undefined, bought, []],
] as const)('a build to %s under that licence', (purpose, provenance, expected) => {
  expect(permissionConflicts(purpose, provenance)).toEqual(expected)
})

test('each preset is recognised by its own rules and by no other preset’s', () => {
  for (const preset of PRESETS) expect(presetOf({ ...defaultRules, ...preset.rules })).toBe(preset.name)
  expect(presetOf({ ...defaultRules, estimatePercent: 10 })).toBeUndefined()
})

test('several authors meet in one build: each module answers for itself, ideas for later for nothing', () => {
  const other: Provenance = {
    author: 'N. Reed',
    licence: 'free to share',
    price: { minor: 300, currency: currency('EUR') },
    permits: { share: true, sell: true },
  }
  const modules = [
    { name: 'Dome', provenance: bought },
    { name: 'Pines', provenance: other },
    { name: 'Idea', provenance: bought, later: true },
    { name: 'Own' },
  ]
  expect(permissionConflicts('sell', undefined, modules).map((c) => [c.module, c.author])).toEqual([
    ['Dome', 'M. Weaver'],
  ])
  expect(permissionConflicts('sell', bought, modules)).toHaveLength(2)
  expect(permissionConflicts('share', bought, modules)).toEqual([])
  expect(instructionsCost('EUR', bought, modules)).toBe(1250 + 1250 + 300 + 1250)
  expect(instructionsCost('CHF', bought, modules)).toBe(0)
})
