import fc from 'fast-check'
import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import { colourId, type BuildId, type ColourId, type LineId, type ModuleId, type PlaceId } from '../units/ids.ts'
import type { Design, DesignLine, Module } from './design.ts'
import { explode, ownPieces } from './explode.ts'
import { designFaults } from './faults.ts'
import { circularModules, nestingChoices } from './nesting.ts'
import { compareSymmetry, mirrorItem, mirrorPairs } from './mirror.ts'
import { moduleTree, moveModule, withoutModule } from './arrange-modules.ts'
import { composeSwaps, recolour, recolourGroup } from './recolour.ts'

const SOOT = colourId('Soot')
const id = (name: string) => `m-${name}` as ModuleId
const plain = (name: string) => itemKey(partFromName(name).id, SOOT)
const line = (name: string, qty: number, more: Partial<DesignLine> = {}): DesignLine => ({
  id: `n-${name}-${qty}` as LineId,
  item: plain(name),
  qty,
  ...more,
})
const module = (name: string, repeats: number, lines: DesignLine[], more: Partial<Module> = {}): Module => ({
  id: id(name),
  name,
  repeats,
  lines,
  ...more,
})
const design = (...modules: Module[]): Design => ({ id: 'b-t' as BuildId, modules })
const sums = (rows: Iterable<{ item: ItemKey; qty: number }>) => {
  const found = new Map<ItemKey, number>()
  for (const { item, qty } of rows) found.set(item, (found.get(item) ?? 0) + qty)
  return found
}

// Heizer and Render, "Operations Management", chapter on materials requirements planning: the product structure of
// "Speaker Kits, Inc.", 50 kits, and the net requirements with stock at every level. Recalled from memory.
test('a gross-to-net plan of a materials-planning textbook', () => {
  const models = (name: string, count: number) => Array.from({ length: count }, (_, i) => `l-${name}-${i}` as PlaceId)
  const kits = design(
    module('A', 50, [], { built: models('a', 10) }),
    module('B', 2, [line('D', 2), line('E', 2)], { within: id('A'), built: models('b', 15) }),
    module('C', 3, [line('E', 2)], { within: id('A'), built: models('c', 20) }),
    module('F', 2, [line('D', 2), line('G', 1)], { within: id('C'), built: models('f', 5) }),
  )
  const rows = explode(kits)
  const of = (name: string, open = false) =>
    sums(rows.map((r) => ({ item: r.item, qty: open ? r.qty - r.built : r.qty }))).get(plain(name))
  expect([of('D'), of('E'), of('G')]).toEqual([800, 500, 300])
  // 40 kits are left to make, 65 B, 100 C, 195 F; before the loose D, E and G in stock (10, 10, 0).
  expect([of('D', true), of('E', true), of('G', true)]).toEqual([520, 330, 195])
})

type Tree = { repeats: number; mirrored: boolean; swap: boolean; lines: { part: number; qty: number }[]; inner: Tree[] }
const HANDED = ['wedge 2x4 left hand', 'wedge 2x4 right hand', 'brick 2x4'].map(partFromName)
const parts = new Map(HANDED.map((p) => [p.id, p]))
const handed = (i: number) => (HANDED[i] ?? partFromName('brick 2x4')).id
const CHALK = colourId('Chalk')
const trees = (inner: fc.Arbitrary<Tree[]>): fc.Arbitrary<Tree> =>
  fc.record({
    repeats: fc.integer({ min: 1, max: 3 }),
    mirrored: fc.boolean(),
    swap: fc.boolean(),
    lines: fc.array(fc.record({ part: fc.nat(2), qty: fc.integer({ min: 1, max: 4 }) }), { maxLength: 3 }),
    inner,
  })
const leaf = trees(fc.constant([]))
const tree = trees(fc.array(trees(fc.array(leaf, { maxLength: 2 })), { maxLength: 2 }))

/** Lays out every single piece by hand: walks each repeat of each module. */
function layOut(node: Tree, mirrored: boolean, colour: (c: ColourId) => ColourId): ItemKey[] {
  const turned = mirrored !== node.mirrored
  const shade = (c: ColourId) => colour(node.swap ? (c === SOOT ? CHALK : c === CHALK ? SOOT : c) : c)
  const pieces: ItemKey[] = []
  for (let r = 0; r < node.repeats; r++) {
    for (const { part, qty } of node.lines) {
      const drawn = turned && part < 2 ? 1 - part : part
      for (let n = 0; n < qty; n++) pieces.push(itemKey(handed(drawn), shade(SOOT)))
    }
    for (const inner of node.inner) pieces.push(...layOut(inner, turned, shade))
  }
  return pieces
}

