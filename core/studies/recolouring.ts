import { newPlanner, type Planner } from '../netting/planner.ts'
import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab } from '../colours/distance.ts'
import type { ColourSwap } from '../design/design.ts'
import { exchanged } from '../design/recolour.ts'
import type { ColourId, ModuleId, PartId } from '../units/ids.ts'
import { lowestPrices } from '../offers/market.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { atHand, gatherSupplies } from '../netting/supplies.ts'
import { tally } from '../netting/count.ts'
import { type Tally, type TallyLine } from '../netting/tally.ts'

/** One colour of a design, and what donors and shelf hold of it. */
export type ColourCount = {
  readonly colour: ColourId
  /** Pieces needed, and those of them that are seen. */
  readonly need: number
  readonly seen: number
  readonly short: number
  /** Pieces needed by outermost module. */
  readonly byModule: ReadonlyMap<ModuleId, number>
  /** Pieces of this colour in donor copies and loose on the shelf, needed or not. */
  readonly donors: number
  readonly shelf: number
}

/** The design's palette by count, the most plentiful first, with the strength of donors and shelf in each colour. */
export function colourCounts(snapshot: Snapshot, result: Tally, { memory }: Planner = newPlanner()): ColourCount[] {
  type Count = { -readonly [K in keyof ColourCount]: ColourCount[K] } & { byModule: Map<ModuleId, number> }
  const counts = new Map<ColourId, Count>()
  const of = (item: ItemKey): Count => {
    const { colour } = splitItemKey(item)
    const known = counts.get(colour)
    if (known) return known
    const fresh: Count = { colour, need: 0, seen: 0, short: 0, byModule: new Map(), donors: 0, shelf: 0 }
    counts.set(colour, fresh)
    return fresh
  }
  for (const line of result.lines) {
    const count = of(line.wanted)
    count.need += line.need
    if (line.visibility === 'seen') count.seen += line.need
    count.short += line.coverage.short
    const [outer] = line.path
    if (outer !== undefined) count.byModule.set(outer, (count.byModule.get(outer) ?? 0) + line.need)
  }
  for (const { item, qty, source } of atHand(snapshot, memory))
    of(item)[source.kind === 'copy' ? 'donors' : 'shelf'] += qty
  return [...counts.values()].sort(
    (p, q) => q.need - p.need || q.donors + q.shelf - p.donors - p.shelf || (p.colour < q.colour ? -1 : 1),
  )
}

/** Two colours that people mix up at the table, and the parts that occur in both. */
export type LookAlike = {
  readonly colours: readonly [ColourId, ColourId]
  readonly distance: number
  readonly parts: readonly PartId[]
}

/** Colours nearer than this, by CIEDE2000 and of one finish, are mixed up at the table: about five just noticeable steps. */
export const LOOK_ALIKE = 12

/** Pairs of colours in which the same part is about and that look alike, the nearest first. */
export function lookAlikes(
  items: Iterable<ItemKey>,
  colours: ReadonlyMap<ColourId, Pick<Colour, 'hex' | 'finish' | 'guessed'>>,
  limit = LOOK_ALIKE,
): LookAlike[] {
  const byPart = new Map<PartId, Set<ColourId>>()
  for (const item of items) {
    const { part, colour } = splitItemKey(item)
    byPart.set(part, (byPart.get(part) ?? new Set()).add(colour))
  }
  // A guessed value says nothing of what is mixed up at the table.
  const known = [...colours].filter(([, c]) => !c.guessed)
  const labs = new Map(known.map(([id, c]) => [id, { lab: hexToLab(c.hex), finish: c.finish }]))
  const found = new Map<string, { colours: [ColourId, ColourId]; distance: number; parts: PartId[] }>()
  for (const [part, set] of byPart) {
    const list = [...set].sort()
    for (const [i, p] of list.entries())
      for (const q of list.slice(i + 1)) {
        const key = `${p} ${q}`
        const before = found.get(key)
        if (before) {
          before.parts.push(part)
          continue
        }
        const [a, b] = [labs.get(p), labs.get(q)]
        if (!a || !b || a.finish !== b.finish) continue
        const distance = ciede2000(a.lab, b.lab)
        if (distance < limit) found.set(key, { colours: [p, q], distance, parts: [part] })
      }
  }
  return [...found.values()].sort((p, q) => p.distance - q.distance)
}

