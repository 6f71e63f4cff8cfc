import { colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { readQuickLine } from './quick-line.ts'

const colours = colourIndex(PALETTE)

test.each([
  ['14 plate 2x8 Soot', 14, 'plate 2x8', 'Soot'],
  ['3x brick 1x1 weathered slate', 3, 'brick 1x1', 'Weathered slate'],
  ['Night sky tile 1x4', 1, 'tile 1x4', 'Night sky'],
  ['2 wedge plate 2x4, right hand, Chalk', 2, 'wedge plate 2x4, right hand', 'Chalk'],
  ['plate 2x8 14 Soot', 14, 'plate 2x8', 'Soot'],
  ['plate 2x8 Soot x14', 14, 'plate 2x8', 'Soot'],
  ['2 tile 2x2 Chalk + sticker | clock', 2, 'tile 2x2', 'Chalk'],
])('%s', (text, qty, part, colour) => {
  const read = readQuickLine(text, colours)
  if (!read.ok) throw new Error(read.error.message)
  const line = read.value
  expect([line.qty, line.part.name, line.colour?.name]).toEqual([qty, part, colour])
  expect(line.decoration).toBe(text.includes('+') ? 'sticker clock' : '')
})

test.each([
  ['', /Type a quantity/],
  ['4 plate 2x4', /No colour is named/],
  ['0 plate 2x4 Soot', /quantity is 0/],
  ['Soot', /No colour is named|Type a quantity/],
])('%j is answered with what is missing', (text, message) => {
  const read = readQuickLine(text, colours)
  expect(read.ok ? '' : read.error.message).toMatch(message)
})

// A part of a name is never taken for it: it is asked about.
test.each([
  ['4 plate 2x4 clear', 'plate 2x4', 'clear', ['Clear berry', 'Clear honey', 'Clear ice', 'Clear lagoon']],
  ['14 plate 2x8 weathered', 'plate 2x8', 'weathered', ['Weathered slate']],
  ['plate 2x4 12 dark red', 'plate 2x4', 'dark red', []],
])('%s is a colour that has to be said', (text, part, colourName, similar) => {
  const read = readQuickLine(text, colours)
  if (!read.ok) throw new Error(read.error.message)
  const line = read.value
  expect([line.part.name, line.colourName, line.colour, line.similar.map((c) => c.name)]).toEqual([
    part,
    colourName,
    undefined,
    similar,
  ])
})
