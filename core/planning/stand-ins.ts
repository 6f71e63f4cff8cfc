import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import type { Visibility } from '../design/design.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { studsToMm } from '../units/length.ts'
import type { Rules } from './build.ts'

/** Why a piece stands in for another. */
export const STAND_IN_KINDS = ['colour', 'length', 'peel', 'plain', 'print', 'sticker'] as const
export type StandInKind = (typeof STAND_IN_KINDS)[number]

/** Points of compromise per piece by kind: 0 is the piece itself; common practice, our own scale. */
export const POINTS: Record<StandInKind, number> = { colour: 2, length: 4, peel: 1, plain: 3, print: 1, sticker: 1 }
/** A colour of the palette in plain sight: more, and the more the rarer it is. */
const SEEN_COLOUR = 5

/** One way to get a required piece: items used one of each, with its points of compromise. */
export type Candidate = {
  readonly kind: StandInKind | 'exact'
  readonly items: readonly ItemKey[]
  readonly points: number
}

/** What stand-ins are looked for in: the items there are, and what is known of parts. */
export type Stock = {
  readonly byPart: ReadonlyMap<PartId, readonly ItemKey[]>
  readonly parts: ReadonlyMap<PartId, Part>
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

/** Sorts items by part and counts colours, for `candidates`. */
export function stockOf(items: Iterable<readonly [ItemKey, number]>, parts: ReadonlyMap<PartId, Part>): Stock {
  const byPart = new Map<PartId, ItemKey[]>()
  const plenty = new Map<ColourId, number>()
  for (const [item, qty] of items) {
    const { part, colour } = splitItemKey(item)
    const known = byPart.get(part)
    if (known) known.push(item)
    else byPart.set(part, [item])
    plenty.set(colour, (plenty.get(colour) ?? 0) + qty)
  }
  return { byPart, parts, plenty }
}

/**
 * Every way the rules allow to get a required piece, the exact one first: other colours where hidden or within the
 * palette, longer hose or string cut to length, and for stickered or printed pieces what the rules say of them.
 */
export function candidates(item: ItemKey, visibility: Visibility, rules: Rules, stock: Stock): Candidate[] {
  const { part, colour, decoration } = splitItemKey(item)
  const found: Candidate[] = [{ kind: 'exact', items: [item], points: 0 }]
  const add = (kind: StandInKind, items: readonly ItemKey[], points = POINTS[kind]) => {
    found.push({ kind, items, points })
  }
  const hidden = visibility === 'hidden'
  for (const other of stock.byPart.get(part) ?? []) {
    if (other === item) continue
    const it = splitItemKey(other)
    if (it.decoration === decoration && it.colour !== colour) {
      if (rules.colours === 'free where hidden' && hidden) add('colour', [other])
      if (rules.colours === 'within the palette' && rules.palette.includes(it.colour))
        add('colour', [other], SEEN_COLOUR + rarity(it.colour, rules.palette, stock.plenty))
    }
    if (decoration === '' && isSticker(it.decoration) && it.colour === colour) {
      if (hidden) add('peel', [other])
      else if (rules.stickers === 'left off' || rules.stickers === 'reused') add('peel', [other], POINTS.peel + 1)
    }
  }
  if (decoration !== '') {
    const plain = itemKey(part, colour)
    const sticker = isSticker(decoration)
    if (sticker && rules.stickers === 'left off') add('plain', [plain])
    if (sticker ? rules.stickers === 'custom prints' : rules.thirdParty) add('print', [plain])
    if (sticker && (rules.stickers === 'applied' || rules.stickers === 'reused'))
      for (const loose of stock.byPart.get(partFromName(decoration).id) ?? []) add('sticker', [plain, loose])
  }
  const own = stock.parts.get(part)
  const needed = lengthOf(own)
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
