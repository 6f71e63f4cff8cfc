import { type ItemKey, itemKey, splitItemKey } from '../catalogue/item.ts'
import type { Family } from '../catalogue/shape.ts'
import { mouldClass } from '../catalogue/mould.ts'
import { splitsOf } from '../catalogue/split.ts'
import { CONDITIONS } from '../units/condition.ts'
import { leftOutByStock, withLess } from './leave-out.ts'
import { presolve } from './presolve.ts'
import { figuresOf, type SourcingProblem } from './problem.ts'
import { wantedCopies, withJustCopies } from './wanted-copies.ts'
import type { Unreachable } from './plan.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { decisionBook, type OwnRule } from '../build/decision.ts'
import { jointLines, type JointLines } from './joint-lines.ts'
import { type Offer } from '../offers/offer.ts'
import { offerFilter, pricedAt } from '../offers/market.ts'
import type { Build } from '../build/build.ts'
import { changingInto } from '../build/exchange-rates.ts'
import { leviesFrom } from '../build/import-levies.ts'
import { itemPrices } from '../build/resale.ts'
import type { Rules } from '../build/house-rules.ts'
import type { Candidate } from '../netting/stand-ins/candidate.ts'
import { termsOf, type Shop } from '../offers/shop.ts'
import { candidates, standInSearch } from '../netting/stand-ins/candidates.ts'
import { maySplit } from '../netting/stand-ins/split.ts'
import { mayTakeMould } from '../netting/stand-ins/mould.ts'
import { colourScoreOf } from '../netting/stand-ins/colour.ts'
import { type Demand } from '../netting/demand.ts'
import { colourDistances, mayCut, stockOf } from '../netting/stock.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { newPlanner, type Planner } from '../netting/planner.ts'
import { lowerMedian } from '../units/median.ts'
import type { Memory } from '../units/memory.ts'
import type { Tally } from '../netting/tally.ts'

export type SourcingTask = {
  /** All that is to be bought, what cannot be had included: for `solveWithinReach`. */
  readonly asked: SourcingProblem
  /** What is asked for with any number of the wanted copies, whatever the rules say of them: for `traceMixes`. */
  readonly anyCopies: SourcingProblem
  /** The same as `asked` without `unavailable`. */
  readonly problem: SourcingProblem
  /** Items a market should be asked about: what is short, what may stand in, what wanted copies hold, other colours to compare. */
  readonly wanted: readonly ItemKey[]
  /** Pieces of the problem that all allowed supplies together do not have, with the reason: the fewest there can be. */
  readonly unavailable: readonly Unreachable[]
  /** Offers and copies left out because there is no rate for the currency of their prices. */
  readonly otherCurrency: number
  /** The currencies of those, each once. */
  readonly currencies: readonly string[]
}

/** Estimated mass of a piece whose part is not in the catalogue, milligrams. */
const UNKNOWN_MASS = 1000

/** Colours asked about for a piece whose colour is free: the build's most plentiful. */
const FREE_COLOURS = 8

/** Worn pieces that only hidden lines take are an item of their own in the problem; lines are told apart likewise. */
const WORN = '\nworn'

/**
 * The shortfall as a sourcing problem: one line per short item and where it is seen, the offers the rules allow and the
 * stand-ins among them at the rules' price of compromise, copies wanted as donor sets with their asking price. What
 * nobody can supply is in what is asked for as well: `solveWithinReach` buys the rest.
 */
