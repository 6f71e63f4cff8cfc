import fc from 'fast-check'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { compareNames } from '../../../core/units/collate.ts'
import { HoldingOrder } from './holding-order.ts'

const NAMES = ['plate 2x10', 'plate 2x4', 'brick 1x1', 'Brick 1x1']
const holding = (at: number, i: number) => ({ id: `h-${i}`, item: `p-${at}|c` as ItemKey }) as unknown as Holding
const nameItem = (item: ItemKey) => ({ part: { name: NAMES[Number(item[2])] ?? '' }, colour: { name: 'Soot' } })

test('however many keys are made at a time, the order is that of the names, and no holding is lost', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(3), { maxLength: 30 }), fc.integer({ min: 1, max: 3 }), (picks, step) => {
      const holdings = picks.map(holding)
      const order = new HoldingOrder(nameItem)
      for (let tries = 0; !order.prepare(holdings, step); tries++) expect(tries).toBeLessThan(5)
      const sorted = order.sort(holdings)
      expect(new Set(sorted)).toEqual(new Set(holdings))
      expect(sorted).toHaveLength(holdings.length)
      const names = sorted.map((h) => nameItem(h.item).part.name)
      for (const [i, name] of names.slice(1).entries())
        expect(compareNames(names[i]?.toLowerCase() ?? '', name.toLowerCase())).toBeLessThanOrEqual(0)
    }),
  )
})
