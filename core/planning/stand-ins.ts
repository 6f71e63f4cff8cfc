import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { byMouldClass, mouldClass } from '../catalogue/mould.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab, type Lab } from '../colours/distance.ts'
import type { Freedom, Visibility } from '../design/design.ts'
import type { Requirement } from '../design/explode.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { studsToMm } from '../units/length.ts'
import type { Rules } from './build.ts'

/** Why a piece stands in for another. */
export const STAND_IN_KINDS = ['colour', 'instead', 'length', 'mould', 'peel', 'plain', 'print', 'sticker'] as const
export type StandInKind = (typeof STAND_IN_KINDS)[number]

/** Points of compromise per piece by kind: 0 is the piece itself; common practice, our own scale. */
export const POINTS: Record<StandInKind, number> = {
  colour: 2,
  instead: 1,
  length: 4,
  mould: 2,
  peel: 1,
  plain: 3,
  print: 1,
  sticker: 1,
}
/** More for what is in plain sight. */
const IN_SIGHT = 2
/** A colour of the palette in plain sight: more, and the more the rarer it is. */
const SEEN_COLOUR = 5
/** Colours this near, by CIEDE2000, pass for one another where a line says that near is good enough. */
export const NEAR_LIMIT = 10

/** What a line asks for: all that decides which pieces will do. */
export type Wish = {
  readonly item: ItemKey
  readonly visibility: Visibility
  readonly freedom?: Freedom | undefined
  readonly palette?: readonly ColourId[] | undefined
  /** Length in mm, where the name's does not count. */
  readonly length?: number | undefined
  /** What will do instead, best first. */
  readonly instead?: readonly Candidate['uses'][] | undefined
  /** Printed to order. */
  readonly print?: boolean | undefined
  /** A sticker that must not have been applied. */
  readonly unused?: boolean | undefined
  /** Shares its colour with the lines of this group. */
  readonly group?: string | undefined
}

/** The wish of a requirement. */
export function wishOf({ item, source, instead }: Pick<Requirement, 'item' | 'source' | 'instead'>): Wish {
  const { visibility = 'seen', freedom, palette, length, print, use, group } = source
  return {
    item,
    visibility,
    ...(freedom && { freedom }),
    ...(freedom === 'palette' && palette && { palette }),
    ...(length !== undefined && { length }),
    ...(instead.length > 0 && { instead }),
    ...(print && { print: true }),
    ...(use === 'unused' && { unused: true }),
    ...(group !== undefined && { group }),
  }
}

/** Equal for wishes that the same pieces fulfil; begins with the item and a line feed, unless it is the item alone. */
export function wishKey({ item, visibility, ...rest }: Wish): string {
  const more = Object.keys(rest).length > 0 ? JSON.stringify(rest) : ''
  if (more === '') return visibility === 'seen' ? item : `${item}\n${visibility}`
  return `${item}\n${visibility}\n${more}`
}

/** One way to get a required piece: items used, with its points of compromise. */
export type Candidate = {
  readonly kind: StandInKind | 'exact'
  readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly points: number
}

/** What stand-ins are looked for in: the items there are, and what is known of parts and colours. */
export type Stock = {
  readonly byPart: ReadonlyMap<PartId, readonly ItemKey[]>
  /** Parts there are of each mould class. */
  readonly byMould: ReadonlyMap<string, readonly Part[]>
  readonly parts: ReadonlyMap<PartId, Part>
  readonly labs: ReadonlyMap<ColourId, Lab & { readonly finish: string }>
  /** Pieces of each colour, for the most plentiful first. */
  readonly plenty: ReadonlyMap<ColourId, number>
}

/** Families that come by the length; stiff ones are cut only where any altering is allowed. */
const SOFT: ReadonlySet<Family> = new Set(['hose', 'string'])
const STIFF: ReadonlySet<Family> = new Set(['bar', 'rod'])

/** A part's length in mm by its name, for parts that come by the length. */
export const lengthOf = (part: Part | undefined): number | undefined =>
  part && part.shape.length > 0 && (SOFT.has(part.shape.family) || STIFF.has(part.shape.family))
    ? studsToMm(part.shape.length)
    : undefined

/** Whether the rules let a part be cut to length. */
export const mayCut = (part: Part | undefined, altering: Rules['altering']): boolean =>
  part !== undefined &&
  altering !== 'never' &&
  (SOFT.has(part.shape.family) || (altering === 'allowed' && STIFF.has(part.shape.family)))

const labsOf = new WeakMap<ReadonlyMap<ColourId, Colour>, Stock['labs']>()

/** Sorts items by part and counts colours, for `candidates`. */
export function stockOf(
  items: Iterable<readonly [ItemKey, number]>,
  parts: ReadonlyMap<PartId, Part>,
  colours: ReadonlyMap<ColourId, Colour> | undefined,
): Stock {
  const byPart = new Map<PartId, ItemKey[]>()
  const plenty = new Map<ColourId, number>()
  for (const [item, qty] of items) {
    const { part, colour } = splitItemKey(item)
    const known = byPart.get(part)
    if (known) known.push(item)
    else byPart.set(part, [item])
    plenty.set(colour, (plenty.get(colour) ?? 0) + qty)
  }
  let labs = (colours && labsOf.get(colours)) ?? new Map<ColourId, Lab & { finish: string }>()
  if (colours && !labsOf.has(colours)) {
    labs = new Map([...colours].map(([id, c]) => [id, { ...hexToLab(c.hex), finish: c.finish }]))
    labsOf.set(colours, labs)
  }
  const there = [...byPart.keys()].flatMap((id) => parts.get(id) ?? [])
  return { byPart, byMould: byMouldClass(there), parts, plenty, labs }
}

