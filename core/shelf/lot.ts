import type { BuildId, HoldingId } from '../units/ids.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import type { Holding } from './holding.ts'

/** What a change of the shelf writes and deletes. */
export type ShelfChange = { readonly put: readonly Holding[]; readonly remove: readonly HoldingId[] }

/** What makes pieces lie together as one holding: the item, where it is, in which condition, how long, counted or not. */
export type Lot = Omit<Holding, 'id' | 'qty' | 'reserved'>

type Reserved = NonNullable<Holding['reserved']>

/**
 * Pieces of a lot on their way to a place, with what is reserved of them; `id` of the holding that they were as a whole,
 * which they stay where they find none of their kind.
 */
export type LotPieces = Lot & {
  readonly id?: HoldingId
  readonly qty: number
  readonly reserved?: Holding['reserved']
}

/** Equal for pieces that are one holding when they come together. */
export const lotKey = ({ place, item, condition, estimate, length, uncounted }: Lot): string =>
  `${condition} ${estimate} ${length ?? ''} ${place}\u0000${item}${uncounted === undefined ? '' : `\u0000${uncounted}`}`

export const lotOf = ({ place, item, condition, estimate, length, uncounted }: Lot): Lot => ({
  place,
  item,
  condition,
  estimate,
  ...(length === undefined ? {} : { length }),
  ...(uncounted === undefined ? {} : { uncounted }),
})

/** A holding with other reservations; none is written as none. */
export function withReserved<T extends { readonly reserved?: Holding['reserved'] }>(holding: T, reserved: Reserved): T {
  if (reserved.length === 0 && !('reserved' in holding)) return holding
  const { reserved: _, ...bare } = holding
  return (reserved.length > 0 ? { ...bare, reserved } : bare) as T
}

/** Reservations of two heaps of the same pieces together, build by build. */
export function joinReserved(one: Reserved, other: Reserved): Reserved {
  const sums = new Map<BuildId, number>()
  for (const { build, qty } of [...one, ...other]) sums.set(build, (sums.get(build) ?? 0) + qty)
  return [...sums].map(([build, qty]) => ({ build, qty }))
}

/**
 * Takes `qty` pieces (0 to what it has) out of a holding. Pieces that nobody reserved go first; where there are not
 * enough, reservations go with the pieces, the latest first. `left` is undefined when nothing is left.
 */
export function takePieces(
  holding: Holding,
  qty: number,
): { readonly taken: LotPieces; readonly left: Holding | undefined } {
  const held = holding.reserved ?? []
  let bound = Math.max(0, held.reduce((n, r) => n + r.qty, 0) - (holding.qty - qty))
  const going: { build: BuildId; qty: number }[] = []
  const staying: { build: BuildId; qty: number }[] = []
  for (const { build, qty: promised } of [...held].reverse()) {
    const goes = Math.min(promised, bound)
    bound -= goes
    if (goes > 0) going.unshift({ build, qty: goes })
    if (promised > goes) staying.unshift({ build, qty: promised - goes })
  }
  return {
    taken: withReserved<LotPieces>({ ...lotOf(holding), qty }, going),
    left: qty === holding.qty ? undefined : withReserved({ ...holding, qty: holding.qty - qty }, staying),
  }
}

/** What is left of a holding of which a build takes pieces: those reserved for it go first, then those that are free. */
export function takenFor(holding: Holding, qty: number, build: BuildId): Holding | undefined {
  let own = qty
  const reserved = (holding.reserved ?? []).flatMap((r) => {
    if (r.build !== build) return [r]
    const used = Math.min(own, r.qty)
    own -= used
    return r.qty > used ? [{ ...r, qty: r.qty - used }] : []
  })
  return takePieces(withReserved(holding, reserved), qty).left
}

/**
 * Puts pieces on a shelf: they join an equal holding there (the first with room) with their reservations, else they
 * become a holding of their own. A holding takes at most `MOST_PIECES`; what is beyond that begins another. The change
 * holds just the holdings that differ. Linear in both lists.
 */
export function addLots(shelf: readonly Holding[], pieces: readonly LotPieces[], fresh: () => string): ShelfChange {
  const keys = pieces.map(lotKey)
  const wanted = new Set(shelf.length > 0 ? keys : [])
  const there = new Map<string, Holding[]>()
  for (const holding of shelf) {
    const key = lotKey(holding)
    if (!wanted.has(key)) continue
    const alike = there.get(key)
    if (alike) alike.push(holding)
    else there.set(key, [holding])
  }
  const put = new Map<HoldingId, Holding>()
  for (const [i, arriving] of pieces.entries()) {
    const { id, qty, reserved = [] } = arriving
    if (qty <= 0) continue
    const key = keys[i] ?? ''
    const alike = there.get(key) ?? []
    there.set(key, alike)
    const at = alike.findIndex((h) => h.qty + qty <= MOST_PIECES)
    const held = alike[at]
    const next = held
      ? withReserved({ ...held, qty: held.qty + qty }, joinReserved(held.reserved ?? [], reserved))
      : withReserved<Holding>({ id: id ?? (`h-${fresh()}` as HoldingId), ...lotOf(arriving), qty }, reserved)
    if (held) alike[at] = next
    else alike.push(next)
    put.set(next.id, next)
  }
  return { put: [...put.values()], remove: [] }
}

/**
 * Takes pieces out of holdings and puts them back changed (another place, another item): `as` says what becomes of what
 * is taken, nothing where they leave the shelf. No piece appears or vanishes otherwise; reservations go with pieces that
 * stay the same item and are dropped with those that become another.
 */
export function exchangeLots(
  shelf: readonly Holding[],
  takes: readonly { readonly holding: Holding; readonly qty: number }[],
  as: (taken: LotPieces, take: number) => readonly LotPieces[],
  fresh: () => string,
): ShelfChange {
  const left = new Map<HoldingId, Holding | undefined>()
  const added: LotPieces[] = []
  for (const [i, { holding, qty }] of takes.entries()) {
    const now = left.has(holding.id) ? left.get(holding.id) : holding
    if (!now || qty <= 0) continue
    const { taken, left: rest } = takePieces(now, Math.min(qty, now.qty))
    left.set(holding.id, rest)
    // All that was in it goes on under its id; of what is divided only the first does.
    let named = rest !== undefined
    for (const pieces of as(taken, i))
      if (pieces.item !== taken.item) added.push(withReserved(pieces, []))
      else {
        added.push(named ? pieces : { ...pieces, id: holding.id })
        named = true
      }
  }
  const after = shelf.flatMap((h) => (left.has(h.id) ? (left.get(h.id) ?? []) : h))
  const { put } = addLots(after, added, fresh)
  const written = new Map<HoldingId, Holding>()
  for (const [id, rest] of left) if (rest) written.set(id, rest)
  for (const h of put) written.set(h.id, h)
  return { put: [...written.values()], remove: [...left.keys()].filter((id) => !written.has(id)) }
}
