import fc from 'fast-check'
import { ciede2000, hexToLab, type Lab } from './distance.ts'

const lab = (l = 0, a = 0, b = 0): Lab => ({ mode: 'lab65', l, a, b })

// Sharma, Wu and Dalal (2005), table 1, a selection of the published pairs with their differences.
const TABLE: readonly (readonly number[])[] = [
  [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
  [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
  [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
  [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
  [50, 0, 0, 50, -1, 2, 2.3669],
  [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
  [50, 2.5, 0, 50, 0, -2.5, 4.3065],
  [50, 2.5, 0, 73, 25, -18, 27.1492],
  [50, 2.5, 0, 61, -5, 29, 22.8977],
  [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
  [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
  [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
  [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
]

test.each(TABLE)('published pair %f %f %f / %f %f %f', (L1, a1, b1, L2, a2, b2, expected) => {
  const p = lab(L1, a1, b1)
  const q = lab(L2, a2, b2)
  expect(ciede2000(p, q)).toBeCloseTo(expected ?? NaN, 4)
  expect(ciede2000(q, p)).toBeCloseTo(expected ?? NaN, 4)
})

const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`)

// Primaries of sRGB under D65 in CIE L*a*b*, as colour handbooks print them to two decimals (recalled from memory).
test.each([
  ['#ffffff', 100, 0, 0],
  ['#000000', 0, 0, 0],
  ['#ff0000', 53.24, 80.09, 67.2],
  ['#00ff00', 87.73, -86.18, 83.18],
  ['#0000ff', 32.3, 79.19, -107.86],
])('%s is L* %f, a* %f, b* %f', (colour, l, a, b) => {
  const found = hexToLab(colour)
  for (const [value, expected] of [
    [found.l, l],
    [found.a, a],
    [found.b, b],
  ] as const)
    expect(Math.abs(value - expected)).toBeLessThan(0.02)
})

test('a colour is no distance from itself, and as far one way as the other', () => {
  fc.assert(
    fc.property(hex, hex, (p, q) => {
      const [own, other] = [hexToLab(p), hexToLab(q)]
      expect(ciede2000(own, own)).toBe(0)
      expect(ciede2000(own, other)).toBeCloseTo(ciede2000(other, own), 9)
      if (p !== q) expect(ciede2000(own, other)).toBeGreaterThan(0)
    }),
  )
})
