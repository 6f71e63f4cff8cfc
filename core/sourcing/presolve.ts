import type { ItemKey } from '../catalogue/item.ts'
import { WHOLE_EXCHANGE } from '../units/exchange.ts'
import { addUp } from '../units/quantity.ts'
import type { LevyTerms } from '../costs/levy.ts'
import { leviesOf, type SourcingProblem, type SourcingShop } from './problem.ts'
import type { Unreachable } from './plan.ts'

/** The problem in index form, reduced to what the rules allow; the working form of heuristic and model. */
export type PresolvedProblem = {
  readonly problem: SourcingProblem
  readonly shops: readonly NetShop[]
  readonly offers: readonly NetOffer[]
  readonly items: readonly NetItem[]
  readonly lines: readonly NetLine[]
  readonly sets: readonly NetSet[]
  /** Offers by shop. */
  readonly offersOfShop: readonly (readonly number[])[]
}

/** A shop with the levies on its orders; all its amounts are in its own money. */
export type NetShop = Omit<SourcingShop, 'levies'> & {
  readonly levies: readonly LevyTerms[]
  /** What a minor unit of its money is of the problem's; 1 where both are the same. */
  readonly ratio: number
}

export type NetOffer = {
  readonly id: string
  readonly shop: number
  readonly item: number
  /** Per piece with its penalty, in the problem's money: not whole where the shop trades in another. */
  readonly price: number
  readonly penalty: number
  /** Per piece, as the shop bills it in its own money. */
  readonly billed: number
  readonly pack: number
  /** Whole packs in stock. */
  readonly packs: number
}

export type NetItem = {
  readonly id: string
  readonly mass: number
  /** Owned and on order. */
  readonly free: number
  readonly credit: number
  readonly creditMax: number
  /** The most pieces that figures sold whole can use. */
  readonly inFigures: number
  /** The most pieces the lines can use. */
  readonly demand: number
  /** Allowed offers, cheapest first, then by id. */
  readonly offers: readonly number[]
}

export type NetLine = {
  readonly id: string
  readonly piece: ItemKey | undefined
  readonly qty: number
  readonly accepts: readonly NetAccept[]
}
export type NetAccept = {
  readonly id: string
  readonly penalty: number
  readonly uses: readonly { readonly item: number; readonly qty: number }[]
}
export type NetSet = {
  readonly id: string
  readonly price: number
  readonly minCopies: number
  readonly maxCopies: number
  readonly contents: readonly { readonly item: number; readonly qty: number }[]
  readonly figures: readonly NetFigure[]
}

/** A figure that is sold whole, at most once for every copy bought, and `max` in all of its id. */
export type NetFigure = {
  readonly id: string
  readonly credit: number
  readonly max: number
  readonly pieces: readonly { readonly item: number; readonly qty: number }[]
}

const allowed = (problem: SourcingProblem, shop: SourcingShop): boolean =>
  shop.status !== 'excluded' && (problem.deadlineDays === null || shop.leadDays <= problem.deadlineDays)

/** Whether surplus of an item is worth anything. */
const earns = ({ resale }: SourcingProblem['items'][number]): boolean => resale !== null && resale.credit > 0

type Uses = readonly { readonly item: string; readonly qty: number }[]

/** Donor sets of which any copy may be bought, with the figures that may be sold whole. */
const netSets = (
  { sets }: SourcingProblem,
  numbered: (uses: Uses) => { readonly item: number; readonly qty: number }[],
): NetSet[] =>
  sets
    .filter((set) => set.maxCopies > 0)
    .map((set) => ({
      id: set.id,
      price: set.price,
      minCopies: set.minCopies ?? 0,
      maxCopies: set.maxCopies,
      contents: numbered(set.contents),
      figures: (set.figures ?? []).map(({ id, credit, max, pieces }) => ({
        id,
        credit,
        max: Math.min(max ?? set.maxCopies, set.maxCopies),
        pieces: numbered(pieces),
      })),
    }))

