import type { Changes } from '../build/scenario.ts'
import type { Design, DesignLine } from '../design/design.ts'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { mouldClass } from '../catalogue/mould.ts'
import { splitsOf } from '../catalogue/split.ts'
import { ciede2000, hexToLab } from '../colours/distance.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Tally, TallyLine } from '../netting/tally.ts'
import { usableOffers } from '../offers/market.ts'
import type { Offer } from '../offers/offer.ts'
import type { ColourId, LineId, ModuleId, PartId } from '../units/ids.ts'
import { lowerMedian } from '../units/median.ts'
import type { Memory } from '../units/memory.ts'
import { isSecondHand } from '../donors/donor-set.ts'
import { wantedCopies } from './wanted-copies.ts'
import type { WhatIf } from './what-if.ts'

/** What makes a short piece hard to buy. */
export const RARE_REASONS = ['no shop', 'too few', 'one shop', 'opens an order', 'dear'] as const
export type RareReason = (typeof RARE_REASONS)[number]

/** A short piece that is hard to buy or dear; money in minor units. */
export type RareItem = {
  readonly item: ItemKey
  /** Pieces short. */
  readonly qty: number
  readonly lines: readonly LineId[]
  readonly modules: readonly ModuleId[]
  readonly reasons: readonly RareReason[]
  /** Shops that sell it within the rules, and the pieces that they have in all. */
  readonly shops: number
  readonly stock: number
  /** The cheapest offer of a piece. */
  readonly price: number | undefined
  /** The lower median of the cheapest offers of the same part in other colours, and how many colours that is of. */
  readonly elsewhere: number | undefined
  readonly colours: number
}

/** A piece is dear from this multiple on of what its part costs in other colours. */
const DEAR = 2
/** Lines of an order at most that is opened for their sake. */
const FEW_LINES = 2

/** Offers that a build's rules let it use, priced in its money, and the pieces of each item that they come to. */
export type RareMarket = { readonly offers: readonly Offer[]; readonly stock: ReadonlyMap<ItemKey, number> }

/** What a build may buy of the offers known. */
export function rareMarket(snapshot: Pick<Snapshot, 'build' | 'market'>): RareMarket {
  const offers = offersInTime(snapshot)
  const stock = new Map<ItemKey, number>()
  for (const o of offers) stock.set(o.item, (stock.get(o.item) ?? 0) + o.stock - (o.stock % o.pack))
  return { offers, stock }
}

function offersInTime({ build, market }: Pick<Snapshot, 'build' | 'market'>): Offer[] {
  if (!market) return []
  const { currency, rules } = build
  const inTime = market.shops.filter((s) => rules.deadlineDays === null || s.leadDays <= rules.deadlineDays)
  const { offers } = market
  return usableOffers({ offers, shops: inTime }, currency, rules).filter((o) => o.stock >= o.pack)
}

/** Items that are all, or nearly all, of an order: it is opened for them. */
export const orderOpeners = (
  orders: readonly { readonly lines: readonly { readonly item: ItemKey }[] }[],
): readonly ItemKey[] => [
  ...new Set(orders.flatMap(({ lines }) => (lines.length <= FEW_LINES ? lines.map((l) => l.item) : []))),
]

/**
 * Short pieces that no shop has, that shops have too few of, that one shop alone has, that an order is opened for, or
 * that cost at least twice what their part costs in other colours: by the offers that are known and the build's rules,
 * the hardest first. What was never asked about counts as not on offer.
 */
