import { converter, differenceCiede2000 } from 'culori'
import fc from 'fast-check'
import { ciede2000, hexToLab } from './distance.ts'

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
  const p = { L: L1 ?? 0, a: a1 ?? 0, b: b1 ?? 0 }
  const q = { L: L2 ?? 0, a: a2 ?? 0, b: b2 ?? 0 }
  expect(ciede2000(p, q)).toBeCloseTo(expected ?? NaN, 4)
  expect(ciede2000(q, p)).toBeCloseTo(expected ?? NaN, 4)
})

test('agrees with culori on any two sRGB colours', () => {
  const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`)
  const toLab = converter('lab65')
  const reference = differenceCiede2000()
  fc.assert(
    fc.property(hex, hex, (p, q) => {
      const [lp, lq] = [toLab(p), toLab(q)]
      if (!lp || !lq) throw new Error('culori reads every hex colour')
      expect(ciede2000(hexToLab(p), hexToLab(q))).toBeCloseTo(reference(lp, lq), 3)
    }),
  )
})
