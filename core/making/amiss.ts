import type { ItemKey } from '../catalogue/item.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { LotPieces } from '../shelf/lot.ts'
import { NOT_STATED } from '../units/condition.ts'
import type { BuildId, CopyId, PlaceId } from '../units/ids.ts'
import { OUT_OF_MODELS, withMissing, type MakingChange } from './put-in.ts'
import { type TakeGroup } from './takes.ts'

/** What is amiss with pieces at the table. */
export type Amiss =
  | { readonly kind: 'missing' }
  /** `kept` for a hidden use: they go on as worn. */
  | { readonly kind: 'broken'; readonly kept: boolean }
  /** Others lay there, where that is known. */
  | { readonly kind: 'wrong'; readonly instead: ItemKey | undefined }

export const NO_CHANGE: MakingChange = { units: [], takes: [], lots: [], copies: [] }

/**
 * Pieces that should have lain where the count has them and do not: they leave the shelf and the copies. Broken ones may be
 * kept as worn, and what lay there instead is counted where it lay.
 */
export function lose(
  groups: readonly TakeGroup[],
  amiss: Amiss,
  build: BuildId,
  copies: readonly Copy[],
): MakingChange {
  const takes: { seen: MakingChange['takes'][number]['seen']; qty: number; build: BuildId }[] = []
  const lots: LotPieces[] = []
  const gone = new Map<CopyId, Map<ItemKey, number>>()
  for (const take of groups.flatMap((g) => g.takes)) {
    let place: PlaceId = OUT_OF_MODELS.id
    if (take.kind === 'holding') {
      takes.push({ seen: take.holding, qty: take.qty, build })
      if (amiss.kind === 'wrong') place = take.holding.place
    } else if (take.kind === 'copy') {
      const own = gone.get(take.copy) ?? new Map<ItemKey, number>()
      gone.set(take.copy, own.set(take.item, (own.get(take.item) ?? 0) + take.qty))
    }
    const { qty } = take
    if (amiss.kind === 'broken' && amiss.kept)
      lots.push({ place, item: take.item, qty, estimate: false, condition: 'worn' })
    if (amiss.kind === 'wrong' && amiss.instead !== undefined)
      lots.push({ place, item: amiss.instead, qty, estimate: false, condition: NOT_STATED })
  }
  return {
    units: [],
    takes,
    lots,
    copies: [...gone].flatMap(([id, items]) => {
      const copy = copies.find((c) => c.id === id)
      return copy ? [withMissing(copy, items)] : []
    }),
  }
}

/** Two changes as one act, the second made after the first: of a unit or a copy that both change, the second has the word. */
export const together = (first: MakingChange, second: MakingChange): MakingChange => ({
  units: [...first.units.filter((u) => !second.units.some((n) => n.id === u.id)), ...second.units],
  takes: [...first.takes, ...second.takes],
  lots: [...first.lots, ...second.lots],
  copies: [...first.copies.filter((c) => !second.copies.some((n) => n.id === c.id)), ...second.copies],
})

/** Copies as they are after a change. */
export const copiesAfter = (copies: readonly Copy[], change: Pick<MakingChange, 'copies'>): Copy[] =>
  copies.map((c) => change.copies.find((n) => n.id === c.id) ?? c)
