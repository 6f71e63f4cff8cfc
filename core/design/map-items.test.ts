import { itemKey, type ItemKey } from '../catalogue/item.ts'
import type { BuildId, ColourId, LineId, ModuleId, PartId, SetId } from '../units/ids.ts'
import type { Design } from './design.ts'
import { mapItems, type Naming } from './map-items.ts'

const item = (part: string) => itemKey(`p-${part}` as PartId, 'c-soot' as ColourId)
const design = {
  id: 'b-t' as BuildId,
  modules: [
    {
      id: 'm-1' as ModuleId,
      name: 'M',
      repeats: 2,
      origin: { kind: 'donor', set: 's-t' as SetId, contents: [{ item: item('old'), qty: 3 }] },
      lines: [
        { id: 'n-1' as LineId, item: item('old'), qty: 1 },
        {
          id: 'n-2' as LineId,
          item: item('other'),
          qty: 2,
          instead: [[{ item: item('old'), qty: 2 }], [{ item: item('other'), qty: 1 }]],
          meanwhile: item('old'),
        },
      ],
    },
  ],
} as unknown as Design

const naming = (to: (i: ItemKey) => ItemKey): Naming => ({ item: to, colour: (id) => id })

test('every place in a design where an item can stand is reached, and nothing else changes', () => {
  const swap = (from: string, to: string) => naming((i) => (i === item(from) ? item(to) : i))
  const there = mapItems(design, swap('old', 'renamed'))
  expect(JSON.stringify(there)).not.toContain('p-old')
  expect(JSON.stringify(there).split('p-renamed')).toHaveLength(5)
  // And back again it is the design it was.
  expect(mapItems(there, swap('renamed', 'old'))).toEqual(design)
})

test('a design in which nothing changes is the very same', () => {
  expect(
    mapItems(
      design,
      naming((i) => i),
    ),
  ).toBe(design)
  expect(
    mapItems(
      design,
      naming((i) => (i === item('elsewhere') ? item('x') : i)),
    ),
  ).toBe(design)
})
