import type { Asked } from './asked.ts'
import { itemKey, type ItemKey } from '../../catalogue/item.ts'
import type { StandInKind } from './candidate.ts'
import { POINTS } from './points.ts'
import { isSticker } from '../../shelf/stickers.ts'
import { partFromName } from '../../catalogue/part.ts'

/** Visits what may stand in for a stickered or printed piece: the plain one, a print, the plain one with the sticker. */
export function visitUndecorated({ demand, rules, stock, visit, part, colour, decoration }: Asked): void {
  const plain = itemKey(part, colour)
  const add = (kind: StandInKind, items: readonly ItemKey[]) => {
    visit.kit(
      items.map((i) => ({ item: i, qty: 1 })),
      kind,
      POINTS[kind],
    )
  }
  const sticker = isSticker(decoration)
  if (sticker && rules.stickers === 'left off') add('plain', [plain])
  if (demand.print || (sticker ? rules.stickers === 'custom prints' : rules.thirdParty)) add('print', [plain])
  if (sticker && (rules.stickers === 'applied' || rules.stickers === 'reused'))
    for (const loose of stock.byPart.get(partFromName(decoration).id)?.items ?? []) add('sticker', [plain, loose.item])
}