test('nested, repeated, mirrored and recoloured modules come to what laying out every piece does', () => {
  fc.assert(
    fc.property(tree, (root) => {
      const modules: Module[] = []
      const add = (node: Tree, within: ModuleId | undefined) => {
        const own = id(String(modules.length))
        modules.push({
          id: own,
          name: own,
          repeats: node.repeats,
          ...(within === undefined ? {} : { within }),
          ...(node.mirrored ? { mirrored: true } : {}),
          ...(node.swap
            ? {
                colours: [
                  { from: SOOT, to: CHALK },
                  { from: CHALK, to: SOOT },
                ],
              }
            : {}),
          lines: node.lines.map(({ part, qty }, i) => ({
            id: `n-${own}-${i}` as LineId,
            item: itemKey(handed(part), SOOT),
            qty,
          })),
        })
        for (const inner of node.inner) add(inner, own)
      }
      add(root, undefined)
      const rows = explode(design(...modules), { parts })
      expect(new Set(rows.map((r) => r.id)).size).toBe(rows.length)
      expect([...sums(rows)].sort()).toEqual(
        [...sums(layOut(root, false, (c) => c).map((item) => ({ item, qty: 1 })))].sort(),
      )
    }),
  )
})

test('mirroring twice is the identity, and a part without a counterpart stays as it is', () => {
  const names = fc.constantFrom('wedge 2x4', 'wedge plate 3x8', 'door 1x4', 'brick 2x4')
  const handed = fc.record({ name: names, hand: fc.constantFrom('', ' left hand', ' right hand') })
  fc.assert(
    fc.property(fc.array(handed, { minLength: 1, maxLength: 8 }), (made) => {
      const catalogue = new Map<string, Part>(
        made.map(({ name, hand }) => [name + hand, partFromName(name + hand)] as const),
      )
      const pairs = mirrorPairs(catalogue.values())
      for (const part of catalogue.values()) {
        const item = itemKey(part.id, SOOT, 'stripe')
        const image = mirrorItem(item, pairs)
        expect(mirrorItem(image, pairs)).toBe(item)
        const opposite = part.name.includes('left') ? 'right' : 'left'
        const known = [...catalogue.values()].some(
          (p) => p.name === part.name.replace(/left|right/, opposite) && p.shape.hand === opposite,
        )
        expect(image !== item).toBe(part.shape.hand !== 'none' && known)
      }
    }),
  )
})

test('symmetric modules that are not say what differs', () => {
  const pairs = mirrorPairs(HANDED)
  const [left, right] = [plain('wedge 2x4 left hand'), plain('wedge 2x4 right hand')]
  expect(
    compareSymmetry(
      new Map([
        [right, 14],
        [plain('brick 2x4'), 2],
      ]),
      new Map([
        [left, 13],
        [plain('brick 2x4'), 2],
      ]),
      pairs,
    ),
  ).toEqual([{ item: right, here: 14, mirrored: left, there: 13 }])
})

test('tapers add up their steps, the last one going on; uncertain lines have their low and high', () => {
  const rings = design(module('ring', 5, [line('brick 2x4', 1, { steps: [12, 10, 8] })]))
  expect(explode(rings).map((r) => r.qty)).toEqual([12 + 10 + 8 + 8 + 8])
  const guess = design(module('m', 3, [line('brick 2x4', 5, { low: 4, high: 9 })]))
  expect((['low', 'likely', 'high'] as const).map((amount) => explode(guess, { amount })[0]?.qty)).toEqual([12, 15, 27])
})

test('a module the same as another has its lines and its own, mirrored; ideas for later need nothing', () => {
  const wing = design(
    module('right', 1, [line('wedge 2x4 right hand', 3)], { pair: id('left') }),
    module('left', 2, [line('brick 2x4', 1)], { like: id('right'), mirrored: true }),
    module('tower', 4, [line('brick 2x4', 9)], { later: true }),
  )
  expect(explode(wing, { parts }).map((r) => [r.module, r.item, r.qty])).toEqual([
    [id('right'), plain('wedge 2x4 right hand'), 3],
    [id('left'), plain('brick 2x4'), 2],
    [id('left'), plain('wedge 2x4 left hand'), 6],
  ])
  expect(explode(wing, { parts, later: true }).at(-1)?.qty).toBe(36)
})

test('locked lines keep their colour; a group changes as one', () => {
  const roof = design(
    module('roof', 1, [line('slope 2x2 45°', 4, { locked: true }), line('slope 2x4 45°', 6, { group: 'roof' })], {
      colours: [{ from: SOOT, to: CHALK }],
    }),
  )
  expect(explode(roof).map((r) => r.item.endsWith(CHALK))).toEqual([false, true])
  const red = colourId('Rowanberry')
  expect(recolourGroup(roof, 'roof', red).modules[0]?.lines.map((l) => l.item.endsWith(red))).toEqual([false, true])
})

