import { itemKey, splitItemKey } from '../catalogue/item.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import { worseCondition, type StatedCondition } from '../units/condition.ts'
import type { Holding } from './holding.ts'
import { exchangeLots, lotOf, type Lot, type ShelfChange } from './lot.ts'

/** A decoration that is a sticker on the piece and can come off; any other is printed. */
export const isSticker = (decoration: string): boolean => /^sticker\s+\S/.test(decoration)

/**
 * Peels the sticker off `qty` pieces (at most what there is): plain pieces in the same condition, and as many loose
 * stickers beside them, used at best. Undefined when the pieces carry none.
 */
export function peel(
  holding: Holding,
  qty: number,
  shelf: readonly Holding[],
  fresh: () => string,
): (ShelfChange & { readonly sticker: Part }) | undefined {
  const { part, colour, decoration } = splitItemKey(holding.item)
  const n = Math.min(qty, holding.qty)
  if (!isSticker(decoration) || n < 1) return undefined
  const sticker = partFromName(decoration)
  const change = exchangeLots(
    shelf,
    [{ holding, qty: n }],
    (taken) => [
      { ...taken, item: itemKey(part, colour) },
      {
        ...taken,
        item: itemKey(sticker.id, colour),
        condition: worseCondition<StatedCondition>('used', holding.condition),
      },
    ],
    fresh,
  )
  return { ...change, sticker }
}

/** Applies loose stickers to plain pieces, as many as asked and there are of both; the reverse of `peel`. */
export function applySticker(
  sticker: { readonly holding: Holding; readonly part: Part },
  plain: Holding,
  qty: number,
  shelf: readonly Holding[],
  fresh: () => string,
): ShelfChange | undefined {
  const { part, colour, decoration } = splitItemKey(plain.item)
  const n = Math.min(qty, plain.qty, sticker.holding.qty)
  const name = sticker.part.name.toLowerCase()
  if (decoration !== '' || !isSticker(name) || n < 1 || plain.id === sticker.holding.id) return undefined
  const lot: Lot = {
    ...lotOf(plain),
    item: itemKey(part, colour, name),
    condition: worseCondition(plain.condition, sticker.holding.condition),
    estimate: plain.estimate || sticker.holding.estimate,
  }
  return exchangeLots(
    shelf,
    [
      { holding: sticker.holding, qty: n },
      { holding: plain, qty: n },
    ],
    (_, take) => (take === 0 ? [] : [{ ...lot, qty: n }]),
    fresh,
  )
}
