import fc from 'fast-check'
import { colourIndex, type Colour } from '../colours/colour.ts'
import { isColourWord } from '../colours/name-guess.ts'
import { PALETTE } from '../colours/palette.ts'
import { colourId } from '../units/ids.ts'
import { readPieceText, similarColours, takeCount } from './piece-text.ts'

const colour = (name: string, hex = '#808080'): Colour => ({
  id: colourId(name),
  name,
  hex,
  finish: 'opaque',
  aliases: [],
})
const colours = colourIndex([...PALETTE, colour('Red', '#ff0000'), colour('Sea green')])

const PIECES: readonly (readonly [string, string, string, boolean])[] = [
  ['plate 2x4 Soot', 'plate 2x4', 'Soot', true],
  ['Soot plate 2x4', 'plate 2x4', 'Soot', true],
  ['plate 2x4, Weathered slate', 'plate 2x4', 'Weathered slate', true],
  ['plate 2x4 red', 'plate 2x4', 'red', true],
  // Known is red alone: another red is another colour, whole.
  ['plate 2x4 dark red', 'plate 2x4', 'dark red', false],
  ['dark red plate 2x4', 'plate 2x4', 'dark red', false],
  ['plate 2x4 sea green', 'plate 2x4', 'sea green', true],
  ['plate 2x4 dark sea green', 'plate 2x4', 'dark sea green', false],
  ['wedge plate 2x4, right hand, very pale lilac', 'wedge plate 2x4, right hand', 'very pale lilac', false],
  ['Platte 2x4 dunkel rot', 'Platte 2x4', 'dunkel rot', false],
  ['plate 2x4', 'plate 2x4', '', false],
]
test.each(PIECES.map((row) => [row] as const))('%j', ([text, part, colourName, known]) => {
  const read = readPieceText(text, colours)
  expect([read.part, read.colourName, read.colour !== undefined]).toEqual([part, colourName, known])
})

const COUNTS: readonly (readonly [string, string, string])[] = [
  ['12 plate 2x4 Soot', '12', 'plate 2x4 Soot'],
  ['12x plate 2x4 Soot', '12x', 'plate 2x4 Soot'],
  ['12 x plate 2x4 Soot', '12', 'plate 2x4 Soot'],
  ['x12 plate 2x4 Soot', 'x12', 'plate 2x4 Soot'],
  ['plate 2x4 12 Soot', '12', 'plate 2x4 Soot'],
  ['plate 2x4 Soot 12', '12', 'plate 2x4 Soot'],
  ['plate 2x4 Soot x 12', '12', 'plate 2x4 Soot'],
  ['plate 2x4 12 dark red', '12', 'plate 2x4 dark red'],
  ['2 x 4 plate Soot', '', '2 x 4 plate Soot'],
  ['plate 2 x 4 Soot', '', 'plate 2 x 4 Soot'],
  ['gear 24 Soot', '', 'gear 24 Soot'],
  ['gear 24 Soot 3', '3', 'gear 24 Soot'],
  ['3 gear 24 Soot', '3', 'gear 24 Soot'],
  ['plate 2x4 Soot', '', 'plate 2x4 Soot'],
]
test.each(COUNTS.map((row) => [row] as const))('%j', ([text, count, rest]) => {
  expect(takeCount(text, colours)).toEqual({ count, rest })
})

test('no word of a colour becomes part of a part’s name, in whatever order it is written', () => {
  const part = fc.constantFrom('plate 2x4', 'brick 1x1', 'slope 2x2 45°', 'wedge plate 2x4 left hand')
  const called = fc.constantFrom('Soot', 'Night sky', 'dark red', 'light blue', 'clear pink', 'very light grey')
  fc.assert(
    fc.property(
      part,
      called,
      fc.boolean(),
      fc.integer({ min: 1, max: 999 }),
      fc.nat(2),
      (name, tint, first, qty, where) => {
        const piece = first ? `${tint} ${name}` : `${name} ${tint}`
        const line = where === 0 ? `${qty} ${piece}` : where === 1 ? `${piece} x${qty}` : `${piece} ${qty}`
        const { count, rest } = takeCount(line, colours)
        const read = readPieceText(rest, colours)
        expect([count.replace('x', ''), read.part, read.colourName]).toEqual([String(qty), name, tint])
        expect(read.part.split(' ').some(isColourWord)).toBe(false)
      },
    ),
  )
})

test('what is alike is suggested, the most alike first', () => {
  expect(similarColours('slate', PALETTE).map((c) => c.name)).toEqual(['Weathered slate'])
  expect(similarColours('clear', PALETTE).map((c) => c.name)).toEqual([
    'Clear berry',
    'Clear honey',
    'Clear ice',
    'Clear lagoon',
  ])
  expect(similarColours('no such', PALETTE)).toEqual([])
})
