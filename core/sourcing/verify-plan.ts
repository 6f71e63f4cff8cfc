import type { Bill, OrderCost } from '../costs/order-cost.ts'
import { sharesOf } from '../units/share-out.ts'
import type { SourcingProblem, SourcingShop } from './problem.ts'
import { totalOf, type Decisions, type PlanCost } from './plan.ts'

export type Verdict =
  | {
      readonly ok: true
      readonly cost: PlanCost
      readonly total: number
      readonly surplus: ReadonlyMap<string, number>
      /** Pieces of it that are sold one by one, by item. */
      readonly sold: ReadonlyMap<string, number>
      /** What each shop's order costs. */
      readonly orders: ReadonlyMap<string, ShopOrder>
    }
  | { readonly ok: false; readonly faults: readonly string[] }

/** One shop's order: goods and fees in minor units of the problem's money, milligrams. */
export type ShopOrder = OrderCost & { readonly mass: number }

/**
 * Recomputes a plan's feasibility and cost from the problem and the decisions alone. Shares no arithmetic with the
 * model or the heuristic: it works on ids and the problem as given, line by line. Every total shown to a user comes
 * from here. `faults` lists every rule broken, in words.
 */
export function verifyPlan(problem: SourcingProblem, plan: Decisions): Verdict {
  const faults: string[] = []
  const bought = boughtBy(problem, plan, faults)
  const orders = ordersOf(problem, bought, faults)
  const { used, penalties } = usedBy(problem, plan, faults)
  const whole = figuresSold(problem, plan, faults)
  const { surplus, sold, credit } = leftOver(problem, bought.procured, used, whole, faults)

  if (faults.length > 0) return { ok: false, faults }
  const sum = (part: Exclude<keyof ShopOrder, 'billed'>) =>
    [...orders.values()].reduce((all, order) => all + order[part], 0)
  const cost: PlanCost = {
    goods: sum('goods'),
    shipping: sum('shipping'),
    handling: sum('handling'),
    lineFees: sum('lineFees'),
    service: sum('service'),
    levies: sum('levies'),
    sets: bought.setCost,
    penalties: penalties + bought.penalties,
    credit,
  }
  return { ok: true, cost, total: totalOf(cost), surplus, sold, orders }
}

const bump = (map: Map<string, number>, key: string, by: number) => map.set(key, (map.get(key) ?? 0) + by)

/** What a plan buys: pieces by item, baskets by shop, what its donor sets cost, and the penalties of its offers. */
type Bought = {
  readonly procured: ReadonlyMap<string, number>
  readonly baskets: ReadonlyMap<string, { goods: number; mass: number; lines: number }>
  readonly setCost: number
  readonly penalties: number
}

function boughtBy(problem: SourcingProblem, plan: Decisions, faults: string[]): Bought {
  const offerById = new Map(problem.offers.map((o) => [o.id, o]))
  const massOf = new Map(problem.items.map((i) => [i.id, i.mass]))
  const procured = new Map<string, number>()
  const baskets = new Map<string, { goods: number; mass: number; lines: number }>()
  const seenOffers = new Set<string>()
  let penalties = 0
  for (const { offer: id, packs } of plan.purchases) {
    const offer = offerById.get(id)
    if (!offer) {
      faults.push(`purchase of unknown offer "${id}"`)
      continue
    }
    if (seenOffers.has(id)) faults.push(`offer "${id}" is listed twice`)
    seenOffers.add(id)
    if (!Number.isSafeInteger(packs) || packs < 0) faults.push(`offer "${id}": ${packs} packs`)
    if (packs === 0) continue
    const pieces = packs * offer.pack
    if (pieces > offer.stock) faults.push(`offer "${id}": ${pieces} pieces bought, ${offer.stock} in stock`)
    bump(procured, offer.item, pieces)
    penalties += pieces * (offer.penalty ?? 0)
    const basket = baskets.get(offer.shop) ?? { goods: 0, mass: 0, lines: 0 }
    basket.goods += pieces * offer.price
    basket.mass += pieces * (massOf.get(offer.item) ?? 0)
    basket.lines++
    baskets.set(offer.shop, basket)
  }
  let loose = 0
  for (const pieces of procured.values()) loose += pieces
  const most = problem.maxPieces ?? Infinity
  if (loose > most) faults.push(`${loose} pieces bought loose, at most ${most} allowed`)
  return { procured, baskets, penalties, setCost: setsBought(problem, plan, procured, faults) }
}

