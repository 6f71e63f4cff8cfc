import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { splitsOf, type Split } from '../catalogue/split.ts'
import { ciede2000 } from '../colours/distance.ts'
import type { Freedom, Visibility } from '../design/design.ts'
import type { Requirement } from '../design/explode.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import type { Candidate, StandInKind } from './candidate.ts'
import { usesKey, type DecisionBook, type OwnRule } from '../build/decision.ts'
import { itemIn, lengthOf, mayCut, type Labs, type Stock, type StockPart } from './stock.ts'

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
export type Demand = {
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

const NONE: readonly string[] = []

/** Whether a requirement says more of what will do than its item and where it is seen. */
export const hasConditions = ({ source, instead }: Pick<Requirement, 'source' | 'instead'>): boolean =>
  source.freedom !== undefined ||
  source.length !== undefined ||
  source.print !== undefined ||
  source.use === 'unused' ||
  source.group !== undefined ||
  instead.length > 0

/** The demand of a requirement, with what the user decided of its line. */
export function demandOf(
  requirement: Pick<Requirement, 'item' | 'source' | 'instead'>,
  book?: Pick<DecisionBook, 'forbidden' | 'accepted'>,
): Demand {
  const { item, source, instead } = requirement
  const { visibility = 'seen', freedom, palette, length, print, use, group } = source
  const forbidden = book?.forbidden(source.id, item) ?? NONE
  const accepted = book?.accepted(source.id, item) ?? NONE
  if (!hasConditions(requirement) && forbidden.length === 0 && accepted.length === 0) return { item, visibility }
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

/** The demand of a line whose group has chosen its colour: what is bought for it must have that one. */
export function demandInScheme(demand: Demand, wanted: ItemKey): Demand {
  if (demand.group === undefined) return demand
  const { group: _, ...bare } = demand
  return { ...bare, item: wanted, freedom: 'exact' }
}

/** Equal for demands that the same pieces fulfil; begins with the item and a line feed, unless it is the item alone. */
export function demandKey(demand: Demand): string {
  const { item, visibility } = demand
  let fields = 0
  for (const _ in demand) fields++
  // Nothing beside the two.
  if (fields === 2) return visibility === 'seen' ? item : `${item}\n${visibility}`
  if (fields === 3 && demand.freedom) return `${item}\n${visibility}\n${demand.freedom}`
  const { item: _, visibility: __, ...rest } = demand
  return `${item}\n${visibility}\n${JSON.stringify(rest)}`
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

/** How far a line may be in other colours: as it says itself, or as the rules say. */
const freedomOf = ({ freedom, visibility }: Demand, { colours }: Rules): Freedom =>
  freedom ??
  (colours === 'within the palette'
    ? 'palette'
    : colours === 'free where hidden' && visibility === 'hidden'
      ? 'free'
      : colours === 'near'
        ? 'near'
        : 'exact')

/** Points of compromise for a piece of a line in other colours: a function, undefined for colours that may not be. */
export function colourScoreOf(
  demand: Demand,
  rules: Rules,
  stock: Pick<Stock, 'plenty' | 'labs'>,
  colour = splitItemKey(demand.item).colour,
): (other: ColourId) => number | undefined {
  const hidden = demand.visibility === 'hidden'
  const freedom = freedomOf(demand, rules)
  if (freedom === 'exact') return (other) => (other === colour ? 0 : undefined)
  if (freedom === 'free') {
    const points = hidden ? POINTS.colour : POINTS.colour + IN_SIGHT
    return (other) => (other === colour ? 0 : points)
  }
  if (freedom === 'palette') {
    const palette = demand.palette ?? rules.palette
    return (other) =>
      other === colour ? 0 : palette.includes(other) ? SEEN_COLOUR + rarity(other, palette, stock.plenty) : undefined
  }
  return (other) => {
    if (other === colour) return 0
    const distance = apart(stock.labs, colour, other)
    return distance !== undefined && distance <= rules.nearLimit ? 1 + Math.ceil(distance / 3) : undefined
  }
}

/** What other colours cost a demand, by the numbers of the colours there are. */
type ColourScores = {
  /** Points of compromise; negative for colours that may not be. */
  readonly points: readonly number[]
  /** The other colours that may be. */
  readonly others: readonly number[]
}

const NO_SCORES: ColourScores = { points: [], others: [] }

/** ColourScores by what they depend on, for the last rules a stock was asked about: colour, freedom, hidden or not, palette. */
type ScoresKept = {
  readonly rules: Rules
  /** By colour; of each in fields for what else there is without a palette. */
  readonly usual: Map<ColourId, (ColourScores | undefined)[]>
  readonly palettes: Map<string, ColourScores>
}
const scoresKept = new WeakMap<Stock, ScoresKept>()
const FREEDOM_FIELD: Record<Freedom, number> = { exact: 1, near: 2, palette: 3, free: 4 }

function scoresIn(demand: Demand, colour: ColourId, rules: Rules, stock: Stock): ColourScores {
  let kept = scoresKept.get(stock)
  if (kept?.rules !== rules) scoresKept.set(stock, (kept = { rules, usual: new Map(), palettes: new Map() }))
  const { freedom, visibility, palette } = demand
  if (palette) {
    const key = [colour, freedom, visibility === 'hidden', ...palette].join()
    const known = kept.palettes.get(key) ?? scoresMade(demand, colour, rules, stock)
    kept.palettes.set(key, known)
    return known
  }
  let fields = kept.usual.get(colour)
  if (!fields) kept.usual.set(colour, (fields = []))
  const field = (freedom ? FREEDOM_FIELD[freedom] : 0) * 2 + (visibility === 'hidden' ? 1 : 0)
  return (fields[field] ??= scoresMade(demand, colour, rules, stock))
}

function scoresMade(demand: Demand, colour: ColourId, rules: Rules, stock: Stock): ColourScores {
  const score = colourScoreOf(demand, rules, stock, colour)
  const points = stock.colours.map((other) => score(other) ?? -1)
  const others: number[] = []
  for (let colourIndex = 0; colourIndex < points.length; colourIndex++)
    if ((points[colourIndex] as number) >= 0 && stock.colours[colourIndex] !== colour) others.push(colourIndex)
  return { points, others }
}

/** Takes note of a candidate: one piece of an item there is, by its place, or pieces of items that may not be there. */
export type CandidateVisitor = {
  one(place: number, kind: Candidate['kind'], points: number): void
  several(uses: Candidate['uses'], kind: Candidate['kind'], points: number): void
  /** Whether it is told of the piece itself where there is none. */
  readonly missingToo: boolean
  /**
   * Candidates that demands of a part have alike, whatever their colour, by a number for each kind of demand. `takes` says
   * whether they are known and the demand at hand has them thereby; undefined until `make` is told of them, which `fill`
   * visits. False where they have to be visited for each demand.
   */
  readonly alike?: {
    takes(part: StockPart, field: number): boolean | undefined
    make(part: StockPart, field: number, fill: () => void): boolean
  }
}

/** No colour: all others are other colours. */
const NO_COLOUR = '' as ColourId
const VISIBILITY_FIELD: Record<Visibility, number> = { seen: 0, hidden: 1, structural: 2 }

/** A number for kinds of plain demands whose other colours do not depend on their own; undefined for all others. */
function alikeField(demand: Demand, rules: Rules): number | undefined {
  if (demand.palette || demand.instead || demand.length !== undefined || demand.print || demand.unused) return undefined
  if (demand.group !== undefined || demand.forbidden || demand.accepted) return undefined
  const freedom = freedomOf(demand, rules)
  if (freedom !== 'free' && freedom !== 'palette') return undefined
  return (demand.freedom ? FREEDOM_FIELD[demand.freedom] : 0) * 3 + VISIBILITY_FIELD[demand.visibility]
}

/** Leaves out what a demand forbids, and takes the points off what it accepts. */
function judged(
  { forbidden = [], accepted = [] }: Demand,
  { items }: Stock,
  visit: CandidateVisitor,
): CandidateVisitor {
  const [never, gladly] = [new Set(forbidden), new Set(accepted)]
  const judge = (key: string, kind: Candidate['kind'], points: number): number | undefined =>
    kind !== 'exact' && never.has(key) ? undefined : gladly.has(key) ? 0 : points
  return {
    missingToo: visit.missingToo,
    one(place, kind, points) {
      const cost = judge(items[place]?.item ?? '', kind, points)
      if (cost !== undefined) visit.one(place, kind, cost)
    },
    several(uses, kind, points) {
      const cost = judge(usesKey(uses), kind, points)
      if (cost !== undefined) visit.several(uses, kind, cost)
    },
  }
}

/** A demand whose candidates are looked for, and in what. */
type Asked = {
  readonly demand: Demand
  readonly rules: Rules
  readonly stock: Stock
  readonly visit: CandidateVisitor
  readonly part: PartId
  readonly colour: ColourId
  readonly decoration: string
  readonly scores: ColourScores
  /** The number of the demand's own colour, where there is anything in it. */
  readonly colourIndex: number | undefined
}

/** Visits a part in a demand's own colour, by its number, undecorated. */
function ownScore(
  visit: CandidateVisitor,
  colourIndex: number | undefined,
  of: StockPart,
  kind: StandInKind,
  base: number,
): void {
  const same = colourIndex === undefined ? -1 : (of.plain[colourIndex] ?? -1)
  if (same >= 0) visit.one(same, kind, base)
}

const NO_PARTS: readonly StockPart[] = []
const NO_SPLITS: readonly Split[] = []

/** Has what all demands of a part have alike taken note of: other colours and moulds; false when that cannot be. */
function makeAlike(
  asked: Pick<Asked, 'demand' | 'rules' | 'stock' | 'visit'>,
  field: number,
  own: StockPart,
  mates: readonly StockPart[],
  mouldPoints: number,
): boolean {
  const { demand, rules, stock, visit } = asked
  const scores = scoresIn(demand, NO_COLOUR, rules, stock)
  const nobody = { part: own.id, colour: NO_COLOUR, decoration: '', colourIndex: undefined }
  const anybody = { demand, rules, stock, visit, scores, ...nobody }
  const made = visit.alike?.make(own, field, () => {
    inColours(anybody, own, 'colour', 0, false)
    for (const other of mates) inColours(anybody, other, 'mould', mouldPoints, false)
  })
  return made ?? false
}

/** Visits other colours of a part, and the demand's own too when asked. */
function inColours(asked: Asked, of: StockPart, kind: StandInKind, base: number, own: boolean): void {
  const { visit, decoration, scores, colourIndex: ownColour } = asked
  if (decoration !== '') {
    for (const other of of.items) {
      const points = scores.points[other.colourIndex] ?? -1
      if (other.decoration === decoration && points >= 0 && (own || other.colourIndex !== ownColour))
        visit.one(other.index, kind, base + points)
    }
    return
  }
  if (own) ownScore(visit, ownColour, of, kind, base)
  for (const colourIndex of scores.others) {
    const other = of.plain[colourIndex] ?? -1
    if (other >= 0) visit.one(other, kind, base + (scores.points[colourIndex] as number))
  }
}

/** Visits what may stand in for a stickered or printed piece: the plain one, a print, the plain one with the sticker. */
function visitUndecorated({ demand, rules, stock, visit, part, colour, decoration }: Asked): void {
  const plain = itemKey(part, colour)
  const add = (kind: StandInKind, items: readonly ItemKey[]) => {
    visit.several(
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

/** Visits smaller pieces in its place. */
function visitSmaller(asked: Asked, splits: readonly Split[], base: number): void {
  const { stock, visit } = asked
  for (const pieces of splits) {
    const [first] = pieces
    for (const one of (first && stock.byPart.get(first.part)?.items) ?? []) {
      const made = one.decoration === '' ? inOne(asked, pieces, one.colour) : undefined
      if (made) visit.several(made.uses, 'split', base + made.points)
    }
  }
}

/** Pieces all in one colour, if there are any and it may be. */
function inOne(
  { stock, scores, colourIndex }: Asked,
  pieces: readonly { readonly part: PartId; readonly qty: number }[],
  colour: ColourId,
): { readonly uses: Candidate['uses']; readonly points: number } | undefined {
  const uses = pieces.map((p) => ({ item: itemKey(p.part, colour), qty: p.qty }))
  const number = stock.colourIndexOf(colour)
  if (number === undefined) return undefined
  const points = number === colourIndex ? 0 : (scores.points[number] ?? -1)
  return points >= 0 && uses.every((u) => stock.places.has(u.item)) ? { uses, points } : undefined
}

/**
 * Visits every way the rules, the line and the user's decisions allow to get a required piece, the exact one first:
 * other colours and moulds, smaller pieces in its place, what the line takes instead, the user's own rules, longer hose
 * or string cut to length, and for stickered or printed pieces what the rules say of them. What the user forbids is
 * left out; what the user accepts costs no points. The pieces of a split share one colour. `there` is the item itself
 * in the stock, where that is known already.
 */
export function eachCandidate(
  demand: Demand,
  rules: Rules,
  stock: Stock,
  ownRules: readonly OwnRule[],
  visitor: CandidateVisitor,
  there = itemIn(stock, demand.item),
): void {
  const visit = demand.forbidden || demand.accepted ? judged(demand, stock, visitor) : visitor
  const { item, visibility } = demand
  const split = there ?? splitItemKey(item)
  const { colour, decoration } = split
  const part = 'of' in split ? split.of.id : split.part
  const own = there ? there.of : stock.byPart.get(part)
  const known = own ? own.part : stock.parts.get(part)
  if (there) visit.one(there.index, 'exact', 0)
  else if (visit.missingToo) visit.several([{ item, qty: 1 }], 'exact', 0)
  const hidden = visibility === 'hidden'
  const inSight = hidden ? 0 : IN_SIGHT
  const mouldPoints = POINTS.mould + inSight
  const scores = freedomOf(demand, rules) === 'exact' ? NO_SCORES : scoresIn(demand, colour, rules, stock)
  const colourIndex = there ? there.colourIndex : stock.colourIndexOf(colour)
  const shape = decoration === '' ? known?.shape : undefined
  const mates = shape && mayTakeMould(visibility, rules) ? stock.matesOf(part) : NO_PARTS
  const splits = shape && known && maySplit(visibility, rules) ? splitsOf(known) : NO_SPLITS
  const field = own && decoration === '' ? alikeField(demand, rules) : undefined
  let pooled = false
  if (own && field !== undefined && visit.alike)
    pooled = visit.alike.takes(own, field) ?? makeAlike({ demand, rules, stock, visit }, field, own, mates, mouldPoints)
  // Most demands have no more to look for than the piece itself in other moulds, and what they have from a pool.
  const more = (scores !== NO_SCORES && !pooled) || splits.length > 0 || ownRules.length > 0 || decoration !== ''
  const asked: Asked | undefined = more
    ? { demand, rules, stock, visit, part, colour, decoration, scores, colourIndex }
    : undefined
  if (asked && own && !pooled) inColours(asked, own, 'colour', 0, false)
  if (own?.stickered && decoration === '' && (hidden || rules.stickers === 'left off' || rules.stickers === 'reused'))
    for (const other of own.items)
      if (other.sticker && other.colour === colour)
        visit.one(other.index, 'peel', hidden ? POINTS.peel : POINTS.peel + 1)
  for (const other of mates)
    if (!asked || pooled) ownScore(visit, colourIndex, other, 'mould', mouldPoints)
    else inColours(asked, other, 'mould', mouldPoints, true)
  if (asked) visitSmaller(asked, splits, POINTS.split + inSight)
  if (asked && decoration === '')
    for (const rule of ownRules) {
      const made = rule.part === part ? inOne(asked, rule.uses, colour) : undefined
      if (made) visit.several(made.uses, 'own', rule.points)
    }
  if (demand.instead)
    for (const [i, uses] of demand.instead.entries()) visit.several(uses, 'instead', POINTS.instead + i)
  if (asked && decoration !== '') visitUndecorated(asked)
  const needed = demand.length ?? (own && !own.byLength ? undefined : lengthOf(known))
  if (needed !== undefined && mayCut(known, rules.altering))
    for (const { id, part: other, items } of stock.byPart.values()) {
      if (id === part || other?.shape.family !== known?.shape.family) continue
      if ((lengthOf(other) ?? 0) <= needed) continue
      for (const it of items) if (it.colour === colour) visit.one(it.index, 'length', POINTS.length)
    }
}

/** Every way to get a required piece (`eachCandidate`), the exact one first. */
export function candidates(demand: Demand, rules: Rules, stock: Stock, ownRules: readonly OwnRule[]): Candidate[] {
  const found: Candidate[] = []
  eachCandidate(demand, rules, stock, ownRules, {
    missingToo: true,
    one(place, kind, points) {
      const one = stock.items[place]
      if (one) found.push({ kind, uses: [{ item: one.item, qty: 1 }], points })
    },
    several(uses, kind, points) {
      found.push({ kind, uses, points })
    },
  })
  return found
}

/** 0 for the palette's most plentiful colour, 1 for the next. */
function rarity(colour: ColourId, palette: readonly ColourId[], plenty: ReadonlyMap<ColourId, number>): number {
  const own = plenty.get(colour) ?? 0
  let rarer = 0
  for (const c of palette) if (c !== colour && (plenty.get(c) ?? 0) > own) rarer++
  return rarer
}