/** A colour that could serve instead of another for one part, and how far apart the two are (CIEDE2000). */
export type InColour = { readonly colour: ColourId; readonly distance: number; readonly sameFinish: boolean }
/** A short item with the colours of least compromise in which its part is to be had. */
export type NearestInColour = {
  readonly item: ItemKey
  readonly short: number
  /** At home and left over by the tally, with so many pieces. */
  readonly home: (InColour & { readonly qty: number }) | undefined
  /** On offer, at the lowest price in minor units. */
  readonly offer: (InColour & { readonly price: number }) | undefined
}

/**
 * For every short item the nearest colour in which pieces of its part are left over, and in which the part is on offer:
 * colours of the same finish first, then the least distance. Whether the rules allow it is not asked.
 */
export function nearestInColour(
  snapshot: Snapshot,
  result: Tally,
  { memory }: Planner = newPlanner(),
): NearestInColour[] {
  const { build, colourById, market } = snapshot
  const left = new Map<string, number>()
  for (const { pegs } of result.lines)
    for (const { source, item, qty } of pegs) if (source.kind !== 'built') left.set(item, (left.get(item) ?? 0) - qty)
  for (const { item, qty } of gatherSupplies(snapshot, memory)) left.set(item, (left.get(item) ?? 0) + qty)
  const prices = market ? lowestPrices(market, build.currency, build.rules) : new Map<ItemKey, number>()
  const valued = [...(colourById ?? [])].filter(([, c]) => !c.guessed)
  const labs = new Map(valued.map(([id, c]) => [id, { lab: hexToLab(c.hex), finish: c.finish }]))
  const index = (pieces: Iterable<readonly [string, number]>) => {
    const byShape = new Map<string, { colour: ColourId; amount: number }[]>()
    for (const [item, amount] of pieces) {
      if (amount <= 0) continue
      const { part, colour, decoration } = splitItemKey(item as ItemKey)
      const key = `${part}|${decoration}`
      byShape.set(key, [...(byShape.get(key) ?? []), { colour, amount }])
    }
    return byShape
  }
  const [home, offered] = [index(left), index(prices)]
  const nearest = (from: ColourId, found: readonly { colour: ColourId; amount: number }[] = []) => {
    const own = labs.get(from)
    if (!own) return undefined
    return found
      .flatMap(({ colour, amount }) => {
        const other = labs.get(colour)
        if (!other || colour === from) return []
        return [{ colour, amount, distance: ciede2000(own.lab, other.lab), sameFinish: own.finish === other.finish }]
      })
      .sort((p, q) => Number(q.sameFinish) - Number(p.sameFinish) || p.distance - q.distance)[0]
  }
  return [...result.shortfall].map(([item, short]) => {
    const { part, colour, decoration } = splitItemKey(item)
    const key = `${part}|${decoration}`
    const [h, o] = [nearest(colour, home.get(key)), nearest(colour, offered.get(key))]
    const bare = ({ colour: c, distance, sameFinish }: InColour): InColour => ({ colour: c, distance, sameFinish })
    return {
      item,
      short,
      home: h && { ...bare(h), qty: h.amount },
      offer: o && { ...bare(o), price: o.amount },
    }
  })
}

/** What exchanging colours of a module for others, all at once, would bring. */
export type Recolouring = {
  readonly swaps: readonly ColourSwap[]
  /** Pieces of the whole design short then. */
  readonly short: number
  /** Pieces fewer short than now. */
  readonly gain: number
  /** How far apart the two colours are that are farthest (CIEDE2000). */
  readonly distance: number
  /** Some colour is exchanged for one of another finish (clear or metal for opaque, say). */
  readonly otherFinish: boolean
  /** Pieces of the module that would change. */
  readonly pieces: number
}

/** The most single exchanges that are tried in full. */
const MOST_TRIED = 120
/** Colours exchanged at once; how many of the best are carried on, and in how many ways each. */
const MOST_SWAPS = 3
const BEAM = 5
const WAYS_ON = 12

/**
 * Which exchange of colours in a module turns the most shortfall into stock: every colour of its unlocked pieces
 * against every colour in which something is about, those first that could bring most; the best of them are carried on
 * with a second and a third exchange, as long as each leaves fewer pieces short than without it. Each is tried by
 * netting the whole design again. The best first; at equal gain fewer exchanges, then those of one finish, then the nearest colours. `proven`
 * says that no single exchange was left untried.
 */
