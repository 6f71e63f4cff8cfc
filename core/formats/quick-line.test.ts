import { colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { readQuickLine } from './quick-line.ts'

const colours = colourIndex(PALETTE)

test.each([
  ['14 plate 2x8 Soot', 14, 'plate 2x8', 'Soot'],
  ['3x brick 1x1 weathered slate', 3, 'brick 1x1', 'Weathered slate'],
  ['Night sky tile 1x4', 1, 'tile 1x4', 'Night sky'],
  ['2 wedge plate 2x4, right hand, Chalk', 2, 'wedge plate 2x4 right hand', 'Chalk'],
  ['14 plate 2x8 weathered', 14, 'plate 2x8', 'Weathered slate'],
  ['2 tile 2x2 Chalk + sticker | clock', 2, 'tile 2x2', 'Chalk'],
])('%s', (text, qty, part, colour) => {
  const read = readQuickLine(text, colours)
  if (!read.ok) throw new Error(read.error.message)
  const line = read.value
  expect([line.qty, line.part.name, line.colour.name]).toEqual([qty, part, colour])
  expect(line.decoration).toBe(text.includes('+') ? 'sticker clock' : '')
})

test.each([
  ['', /Type a quantity/],
  ['4 plate 2x4', /No known colour/],
  ['0 plate 2x4 Soot', /at least 1/],
  ['4 plate 2x4 clear', /"clear" could be Clear .*Write the whole name/],
])('%j is answered with what is missing', (text, message) => {
  const read = readQuickLine(text, colours)
  expect(read.ok ? '' : read.error.message).toMatch(message)
})