test('a module that contains itself is marked, needs nothing, and nesting that would do so is refused', () => {
  const ring = design(
    module('a', 1, [line('brick 2x4', 1)], { within: id('c') }),
    module('b', 1, [line('brick 2x4', 1)], { within: id('a'), like: id('c') }),
    module('c', 1, [line('brick 2x4', 1)]),
    module('free', 1, [line('brick 2x4', 7)]),
    module('odd', 0, [line('brick 2x4', 1), { ...line('brick 2x4', -2), id: 'n-neg' as LineId }]),
  )
  expect([...circularModules(ring)].sort()).toEqual([id('a'), id('b'), id('c')])
  expect(explode(ring).map((r) => r.module)).toEqual([id('free')])
  expect(designFaults(ring).map((f) => [f.module, f.code])).toEqual([
    [id('a'), 'cycle'],
    [id('b'), 'cycle'],
    [id('c'), 'cycle'],
    [id('odd'), 'repeats'],
    [id('odd'), 'quantity'],
  ])
  expect(nestingChoices(ring, id('free')).within.has(id('odd'))).toBe(true)
  expect(nestingChoices(ring, id('free')).within.has(id('free'))).toBe(false)
  const pair = design(module('x', 1, [], { within: id('y') }), module('y', 1, []))
  expect(nestingChoices(pair, id('x')).like.has(id('y'))).toBe(false)
})

test('a line that comes to more than can be counted is marked and needs nothing; what is just below it counts', () => {
  const huge = design(
    module('wall', 1_000_000, [line('brick 2x4', 1000), line('brick 1x2', 1001)]),
    module('tower', 1000, []),
    module('step', 1000, [line('plate 2x4', 999), line('plate 1x2', 1_000_000)], { within: id('tower') }),
  )
  const [wall, step] = huge.modules.flatMap((m) => (m.lines.length > 0 ? [m] : []))
  expect(explode(huge).map((r) => [r.line, r.qty])).toEqual([
    [wall?.lines[0]?.id, 1_000_000_000],
    [step?.lines[0]?.id, 999_000_000],
  ])
  const faults = designFaults(huge)
  expect(faults.map((f) => [f.line, f.code])).toEqual([
    [wall?.lines[1]?.id, 'too many'],
    [step?.lines[1]?.id, 'too many'],
  ])
  expect(faults[1]?.message).toContain('1\u202f000\u202f000\u202f000\u202f000 pieces')
})

test('two exchanges in one do what the two do in turn', () => {
  const hue = fc.constantFrom(...['Soot', 'Chalk', 'Spruce', 'Peat'].map(colourId))
  const swaps = fc.uniqueArray(fc.record({ from: hue, to: hue }), { selector: (s) => s.from, maxLength: 4 })
  fc.assert(
    fc.property(swaps, swaps, hue, (first, then, colour) => {
      const item = itemKey(handed(2), colour)
      expect(recolour(item, [composeSwaps(first, then)])).toBe(recolour(item, [first, then]))
    }),
  )
})

test('what a module gives its pieces is told apart from what its surroundings and the colourway make of them', () => {
  const swap = (to: ColourId) => [{ from: SOOT, to }]
  const nested: Design = {
    ...design(
      module('drum', 2, [line('brick 2x4', 1)], { colours: swap(CHALK) }),
      module('dome', 3, [line('brick 2x4', 5)], { within: id('drum'), colours: swap(colourId('Peat')) }),
      module('mast', 1, [line('brick 2x4', 4)], { later: true }),
    ),
    colourways: [{ id: 'w', name: 'W', colours: [{ from: colourId('Peat'), to: CHALK }] }],
    colourway: 'w',
  }
  const own = (name: string) => ownPieces(nested, id(name), parts).map((r) => [r.item.split('|')[1], r.qty])
  expect(own('dome')).toEqual([[colourId('Peat'), 30]])
  expect(own('mast')).toEqual([[SOOT, 4]])
  expect(
    explode(nested, { parts })
      .find((r) => r.module === id('dome'))
      ?.item.endsWith(CHALK),
  ).toBe(true)
})

test('modules are shown as they nest, moved among their neighbours, and none is lost in a circle', () => {
  const found = (d: Design) => moduleTree(d).map((r) => [r.module.name, r.depth])
  const nested = design(
    module('a', 1, []),
    module('b', 1, [], { within: id('a'), pair: id('c') }),
    module('c', 1, [], { like: id('b') }),
    module('d', 1, [], { within: id('a') }),
  )
  expect(found(nested)).toEqual([
    ['a', 0],
    ['b', 1],
    ['d', 1],
    ['c', 0],
  ])
  expect(found(moveModule(nested, id('d'), -1))).toEqual([
    ['a', 0],
    ['d', 1],
    ['b', 1],
    ['c', 0],
  ])
  expect(moveModule(nested, id('a'), -1)).toBe(nested)
  const bare = withoutModule(nested, id('b'))
  expect(bare.modules.map((m) => [m.name, m.like])).toEqual([
    ['a', undefined],
    ['c', undefined],
    ['d', undefined],
  ])
  const circle = design(module('x', 1, [], { within: id('y') }), module('y', 1, [], { within: id('x') }))
  expect(found(circle)).toHaveLength(2)
})