/** Adds what bought donor sets hold, and gives what they cost. */
function setsBought(
  problem: SourcingProblem,
  plan: Decisions,
  procured: Map<string, number>,
  faults: string[],
): number {
  const setById = new Map(problem.sets.map((s) => [s.id, s]))
  const copiesBySet = new Map<string, number>()
  let cost = 0
  for (const { set: id, copies } of plan.sets) {
    const set = setById.get(id)
    if (!set) {
      faults.push(`unknown donor set "${id}"`)
      continue
    }
    if (!Number.isSafeInteger(copies) || copies < 0) faults.push(`donor set "${id}": ${copies} copies`)
    bump(copiesBySet, id, copies)
    cost += copies * set.price
    for (const content of set.contents) bump(procured, content.item, copies * content.qty)
  }
  for (const [id, copies] of copiesBySet) {
    const max = setById.get(id)?.maxCopies ?? 0
    if (copies > max) faults.push(`donor set "${id}": ${copies} copies, at most ${max} allowed`)
  }
  for (const { id, minCopies = 0 } of problem.sets)
    if ((copiesBySet.get(id) ?? 0) < minCopies)
      faults.push(`donor set "${id}": ${copiesBySet.get(id) ?? 0} copies, at least ${minCopies} must be bought`)
  return cost
}

/** What each shop's order costs, and whether shops and rules allow it. */
function ordersOf(problem: SourcingProblem, { baskets }: Bought, faults: string[]): ReadonlyMap<string, ShopOrder> {
  const shopById = new Map(problem.shops.map((s) => [s.id, s]))
  const orders = new Map<string, ShopOrder>()
  for (const [id, { goods, mass, lines }] of baskets) {
    const shop = shopById.get(id)
    if (!shop) continue
    if (shop.status === 'excluded') faults.push(`shop "${id}" is excluded`)
    if (problem.deadlineDays !== null && shop.leadDays > problem.deadlineDays)
      faults.push(`shop "${id}" takes ${shop.leadDays} days, the deadline is ${problem.deadlineDays}`)
    if (goods < shop.minOrder) faults.push(`shop "${id}": goods ${goods} below the minimum order ${shop.minOrder}`)
    const band = shop.bands.find((b) => mass <= b.maxMass)
    if (shop.bands.length > 0 && !band)
      faults.push(`shop "${id}": the parcel weighs ${mass} mg, more than its heaviest band`)
    const billed: Bill = {
      goods,
      shipping: band?.fee ?? 0,
      handling: shop.handling,
      lineFees: shop.lineFee * lines,
      service: shop.service && goods < shop.service.threshold ? shop.service.fee : 0,
    }
    orders.set(id, { mass, ...chargedFor(problem, shop, billed), billed })
  }
  if (problem.maxShops !== null && baskets.size > problem.maxShops)
    faults.push(`${baskets.size} shops used, at most ${problem.maxShops} allowed`)
  for (const shop of problem.shops)
    if (shop.status === 'pinned' && !baskets.has(shop.id)) faults.push(`pinned shop "${shop.id}" is not used`)
  return orders
}

/**
 * A bill in the problem's money, part by part, with duty and tax. Its sum is changed at the shop's rate and rounded half up
 * once; what each part is of that follows by the largest remainder (`sharesOf`), so that they add up to it.
 */
function chargedFor(problem: SourcingProblem, shop: SourcingShop, billed: Bill): Omit<OrderCost, 'billed'> {
  const asked = billed.goods + billed.shipping + billed.handling + billed.lineFees + billed.service
  const atHome = (amount: number): number => {
    if (shop.rate === undefined) return amount
    const billionths = BigInt(amount) * BigInt(shop.rate)
    return Number((billionths + 500_000_000n) / 1_000_000_000n)
  }
  const all = atHome(asked)
  const levies = levied(problem, shop.levies, atHome(billed.goods), all)
  if (shop.rate === undefined) return { ...billed, levies }
  const { goods, shipping, handling, lineFees, service } = billed
  const shares = sharesOf(all, [goods, shipping, handling, lineFees, service])
  const part = (n: number) => shares[n] ?? 0
  return { goods: part(0), shipping: part(1), handling: part(2), lineFees: part(3), service: part(4), levies }
}

/** Duty and tax on one order, each levy rounded half up to a minor unit. */
function levied(problem: SourcingProblem, ids: readonly string[] | undefined, goods: number, asked: number): number {
  let sum = 0n
  for (const id of ids ?? []) {
    const levy = problem.levies?.find((l) => l.id === id)
    if (!levy || goods < levy.threshold) continue
    const tenThousandths = BigInt(levy.on === 'goods' ? goods : asked) * BigInt(levy.rate)
    sum += (tenThousandths + 5_000n) / 10_000n + BigInt(levy.fee)
  }
  return Number(sum)
}

