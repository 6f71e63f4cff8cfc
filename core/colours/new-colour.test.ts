import { ColourDistances } from './colour-distances.ts'
import { confirmed, newColour } from './new-colour.ts'
import { PALETTE } from './palette.ts'

test('a new colour is a guess by its name, and never near another until somebody confirms it', () => {
  const red = newColour('  Dark   red ')
  expect(red).toMatchObject({ name: 'Dark red', hex: '#8b0000', finish: 'opaque', guessed: true })
  const other = PALETTE.find((c) => c.name === 'Rowanberry') ?? red
  const apart = (one: typeof red) =>
    new ColourDistances(new Map([one, other].map((c) => [c.id, c]))).apart(one.id, other.id)
  expect(apart(red)).toBeUndefined()
  expect(confirmed(red)).not.toHaveProperty('guessed')
  expect(apart(confirmed(red))).toBeGreaterThan(0)
})
