import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { STAND_IN_KINDS } from '../netting/stand-ins/candidate.ts'
import { LevyTermsSchema, type LevyTerms } from '../costs/levy.ts'
import { MOST_EXCHANGE, WHOLE_EXCHANGE } from '../units/exchange.ts'
import { CurrencySchema } from '../units/money.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'

/** The sourcing problem's exchange format, version 2, and version 1, which lacks some of its fields; described in docs/formats/sourcing.md. */

const Text = v.pipe(v.string(), v.minLength(1), v.maxLength(400))
/** Quantities, money in minor units and masses in milligrams: non-negative safe integers. */
const Count = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(1e12))
const Positive = v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(1e12))
const Pieces = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(1_000_000))
const SomePieces = v.pipe(Pieces, v.minValue(1))

const ItemSchema = v.object({
  id: Text,
  /** What it is a piece of, where the id says more than that; nothing that is solved depends on it. */
  piece: v.optional(ItemKeySchema),
  part: v.string(),
  colour: v.string(),
  mass: Count,
  owned: Pieces,
  /** What surplus earns each; `hoped` is what it may bring at best, for information alone (version 2). */
  resale: v.nullable(v.object({ credit: Count, max: Pieces, hoped: v.optional(Count) })),
})

const AcceptSchema = v.object({
  id: Text,
  /** Why it stands in for the piece; none for the piece itself. */
  standIn: v.optional(v.picklist(STAND_IN_KINDS)),
  /** A print whose run is paid for by the line itself. */
  ownRun: v.optional(v.boolean()),
  uses: v.pipe(v.array(v.object({ item: Text, qty: SomePieces })), v.minLength(1)),
  penalty: Count,
})

const LineSchema = v.object({
  id: Text,
  /** The piece it asks for. */
  piece: v.optional(ItemKeySchema),
  qty: Pieces,
  accepts: v.pipe(v.array(AcceptSchema), v.minLength(1)),
})

const ShopSchema = v.object({
  id: Text,
  kind: v.picklist(['shop', 'counter']),
  minOrder: Count,
  bands: v.array(v.object({ maxMass: Positive, fee: Count })),
  service: v.nullable(v.object({ threshold: Count, fee: Count })),
  handling: Count,
  lineFee: Count,
  leadDays: Count,
  reliability: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  status: v.picklist(['free', 'excluded', 'pinned']),
  /** The currency it trades in, where that is not the problem's; information. Version 2. */
  currency: v.optional(CurrencySchema),
  /**
   * Billionths of a minor unit of the problem's currency for one of the shop's own, in which all its amounts and the prices
   * of its offers are; left out where both are the same. Version 2.
   */
  rate: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(MOST_EXCHANGE))),
  /** Levies on its orders; none when left out. Version 2. */
  levies: v.optional(v.pipe(v.array(Text), v.maxLength(20))),
})

/** Duty or tax that orders bear. */
const LevySchema = v.object({ id: Text, ...LevyTermsSchema.entries })

const OfferSchema = v.object({
  ...{ id: Text, shop: Text, item: Text, price: Count, stock: Pieces, pack: Positive },
  /** What a piece of it weighs against buying it beside its price, as an option's does; in no bill. Version 2. */
  penalty: v.optional(Count),
})

/** A figure that a copy of a set holds, worth more whole than in pieces. */
const FigureSchema = v.object({
  id: Text,
  pieces: v.pipe(v.array(v.object({ item: Text, qty: SomePieces })), v.minLength(1)),
  /**
   * What a whole one earns, one for every copy that is bought; of all with this id, of whichever sets, at most `max`.
   * `hoped` is what it may bring at best.
   */
  credit: Count,
  hoped: v.optional(Count),
  max: v.optional(Pieces),
})

const SetSchema = v.object({
  id: Text,
  price: Count,
  maxCopies: v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(10_000)),
  contents: v.array(v.object({ item: Text, qty: SomePieces })),
  /** Copies that must be bought; 0 when left out. Version 2. */
  minCopies: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(10_000))),
  /** Figures that may be sold whole. Version 2. */
  figures: v.optional(v.pipe(v.array(FigureSchema), v.maxLength(200))),
})

