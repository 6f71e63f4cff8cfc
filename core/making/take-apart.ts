import type { ItemKey } from '../catalogue/item.ts'
import { sumItems, type Pieces } from '../design/sum-items.ts'
import type { Holding } from '../shelf/holding.ts'
import { exchangeLots, withReserved, type LotPieces, type ShelfChange } from '../shelf/lot.ts'
import { worseCondition, type StatedCondition } from '../units/condition.ts'
import type { PlaceId } from '../units/ids.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'

/** What a model turned out to have been when it was taken apart. */
export type TakenApart = {
  /** Gone: they leave the shelf. */
  readonly lost: readonly Pieces[]
  /** Scratched, faded or cracked: they go on as worn. */
  readonly damaged: readonly Pieces[]
}

/**
 * A finished model taken apart: its pieces lie loose in a place, reservations kept, those damaged as worn, those lost gone.
 * Refused where more is lost or damaged than the model holds.
 */
export function takeApart(
  model: readonly Holding[],
  to: PlaceId,
  { lost, damaged }: TakenApart,
  shelf: readonly Holding[],
  fresh: () => string,
): Result<ShelfChange, Fault<'beyond what it holds' | 'bad number'>> {
  const held = sumItems(model)
  const [goneOf, wornOf] = [sumItems(lost), sumItems(damaged)]
  for (const item of new Set([...goneOf.keys(), ...wornOf.keys()])) {
    const bad = (goneOf.get(item) ?? 0) + (wornOf.get(item) ?? 0)
    if ([...lost, ...damaged].some((p) => p.item === item && (!Number.isInteger(p.qty) || p.qty < 0)))
      return refuse('bad number', 'Whole numbers of pieces, 0 or more, are lost or damaged.')
    if (bad > (held.get(item) ?? 0))
      return refuse(
        'beyond what it holds',
        `It holds ${held.get(item) ?? 0} of a piece of which ${bad} are lost or damaged.`,
      )
  }
  const change = exchangeLots(
    shelf,
    model.map((holding) => ({ holding, qty: holding.qty })),
    (taken) => {
      const gone = used(goneOf, taken)
      const worn = used(wornOf, { ...taken, qty: taken.qty - gone })
      const right = taken.qty - gone - worn
      return [
        ...(right > 0 ? [keptFor({ ...taken, place: to, qty: right })] : []),
        ...(worn > 0
          ? [
              withReserved(
                { ...taken, place: to, qty: worn, condition: worseCondition<StatedCondition>('worn', taken.condition) },
                [],
              ),
            ]
          : []),
      ]
    },
    fresh,
  )
  return ok(change)
}

/** Pieces with what of them is reserved, as far as there are so many. */
function keptFor(pieces: LotPieces): LotPieces {
  let left = pieces.qty
  const reserved = (pieces.reserved ?? []).flatMap(({ build, qty }) => {
    const kept = Math.min(left, qty)
    left -= kept
    return kept > 0 ? [{ build, qty: kept }] : []
  })
  return withReserved(pieces, reserved)
}

/** Takes up to what is there of what is told of an item. */
function used(left: Map<ItemKey, number>, { item, qty }: LotPieces): number {
  const n = Math.min(qty, left.get(item) ?? 0)
  if (n > 0) left.set(item, (left.get(item) ?? 0) - n)
  return n
}