/** Of each item the most pieces that figures sold whole can use. */
function figurePieces(sets: readonly NetSet[], items: number): number[] {
  const most = new Array<number>(items).fill(0)
  for (const { figures } of sets)
    for (const { credit, max, pieces } of figures)
      if (credit > 0) for (const { item, qty } of pieces) most[item] = (most[item] ?? 0) + qty * max
  return most
}

/** Presolve: drops shops the rules forbid, offers nobody can use, empty lines; merges repeated items; indexes the rest. */
export function presolve(problem: SourcingProblem): PresolvedProblem {
  const itemIndex = new Map(problem.items.map((item, i) => [item.id, i]))
  const at = (id: string): number => itemIndex.get(id) ?? -1
  const numbered = (list: readonly { readonly item: string; readonly qty: number }[]) =>
    addUp(list.map(({ item, qty }) => ({ item: at(item), qty })))
  const demand = problem.items.map(() => 0)
  const lines: NetLine[] = []
  for (const line of problem.lines) {
    if (line.qty === 0) continue
    const accepts = line.accepts.map(({ id, penalty, uses }) => ({ id, penalty, uses: numbered(uses) }))
    const most = new Map<number, number>()
    for (const { uses } of accepts)
      for (const { item, qty } of uses) most.set(item, Math.max(most.get(item) ?? 0, qty * line.qty))
    for (const [item, qty] of most) demand[item] = (demand[item] ?? 0) + qty
    lines.push({ id: line.id, piece: line.piece, qty: line.qty, accepts })
  }

  const free = problem.items.map((item) => item.owned)
  for (const order of problem.onOrder) free[at(order.item)] = (free[at(order.item)] ?? 0) + order.qty

  const shops: NetShop[] = []
  const shopIndex = new Map<string, number>()
  for (const shop of problem.shops)
    if (allowed(problem, shop)) {
      shopIndex.set(shop.id, shops.length)
      shops.push({
        ...shop,
        levies: leviesOf(problem, shop),
        ratio: shop.rate === undefined ? 1 : shop.rate / WHOLE_EXCHANGE,
      })
    }
  const sets = netSets(problem, numbered)
  const inFigures = figurePieces(sets, problem.items.length)
  const pads = shops.map((s) => s.minOrder > 0 || s.service !== null || s.status === 'pinned')

  const offers: NetOffer[] = []
  for (const offer of problem.offers) {
    const shop = shopIndex.get(offer.shop)
    const item = at(offer.item)
    const packs = Math.floor(offer.stock / offer.pack)
    if (shop === undefined || packs === 0) continue
    // An item no line uses is worth buying only as padding, for its credit or to complete a figure.
    const sold = problem.items[item]
    if ((demand[item] ?? 0) === 0 && !pads[shop] && !(sold && earns(sold)) && (inFigures[item] ?? 0) === 0) continue
    const { penalty = 0 } = offer
    const price = offer.price * (shops[shop]?.ratio ?? 1) + penalty
    offers.push({ id: offer.id, shop, item, price, penalty, billed: offer.price, pack: offer.pack, packs })
  }
  const offersOfItem: number[][] = problem.items.map(() => [])
  const offersOfShop: number[][] = shops.map(() => [])
  for (const [o, offer] of offers.entries()) {
    offersOfItem[offer.item]?.push(o)
    offersOfShop[offer.shop]?.push(o)
  }
  for (const list of offersOfItem)
    list.sort((p, q) => {
      const [a, b] = [offers[p], offers[q]]
      return a && b ? a.price - b.price || (a.id < b.id ? -1 : 1) : 0
    })

  return {
    problem,
    shops,
    offers,
    lines,
    offersOfShop,
    items: problem.items.map((item, i) => ({
      id: item.id,
      mass: item.mass,
      free: free[i] ?? 0,
      credit: item.resale?.credit ?? 0,
      creditMax: earns(item) ? (item.resale?.max ?? 0) : 0,
      inFigures: inFigures[i] ?? 0,
      demand: demand[i] ?? 0,
      offers: offersOfItem[i] ?? [],
    })),
    sets,
  }
}

