import fc from 'fast-check'
import { estimateMass } from './mass.ts'

// Weights of common pieces, common practice, recalled from memory: the model is held to 15 % of each.
test.each([
  ['brick', 1, 1, 3, 430],
  ['brick', 2, 4, 3, 2300],
  ['plate', 1, 1, 1, 190],
  ['plate', 2, 4, 1, 1100],
] as const)('a %s %i×%i weighs about what it is known to weigh', (family, width, length, height, mg) => {
  expect(Math.abs(estimateMass(family, width, length, height) / mg - 1)).toBeLessThan(0.15)
})

const size = fc.integer({ min: 1, max: 48 })
test('a larger piece is never lighter, turning it changes nothing, and masses are whole milligrams above 0', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('brick' as const, 'plate' as const, 'tile' as const, 'slope' as const, 'wedge' as const),
      size,
      size,
      fc.integer({ min: 1, max: 15 }),
      (family, width, length, height) => {
        const mass = estimateMass(family, width, length, height)
        expect(Number.isSafeInteger(mass) && mass > 0).toBe(true)
        expect(estimateMass(family, length, width, height)).toBe(mass)
        expect(estimateMass(family, width + 1, length, height)).toBeGreaterThanOrEqual(mass)
        expect(estimateMass(family, width, length, height + 1)).toBeGreaterThanOrEqual(mass)
      },
    ),
  )
})

test('a name that tells no size still weighs something', () => {
  for (const family of ['brick', 'accessory', 'sticker', 'hose'] as const)
    expect(estimateMass(family, 0, 0, 0)).toBeGreaterThan(0)
})
