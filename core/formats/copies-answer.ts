import type { ItemKey } from '../catalogue/item.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { MOST_PRICE } from '../offers/offer.ts'
import { hash53 } from '../units/hash.ts'
import type { BuildId, CopyId } from '../units/ids.ts'
import type { currency } from '../units/money.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { ODD_SIGNS } from './market-answer.ts'

/** A copy that a shop offers second hand, as a market tells it; minor units. */
export type OfferedCopy = {
  readonly id: string
  readonly set: string
  readonly seller: string
  readonly country: string
  readonly price: number
  readonly condition: 'new' | 'used' | 'worn'
  readonly missing: readonly { readonly item: string; readonly qty: number }[]
}

/** Why an answer about copies is not taken. */
export type CopiesFault = 'too many' | 'not asked for' | 'name' | 'repeated id' | 'absurd amount' | 'missing'

/** Copies of one set that a market may offer at a time. */
const MOST_COPIES = 100

/**
 * A market's answer about copies of sets, or why none of it is taken: they are of sets that were asked about, at prices
 * such as are paid, from sellers whose names can be shown, and lack no more than a complete one holds.
 */
export function acceptCopies(
  answer: readonly OfferedCopy[],
  asked: readonly DonorSet[],
): Result<readonly OfferedCopy[], Fault<CopiesFault>> {
  if (answer.length > asked.length * MOST_COPIES) return refuse('too many', `it offers ${answer.length} copies`)
  const held = new Map(asked.map((set) => [set.id as string, piecesByItem(set)]))
  const seen = new Set<string>()
  for (const { id, set, seller, price, missing } of answer) {
    const pieces = held.get(set)
    if (!pieces) return refuse('not asked for', 'it offers copies of sets that were not asked for')
    const key = JSON.stringify([set, id])
    if (seen.has(key)) return refuse('repeated id', 'it offers one copy twice')
    seen.add(key)
    if (ODD_SIGNS.test(seller) || seller.trim() === '' || seller.length > 120)
      return refuse('name', 'a seller has a name that cannot be shown')
    if (price < 1 || price > MOST_PRICE) return refuse('absurd amount', 'a copy has a price that nobody pays')
    const gone = new Map<string, number>()
    for (const { item, qty } of missing) gone.set(item, (gone.get(item) ?? 0) + qty)
    for (const [item, qty] of gone)
      if (qty > (pieces.get(item) ?? 0)) return refuse('missing', 'a copy lacks pieces that its set does not hold')
  }
  return ok(answer)
}

/** What a complete copy holds, its spares included. */
function piecesByItem(set: DonorSet): ReadonlyMap<string, number> {
  const pieces = new Map<string, number>()
  for (const { item, qty } of set.lines) pieces.set(item, (pieces.get(item) ?? 0) + qty)
  return pieces
}

/** An offered copy as one that a build wants. Its id tells it from others, so that it is wanted once. */
export const copyWanted = (
  offered: OfferedCopy,
  set: DonorSet,
  build: BuildId,
  money: ReturnType<typeof currency>,
): Copy => ({
  id: wantedId(offered, build),
  setId: set.id,
  label: `${set.name}, ${offered.condition}, from ${offered.seller}`.slice(0, 200),
  buildId: build,
  state: 'to-buy',
  askingPrice: { minor: offered.price, currency: money },
  condition: offered.condition,
  stages: 'all',
  spares: true,
  missing: offered.missing.map(({ item, qty }) => ({ item: item as ItemKey, qty })),
})

/** Ids of markets may be long: two hashes tell as much apart. */
export function wantedId({ set, id }: Pick<OfferedCopy, 'set' | 'id'>, build: BuildId): CopyId {
  const text = JSON.stringify([build, set, id])
  return `y-offered-${hash53(text, 1).toString(36)}-${hash53(text, 2).toString(36)}` as CopyId
}
