import { currency } from '../units/money.ts'
import { defaultRules } from './house-rules.ts'
import { PRESETS, presetOf } from './presets.ts'
import { permissionConflict, type Provenance } from './provenance.ts'

const bought: Provenance = {
  author: 'M. Weaver',
  licence: 'for one build, not for resale',
  price: { minor: 1250, currency: currency('EUR') },
  permits: { share: true, sell: false },
}

test.each([
  ['keep', bought, undefined],
  ['share', bought, undefined],
  ['sell', bought, { purpose: 'sell', author: 'M. Weaver' }],
  ['sell', undefined, undefined],
  [undefined, bought, undefined],
] as const)('a build to %s under that licence', (purpose, provenance, expected) => {
  expect(permissionConflict(purpose, provenance)).toEqual(expected)
})

test('each preset is recognised by its own rules and by no other preset’s', () => {
  for (const preset of PRESETS) expect(presetOf({ ...defaultRules, ...preset.rules })).toBe(preset.name)
  expect(presetOf({ ...defaultRules, estimatePercent: 10 })).toBeUndefined()
})
