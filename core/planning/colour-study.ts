import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab } from '../colours/distance.ts'
import type { ColourSwap } from '../design/design.ts'
import { exchanged } from '../design/recolour.ts'
import type { ColourId, ModuleId, PartId } from '../units/ids.ts'
import { lowestPrices } from './market-prices.ts'
import type { Snapshot } from './snapshot.ts'
import { atHand, gatherSupplies } from './supplies.ts'
import { tally, type Tally } from './tally.ts'

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
export function colourCounts(snapshot: Snapshot, result: Tally): ColourCount[] {
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
  for (const { item, qty, source } of atHand(snapshot)) of(item)[source.kind === 'copy' ? 'donors' : 'shelf'] += qty
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
  colours: ReadonlyMap<ColourId, Pick<Colour, 'hex' | 'finish'>>,
  limit = LOOK_ALIKE,
): LookAlike[] {
  const byPart = new Map<PartId, Set<ColourId>>()
  for (const item of items) {
    const { part, colour } = splitItemKey(item)
    byPart.set(part, (byPart.get(part) ?? new Set()).add(colour))
  }
  const labs = new Map([...colours].map(([id, c]) => [id, { lab: hexToLab(c.hex), finish: c.finish }]))
  const found = new Map<string, { colours: [ColourId, ColourId]; distance: number; parts: PartId[] }>()
  for (const [part, set] of byPart) {
    const list = [...set].sort()
    for (const [i, p] of list.entries())
      for (const q of list.slice(i + 1)) {
        const key = `${p} ${q}`
        const known = found.get(key)
        if (known) {
          known.parts.push(part)
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
export function nearestInColour(snapshot: Snapshot, result: Tally): NearestInColour[] {
  const { build, colourById, market } = snapshot
  const left = new Map<string, number>()
  for (const { pegs } of result.lines)
    for (const { source, item, qty } of pegs) if (source.kind !== 'built') left.set(item, (left.get(item) ?? 0) - qty)
  for (const { item, qty } of gatherSupplies(snapshot)) left.set(item, (left.get(item) ?? 0) + qty)
  const prices = market ? lowestPrices(market, build.currency, build.rules) : new Map<ItemKey, number>()
  const labs = new Map([...(colourById ?? [])].map(([id, c]) => [id, { lab: hexToLab(c.hex), finish: c.finish }]))
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

/** What exchanging one colour of a module for another would bring. */
export type Recolouring = ColourSwap & {
  /** Pieces of the whole design short then. */
  readonly short: number
  /** Pieces fewer short than now. */
  readonly gain: number
  /** How far the two colours are apart (CIEDE2000). */
  readonly distance: number
  /** Pieces of the module that would change. */
  readonly pieces: number
}

/** The most exchanges that are tried in full. */
const MOST_TRIED = 120

/**
 * Which exchange of one colour in a module turns the most shortfall into stock: every colour of its unlocked pieces
 * against every colour in which something is about, those first that could bring most; each tried by netting the whole
 * design again. The best first; at equal gain the nearest colour. `proven` says that no exchange was left untried.
 */
export function recolourings(
  snapshot: Snapshot,
  result: Tally,
  module: ModuleId,
  onStep?: () => void,
): { readonly found: Recolouring[]; readonly proven: boolean } {
  const { design, colourById } = snapshot
  const locked = new Set(design.modules.flatMap((m) => m.lines.filter((l) => l.locked).map((l) => l.id)))
  const lines = result.lines.filter((l) => l.path.includes(module) && !locked.has(l.line))
  const about = new Map<PartId, Map<ColourId, number>>()
  for (const { item, qty } of gatherSupplies(snapshot)) {
    const { part, colour, decoration } = splitItemKey(item)
    if (decoration !== '') continue
    const colours = about.get(part) ?? new Map<ColourId, number>()
    colours.set(colour, (colours.get(colour) ?? 0) + qty)
    about.set(part, colours)
  }
  // What an exchange could bring at most: short pieces of the colour that the other colour has.
  const most = new Map<string, ColourSwap & { bound: number }>()
  const pieces = new Map<ColourId, number>()
  for (const { item, need, coverage } of lines) {
    const { part, colour: from } = splitItemKey(item)
    pieces.set(from, (pieces.get(from) ?? 0) + need)
    if (coverage.short === 0) continue
    for (const [to, qty] of about.get(part) ?? []) {
      if (to === from) continue
      const key = `${from} ${to}`
      const known = most.get(key) ?? { from, to, bound: 0 }
      known.bound += Math.min(coverage.short, qty)
      most.set(key, known)
    }
  }
  const tried = [...most.values()].sort((p, q) => q.bound - p.bound || (p.from + p.to < q.from + q.to ? -1 : 1))
  const found: Recolouring[] = []
  for (const { from, to } of tried.slice(0, MOST_TRIED)) {
    const short = tally({ ...snapshot, design: exchanged(design, module, [{ from, to }]) }).coverage.short
    onStep?.()
    const [p, q] = [colourById?.get(from), colourById?.get(to)]
    found.push({
      from,
      to,
      short,
      gain: result.coverage.short - short,
      distance: p && q ? ciede2000(hexToLab(p.hex), hexToLab(q.hex)) : 0,
      pieces: pieces.get(from) ?? 0,
    })
  }
  return {
    found: found.filter((r) => r.gain > 0).sort((p, q) => q.gain - p.gain || p.distance - q.distance),
    proven: tried.length <= MOST_TRIED,
  }
}
