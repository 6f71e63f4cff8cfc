import fc from 'fast-check'
import { colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { partFromName } from '../catalogue/part.ts'
import { blockLines } from './pasted-block.ts'
import { readQuickLine } from './quick-line.ts'

const colours = colourIndex(PALETTE)
const read = (text: string) =>
  blockLines(text, colours).map((line) => {
    const typed = readQuickLine(line, colours)
    return typed.ok ? `${typed.value.qty} ${typed.value.part.id} ${typed.value.colour?.name}` : typed.error.code
  })

test('a block is understood in any order of its columns, with or without headings, with what belongs to no piece left out', () => {
  const parts = ['plate 2x4', 'brick 1x1', 'slope 2x2 45°', 'tile 1x4']
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(fc.constantFrom(...parts), fc.constantFrom(...PALETTE.slice(0, 8)), fc.integer({ min: 1, max: 99 })),
        {
          minLength: 2,
          maxLength: 6,
        },
      ),
      fc.shuffledSubarray(['part', 'colour', 'qty'], { minLength: 3 }),
      fc.boolean(),
      (rows, order, headed) => {
        const cells = rows.map(([part, colour, qty]) => ({ part, colour: colour.name, qty: String(qty) }))
        const line = (of: Record<string, string>) => order.map((field) => of[field]).join('\t')
        const text = [
          ...(headed ? [line({ part: 'Part', colour: 'Colour', qty: 'Quantity' })] : []),
          ...cells.map(line),
        ]
        expect(read(`${text.join('\r\n')}\r\n`)).toEqual(
          rows.map(([part, colour, qty]) => `${qty} ${partFromName(part).id} ${colour.name}`),
        )
      },
    ),
  )
})

test('more columns, a title and a total do no harm; a blank colour is the one above, as in a list; what is refused is not read', () => {
  const block =
    'My box\t\t\t\nPart\tColour\tPieces\tPlace\nplate 2x4\tSoot\t12\tDrawer 1\nbrick 1x1\t\t3\tDrawer 1\ntile 1x4\tnowhere\tmany\tDrawer 1\nTotal\t\t15\t\n'
  expect(read(block)).toEqual(['12 p-plate-2x4 Soot', '3 p-brick-1x1 Soot', 'no colour'])
})

test('plain lines stay as they are, and tabs between words are spaces where no columns are told', () => {
  expect(blockLines('14 plate 2x8 Soot\n\n  2 tile 1x4 Chalk \n', colours)).toEqual([
    '14 plate 2x8 Soot',
    '2 tile 1x4 Chalk',
  ])
  expect(blockLines('nothing\tto read', colours)).toEqual(['nothing to read'])
})