/** Pieces that the lines use by item, as the plan covers them, and the penalties of that. */
function usedBy(problem: SourcingProblem, plan: Decisions, faults: string[]) {
  const assigned = new Map<string, Map<string, number>>()
  for (const { line, accept, qty } of plan.assignments) {
    if (!Number.isSafeInteger(qty) || qty < 0) faults.push(`line "${line}": ${qty} pieces assigned`)
    const options = assigned.get(line) ?? new Map<string, number>()
    bump(options, accept, qty)
    assigned.set(line, options)
  }
  const used = new Map<string, number>()
  let penalties = 0
  for (const line of problem.lines) {
    const only = line.accepts[0]
    const options =
      assigned.get(line.id) ??
      (line.accepts.length === 1 && only ? new Map([[only.id, line.qty]]) : new Map<string, number>())
    assigned.delete(line.id)
    let covered = 0
    const acceptById = new Map(line.accepts.map((a) => [a.id, a]))
    for (const [acceptId, qty] of options) {
      const accept = acceptById.get(acceptId)
      if (!accept) {
        faults.push(`line "${line.id}" has no option "${acceptId}"`)
        continue
      }
      covered += qty
      penalties += qty * accept.penalty
      for (const use of accept.uses) bump(used, use.item, qty * use.qty)
    }
    if (covered !== line.qty) faults.push(`line "${line.id}": ${covered} of ${line.qty} pieces assigned`)
  }
  for (const id of assigned.keys()) faults.push(`assignment to unknown line "${id}"`)
  return { used, penalties }
}

/** Pieces that go with figures sold whole, by item, and what those earn. */
function figuresSold(problem: SourcingProblem, plan: Decisions, faults: string[]) {
  const taken = new Map<string, number>()
  const said = new Set<string>()
  const sold = new Map<string, { qty: number; max: number }>()
  let credit = 0
  for (const { set: setId, figure: id, qty } of plan.figures ?? []) {
    const figure = problem.sets.find((s) => s.id === setId)?.figures?.find((f) => f.id === id)
    if (!figure) {
      faults.push(`donor set "${setId}" has no figure "${id}" to be sold`)
      continue
    }
    const key = JSON.stringify([setId, id])
    if (said.has(key)) faults.push(`figure "${id}" of "${setId}" is listed twice`)
    said.add(key)
    if (!Number.isSafeInteger(qty) || qty < 0) faults.push(`figure "${id}": ${qty} sold`)
    let copies = 0
    for (const bought of plan.sets) if (bought.set === setId) copies += bought.copies
    if (qty > copies) faults.push(`figure "${id}": ${qty} sold, at most ${copies} may be`)
    const known = sold.get(id) ?? { qty: 0, max: Infinity }
    sold.set(id, { qty: known.qty + qty, max: Math.min(known.max, figure.max ?? Infinity) })
    credit += qty * figure.credit
    for (const piece of figure.pieces) bump(taken, piece.item, qty * piece.qty)
  }
  for (const [id, { qty, max }] of sold)
    if (qty > max) faults.push(`figure "${id}": ${qty} sold in all, at most ${max} may be`)
  return { taken, credit }
}

/** What is left of each item when supply covers use, what of it is sold one by one, and what all that is sold earns. */
function leftOver(
  problem: SourcingProblem,
  procured: ReadonlyMap<string, number>,
  used: ReadonlyMap<string, number>,
  whole: ReturnType<typeof figuresSold>,
  faults: string[],
) {
  const ordered = new Map<string, number>()
  for (const order of problem.onOrder) bump(ordered, order.item, order.qty)
  const surplus = new Map<string, number>()
  const sold = new Map<string, number>()
  let { credit } = whole
  for (const item of problem.items) {
    const free = item.owned + (ordered.get(item.id) ?? 0)
    const bought = procured.get(item.id) ?? 0
    const need = used.get(item.id) ?? 0
    if (need > free + bought) faults.push(`item "${item.id}": ${need} needed, ${free + bought} supplied`)
    const left = Math.max(0, bought - Math.max(0, need - free))
    if (left > 0) surplus.set(item.id, left)
    const taken = whole.taken.get(item.id) ?? 0
    if (taken > left) faults.push(`item "${item.id}": ${taken} sold in figures, ${left} left over`)
    if (!item.resale) continue
    const single = Math.max(0, Math.min(left - taken, item.resale.max))
    if (single > 0) sold.set(item.id, single)
    credit += item.resale.credit * single
  }
  return { surplus, sold, credit }
}