export function sourcingTask(
  snapshot: Snapshot,
  result: Tally,
  shops: readonly Shop[],
  offers: readonly Offer[],
  { memory }: Planner = newPlanner(),
): SourcingTask {
  const { build, parts } = snapshot
  const { rules } = build
  const { usableShops, usableOffers, elsewhere } = usableMarket(build, shops, offers)
  const { sets, contained, otherPrices } = wantedCopies(snapshot)

  const onSale = new Set(usableOffers.map((o) => o.sold))
  const stock = stockOf(
    [
      ...new Map([
        ...contained,
        ...usableOffers.filter((o) => o.sold === o.item).map((o) => [o.item, o.stock] as const),
      ]),
    ],
    parts,
    snapshot.colourById,
    memory,
  )
  const book = decisionBook(snapshot.decisions ?? [], build.id)
  const inFigures = figuresOf({ sets: [...sets] }).flatMap(({ figure }) => figure.pieces.map((p) => p.item as ItemKey))
  const used = new Set<string>([...contained.keys(), ...inFigures])
  /** Of ids that say more than a piece the piece they are of. */
  const pieces = new Map<string, ItemKey>(usableOffers.map((o) => [o.sold, o.item]))
  // Where compromise is weighed against money, what is owned is decided anew together with what is bought.
  const joint: JointLines = result.weighed
    ? jointLines(snapshot, result, memory)
    : { lines: result.shortLines.map((line) => ({ ...line, owned: [] })), stock: new Map() }
  const search = standInSearch(rules, stock, book.own)
  const lines = joint.lines.map((line) => {
    const { item } = line.demand
    const exactOnly = rules.aim === 'least compromise' && onSale.has(item)
    const bought = candidates(search, line.demand).filter(
      ({ kind, uses }) =>
        kind === 'exact' || (!exactOnly && uses.every((u) => onSale.has(u.item) || contained.has(u.item))),
    )
    const accepts = acceptsOf(line, bought, rules, onSale)
    for (const { uses } of line.owned) for (const use of uses) pieces.set(use.item, use.piece)
    for (const { uses } of accepts) for (const use of uses) used.add(use.item)
    return { id: line.key, piece: item, qty: line.qty, accepts }
  })

  const standIns = standInsToAskFor(snapshot, book.own, memory)
  const wanted = new Set<ItemKey>([
    ...result.shortfall.keys(),
    // What a stand-in covers may be cheap enough to be bought after all.
    ...result.lines.filter((l) => l.pegs.some((p) => p.standIn !== undefined)).map((l) => l.wanted),
    ...contained.keys(),
    ...inFigures,
    ...result.shortLines.flatMap(({ demand }) => standIns(demand)),
  ])
  const pricesByItem = new Map<ItemKey, number[]>()
  const priced = pricedAt(usableShops, build.currency, rules)
  for (const offer of usableOffers) {
    const price = wanted.has(offer.item) ? priced(offer.shop, offer.price) : undefined
    if (price !== undefined) pricesByItem.set(offer.item, [...(pricesByItem.get(offer.item) ?? []), price])
  }

  const own = itemPrices(rules)
  const items = [...used].map((id) => {
    const item = pieces.get(id) ?? (id as ItemKey)
    const { part, colour } = splitItemKey(item)
    const inSets = id === item ? (contained.get(item) ?? 0) : 0
    const middle = lowerMedian(pricesByItem.get(item) ?? []) ?? 0
    const credit = own.get(item) ?? Math.floor((middle * rules.resalePercent) / 100)
    const hoped = Math.max(credit, own.get(item) ?? Math.floor((middle * rules.hopedPercent) / 100))
    return {
      id,
      ...(id !== item && { piece: item }),
      part,
      colour,
      mass: parts.get(part)?.shape.mass ?? UNKNOWN_MASS,
      owned: joint.stock.get(id) ?? 0,
      resale: inSets > 0 && hoped > 0 ? { credit, max: inSets, hoped } : null,
    }
  })
  const changing = changingInto(build.currency, rules.rates)
  const levies = rules.levies.map((levy, i) => ({ id: `levy ${i + 1}`, ...levy }))
  const asked = new Set<string>([
    ...lines.flatMap((l) => l.accepts.flatMap((a) => a.uses.map((u) => u.item))),
    ...inFigures,
  ])
  const anyCopies: SourcingProblem = {
    format: 'sourcing-problem',
    version: 2,
    id: build.id,
    currency: build.currency,
    maxShops: rules.maxShops,
    deadlineDays: rules.deadlineDays,
    maxPieces: rules.maxPieces,
    items,
    lines,
    shops: usableShops.map((shop) => ({
      ...termsOf(shop),
      ...(shop.currency !== build.currency && { currency: shop.currency, rate: changing(shop.currency) }),
      status: rules.shops[shop.id] ?? 'free',
      levies: leviesFrom(levies, shop.country, rules.shipTo).map((l) => l.id),
    })),
    offers: usableOffers
      .filter((o) => asked.has(o.sold))
      .map(({ id, shop, sold, price, stock: left, pack }) => ({ id, shop, item: sold, price, stock: left, pack })),
    sets: [...sets],
    onOrder: [],
    levies: levies.map(({ from: _, ...levy }) => levy),
  }
  const full = withJustCopies(
    anyCopies,
    new Map(
      sets.flatMap(({ id, maxCopies }) => {
        const copies = rules.buyCopies[id]
        return copies === undefined ? [] : [[id, Math.min(copies, maxCopies)] as const]
      }),
    ),
  )
  const unavailable = leftOutByStock(presolve(full))
  const short = new Map(unavailable.map((u) => [u.line, u.short]))
  return {
    asked: full,
    anyCopies,
    problem: withLess(full, short),
    wanted: [...wanted, ...comparedItems(snapshot, result, wanted, memory)],
    unavailable,
    otherCurrency: elsewhere.length + otherPrices.length,
    currencies: [...new Set([...elsewhere, ...otherPrices])].sort(),
  }
}

