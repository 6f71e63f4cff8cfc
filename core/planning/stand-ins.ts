import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { byMouldClass, mouldClass } from '../catalogue/mould.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import type { Family } from '../catalogue/shape.ts'
import { splitsOf } from '../catalogue/split.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab, type Lab } from '../colours/distance.ts'
import type { Freedom, Visibility } from '../design/design.ts'
import type { Requirement } from '../design/explode.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { studsToMm } from '../units/length.ts'
import type { Rules } from './build.ts'
import { usesKey, type DecisionBook, type OwnRule } from './decision.ts'
import type { Variant } from './supplies.ts'

/** Why a piece stands in for another. */
export const STAND_IN_KINDS = [
  'chosen',
  'colour',
  'instead',
  'length',
  'mould',
  'own',
  'peel',
  'plain',
  'print',
  'split',
  'sticker',
] as const
export type StandInKind = (typeof STAND_IN_KINDS)[number]

/** Points of compromise per piece by kind: 0 is the piece itself; common practice, our own scale. */
export const POINTS: Record<StandInKind, number> = {
  chosen: 0,
  colour: 2,
  instead: 1,
  length: 4,
  mould: 2,
  own: 1,
  peel: 1,
  plain: 3,
  print: 1,
  split: 2,
  sticker: 1,
}
/** More for what is in plain sight. */
const IN_SIGHT = 2
/** A colour of the palette in plain sight: more, and the more the rarer it is. */
const SEEN_COLOUR = 5
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
  /** What the user forbids, and what the user finds as good as the item: `usesKey`s. */
  readonly forbidden?: readonly string[] | undefined
  readonly accepted?: readonly string[] | undefined
}

/** The wish of a requirement, with what the user decided of its line. */
export function wishOf(
  { item, source, instead }: Pick<Requirement, 'item' | 'source' | 'instead'>,
  book?: Pick<DecisionBook, 'forbidden' | 'accepted'>,
): Wish {
  const { visibility = 'seen', freedom, palette, length, print, use, group } = source
  const forbidden = book?.forbidden(source.id, item) ?? []
  const accepted = book?.accepted(source.id, item) ?? []
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
    ...(forbidden.length > 0 && { forbidden }),
    ...(accepted.length > 0 && { accepted }),
  }
}

/** The wish of a line whose group has chosen its colour: what is bought for it must have that one. */
export function settledWish(wish: Wish, wanted: ItemKey): Wish {
  const { group, ...bare } = wish
  return group === undefined ? wish : { ...bare, item: wanted, freedom: 'exact' }
}

/** Equal for wishes that the same pieces fulfil; begins with the item and a line feed, unless it is the item alone. */
export function wishKey({ item, visibility, ...rest }: Wish): string {
  let more = ''
  for (const _ in rest) {
    more = JSON.stringify(rest)
    break
  }
  if (more === '') return visibility === 'seen' ? item : `${item}\n${visibility}`
  return `${item}\n${visibility}\n${more}`
}

/** One way to get a required piece: items used, with its points of compromise. */
export type Candidate = {
  readonly kind: StandInKind | 'exact'
  readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly points: number
  /** The stock it is one piece of. */
  readonly from?: StockItem
  /** Room for the options an option finder makes of it. */
  memo?: { readonly owner: object; readonly options: unknown }
}

/** An item there is, with the single-piece candidates it has served as: equal ones are one object. */
export type StockItem = {
  /** Its place among the items of the stock. */
  readonly index: number
  readonly item: ItemKey
  readonly colour: ColourId
  readonly decoration: string
  readonly sticker: boolean
  /** Its part comes by the length. */
  readonly byLength: boolean
  readonly served: Candidate[]
  /** Its supplies, where it is something to draw from. */
  variants?: readonly Variant[]
}

/** What stand-ins are looked for in: the items there are, and what is known of parts and colours. */
export type Stock = {
  readonly byItem: ReadonlyMap<ItemKey, StockItem>
  readonly byPart: ReadonlyMap<PartId, readonly StockItem[]>
  /** Parts there are of each mould class. */
  readonly byMould: ReadonlyMap<string, readonly Part[]>
  readonly parts: ReadonlyMap<PartId, Part>
  readonly labs: Labs
  /** Pieces of each colour, for the most plentiful first. */
  readonly plenty: ReadonlyMap<ColourId, number>
}
type Labs = ReadonlyMap<ColourId, Lab & { readonly finish: string }>

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

const labsOf = new WeakMap<ReadonlyMap<ColourId, Colour>, Labs>()
const NO_LABS: Labs = new Map()

function labsFrom(colours: ReadonlyMap<ColourId, Colour> | undefined): Labs {
  if (!colours) return NO_LABS
  const known = labsOf.get(colours)
  if (known) return known
  const labs = new Map([...colours].map(([id, c]) => [id, { ...hexToLab(c.hex), finish: c.finish }]))
  labsOf.set(colours, labs)
  return labs
}

