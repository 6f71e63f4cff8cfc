import { MOST_PIXELS, pictureSize } from './picture-size.ts'
import * as v from 'valibot'
import { PictureSchema } from './version.ts'

const url = (type: string, bytes: readonly number[]) =>
  `data:image/${type};base64,${Buffer.from(bytes).toString('base64')}`
const be = (n: number, size: number) => Array.from({ length: size }, (_, i) => (n >> (8 * (size - 1 - i))) & 255)
const png = (width: number, height: number) => [
  ...[0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a],
  ...be(13, 4),
  ...Buffer.from('IHDR'),
  ...be(width, 4),
  ...be(height, 4),
  ...[8, 6, 0, 0, 0, 0, 0, 0, 0],
]

// The smallest transparent GIF-like PNG that is widely copied (1 × 1), recalled from memory.
test('a known picture of one pixel', () => {
  const known = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='
  expect(pictureSize(`data:image/png;base64,${known}`)).toEqual({ width: 1, height: 1 })
})

test('headers of the three formats tell the pixels', () => {
  expect(pictureSize(url('png', png(16_000, 12)))).toEqual({ width: 16_000, height: 12 })
  const jpeg = [
    0xff,
    0xd8,
    0xff,
    0xe0,
    ...be(4, 2),
    1,
    2,
    0xff,
    0xc2,
    ...be(17, 2),
    8,
    ...be(300, 2),
    ...be(700, 2),
    3,
    0,
    0,
    0,
    0,
  ]
  expect(pictureSize(url('jpeg', jpeg))).toEqual({ width: 700, height: 300 })
  const riff = [...Buffer.from('RIFF'), 0, 0, 0, 0, ...Buffer.from('WEBP')]
  const extended = [...riff, ...Buffer.from('VP8X'), 10, 0, 0, 0, 0, 0, 0, 0, 0x7f, 0x3e, 0, 0x0f, 0, 0]
  expect(pictureSize(url('webp', extended))).toEqual({ width: 16_000, height: 16 })
  expect(pictureSize(url('png', [1, 2, 3]))).toBeUndefined()
})

test('a picture that unpacks to 16,000 × 16,000 is refused, the largest that is allowed is not', () => {
  const record = (side: number) => ({ id: 'i-1', name: 'a', data: url('png', png(side, side)) })
  expect(v.is(PictureSchema, record(16_000))).toBe(false)
  expect(v.is(PictureSchema, record(MOST_PIXELS))).toBe(true)
})