type UsableOffer = Offer & { readonly sold: string }

/**
 * Shops and offers that a build may buy from, by the money it has rates for, condition and makers; shops it excludes are the solver's
 * to leave out. What only hidden lines take is sold as an item of its own. `elsewhere` are the
 * currencies of offers in money without a rate.
 */
function usableMarket({ currency, rules }: Build, shops: readonly Shop[], offers: readonly Offer[]) {
  const changing = changingInto(currency, rules.rates)
  const usableShops = shops.filter((s) => changing(s.currency) !== undefined)
  const trading = new Set(usableShops.map((s) => s.id))
  const anyShop = {
    condition: rules.condition,
    unstated: rules.unstated,
    thirdParty: rules.thirdParty,
    shops: {},
    rates: rules.rates,
  }
  const anywhere = offerFilter(usableShops, currency, anyShop)
  const hidden = offerFilter(usableShops, currency, { ...anyShop, condition: CONDITIONS.at(-1) ?? rules.condition })
  const usableOffers = offers.flatMap((offer): UsableOffer[] => {
    if (anywhere(offer)) return [{ ...offer, sold: offer.item }]
    return rules.wornHidden && hidden(offer) ? [{ ...offer, sold: `${offer.item}${WORN}` }] : []
  })
  return { usableShops, usableOffers, elsewhere: otherMoney(offers, shops, trading) }
}

/** The currencies of offers of shops that are not traded with, offer by offer. */
function otherMoney(offers: readonly Offer[], shops: readonly Shop[], trading: ReadonlySet<string>): string[] {
  const currencyOf = new Map(shops.map((s) => [s.id, s.currency as string]))
  return offers.flatMap(({ shop }) => (trading.has(shop) ? [] : (currencyOf.get(shop) ?? [])))
}

/** The ways to cover a line: what can be bought, worn where it is hidden, and what is owned. */
function acceptsOf(
  { demand, owned }: JointLines['lines'][number],
  bought: readonly Candidate[],
  rules: Rules,
  onSale: ReadonlySet<string>,
): SourcingProblem['lines'][number]['accepts'] {
  const { item, visibility, print } = demand
  const idOf = (kind: Candidate['kind'], uses: readonly { readonly item: string; readonly qty: number }[]) =>
    `${print ? 'own ' : ''}${kind}\n${uses.map((u) => `${u.qty} ${u.item}`).join('\n')}`
  const meaningOf = (kind: Candidate['kind']) => ({
    ...(kind !== 'exact' && { standIn: kind }),
    ...(kind === 'print' && print && { ownRun: true }),
  })
  // A line that is printed to order pays its own run.
  const penaltyOf = ({ kind, points }: Pick<Candidate, 'kind' | 'points'>) =>
    points * rules.pointPrice + (kind === 'print' && !print ? rules.printPrice : 0)
  const accepts = bought.map((way) => ({
    id: way.kind === 'exact' ? 'exact' : idOf(way.kind, way.uses),
    ...meaningOf(way.kind),
    uses: way.uses.map((u): { item: string; qty: number } => ({ ...u })),
    penalty: penaltyOf(way),
  }))
  if (visibility === 'hidden' && onSale.has(`${item}${WORN}`))
    accepts.push({ id: 'worn', uses: [{ item: `${item}${WORN}`, qty: 1 }], penalty: rules.pointPrice })
  const known = new Set(accepts.map((a) => a.id))
  for (const { uses, meaning } of owned) {
    const id = meaning.kind === 'exact' && uses[0]?.item === item ? 'exact' : idOf(meaning.kind, uses)
    if (known.has(id)) continue
    known.add(id)
    accepts.push({
      id,
      ...meaningOf(meaning.kind),
      uses: uses.map(({ item: of, qty }) => ({ item: of, qty })),
      penalty: penaltyOf(meaning),
    })
  }
  return accepts
}

/**
 * Items that might stand in for a short one and are worth asking a market about; what does not depend on the demand is
 * worked out once.
 */
