import { converter, filterDeficiencyDeuter, filterDeficiencyProt, filterDeficiencyTrit, formatHex } from 'culori'
import fc from 'fast-check'
import { seenAs } from './vision.ts'

const hex = fc
  .tuple(fc.nat(255), fc.nat(255), fc.nat(255))
  .map((c) => `#${c.map((n) => n.toString(16).padStart(2, '0')).join('')}`)

// Machado, Oliveira and Fernandes (2009), with the matrices as the reference library `culori` has them, applied to linear
// light as the paper does.
test('colour vision is simulated by the published matrices', () => {
  const filters = {
    protan: filterDeficiencyProt(1),
    deutan: filterDeficiencyDeuter(1),
    tritan: filterDeficiencyTrit(1),
  } as const
  const [toLinear, toEncoded] = [converter('lrgb'), converter('rgb')]
  fc.assert(
    fc.property(hex, fc.constantFrom('protan' as const, 'deutan' as const, 'tritan' as const), (colour, vision) => {
      const light = toLinear(colour)
      if (!light) throw new Error('a colour')
      const seen = filters[vision]({ mode: 'rgb', r: light.r, g: light.g, b: light.b })
      const clamp = (n: number) => Math.min(1, Math.max(0, n))
      const expected = toEncoded({ mode: 'lrgb', r: clamp(seen.r), g: clamp(seen.g), b: clamp(seen.b) })
      const bytes = (text: string) => [1, 3, 5].map((i) => parseInt(text.slice(i, i + 2), 16))
      const own = bytes(seenAs(colour, vision))
      for (const [i, byte] of bytes(formatHex(expected)).entries())
        expect(Math.abs((own[i] ?? 0) - byte)).toBeLessThanOrEqual(1)
    }),
  )
  // Each row of a matrix adds up to 1: greys stay as they are.
  for (const grey of ['#000000', '#7f7f7f', '#ffffff']) expect(seenAs(grey, 'deutan')).toBe(grey)
})
