import fc from 'fast-check'
import { PALETTE } from '../colours/palette.ts'
import { completable, completions } from './completions.ts'

const names = completable(
  ['plate 2x4', 'plate 2x6', 'brick 1x1'].map((name) => ({ name })),
  PALETTE,
)

test.each<[string, readonly string[]]>([
  ['12 pla', ['12 plate 2x4 ', '12 plate 2x6 ']],
  ['br', ['brick 1x1 ']],
  ['12 plate 2x4 so', ['12 plate 2x4 Soot']],
  ['3 plate 2x4 weathered s', ['3 plate 2x4 Weathered slate']],
  [
    'plate 2x4 clear',
    ['plate 2x4 Clear ice', 'plate 2x4 Clear honey', 'plate 2x4 Clear berry', 'plate 2x4 Clear lagoon'],
  ],
  ['12 plate 2x4 Soot', []],
  ['12', []],
  ['', []],
])('%j goes on as %j', (text, expected) => {
  expect(completions(text, names)).toEqual(expected)
})

test('what is offered begins as what was typed, whatever its case', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...names.parts),
      fc.constantFrom(...PALETTE),
      fc.nat(30),
      fc.boolean(),
      (part, colour, cut, upper) => {
        const whole = `7 ${part.name} ${colour.name}`
        const typed = whole.slice(0, Math.max(5, whole.length - cut))
        for (const offered of completions(upper ? typed.toUpperCase() : typed, names))
          expect(offered.toLowerCase().startsWith(typed.toLowerCase().trimEnd())).toBe(true)
      },
    ),
  )
})

test('among 5,000 parts an answer takes a fraction of what one notices', () => {
  const many = completable(
    Array.from({ length: 5000 }, (_, i) => ({ name: `plate ${i % 40}x${Math.floor(i / 40)} pattern ${i}` })),
    PALETTE,
  )
  const started = performance.now()
  for (let i = 0; i < 200; i++) completions('12 plate 39x124 pattern 49', many)
  // The aim is 50 ms each; here 200 of them have ten times that of one, on a busy machine too.
  expect((performance.now() - started) / 200).toBeLessThan(50)
})
