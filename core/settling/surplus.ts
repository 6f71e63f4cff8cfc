import { figurePrice, itemPrices } from '../build/resale.ts'
import type { Rules } from '../build/house-rules.ts'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Design } from '../design/design.ts'
import { explode } from '../design/explode.ts'
import { sumItems } from '../design/sum-items.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { PriceOf } from '../offers/goods-cost.ts'
import type { LoosePrices } from '../offers/loose-prices.ts'
import type { Making } from '../making/making.ts'
import { PARCEL_SURPLUS, pileIdOf } from '../orders/piles.ts'
import type { Drawn } from '../shelf/drawn.ts'
import type { Holding } from '../shelf/holding.ts'
import { isThere, leftovers } from '../shelf/leftovers.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { BuildId, PartId, PlaceId } from '../units/ids.ts'

type Pieces = { readonly item: ItemKey; readonly qty: number }

/** What a build does not use, in one place: loose pieces of one item, or a figure of a donor copy with all its pieces. */
export type Left = {
  /** Unique, and the same as long as it lies there. */
  readonly key: string
  /** All that goes with it: one item, or a figure's pieces. */
  readonly pieces: readonly Pieces[]
  readonly from:
    { readonly kind: 'copy'; readonly copy: Copy } | { readonly kind: 'holding'; readonly holding: Holding }
  /** A figure's name, and what it lacks to be complete. */
  readonly figure?: { readonly name: string; readonly lacks: readonly Pieces[] }
}

/**
 * What a build's donors, parcels and design leave over: pieces of its copies that the count does not draw, and pieces in its
 * pile, in the surplus of parcels or reserved for it that it does not use. Figures of a copy are kept together as far as
 * they can be: what is used of an item is taken from elsewhere in the copy first. Pieces that are promised to another build
 * are none. Copies and holdings as they were counted. Linear.
 */
export function surplusOf(
  build: BuildId,
  counted: {
    readonly copies: readonly Copy[]
    readonly holdings: readonly Holding[]
    readonly sets: readonly DonorSet[]
  },
  result: Drawn,
): Left[] {
  const setById = new Map(counted.sets.map((s) => [s.id, s]))
  const left: Left[] = []
  for (const copy of counted.copies) {
    const set = setById.get(copy.setId)
    if (copy.buildId === build && set && isThere(copy)) left.push(...leftOfCopy(copy, set, result))
  }
  const drawn = new Map<string, number>()
  for (const { pegs } of result.lines)
    for (const { source, qty } of pegs)
      if (source.kind === 'shelf') drawn.set(source.holding, (drawn.get(source.holding) ?? 0) + qty)
  const own = new Set<PlaceId>([pileIdOf(build), PARCEL_SURPLUS.id])
  for (const holding of counted.holdings) {
    const reserved = holding.reserved ?? []
    const promised = reserved.reduce((n, r) => n + (r.build === build ? 0 : r.qty), 0)
    const mine = own.has(holding.place)
      ? holding.qty - promised
      : reserved.reduce((n, r) => n + (r.build === build ? r.qty : 0), 0)
    const qty = mine - (drawn.get(holding.id) ?? 0)
    if (qty > 0)
      left.push({ key: holding.id, pieces: [{ item: holding.item, qty }], from: { kind: 'holding', holding } })
  }
  return left
}

function leftOfCopy(copy: Copy, set: DonorSet, result: Drawn): Left[] {
  const open = new Map(leftovers(set, copy, result).map(({ item, qty }) => [item, qty]))
  const figures = new Map<string, Map<ItemKey, number>>()
  const stages = copy.stages === 'all' ? undefined : new Set(copy.stages)
  for (const { figure, item, qty, stage, spare } of set.lines) {
    if (figure === undefined || spare || stages?.has(stage) === false) continue
    const own = figures.get(figure) ?? new Map<ItemKey, number>()
    figures.set(figure, own.set(item, (own.get(item) ?? 0) + qty))
  }
  const from = { kind: 'copy' as const, copy }
  const found: Left[] = []
  for (const [name, needs] of figures) {
    const pieces: Pieces[] = []
    const lacks: Pieces[] = []
    for (const [item, qty] of needs) {
      const there = Math.min(qty, open.get(item) ?? 0)
      if (there > 0) pieces.push({ item, qty: there })
      if (qty > there) lacks.push({ item, qty: qty - there })
    }
    if (pieces.length === 0) continue
    for (const { item, qty } of pieces) open.set(item, (open.get(item) ?? 0) - qty)
    found.push({ key: `${copy.id} figure ${name}`, pieces, from, figure: { name, lacks } })
  }
  for (const [item, qty] of open) if (qty > 0) found.push({ key: `${copy.id} ${item}`, pieces: [{ item, qty }], from })
  return found
}

