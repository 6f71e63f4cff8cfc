import fc from 'fast-check'
import type { ItemKey } from '../catalogue/item.ts'
import { NO_ITEM } from './design.ts'
import { surplusModule } from './surplus.ts'

const itemArb = fc.constantFrom('p-a|c-x', 'p-b|c-x', 'p-b|c-y', NO_ITEM) as fc.Arbitrary<ItemKey>

test('a surplus comes as it is: every piece once, the most plentiful first, nothing of no part', () => {
  fc.assert(
    fc.property(fc.array(fc.record({ item: itemArb, qty: fc.integer({ min: 0, max: 9 }) })), (pieces) => {
      let n = 0
      const module = surplusModule('Hut', pieces, () => `t${n++}`)
      const sums = new Map<ItemKey, number>()
      for (const { item, qty } of pieces) if (item !== NO_ITEM) sums.set(item, (sums.get(item) ?? 0) + qty)
      const left = [...sums].filter(([, qty]) => qty > 0)
      expect(module === undefined).toBe(left.length === 0)
      expect(new Map(module?.lines.map((l) => [l.item, l.qty]))).toEqual(new Map(left))
      const counts = module?.lines.map((l) => l.qty) ?? []
      expect(counts).toEqual([...counts].sort((p, q) => q - p))
    }),
  )
})