export const SourcingProblemSchema = v.object({
  format: v.literal('sourcing-problem'),
  version: v.picklist([1, 2]),
  id: v.string(),
  currency: CurrencySchema,
  maxShops: v.nullable(Count),
  deadlineDays: v.nullable(Count),
  /** Pieces bought loose at most; any number when left out. Version 2. */
  maxPieces: v.optional(v.nullable(Count)),
  items: v.array(ItemSchema),
  lines: v.array(LineSchema),
  shops: v.array(ShopSchema),
  offers: v.array(OfferSchema),
  sets: v.array(SetSchema),
  onOrder: v.array(v.object({ item: Text, qty: SomePieces })),
  /** Version 2. */
  levies: v.optional(v.pipe(v.array(LevySchema), v.maxLength(1000))),
})

export type SourcingProblem = v.InferOutput<typeof SourcingProblemSchema>
export type SourcingShop = SourcingProblem['shops'][number]
export type SourcingFigure = v.InferOutput<typeof FigureSchema>

/** Figures that may be sold whole, each with its set. */
export const figuresOf = ({
  sets,
}: Pick<SourcingProblem, 'sets'>): {
  readonly set: SourcingProblem['sets'][number]
  readonly figure: SourcingFigure
}[] => sets.flatMap((set) => (set.figures ?? []).map((figure) => ({ set, figure })))

/** The levies on a shop's orders. */
export const leviesOf = (
  { levies = [] }: Pick<SourcingProblem, 'levies'>,
  shop: Pick<SourcingShop, 'levies'>,
): LevyTerms[] => (shop.levies ?? []).flatMap((id) => levies.find((l) => l.id === id) ?? [])

/** What a piece of an offer costs in the problem's money, minor units that need not be whole: what bills are made of. */
export function homePrices({
  shops,
}: Pick<SourcingProblem, 'shops'>): (offer: Pick<SourcingProblem['offers'][number], 'shop' | 'price'>) => number {
  const rates = new Map(shops.map((s) => [s.id, s.rate]))
  return ({ shop, price }) => {
    const rate = rates.get(shop)
    return rate === undefined ? price : (price * rate) / WHOLE_EXCHANGE
  }
}

/** What the dearest piece on offer costs with its penalty, minor units of the problem's money rounded up; at least 1. */
export function dearestPiece(problem: Pick<SourcingProblem, 'shops' | 'offers'>): number {
  const priceOf = homePrices(problem)
  return problem.offers.reduce((most, o) => Math.max(most, Math.ceil(priceOf(o)) + (o.penalty ?? 0)), 1)
}

/** Why a value is no sourcing problem. */
export type ProblemFault =
  'form' | 'version' | 'repeated id' | 'missing reference' | 'rate' | 'bands' | 'copies' | 'too large'

/**
 * Checks an unknown value as a sourcing problem: the fields, unique ids, references that exist, bands that ascend by
 * mass and never fall in price, amounts that add up exactly, a rate where a shop's currency is not the problem's. The error
 * names the place and what is expected there.
 */