export const piecesLeft = ({ pieces }: Pick<Left, 'pieces'>): number => pieces.reduce((n, p) => n + p.qty, 0)

/** What leftovers may bring, minor units: never certain. `unpriced` pieces have no offer and no price of the user's own. */
export type MayBring = {
  readonly likely: number
  readonly hoped: number
  /** What shops ask for the same: the median offers, or what the user expects. */
  readonly asked: number
  readonly unpriced: number
}

type Market = { readonly prices: LoosePrices; readonly priceOf: PriceOf }
type ResaleRules = Pick<Rules, 'resalePercent' | 'hopedPercent' | 'resalePrices'>

/**
 * What a leftover may bring: a complete figure what the user expects for it, else its pieces; a piece what the user expects,
 * else the resale share of the median offer, and the hoped share of it at best. Each rounded down.
 */
export function mayBring(
  { prices }: Pick<Market, 'prices'>,
  rules: ResaleRules,
): (left: Pick<Left, 'pieces' | 'figure'>) => MayBring {
  // The user's own prices are looked up once for all leftovers.
  const own = itemPrices(rules)
  return ({ pieces, figure }) => {
    const whole = figure?.lacks.length === 0 ? figurePrice(figure.name, rules) : undefined
    if (whole !== undefined) return { likely: whole, hoped: whole, asked: whole, unpriced: 0 }
    let [likely, hoped, asked, unpriced] = [0, 0, 0, 0]
    for (const { item, qty } of pieces) {
      const each = own.get(item)
      const median = prices.get(item)?.median
      if (each === undefined && median === undefined) unpriced += qty
      const sure = each ?? Math.floor(((median ?? 0) * rules.resalePercent) / 100)
      likely += qty * sure
      asked += qty * (each ?? median ?? 0)
      hoped += qty * (each ?? Math.max(sure, Math.floor(((median ?? 0) * rules.hopedPercent) / 100)))
    }
    return { likely, hoped, asked, unpriced }
  }
}

/** The one piece that would complete a figure, and what it costs loose; undefined where it lacks none or more than one. */
export function completedBy(
  { figure }: Pick<Left, 'figure'>,
  { priceOf }: Market,
): { readonly item: ItemKey; readonly cost: number | undefined } | undefined {
  const [lack, ...more] = figure?.lacks ?? []
  if (!lack || more.length > 0 || lack.qty > 1) return undefined
  const { cost, unavailable } = priceOf(lack.item, 1)
  return { item: lack.item, cost: unavailable > 0 ? undefined : cost }
}

/** Plain pieces that stickered ones became whose stickers were peeled off and are used, kept or spoilt: their next use is open. */
export function bareOfStickers(making: Pick<Making, 'stickers'> | undefined): Set<ItemKey> {
  const bare = new Set<ItemKey>()
  for (const { of, state } of making?.stickers ?? []) {
    const piece = of === undefined ? undefined : splitItemKey(of)
    if (piece && isSticker(piece.decoration) && state !== 'on the sheet' && state !== 'put off')
      bare.add(itemKey(piece.part, piece.colour))
  }
  return bare
}

/** Why a build would take what another leaves over: it is short of it, looks out for it, or has an idea for later that needs it. */
export const TAKES = ['short', 'lookout', 'idea'] as const
export type Taker = { readonly build: BuildId; readonly pieces: number; readonly why: (typeof TAKES)[number] }

/** Of each item the builds that would use it, and how many pieces each: short ones, then those on the lookout, then ideas. */
export function takersOf(
  builds: readonly {
    readonly build: BuildId
    readonly shortfall: ReadonlyMap<ItemKey, number>
    readonly lookout: readonly Pieces[]
    /** What ideas for later need. */
    readonly ideas: readonly Pieces[]
  }[],
): (pieces: readonly Pieces[]) => Taker[] {
  const wanted = builds.map(({ build, shortfall, lookout, ideas }) => ({
    build,
    of: { short: shortfall, lookout: sumItems(lookout), idea: sumItems(ideas) },
  }))
  return (pieces) =>
    TAKES.flatMap((why) =>
      wanted.flatMap(({ build, of }): Taker[] => {
        const n = pieces.reduce((sum, { item, qty }) => sum + Math.min(qty, of[why].get(item) ?? 0), 0)
        return n > 0 ? [{ build, pieces: n, why }] : []
      }),
    )
}

/** What the ideas for later of a design need, as if all of them were built. */
export function ideasNeed(design: Design, parts: ReadonlyMap<PartId, Part>): Pieces[] {
  const ideas = design.modules.filter((m) => m.later)
  if (ideas.length === 0) return []
  const later = new Set(ideas.map((m) => m.id))
  return explode(design, { parts, later: true }).flatMap(({ module, item, qty }) =>
    later.has(module) ? [{ item, qty }] : [],
  )
}