export function recolourings(
  snapshot: Snapshot,
  result: Tally,
  module: ModuleId,
  onStep?: () => void,
  planner = newPlanner(),
): { readonly found: Recolouring[]; readonly proven: boolean } {
  const { design, colourById } = snapshot
  const locked = new Set(design.modules.flatMap((m) => m.lines.filter((l) => l.locked).map((l) => l.id)))
  const isOurs = (l: TallyLine) => l.path.includes(module) && !locked.has(l.line)
  const about = new Map<PartId, Map<ColourId, number>>()
  for (const { item, qty } of gatherSupplies(snapshot, planner.memory)) {
    const { part, colour, decoration } = splitItemKey(item)
    if (decoration !== '') continue
    const colours = about.get(part) ?? new Map<ColourId, number>()
    colours.set(colour, (colours.get(colour) ?? 0) + qty)
    about.set(part, colours)
  }
  /** Colours and pieces of the module's lines as they are now, by the lines' ids. */
  const now = new Map<string, { readonly colour: ColourId; readonly need: number }>()
  const pieces = new Map<ColourId, number>()
  for (const line of result.lines) {
    if (!isOurs(line)) continue
    const { colour } = splitItemKey(line.item)
    now.set(line.id, { colour, need: line.need })
    pieces.set(colour, (pieces.get(colour) ?? 0) + line.need)
  }
  /** Further exchanges after some, the most promising first: short pieces of a colour that another colour has. */
  const ways = (then: Tally, swaps: readonly ColourSwap[]): ColourSwap[] => {
    const most = new Map<string, ColourSwap & { bound: number }>()
    for (const { id, item, coverage } of then.lines) {
      const from = now.get(id)?.colour
      if (from === undefined || coverage.short === 0 || swaps.some((s) => s.from === from)) continue
      for (const [to, qty] of about.get(splitItemKey(item).part) ?? []) {
        if (to === from) continue
        const known = most.get(`${from} ${to}`) ?? { from, to, bound: 0 }
        known.bound += Math.min(coverage.short, qty)
        most.set(`${from} ${to}`, known)
      }
    }
    return [...most.values()]
      .sort((p, q) => q.bound - p.bound || (p.from + p.to < q.from + q.to ? -1 : 1))
      .map(({ from, to }) => ({ from, to }))
  }
  const apart = ({ from, to }: ColourSwap): number => {
    const [p, q] = [colourById?.get(from), colourById?.get(to)]
    return p && q ? ciede2000(hexToLab(p.hex), hexToLab(q.hex)) : 0
  }
  type Tried = Recolouring & { readonly then: Tally }
  const seen = new Set<string>()
  const attempt = (swaps: readonly ColourSwap[]): Tried | undefined => {
    const key = swaps
      .map((s) => `${s.from} ${s.to}`)
      .sort()
      .join()
    if (seen.has(key)) return undefined
    seen.add(key)
    const then = tally({ ...snapshot, design: exchanged(design, module, swaps) }, planner)
    onStep?.()
    const { short } = then.coverage
    return {
      swaps,
      short,
      gain: result.coverage.short - short,
      distance: Math.max(...swaps.map(apart)),
      otherFinish: swaps.some(({ from, to }) => colourById?.get(from)?.finish !== colourById?.get(to)?.finish),
      pieces: swaps.reduce((n, s) => n + (pieces.get(s.from) ?? 0), 0),
      then,
    }
  }
  const better = (p: Recolouring, q: Recolouring) =>
    q.gain - p.gain ||
    p.swaps.length - q.swaps.length ||
    Number(p.otherFinish) - Number(q.otherFinish) ||
    p.distance - q.distance
  const single = ways(result, [])
  let level = single.slice(0, MOST_TRIED).flatMap((swap) => attempt([swap]) ?? [])
  const found: Tried[] = [...level]
  for (let swaps = 2; swaps <= MOST_SWAPS; swaps++) {
    level = [...level]
      .sort(better)
      .slice(0, BEAM)
      .flatMap((before) =>
        ways(before.then, before.swaps)
          .slice(0, WAYS_ON)
          .flatMap((swap) => attempt([...before.swaps, swap]) ?? [])
          .filter((r) => r.gain > before.gain),
      )
    found.push(...level)
  }
  return {
    found: found
      .filter((r) => r.gain > 0)
      .sort(better)
      .map(({ then: _, ...r }) => r),
    proven: single.length <= MOST_TRIED,
  }
}