export function rareItems(
  result: Tally,
  { offers, stock: stocks }: RareMarket,
  /** Pieces that orders of a kept plan are opened for. */
  openers: readonly ItemKey[] = [],
): RareItem[] {
  if (offers.length === 0) return []
  const byItem = new Map<ItemKey, Offer[]>()
  const byPart = new Map<PartId, Map<ColourId, number>>()
  for (const offer of offers) {
    const { part, colour, decoration } = splitItemKey(offer.item)
    const list = byItem.get(offer.item)
    if (list) list.push(offer)
    else byItem.set(offer.item, [offer])
    if (decoration !== '') continue
    const cheapest = byPart.get(part) ?? new Map<ColourId, number>()
    cheapest.set(colour, Math.min(cheapest.get(colour) ?? Infinity, offer.price))
    byPart.set(part, cheapest)
  }
  const opening = new Set(openers)
  const linesOf = new Map<ItemKey, TallyLine[]>()
  for (const line of result.lines)
    if (line.coverage.short > 0) linesOf.set(line.wanted, [...(linesOf.get(line.wanted) ?? []), line])
  const found: RareItem[] = []
  for (const [item, qty] of result.shortfall) {
    const own = byItem.get(item) ?? []
    const { part, colour } = splitItemKey(item)
    const others = [...(byPart.get(part) ?? [])].flatMap(([c, price]) => (c === colour ? [] : [price]))
    const shops = new Set(own.map((o) => o.shop)).size
    const stock = stocks.get(item) ?? 0
    const price = own.length > 0 ? Math.min(...own.map((o) => o.price)) : undefined
    const elsewhere = lowerMedian(others)
    const reasons: RareReason[] = [
      ...(shops === 0 ? (['no shop'] as const) : stock < qty ? (['too few'] as const) : []),
      ...(shops === 1 ? (['one shop'] as const) : []),
      ...(opening.has(item) ? (['opens an order'] as const) : []),
      ...(price !== undefined && elsewhere !== undefined && price >= DEAR * elsewhere ? (['dear'] as const) : []),
    ]
    if (reasons.length === 0) continue
    const lines = linesOf.get(item) ?? []
    found.push({
      item,
      qty,
      lines: [...new Set(lines.map((l) => l.line))],
      modules: [...new Set(lines.map((l) => l.module))],
      reasons,
      shops,
      stock,
      price,
      elsewhere,
      colours: others.length,
    })
  }
  const rank = ({ reasons: [first] }: RareItem) => (first ? RARE_REASONS.indexOf(first) : RARE_REASONS.length)
  const extra = ({ price = 0, elsewhere = 0, qty }: RareItem) => qty * (price - elsewhere)
  return found.sort((p, q) => rank(p) - rank(q) || extra(q) - extra(p) || (p.item < q.item ? -1 : 1))
}

/** What the design itself lets take the place of a rare piece, each once: that is weighed in every purchase. */
export function ownAlternatives({ modules }: Pick<Design, 'modules'>, { lines }: Pick<RareItem, 'lines'>): Uses[] {
  const asked = new Set(lines)
  const found = new Map<string, Uses>()
  for (const module of modules)
    for (const { id, instead = [] } of module.lines)
      if (asked.has(id)) for (const uses of instead) found.set(JSON.stringify(uses), uses)
  return [...found.values()]
}

/** A way round a rare piece. */
export type HintKind =
  | { readonly kind: 'recolour'; readonly colour: ColourId; readonly pieces: number; readonly group: boolean }
  | { readonly kind: 'mould' | 'plain'; readonly item: ItemKey }
  | { readonly kind: 'split'; readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[] }
  | { readonly kind: 'leave out' }
  | { readonly kind: 'copy'; readonly copy: string; readonly copies: number }
  | { readonly kind: 'print' }
export type Hint = WhatIf & { readonly of: ItemKey; readonly hint: HintKind }

type Uses = NonNullable<DesignLine['instead']>[number]

/** Colours for an area, and copies of sets, that are asked about for one piece. */
const [MOST_COLOURS, MOST_SETS] = [2, 1]

/**
 * What would avoid a rare piece, each a what-if of its own: another colour for the whole area that it belongs to (its
 * coherent group, or all lines of its module in its colour) in which all of that is on offer; another mould, smaller
 * pieces or a plain one on offer; a custom print; one more copy of a set that holds it; leaving it out, which is also
 * what it really costs.
 */