/** Lines that no allowed supply can cover, each taken alone, with the reason (an empty line id: the rules themselves
 * contradict each other); found before anything is solved. */
export function findUnreachable(net: PresolvedProblem): Unreachable[] {
  const allowedSupply = net.items.map((item) => item.free)
  for (const offer of net.offers)
    allowedSupply[offer.item] = (allowedSupply[offer.item] ?? 0) + offer.packs * offer.pack
  for (const set of net.sets)
    for (const { item, qty } of set.contents) allowedSupply[item] = (allowedSupply[item] ?? 0) + qty * set.maxCopies
  const anyOffer = new Set(net.problem.offers.filter((o) => o.stock >= o.pack).map((o) => o.item))
  const allowedShops = new Set(net.shops.map((s) => s.id))
  const barred = new Set(net.problem.offers.filter((o) => !allowedShops.has(o.shop)).map((o) => o.item))

  const found: Unreachable[] = []
  for (const shop of net.problem.shops)
    if (shop.status === 'pinned' && !allowedShops.has(shop.id))
      found.push({
        line: '',
        short: 0,
        reason: 'rules',
        detail: `the shop that must be used, "${shop.id}" is slower than the deadline`,
      })
  const contradiction = (detail: string) => found.push({ line: '', short: 0, reason: 'rules', detail })
  const insisted = net.problem.shops.filter((s) => s.status === 'pinned')
  const cap = net.problem.maxShops
  if (cap !== null && insisted.length > cap)
    contradiction(`${insisted.length} shops must be used, but at most ${cap} may be used`)
  for (const [s, shop] of net.shops.entries()) {
    if (shop.status !== 'pinned') continue
    let worth = 0
    for (const o of net.offersOfShop[s] ?? []) {
      const offer = net.offers[o]
      if (offer) worth += offer.billed * offer.pack * offer.packs
    }
    if ((net.offersOfShop[s] ?? []).length === 0)
      contradiction(`the shop that must be used, "${shop.id}" sells nothing`)
    else if (worth < shop.minOrder)
      contradiction(
        `the shop that must be used, "${shop.id}" cannot reach its minimum order of ${shop.minOrder}: all it sells is worth ${worth}`,
      )
  }
  for (const line of net.lines) {
    let reach = 0
    for (const accept of line.accepts)
      reach += Math.min(...accept.uses.map((use) => Math.floor((allowedSupply[use.item] ?? 0) / use.qty)))
    if (reach >= line.qty) continue
    const itemIds = line.accepts.flatMap((a) => a.uses.map((u) => net.items[u.item]?.id ?? ''))
    const reason = itemIds.some((id) => barred.has(id))
      ? 'rules'
      : itemIds.some((id) => anyOffer.has(id))
        ? 'stock'
        : 'not-offered'
    const detail = {
      rules: `needs ${line.qty}; the allowed shops have ${reach}, excluded or too slow shops have more`,
      stock: `needs ${line.qty}; all shops together have ${reach}`,
      'not-offered': `needs ${line.qty}; no shop offers it`,
    }[reason]
    found.push({ ...namedLine(line), short: line.qty - reach, reason, detail })
  }
  return found
}

/** A line as it is named where it cannot be had. */
export const namedLine = ({ id, piece }: Pick<NetLine, 'id' | 'piece'>): Pick<Unreachable, 'line' | 'piece'> => ({
  line: id,
  ...(piece && { piece }),
})

/** Seconds a solver may take beyond its limit to read and reduce a model of this size (measured: 400,000 columns, 2 s). */
export const readingTime = ({ lines, offers }: PresolvedProblem): number =>
  lines.reduce((n, { accepts }) => n + accepts.length, offers.length) / 200_000
