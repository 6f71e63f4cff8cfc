import type { ItemKey } from '../catalogue/item.ts'
import { sharesOf } from '../units/share-out.ts'
import { acceptKey, type JointProblem } from './joint-purchase.ts'
import { coveredBy, isPaidPrint, pieceOf } from './plan-pieces.ts'
import type { SourcingPlan } from './plan.ts'
import type { SourcingProblem } from './problem.ts'
import { verifyPlan, type ShopOrder } from './verify-plan.ts'

/** By what the builds share what an order costs beside its goods. */
export const SHARE_BASES = ['goods', 'mass'] as const
export type ShareBasis = (typeof SHARE_BASES)[number]

/** Pieces of one offer in an order for several builds. */
export type SharedLine = {
  readonly item: ItemKey
  readonly pieces: number
  /** Minor units of the shop's money each. */
  readonly price: number
  /** Pieces for each build, in their order, and pieces that none of them needs. */
  readonly dealt: readonly number[]
  readonly over: number
}

/** One shop's order for several builds; money in minor units of the problem's. */
export type SharedOrder = {
  readonly shop: string
  readonly cost: ShopOrder
  readonly total: number
  readonly lines: readonly SharedLine[]
  /** What each build bears of it, in their order: they add up to the total. */
  readonly shares: readonly number[]
}

/** What one build bears of a purchase for several; money in minor units. */
export type BuildShare = {
  readonly pieces: number
  readonly goods: number
  /** Its share of shipping, fees, duty and tax, and of pieces that no build needs. */
  readonly beside: number
  readonly copies: number
  readonly prints: number
  readonly credit: number
  /** All of that at the door: the builds' add up to the purchase's. */
  readonly total: number
}

export type SharedPurchase = {
  readonly orders: readonly SharedOrder[]
  readonly builds: readonly BuildShare[]
  readonly total: number
}

/**
 * What each build gets and bears of a plan for several. Pieces that several may use are dealt out by the north-west corner
 * rule (the textbook's first solution of a transportation problem): builds in their order, shops in theirs, so that few
 * lines are split. What an order costs beside goods is shared by the value or the mass of each build's pieces in it, by the
 * largest remainder, so that shares add up to the minor unit. `printPrices` are what a custom print costs each build.
 * Undefined where the plan does not hold.
 */
export function sharedPurchase(
  joint: Pick<JointProblem, 'accepts' | 'partyOf'>,
  problem: SourcingProblem,
  plan: SourcingPlan,
  printPrices: readonly number[],
  basis: ShareBasis,
): SharedPurchase | undefined {
  const verdict = plan.total === null ? undefined : verifyPlan(problem, plan)
  if (!verdict?.ok || verdict.total !== plan.total) return undefined
  const parties = printPrices.length
  const { taken, prints } = takenBy(joint, problem, plan, parties)
  const sums = Array.from({ length: parties }, () => ({ pieces: 0, goods: 0, beside: 0, copies: 0, credit: 0 }))
  const orders = [...dealtOut(joint, problem, plan, taken, parties)].flatMap(([shop, dealt]): SharedOrder[] => {
    const cost = verdict.orders.get(shop)
    if (!cost) return []
    const { goods, beside } = borne(dealt, cost, basis)
    for (const [p, sum] of sums.entries()) {
      sum.pieces += dealt.lines.reduce((n, line) => n + (line.dealt[p] ?? 0), 0)
      sum.goods += goods[p] ?? 0
      sum.beside += beside[p] ?? 0
    }
    const shares = goods.map((g, p) => g + (beside[p] ?? 0))
    return [{ shop, cost, lines: dealt.lines, total: cost.goods + feesOf(cost), shares }]
  })
  const own = (id: string) => sums[joint.partyOf.get(id) ?? -1] ?? { copies: 0, credit: 0 }
  const setById = new Map(problem.sets.map((s) => [s.id, s]))
  for (const { set, copies } of plan.sets) own(set).copies += copies * (setById.get(set)?.price ?? 0)
  for (const { set, figure, qty } of plan.figures ?? [])
    own(set).credit += qty * (setById.get(set)?.figures?.find((f) => f.id === figure)?.credit ?? 0)
  for (const { id, resale } of problem.items) own(id).credit += (verdict.sold.get(id) ?? 0) * (resale?.credit ?? 0)
  const builds = sums.map((sum, p) => {
    const printed = (prints[p] ?? 0) * (printPrices[p] ?? 0)
    return { ...sum, prints: printed, total: sum.goods + sum.beside + sum.copies + printed - sum.credit }
  })
  return {
    builds,
    orders: orders.sort((p, q) => q.total - p.total || (p.shop < q.shop ? -1 : 1)),
    total: builds.reduce((sum, b) => sum + b.total, 0),
  }
}