function standInsToAskFor(
  snapshot: Snapshot,
  ownRules: readonly OwnRule[],
  memory: Memory,
): (demand: Demand) => ItemKey[] {
  const { build, parts, design, colourById } = snapshot
  const { rules } = build
  const plenty = new Map<ColourId, number>()
  for (const module of design.modules)
    for (const line of module.lines) {
      const { colour } = splitItemKey(line.item)
      plenty.set(colour, (plenty.get(colour) ?? 0) + line.qty * module.repeats)
    }
  const distances = colourDistances(colourById, memory)
  const ofMould = new Map<string, PartId[]>()
  const ofFamily = new Map<Family, PartId[]>()
  const list = <K>(map: Map<K, PartId[]>, key: K, id: PartId) => {
    const known = map.get(key)
    if (known) known.push(id)
    else map.set(key, [id])
  }
  for (const one of parts.values()) {
    const { id, shape } = one
    const mould = memory.of(mouldClass, one)
    if (mould !== undefined) list(ofMould, mould, id)
    list(ofFamily, shape.family, id)
  }
  return (demand) => {
    const { part, colour, decoration } = splitItemKey(demand.item)
    const score = colourScoreOf(demand, rules, { plenty, distances })
    const other = new Set([
      ...plenty.keys(),
      ...rules.palette,
      ...(demand.palette ?? []),
      ...(demand.freedom === 'near' ? distances.ids : []),
    ])
    const allowed = [...other]
      .filter((c) => c !== colour && score(c) !== undefined)
      .sort((p, q) => (plenty.get(q) ?? 0) - (plenty.get(p) ?? 0) || (p < q ? -1 : 1))
      .slice(0, FREE_COLOURS)
    const own = parts.get(part)
    const plain = own && decoration === ''
    const others = (ids: readonly PartId[] | undefined) => (ids ?? []).filter((id) => id !== part)
    const longer = own && mayCut(own, rules.altering) ? others(ofFamily.get(own.shape.family)) : []
    const mould = plain && mayTakeMould(demand.visibility, rules) ? memory.of(mouldClass, own) : undefined
    const moulds = mould === undefined ? [] : others(ofMould.get(mould))
    const splits = plain && maySplit(demand.visibility, rules) ? memory.of(splitsOf, own) : []
    const made = decoration === '' ? ownRules.filter((r) => r.part === part).map((r) => r.uses) : []
    return [
      ...[...splits, ...made].flatMap((uses) => uses.map((u) => itemKey(u.part, colour))),
      ...allowed.map((c) => itemKey(part, c, decoration)),
      ...longer.map((p) => itemKey(p, colour)),
      ...moulds.map((p) => itemKey(p, colour)),
      ...(decoration === '' ? [] : [itemKey(part, colour)]),
      ...(demand.instead ?? []).flatMap((uses) => uses.map((u) => u.item)),
    ]
  }
}

/** Colours in which a short piece is compared, splits of it, and how many items that may come to in all. */
const [COMPARED_COLOURS, COMPARED_SPLITS, MOST_COMPARED] = [4, 2, 2_000]

/**
 * What short plain pieces are compared with, whatever the rules allow: the same parts in the design's most plentiful
 * other colours, other moulds, smaller pieces. What a piece costs is judged by that, and what would avoid it.
 */
function comparedItems(
  { design, parts }: Snapshot,
  { shortfall }: Tally,
  known: ReadonlySet<ItemKey>,
  memory: Memory,
): ItemKey[] {
  const plenty = new Map<ColourId, number>()
  for (const module of design.modules)
    for (const line of module.lines) {
      const { colour } = splitItemKey(line.item)
      plenty.set(colour, (plenty.get(colour) ?? 0) + line.qty * module.repeats)
    }
  const colours = [...plenty].sort(([c, p], [d, q]) => q - p || (c < d ? -1 : 1)).map(([colour]) => colour)
  const ofMould = new Map<string, PartId[]>()
  for (const part of parts.values()) {
    const mould = memory.of(mouldClass, part)
    if (mould !== undefined) ofMould.set(mould, [...(ofMould.get(mould) ?? []), part.id])
  }
  const found = new Set<ItemKey>()
  const add = (item: ItemKey) => {
    if (!known.has(item) && found.size < MOST_COMPARED) found.add(item)
  }
  for (const item of shortfall.keys()) {
    const { part, colour, decoration } = splitItemKey(item)
    const own = parts.get(part)
    if (decoration !== '') {
      add(itemKey(part, colour))
      continue
    }
    const others = colours.filter((c) => c !== colour).slice(0, COMPARED_COLOURS)
    for (const other of others) add(itemKey(part, other))
    const mould = own && memory.of(mouldClass, own)
    for (const other of (mould !== undefined && ofMould.get(mould)) || [])
      if (other !== part) add(itemKey(other, colour))
    const splits = own ? memory.of(splitsOf, own).slice(0, COMPARED_SPLITS) : []
    for (const uses of splits) for (const use of uses) add(itemKey(use.part, colour))
  }
  return [...found]
}
