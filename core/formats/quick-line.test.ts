import { colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { readQuickLine } from './quick-line.ts'

const colours = colourIndex(PALETTE)

test.each([
  ['14 plate 2x8 Soot', 14, 'plate 2x8', 'Soot'],
  ['3x brick 1x1 weathered slate', 3, 'brick 1x1', 'Weathered slate'],
  ['Night sky tile 1x4', 1, 'tile 1x4', 'Night sky'],
  ['2 wedge plate 2x4, right hand, Chalk', 2, 'wedge plate 2x4 right hand', 'Chalk'],
])('%s', (text, qty, part, colour) => {
  const line = readQuickLine(text, colours)
  if (typeof line === 'string') throw new Error(line)
  expect([line.qty, line.part.name, line.colour.name]).toEqual([qty, part, colour])
})

test.each([
  ['', /Type a quantity/],
  ['4 plate 2x4', /No known colour/],
  ['0 plate 2x4 Soot', /at least 1/],
])('%j is answered with what is missing', (text, message) => {
  expect(readQuickLine(text, colours)).toMatch(message)
})