const none = (parties: number) => new Array<number>(parties).fill(0)

/** Of each item what each build takes, and the custom prints of each. */
function takenBy(
  { accepts }: Pick<JointProblem, 'accepts'>,
  problem: SourcingProblem,
  plan: SourcingPlan,
  parties: number,
) {
  const taken = new Map<string, number[]>()
  const prints = none(parties)
  for (const { line, accept, qty } of coveredBy(problem, plan)) {
    const of = accepts.get(acceptKey(line.id, accept.id))
    if (!of) throw new Error(`nobody has the option "${accept.id}" of "${line.id}"`)
    const { party, takes } = of
    if (isPaidPrint(accept)) prints[party] = (prints[party] ?? 0) + qty
    for (const { item, qty: each } of takes) {
      const by = taken.get(item) ?? none(parties)
      by[party] = (by[party] ?? 0) + qty * each
      taken.set(item, by)
    }
  }
  return { taken, prints }
}

type Dealt = { readonly lines: SharedLine[]; readonly mass: number[] }

/** Of each shop the pieces for each build, by the north-west corner rule, and their mass. */
function dealtOut(
  { partyOf }: Pick<JointProblem, 'partyOf'>,
  problem: SourcingProblem,
  plan: SourcingPlan,
  taken: ReadonlyMap<string, readonly number[]>,
  parties: number,
): Map<string, Dealt> {
  const itemById = new Map(problem.items.map((i) => [i.id, i]))
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  const open = new Map([...taken].map(([item, by]) => [item, [...by]]))
  const byShop = new Map<string, Dealt>()
  const bought = plan.purchases
    .flatMap(({ offer: id, packs }) => {
      const offer = offerById.get(id)
      return offer && packs > 0 ? [{ offer, pieces: packs * offer.pack }] : []
    })
    .sort(({ offer: p }, { offer: q }) => (p.shop === q.shop ? (p.id < q.id ? -1 : 1) : p.shop < q.shop ? -1 : 1))
  for (const { offer, pieces } of bought) {
    const owner = partyOf.get(offer.item)
    const wanted = open.get(offer.item) ?? none(parties)
    let over = pieces
    const dealt = wanted.map((need, p) => {
      const n = owner === undefined ? Math.min(over, need) : p === owner ? over : 0
      over -= n
      wanted[p] = need - n
      return n
    })
    const item = itemById.get(offer.item)
    const { lines, mass } = byShop.get(offer.shop) ?? { lines: [], mass: none(parties) }
    lines.push({ item: pieceOf(item ?? { id: offer.item }), pieces, price: offer.price, dealt, over })
    byShop.set(offer.shop, { lines, mass: mass.map((m, p) => m + (dealt[p] ?? 0) * (item?.mass ?? 0)) })
  }
  return byShop
}

const feesOf = (cost: ShopOrder): number => cost.shipping + cost.handling + cost.lineFees + cost.service + cost.levies

/** What each build bears of an order: its goods, and its share of all beside them; both by the largest remainder. */
function borne({ lines, mass }: Dealt, cost: ShopOrder, basis: ShareBasis) {
  const billed = mass.map((_, p) => lines.reduce((sum, line) => sum + (line.dealt[p] ?? 0) * line.price, 0))
  const unneeded = lines.reduce((sum, line) => sum + line.over * line.price, 0)
  // What shops bill in another money is shared as it was changed: all at once.
  const shares = sharesOf(cost.goods, [...billed, unneeded])
  const over = shares.at(-1) ?? 0
  const goods = shares.slice(0, -1)
  return { goods, beside: sharesOf(feesOf(cost) + over, basis === 'goods' ? goods : mass) }
}

/** Offers of which plans made apart want more than there is, taken together: they cannot all be kept. */
export function wantedTwice(
  plans: readonly Pick<SourcingPlan, 'purchases'>[],
  problems: readonly SourcingProblem[],
): number {
  const packs = new Map<string, number>()
  for (const { purchases } of plans) for (const p of purchases) packs.set(p.offer, (packs.get(p.offer) ?? 0) + p.packs)
  const offers = new Map(problems.flatMap((p) => p.offers.map((o) => [o.id, o] as const)))
  return [...packs].filter(([id, n]) => {
    const offer = offers.get(id)
    return offer !== undefined && n * offer.pack > offer.stock
  }).length
}
