import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { orderKey } from '../../../core/units/collate.ts'

type Named = { readonly name: string }

/** Holdings by part and then colour, sizes by their numbers; keys of items are made once. */
export function holdingOrder(
  nameItem: (item: ItemKey) => { readonly part: Named; readonly colour: Named },
): (holdings: readonly Holding[]) => readonly Holding[] {
  const keys = new Map<ItemKey, string>()
  const keyOf = (item: ItemKey): string => {
    const known = keys.get(item)
    if (known !== undefined) return known
    const { part, colour } = nameItem(item)
    const key = orderKey(`${part.name}\u0000${colour.name}\u0000${item}`)
    keys.set(item, key)
    return key
  }
  return (holdings) =>
    holdings
      .map((holding) => ({ holding, key: keyOf(holding.item) }))
      .sort((p, q) => (p.key < q.key ? -1 : p.key > q.key ? 1 : 0))
      .map(({ holding }) => holding)
}
