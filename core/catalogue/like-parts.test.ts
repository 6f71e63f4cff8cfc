import { likeParts } from './like-parts.ts'
import { partAsWritten, partFromName } from './part.ts'

const known = ['plate 2x4', 'brick 2x4', 'plate 2x4 with hole', 'slope 2x4 45°'].map(partFromName)

test('names of a known size that say their height in words of their own are offered as the same; others are not', () => {
  const found = likeParts(['flat 2x4', 'thin brick 2x4', 'brick 2x4', 'plate 2x4 with clip', 'gear 24', 'dinky'], known)
  expect(found.map((f) => f.name)).toEqual(['flat 2x4', 'thin brick 2x4'])
  // The shorter names first, what is known before what is not; slopes are no plates.
  expect(found[0]?.same).toEqual(['brick 2x4', 'plate 2x4', 'plate 2x4 with hole', 'tile 2x4'])
})

test('in an empty profile the plain families of the size are offered', () => {
  expect(likeParts(['flat 1 x 6'], []).map((f) => f.same)).toEqual([['plate 1x6', 'tile 1x6', 'brick 1x6']])
})

test('what was said once is known: another name of a part is not asked about again', () => {
  const flat = partFromName('flat 2x4')
  const wiser = known.map((p) => (p.name === 'plate 2x4' ? { ...p, aliases: [flat.id] } : p))
  expect(likeParts(['flat 2x4'], wiser)).toEqual([])
})

test('a part keeps the name it was written with, and is found by any spelling', () => {
  const mine = partAsWritten('  2 by 4   Plate ')
  expect(mine.name).toBe('2 by 4 Plate')
  expect(mine.id).toBe(partFromName('plate 2x4').id)
  expect(mine.shape).toEqual(partFromName('plate 2x4').shape)
  expect(partAsWritten('x'.repeat(300)).name).toHaveLength(200)
})
