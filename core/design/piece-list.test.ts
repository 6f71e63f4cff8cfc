import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { colourId, type BuildId, type LineId, type ModuleId } from '../units/ids.ts'
import type { Design } from './design.ts'
import { pieceGroups, type PieceListOptions } from './piece-list.ts'

const plate = partFromName('plate 2x4')
const [soot, chalk, peat] = ['Soot', 'Chalk', 'Peat'].map(colourId) as [
  ReturnType<typeof colourId>,
  ReturnType<typeof colourId>,
  ReturnType<typeof colourId>,
]
const of = (colour: typeof soot) => itemKey(plate.id, colour)
const id = (name: string) => `m-${name}` as ModuleId
const line = (n: number, colour: typeof soot, qty: number) => ({ id: `n-${n}` as LineId, item: of(colour), qty })

// Laid out by hand: a wing of 2 holds 3 windows each of 4 plates, its frame 5; a tower beside it has 7.
const design: Design = {
  id: 'b-t' as BuildId,
  modules: [
    { id: id('wing'), name: 'Wing', repeats: 2, colours: [{ from: soot, to: peat }], lines: [line(1, chalk, 5)] },
    { id: id('window'), name: 'Window', repeats: 3, within: id('wing'), lines: [line(2, soot, 4)] },
    { id: id('tower'), name: 'Tower', repeats: 1, lines: [line(3, soot, 7)] },
    { id: id('idea'), name: 'Idea', repeats: 1, later: true, lines: [line(4, soot, 9)] },
  ],
  colourways: [{ id: 'w', name: 'Winter', colours: [{ from: peat, to: chalk }] }],
}
const parts = new Map([[plate.id, plate]])
const listed = (options: PieceListOptions) => {
  const sums: Record<string, number> = {}
  for (const group of pieceGroups(design, parts, options).values())
    for (const [item, qty] of group) sums[item] = (sums[item] ?? 0) + qty
  return sums
}

test('a list of pieces counts the whole design, a module wherever it stands, or the module once, in its own colours', () => {
  expect(listed({})).toEqual({ [of(chalk)]: 10, [of(peat)]: 24, [of(soot)]: 7 })
  expect(listed({ module: id('window') })).toEqual({ [of(peat)]: 24 })
  expect(listed({ module: id('window'), once: true })).toEqual({ [of(peat)]: 4 })
  expect(listed({ module: id('wing'), once: true })).toEqual({ [of(chalk)]: 5, [of(peat)]: 12 })
  expect(listed({ module: id('idea') })).toEqual({ [of(soot)]: 9 })
  expect(listed({ colourway: 'w' })).toEqual({ [of(chalk)]: 34, [of(soot)]: 7 })
})

test('the same pieces by what they are for: each module has its own, and together they are the list', () => {
  const groups = pieceGroups(design, parts)
  expect(Object.fromEntries([...groups].map(([m, pieces]) => [m, Object.fromEntries(pieces)]))).toEqual({
    [id('wing')]: { [of(chalk)]: 10 },
    [id('window')]: { [of(peat)]: 24 },
    [id('tower')]: { [of(soot)]: 7 },
  })
  expect([...pieceGroups(design, parts, { module: id('wing'), once: true }).keys()]).toEqual([id('wing'), id('window')])
})
