import { itemKey, splitItemKey } from '../catalogue/item.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import { worseCondition } from '../units/condition.ts'
import type { HoldingId } from '../units/ids.ts'
import type { Holding } from './holding.ts'
import type { ShelfChange } from './rearrange.ts'

/** A decoration that is a sticker on the piece and can come off; any other is printed. */
export const isSticker = (decoration: string): boolean => /^sticker\s+\S/.test(decoration)

type Lot = Omit<Holding, 'id' | 'qty' | 'reserved'>

const same = (p: Lot, q: Lot) =>
  p.place === q.place &&
  p.item === q.item &&
  p.condition === q.condition &&
  p.estimate === q.estimate &&
  p.length === q.length

/** Takes pieces out of holdings and puts lots in, joining equal ones. Takes must not exceed what a holding has. */
function exchange(
  shelf: readonly Holding[],
  takes: readonly { readonly holding: Holding; readonly qty: number }[],
  lots: readonly { readonly lot: Lot; readonly qty: number }[],
  fresh: () => string,
): ShelfChange {
  const put = new Map<HoldingId, Holding>()
  const remove: HoldingId[] = []
  for (const { holding, qty } of takes)
    if (qty === holding.qty) remove.push(holding.id)
    else put.set(holding.id, { ...holding, qty: holding.qty - qty })
  const gone = new Set(remove)
  for (const { lot, qty } of lots) {
    const there =
      [...put.values()].find((h) => same(h, lot)) ??
      shelf.find((h) => !gone.has(h.id) && !put.has(h.id) && same(h, lot))
    if (there) put.set(there.id, { ...there, qty: there.qty + qty })
    else {
      const id = `h-${fresh()}` as HoldingId
      put.set(id, { ...lot, id, qty })
    }
  }
  return { put: [...put.values()], remove }
}

const lotOf = ({ id: _id, qty: _qty, reserved: _reserved, ...lot }: Holding): Lot => lot

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
  const lot = lotOf(holding)
  const change = exchange(
    shelf,
    [{ holding, qty: n }],
    [
      { lot: { ...lot, item: itemKey(part, colour) }, qty: n },
      {
        lot: { ...lot, item: itemKey(sticker.id, colour), condition: worseCondition('used', holding.condition) },
        qty: n,
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
  return exchange(
    shelf,
    [
      { holding: sticker.holding, qty: n },
      { holding: plain, qty: n },
    ],
    [{ lot, qty: n }],
    fresh,
  )
}