export function parseSourcingProblem(value: unknown): Result<SourcingProblem, Fault<ProblemFault>> {
  const parsed = v.safeParse(SourcingProblemSchema, value)
  if (!parsed.success) {
    const issue = parsed.issues[0]
    const path = v.getDotPath(issue)
    return refuse('form', path === null ? issue.message : `${path}: ${issue.message}`)
  }
  const problem = parsed.output
  const later = problem.version === 1 ? laterField(problem) : undefined
  if (later !== undefined) return refuse('version', later)
  const repeated = repeatedId(problem)
  if (repeated !== undefined) return refuse('repeated id', repeated)
  const missing = missingReference(problem)
  if (missing !== undefined) return refuse('missing reference', missing)
  for (const [i, shop] of problem.shops.entries())
    if (shop.rate === undefined && shop.currency !== undefined && shop.currency !== problem.currency)
      return refuse('rate', `shops.${i}.rate: amounts in ${shop.currency} need a rate to ${problem.currency}`)
  const band = bandFault(problem)
  if (band !== undefined) return refuse('bands', band)
  for (const [i, { minCopies = 0, maxCopies }] of problem.sets.entries())
    if (minCopies > maxCopies)
      return refuse('copies', `sets.${i}.minCopies: ${minCopies} are more than the ${maxCopies} there may be`)
  const tooLarge = whatIsTooLarge(problem)
  return tooLarge === undefined
    ? ok(problem)
    : refuse('too large', `${tooLarge} add up to more than can be counted exactly (2^53)`)
}

/** Where a problem of version 1 says what only version 2 can; undefined where it does not. */
function laterField({ levies, maxPieces, items, shops, offers, sets }: SourcingProblem): string | undefined {
  const shop = shops.findIndex((s) => s.levies !== undefined)
  const foreign = shops.findIndex((s) => s.rate !== undefined || s.currency !== undefined)
  const set = sets.findIndex((s) => s.minCopies !== undefined)
  const figured = sets.findIndex((s) => s.figures !== undefined)
  const item = items.findIndex((i) => i.resale?.hoped !== undefined)
  const weighed = offers.findIndex((o) => o.penalty !== undefined)
  const [field] = [
    ...(levies === undefined ? [] : ['levies']),
    ...(maxPieces === undefined ? [] : ['maxPieces']),
    ...(shop < 0 ? [] : [`shops.${shop}.levies`]),
    ...(foreign < 0 ? [] : [`shops.${foreign}.${shops[foreign]?.rate === undefined ? 'currency' : 'rate'}`]),
    ...(set < 0 ? [] : [`sets.${set}.minCopies`]),
    ...(figured < 0 ? [] : [`sets.${figured}.figures`]),
    ...(item < 0 ? [] : [`items.${item}.resale.hoped`]),
    ...(weighed < 0 ? [] : [`offers.${weighed}.penalty`]),
  ]
  return field === undefined ? undefined : `${field}: only version 2 has this; say "version": 2`
}

/** Where an id occurs twice; undefined when none does. */
function repeatedId(problem: SourcingProblem): string | undefined {
  for (const field of ['items', 'lines', 'shops', 'offers', 'sets', 'levies'] as const) {
    const seen = new Set<string>()
    for (const [i, { id }] of (problem[field] ?? []).entries()) {
      if (seen.has(id)) return `${field}.${i}.id: "${id}" occurs twice; ids must be unique`
      seen.add(id)
    }
  }
  for (const [i, { figures = [] }] of problem.sets.entries()) {
    const named = new Set<string>()
    for (const [j, { id }] of figures.entries()) {
      if (named.has(id)) return `sets.${i}.figures.${j}.id: "${id}" occurs twice in the set`
      named.add(id)
    }
  }
  for (const [i, line] of problem.lines.entries()) {
    const options = new Set<string>()
    for (const [j, { id }] of line.accepts.entries()) {
      if (options.has(id)) return `lines.${i}.accepts.${j}.id: "${id}" occurs twice in line "${line.id}"`
      options.add(id)
    }
  }
  return undefined
}

