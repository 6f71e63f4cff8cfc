import { useEffect, useMemo, useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { orderKey } from '../../../core/units/collate.ts'

type Named = { readonly name: string }
type NameItem = (item: ItemKey) => { readonly part: Named; readonly colour: Named }

/** Keys that are made at once; more are made bit by bit, so that the page stays at hand. */
const AT_ONCE = 1500

/** Orders holdings by part and then colour, sizes by their numbers; keys of items are made once. */
export class HoldingOrder {
  readonly #nameItem: NameItem
  readonly #keys = new Map<ItemKey, string>()

  constructor(nameItem: NameItem) {
    this.#nameItem = nameItem
  }

  /** Makes so many of the keys that are lacking; false when some are lacking still. */
  prepare(holdings: readonly Holding[], most: number): boolean {
    let made = 0
    for (const { item } of holdings) {
      if (this.#keys.has(item)) continue
      if (made++ >= most) return false
      const { part, colour } = this.#nameItem(item)
      this.#keys.set(item, orderKey(`${part.name}\u0000${colour.name}\u0000${item}`))
    }
    return true
  }

  /** The holdings in order; those whose keys are lacking come first. */
  sort(holdings: readonly Holding[]): readonly Holding[] {
    return holdings
      .map((holding) => ({ holding, key: this.#keys.get(holding.item) ?? '' }))
      .sort((p, q) => (p.key < q.key ? -1 : p.key > q.key ? 1 : 0))
      .map(({ holding }) => holding)
  }
}

/**
 * How to put holdings in order, by part and colour; for a long shelf that was never ordered only a moment later, until then
 * they come as they are stored.
 */
export function useHoldingOrder(
  holdings: readonly Holding[],
  nameItem: NameItem,
): (some: readonly Holding[]) => readonly Holding[] {
  const order = useMemo(() => new HoldingOrder(nameItem), [nameItem])
  const [made, setMade] = useState<readonly Holding[] | undefined>()
  const ready = useMemo(() => made === holdings || order.prepare(holdings, AT_ONCE), [made, holdings, order])
  useEffect(() => {
    if (ready) return undefined
    let timer: ReturnType<typeof setTimeout>
    const more = () => {
      if (order.prepare(holdings, AT_ONCE)) setMade(holdings)
      else timer = setTimeout(more, 8)
    }
    timer = setTimeout(more, 60)
    return () => {
      clearTimeout(timer)
    }
  }, [ready, holdings, order])
  return useMemo(() => (ready ? (some) => order.sort(some) : (some) => some), [ready, order])
}