/** Sorts items by part and counts colours, for `candidates`. */
export function stockOf(
  items: Iterable<readonly [ItemKey, number]>,
  parts: ReadonlyMap<PartId, Part>,
  colours: ReadonlyMap<ColourId, Colour> | undefined,
): Stock {
  const byItem = new Map<ItemKey, StockItem>()
  const byPart = new Map<PartId, StockItem[]>()
  const plenty = new Map<ColourId, number>()
  for (const [item, qty] of items) {
    const { part, colour, decoration } = splitItemKey(item)
    const one: StockItem = {
      index: byItem.size,
      item,
      colour,
      decoration,
      sticker: isSticker(decoration),
      byLength: lengthOf(parts.get(part)) !== undefined,
      served: [],
    }
    byItem.set(item, one)
    const known = byPart.get(part)
    if (known) known.push(one)
    else byPart.set(part, [one])
    plenty.set(colour, (plenty.get(colour) ?? 0) + qty)
  }
  const there = [...byPart.keys()].flatMap((id) => parts.get(id) ?? [])
  return { byItem, byPart, byMould: byMouldClass(there), parts, plenty, labs: labsFrom(colours) }
}

/** Whether another mould of the same shape may stand in: never where the structure counts on this one. */
export const mayTakeMould = (visibility: Visibility, { moulds }: Rules): boolean =>
  visibility !== 'structural' && (moulds === 'anywhere' || (moulds === 'where hidden' && visibility === 'hidden'))

/** Whether smaller pieces may fill the place of one: never where the structure counts on it, unless that is allowed. */
export const maySplit = (visibility: Visibility, { splits }: Rules): boolean =>
  splits === 'structural too' ||
  (splits === 'anywhere' && visibility !== 'structural') ||
  (splits === 'where hidden' && visibility === 'hidden')

const distances = new WeakMap<Labs, Map<ColourId, Map<ColourId, number>>>()

/** How far apart two colours are (CIEDE2000); undefined when one is unknown or their finishes differ. */
function apart(labs: Labs, p: ColourId, q: ColourId): number | undefined {
  let from = distances.get(labs)
  if (!from) distances.set(labs, (from = new Map()))
  let row = from.get(p)
  if (!row) from.set(p, (row = new Map()))
  const known = row.get(q)
  if (known !== undefined) return known < 0 ? undefined : known
  const [a, b] = [labs.get(p), labs.get(q)]
  const distance = a && b && a.finish === b.finish ? ciede2000(a, b) : undefined
  row.set(q, distance ?? -1)
  return distance
}

/** Points of compromise for a piece of a line in other colours: a function, undefined for colours that may not be. */
export function shadesOf(
  wish: Wish,
  rules: Rules,
  stock: Pick<Stock, 'plenty' | 'labs'>,
): (other: ColourId) => number | undefined {
  const { colour } = splitItemKey(wish.item)
  const hidden = wish.visibility === 'hidden'
  const freedom =
    wish.freedom ??
    (rules.colours === 'within the palette'
      ? 'palette'
      : rules.colours === 'free where hidden' && hidden
        ? 'free'
        : rules.colours === 'near'
          ? 'near'
          : 'exact')
  if (freedom === 'exact') return (other) => (other === colour ? 0 : undefined)
  if (freedom === 'free') {
    const points = hidden ? POINTS.colour : POINTS.colour + IN_SIGHT
    return (other) => (other === colour ? 0 : points)
  }
  if (freedom === 'palette') {
    const palette = wish.palette ?? rules.palette
    return (other) =>
      other === colour ? 0 : palette.includes(other) ? SEEN_COLOUR + rarity(other, palette, stock.plenty) : undefined
  }
  return (other) => {
    if (other === colour) return 0
    const distance = apart(stock.labs, colour, other)
    return distance !== undefined && distance <= rules.nearLimit ? 1 + Math.ceil(distance / 3) : undefined
  }
}

/** A single piece as a candidate; equal ones are one object. */
function single(one: StockItem, kind: Candidate['kind'], points: number): Candidate {
  for (const known of one.served) if (known.kind === kind && known.points === points) return known
  const made: Candidate = { kind, uses: [{ item: one.item, qty: 1 }], points, from: one }
  one.served.push(made)
  return made
}

/**
 * Every way the rules, the line and the user's decisions allow to get a required piece, the exact one first: other
 * colours and moulds, smaller pieces in its place, what the line takes instead, the user's own rules, longer hose or
 * string cut to length, and for stickered or printed pieces what the rules say of them. What the user forbids is left
 * out; what the user accepts costs no points. The pieces of a split share one colour.
 */