/** Whether another mould of the same shape may stand in: never where the structure counts on this one. */
export const mayTakeMould = (visibility: Visibility, { moulds }: Rules): boolean =>
  visibility !== 'structural' && (moulds === 'anywhere' || (moulds === 'where hidden' && visibility === 'hidden'))

/** Points of compromise for a piece of a line in another colour; undefined where that may not be. */
export function colourPoints(wish: Wish, other: ColourId, rules: Rules, stock: Pick<Stock, 'plenty' | 'labs'>) {
  const { colour } = splitItemKey(wish.item)
  if (other === colour) return 0
  const hidden = wish.visibility === 'hidden'
  const freedom =
    wish.freedom ??
    (rules.colours === 'within the palette'
      ? 'palette'
      : rules.colours === 'free where hidden' && hidden
        ? 'free'
        : 'exact')
  if (freedom === 'exact') return undefined
  if (freedom === 'free') return hidden ? POINTS.colour : POINTS.colour + IN_SIGHT
  if (freedom === 'palette') {
    const palette = wish.palette ?? rules.palette
    return palette.includes(other) ? SEEN_COLOUR + rarity(other, palette, stock.plenty) : undefined
  }
  const [p, q] = [stock.labs.get(colour), stock.labs.get(other)]
  if (!p || !q || p.finish !== q.finish) return undefined
  const distance = ciede2000(p, q)
  return distance <= NEAR_LIMIT ? 1 + Math.ceil(distance / 3) : undefined
}

/**
 * Every way the rules and the line allow to get a required piece, the exact one first: other colours, what the line
 * takes instead, longer hose or string cut to length, and for stickered or printed pieces what the rules say of them.
 */
export function candidates(wish: Wish, rules: Rules, stock: Stock): Candidate[] {
  const { item, visibility } = wish
  const { part, colour, decoration } = splitItemKey(item)
  const found: Candidate[] = [{ kind: 'exact', uses: [{ item, qty: 1 }], points: 0 }]
  const add = (kind: StandInKind, items: readonly ItemKey[], points = POINTS[kind]) => {
    found.push({ kind, uses: items.map((i) => ({ item: i, qty: 1 })), points })
  }
  const hidden = visibility === 'hidden'
  for (const other of stock.byPart.get(part) ?? []) {
    if (other === item) continue
    const it = splitItemKey(other)
    if (it.decoration === decoration && it.colour !== colour) {
      const points = colourPoints(wish, it.colour, rules, stock)
      if (points !== undefined) add('colour', [other], points)
    }
    if (decoration === '' && isSticker(it.decoration) && it.colour === colour) {
      if (hidden) add('peel', [other])
      else if (rules.stickers === 'left off' || rules.stickers === 'reused') add('peel', [other], POINTS.peel + 1)
    }
  }
  const shape = decoration === '' ? stock.parts.get(part)?.shape : undefined
  const mould = shape && mayTakeMould(visibility, rules) ? mouldClass(shape) : undefined
  for (const other of (mould === undefined ? undefined : stock.byMould.get(mould)) ?? []) {
    if (other.id === part) continue
    for (const it of stock.byPart.get(other.id) ?? []) {
      const key = splitItemKey(it)
      const shade = key.decoration === '' ? colourPoints(wish, key.colour, rules, stock) : undefined
      if (shade !== undefined) add('mould', [it], POINTS.mould + (hidden ? 0 : IN_SIGHT) + shade)
    }
  }
  for (const [i, uses] of (wish.instead ?? []).entries())
    found.push({ kind: 'instead', uses, points: POINTS.instead + i })
  if (decoration !== '') {
    const plain = itemKey(part, colour)
    const sticker = isSticker(decoration)
    if (sticker && rules.stickers === 'left off') add('plain', [plain])
    if (wish.print || (sticker ? rules.stickers === 'custom prints' : rules.thirdParty)) add('print', [plain])
    if (sticker && (rules.stickers === 'applied' || rules.stickers === 'reused'))
      for (const loose of stock.byPart.get(partFromName(decoration).id) ?? []) add('sticker', [plain, loose])
  }
  const own = stock.parts.get(part)
  const needed = wish.length ?? lengthOf(own)
  if (needed !== undefined && mayCut(own, rules.altering))
    for (const [id, items] of stock.byPart) {
      const other = stock.parts.get(id)
      if (id === part || other?.shape.family !== own?.shape.family) continue
      if ((lengthOf(other) ?? 0) <= needed) continue
      for (const it of items) if (splitItemKey(it).colour === colour) add('length', [it])
    }
  return found
}

/** 0 for the palette's most plentiful colour, 1 for the next. */
function rarity(colour: ColourId, palette: readonly ColourId[], plenty: ReadonlyMap<ColourId, number>): number {
  const own = plenty.get(colour) ?? 0
  return palette.filter((c) => c !== colour && (plenty.get(c) ?? 0) > own).length
}