export function hintsFor(
  snapshot: Snapshot,
  result: Tally,
  rare: RareItem,
  { stock }: RareMarket,
  memory: Memory,
): Hint[] {
  const { item, lines } = rare
  if (lines.length === 0) return []
  const enough = (key: ItemKey, qty: number) => (stock.get(key) ?? 0) >= qty
  const found: Hint[] = []
  const add = (hint: HintKind, changes: Changes) => {
    found.push({ id: JSON.stringify([item, changes]), of: item, hint, changes })
  }
  add({ kind: 'leave out' }, { leftOut: [...lines] })
  recolourings(snapshot, result, rare, enough, add)
  const { part, colour, decoration } = splitItemKey(item)
  const asked = snapshot.parts.get(part)
  const accept = (uses: { item: ItemKey; qty: number }[]): Changes => ({
    accepted: lines.map((line) => ({ line, item, uses })),
  })
  if (decoration !== '') {
    const plain = itemKey(part, colour)
    if (enough(plain, rare.qty)) add({ kind: 'plain', item: plain }, accept([{ item: plain, qty: 1 }]))
    if (!snapshot.build.rules.thirdParty) add({ kind: 'print' }, { rules: { thirdParty: true } })
  } else if (asked) {
    const mould = memory.of(mouldClass, asked)
    const other =
      mould === undefined
        ? undefined
        : [...snapshot.parts.values()].find(
            (p) => p.id !== part && memory.of(mouldClass, p) === mould && enough(itemKey(p.id, colour), rare.qty),
          )
    if (other) {
      const key = itemKey(other.id, colour)
      add({ kind: 'mould', item: key }, accept([{ item: key, qty: 1 }]))
    }
    const split = memory
      .of(splitsOf, asked)
      .find((uses) => uses.every((u) => enough(itemKey(u.part, colour), u.qty * rare.qty)))
    if (split) {
      const uses = split.map((u) => ({ item: itemKey(u.part, colour), qty: u.qty }))
      add({ kind: 'split', uses }, accept(uses))
    }
  }
  // Of a copy that is offered second hand there is no other.
  const oneOff = new Set(snapshot.copies.filter(isSecondHand).map((c) => c.id as string))
  for (const { id, maxCopies } of wantedCopies(snapshot)
    .sets.filter((s) => !oneOff.has(s.id) && s.contents.some((c) => c.item === item))
    .slice(0, MOST_SETS))
    add({ kind: 'copy', copy: id, copies: maxCopies + 1 }, { copies: { [id]: maxCopies + 1 } })
  return found
}

/** Other colours for the whole area that a piece belongs to, the nearest first. */
function recolourings(
  { design, colourById }: Snapshot,
  result: Tally,
  { item, lines, modules }: RareItem,
  enough: (item: ItemKey, qty: number) => boolean,
  add: (hint: HintKind, changes: Changes) => void,
): void {
  const { colour } = splitItemKey(item)
  const own = colourById?.get(colour)
  if (!own || !colourById) return
  const all = design.modules.flatMap((m) => m.lines.map((line) => ({ line, module: m.id })))
  const group = all.find(({ line }) => lines.includes(line.id))?.line.group
  const area = all.filter(
    ({ line, module }) =>
      line.locked !== true &&
      (group !== undefined ? line.group === group : modules.includes(module)) &&
      splitItemKey(line.item).colour === colour,
  )
  if (area.length === 0 || !area.some(({ line }) => lines.includes(line.id))) return
  const need = new Map<LineId, number>()
  for (const l of result.lines) need.set(l.line, (need.get(l.line) ?? 0) + l.need)
  const pieces = area.reduce((n, { line }) => n + (need.get(line.id) ?? 0), 0)
  const wanted = new Map<string, number>()
  for (const { line } of area) {
    const { part, decoration } = splitItemKey(line.item)
    const key = `${part}\n${decoration}`
    wanted.set(key, (wanted.get(key) ?? 0) + (need.get(line.id) ?? 0))
  }
  const lab = hexToLab(own.hex)
  const fitting = [...colourById.values()]
    .filter((to) => to.id !== colour && to.finish === own.finish && !to.guessed)
    .filter((to) =>
      [...wanted].every(([key, qty]) => {
        const [part = '', decoration = ''] = key.split('\n')
        return enough(itemKey(part as PartId, to.id, decoration), qty)
      }),
    )
    .sort((p, q) => ciede2000(lab, hexToLab(p.hex)) - ciede2000(lab, hexToLab(q.hex)))
  for (const to of fitting.slice(0, MOST_COLOURS))
    add(
      { kind: 'recolour', colour: to.id, pieces, group: group !== undefined },
      { recoloured: [{ lines: area.map(({ line }) => line.id), colour: to.id }] },
    )
}