export function candidates(wish: Wish, rules: Rules, stock: Stock, ownRules: readonly OwnRule[]): readonly Candidate[] {
  const { item, visibility } = wish
  const { part, colour, decoration } = splitItemKey(item)
  const there = stock.byItem.get(item)
  const found: Candidate[] = [
    there ? single(there, 'exact', 0) : { kind: 'exact', uses: [{ item, qty: 1 }], points: 0 },
  ]
  const add = (kind: StandInKind, items: readonly ItemKey[], points = POINTS[kind]) => {
    found.push({ kind, uses: items.map((i) => ({ item: i, qty: 1 })), points })
  }
  const hidden = visibility === 'hidden'
  const inSight = hidden ? 0 : IN_SIGHT
  const shade = shadesOf(wish, rules, stock)
  const peelable = hidden || rules.stickers === 'left off' || rules.stickers === 'reused'
  for (const other of stock.byPart.get(part) ?? []) {
    if (other.decoration === decoration && other.colour !== colour) {
      const points = shade(other.colour)
      if (points !== undefined) found.push(single(other, 'colour', points))
    }
    if (decoration === '' && other.sticker && peelable && other.colour === colour)
      found.push(single(other, 'peel', hidden ? POINTS.peel : POINTS.peel + 1))
  }
  const shape = decoration === '' ? stock.parts.get(part)?.shape : undefined
  const mould = shape && mayTakeMould(visibility, rules) ? mouldClass(shape) : undefined
  for (const other of (mould === undefined ? undefined : stock.byMould.get(mould)) ?? []) {
    if (other.id === part) continue
    for (const it of stock.byPart.get(other.id) ?? []) {
      const points = it.decoration === '' ? shade(it.colour) : undefined
      if (points !== undefined) found.push(single(it, 'mould', POINTS.mould + inSight + points))
    }
  }
  /** Pieces all in one colour, if there are any and it may be. */
  const inOne = (pieces: readonly { readonly part: PartId; readonly qty: number }[], of: ColourId) => {
    const uses = pieces.map((p) => ({ item: itemKey(p.part, of), qty: p.qty }))
    const points = shade(of)
    return points !== undefined && uses.every((u) => stock.byItem.has(u.item)) ? { uses, points } : undefined
  }
  if (shape && maySplit(visibility, rules))
    for (const pieces of splitsOf(shape)) {
      const [first] = pieces
      for (const one of (first && stock.byPart.get(first.part)) ?? []) {
        const made = one.decoration === '' ? inOne(pieces, one.colour) : undefined
        if (made) found.push({ kind: 'split', uses: made.uses, points: POINTS.split + inSight + made.points })
      }
    }
  if (decoration === '')
    for (const rule of ownRules) {
      const made = rule.part === part ? inOne(rule.uses, colour) : undefined
      if (made) found.push({ kind: 'own', uses: made.uses, points: rule.points })
    }
  for (const [i, uses] of (wish.instead ?? []).entries())
    found.push({ kind: 'instead', uses, points: POINTS.instead + i })
  if (decoration !== '') {
    const plain = itemKey(part, colour)
    const sticker = isSticker(decoration)
    if (sticker && rules.stickers === 'left off') add('plain', [plain])
    if (wish.print || (sticker ? rules.stickers === 'custom prints' : rules.thirdParty)) add('print', [plain])
    if (sticker && (rules.stickers === 'applied' || rules.stickers === 'reused'))
      for (const loose of stock.byPart.get(partFromName(decoration).id) ?? []) add('sticker', [plain, loose.item])
  }
  const own = stock.parts.get(part)
  const needed = wish.length ?? lengthOf(own)
  if (needed !== undefined && mayCut(own, rules.altering))
    for (const [id, items] of stock.byPart) {
      const other = stock.parts.get(id)
      if (id === part || other?.shape.family !== own?.shape.family) continue
      if ((lengthOf(other) ?? 0) <= needed) continue
      for (const it of items) if (it.colour === colour) found.push(single(it, 'length', POINTS.length))
    }
  if (!wish.forbidden && !wish.accepted) return found
  const [forbidden, accepted] = [new Set(wish.forbidden), new Set(wish.accepted)]
  return found
    .filter((c) => c.kind === 'exact' || !forbidden.has(usesKey(c.uses)))
    .map((c) => (accepted.has(usesKey(c.uses)) ? { ...c, points: 0 } : c))
}

/** 0 for the palette's most plentiful colour, 1 for the next. */
function rarity(colour: ColourId, palette: readonly ColourId[], plenty: ReadonlyMap<ColourId, number>): number {
  const own = plenty.get(colour) ?? 0
  let rarer = 0
  for (const c of palette) if (c !== colour && (plenty.get(c) ?? 0) > own) rarer++
  return rarer
}