/** Where something is named that is not there; undefined when all is. */
function missingReference({ items: all, shops: known, offers, lines, sets, onOrder, levies = [] }: SourcingProblem) {
  const ids = {
    item: new Set(all.map((i) => i.id)),
    shop: new Set(known.map((s) => s.id)),
    levy: new Set(levies.map((l) => l.id)),
  }
  const named = function* (): Generator<readonly [where: string, kind: keyof typeof ids, id: string]> {
    for (const [i, offer] of offers.entries()) {
      yield [`offers.${i}.item`, 'item', offer.item]
      yield [`offers.${i}.shop`, 'shop', offer.shop]
    }
    for (const [i, line] of lines.entries())
      for (const [j, accept] of line.accepts.entries())
        for (const use of accept.uses) yield [`lines.${i}.accepts.${j}.uses`, 'item', use.item]
    for (const [i, set] of sets.entries()) {
      for (const content of set.contents) yield [`sets.${i}.contents`, 'item', content.item]
      for (const [j, { pieces }] of (set.figures ?? []).entries())
        for (const piece of pieces) yield [`sets.${i}.figures.${j}.pieces`, 'item', piece.item]
    }
    for (const [i, order] of onOrder.entries()) yield [`onOrder.${i}.item`, 'item', order.item]
    for (const [i, shop] of known.entries())
      for (const levy of shop.levies ?? []) yield [`shops.${i}.levies`, 'levy', levy]
  }
  for (const [where, kind, id] of named()) if (!ids[kind].has(id)) return `${where}: there is no ${kind} "${id}"`
  return undefined
}

/** Where shipping bands do not ascend; undefined when all do. */
function bandFault({ shops }: SourcingProblem): string | undefined {
  for (const [i, { bands }] of shops.entries())
    for (const [k, band] of bands.entries()) {
      const lighter = bands[k - 1]
      if (!lighter) continue
      if (band.maxMass <= lighter.maxMass) return `shops.${i}.bands.${k}.maxMass: bands must ascend by mass`
      if (band.fee < lighter.fee)
        return `shops.${i}.bands.${k}.fee: a heavier parcel must not cost less than a lighter one`
    }
  return undefined
}

/** Sums that any plan might reach and that would not be exact; undefined when all are. */
function whatIsTooLarge({ items, lines, shops, offers, sets, levies = [] }: SourcingProblem): string | undefined {
  const mass = new Map(items.map((i) => [i.id, i.mass]))
  const sum = (values: Iterable<number>) => {
    let total = 0
    for (const value of values) total += value
    return total
  }
  const dearest = (line: SourcingProblem['lines'][number]) =>
    line.accepts.reduce((most, a) => Math.max(most, a.penalty), 0) * line.qty
  // In the problem's money and in the shops' own.
  const atMost = (rate: number | undefined) => Math.max(1, (rate ?? 0) / WHOLE_EXCHANGE)
  const rateOf = new Map(shops.map((s) => [s.id, atMost(s.rate)]))
  const goods = sum(offers.map((o) => o.price * o.stock * (rateOf.get(o.shop) ?? 1)))
  const asked = sum(
    shops.map(
      (s) =>
        atMost(s.rate) *
        (s.minOrder + s.handling + (s.bands.at(-1)?.fee ?? 0) + (s.service?.fee ?? 0) + s.lineFee * offers.length),
    ),
  )
  // A levy takes no more than all of its base, and its fee once a shop.
  const levied = shops.reduce((most, s) => Math.max(most, s.levies?.length ?? 0), 0) * (goods + asked)
  const money =
    goods +
    asked +
    levied +
    sum(levies.map((l) => l.fee)) * shops.length +
    sum(sets.map((s) => s.price * s.maxCopies)) +
    sum(lines.map(dearest)) +
    sum(offers.map((o) => (o.penalty ?? 0) * o.stock)) +
    sum(items.map((i) => (i.resale ? i.resale.credit * i.resale.max : 0))) +
    sum(figuresOf({ sets }).map(({ set, figure }) => figure.credit * set.maxCopies))
  if (money > Number.MAX_SAFE_INTEGER) return 'prices, stocks and fees'
  if (sum(offers.map((o) => (mass.get(o.item) ?? 0) * o.stock)) > Number.MAX_SAFE_INTEGER) return 'masses and stocks'
  const pieces = sum(
    lines.map((l) => l.qty * l.accepts.reduce((n, a) => Math.max(n, sum(a.uses.map((u) => u.qty))), 0)),
  )
  return pieces > Number.MAX_SAFE_INTEGER ? 'pieces' : undefined
}
