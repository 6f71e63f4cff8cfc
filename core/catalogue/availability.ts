import { itemKey, splitItemKey, type ItemKey } from './item.ts'
import { isPlain, mouldClass } from './mould.ts'
import type { Part } from './part.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab } from '../colours/distance.ts'
import { compareNames } from '../units/collate.ts'
import type { ColourId, PartId } from '../units/ids.ts'

/** What is known of an item: in hand, on sale, in some set's inventory, or nowhere. */
export type Standing =
  | { readonly kind: 'held'; readonly qty: number }
  | { readonly kind: 'offered'; readonly from: number }
  | { readonly kind: 'seen'; readonly set: string }
  | { readonly kind: 'never seen' }

export type KnownItems = {
  readonly standingOf: (item: ItemKey) => Standing
  /** Colours in which a part is known at all. */
  readonly coloursOf: ReadonlyMap<PartId, ReadonlySet<ColourId>>
}

/** What is known of items: from shelf and sets, and the best price of what is on sale (minor units). */
export type Known = {
  readonly holdings: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly sets: readonly {
    readonly id: string
    readonly name: string
    readonly lines: readonly { readonly item: ItemKey; readonly qty: number }[]
  }[]
  readonly copies: readonly { readonly setId: string; readonly state: string }[]
  readonly prices: ReadonlyMap<ItemKey, { readonly best: number }>
}

/** Which items are known and from where: shelf and copies first, then what is on sale, then any set. */
export function knownItems(records: Known): KnownItems {
  const held = new Map<ItemKey, number>()
  const seen = new Map<ItemKey, string>()
  const coloursOf = new Map<PartId, Set<ColourId>>()
  const know = (item: ItemKey) => {
    const { part, colour } = splitItemKey(item)
    const known = coloursOf.get(part)
    if (known) known.add(colour)
    else coloursOf.set(part, new Set([colour]))
  }
  const owned = new Set(records.copies.filter((c) => c.state !== 'to-buy').map((c) => c.setId))
  for (const { item, qty } of records.holdings) {
    held.set(item, (held.get(item) ?? 0) + qty)
    know(item)
  }
  for (const set of records.sets)
    for (const { item, qty } of set.lines) {
      know(item)
      if (!seen.has(item)) seen.set(item, set.name)
      if (owned.has(set.id)) held.set(item, (held.get(item) ?? 0) + qty)
    }
  const { prices } = records
  for (const item of prices.keys()) know(item)
  const standingOf = (item: ItemKey): Standing => {
    const qty = held.get(item)
    if (qty !== undefined && qty > 0) return { kind: 'held', qty }
    const price = prices.get(item)
    if (price) return { kind: 'offered', from: price.best }
    const set = seen.get(item)
    return set === undefined ? { kind: 'never seen' } : { kind: 'seen', set }
  }
  return { standingOf, coloursOf }
}

export type NearColour = { readonly colour: ColourId; readonly distance: number; readonly sameFinish: boolean }

/** Colours in which the part is known: those of the item's finish first, then the nearest (CIEDE2000). */
export function nearestColours(
  item: ItemKey,
  known: Pick<KnownItems, 'coloursOf'>,
  colours: ReadonlyMap<ColourId, Colour>,
): NearColour[] {
  const { part, colour } = splitItemKey(item)
  const wanted = colours.get(colour)
  if (!wanted || wanted.guessed) return []
  const lab = hexToLab(wanted.hex)
  return [...(known.coloursOf.get(part) ?? [])]
    .flatMap((id) => {
      const other = colours.get(id)
      if (!other || other.guessed || id === colour) return []
      const distance = ciede2000(lab, hexToLab(other.hex))
      return [{ colour: id, distance, sameFinish: other.finish === wanted.finish }]
    })
    .sort((p, q) => Number(q.sameFinish) - Number(p.sameFinish) || p.distance - q.distance)
}

/**
 * Other ways to the same shape in the item's own colour, as far as they are known: parts of the same family and size,
 * then two halves of it (bricks, plates and tiles, cut along their length).
 */
export function otherParts(
  item: ItemKey,
  known: Pick<KnownItems, 'coloursOf'>,
  parts: ReadonlyMap<PartId, Part>,
): { readonly item: ItemKey; readonly qty: number }[] {
  const { part, colour } = splitItemKey(item)
  const whole = parts.get(part)
  const mould = whole && mouldClass(whole)
  if (!whole || mould === undefined) return []
  const own = whole.shape
  // Half of it, the smaller side first.
  const [width = 0, length = 0] = [own.width, own.length / 2].sort((p, q) => p - q)
  const halved = /^(brick|plate|tile)$/.test(own.family) && isPlain(whole)
  const half = halved ? mouldClass({ name: '', shape: { ...own, width, length } }) : undefined
  const found: { item: ItemKey; qty: number }[] = []
  const halves: { item: ItemKey; qty: number }[] = []
  for (const [id, other] of parts) {
    if (id === part || !known.coloursOf.get(id)?.has(colour)) continue
    const kind = mouldClass(other)
    if (kind === mould) found.push({ item: itemKey(id, colour), qty: 1 })
    else if (kind !== undefined && kind === half) halves.push({ item: itemKey(id, colour), qty: 2 })
  }
  return [...found, ...halves]
}

/** A part against a set of colours it is wanted in. */
export type PartInColours = {
  readonly part: Part
  readonly known: readonly ColourId[]
  readonly missing: readonly ColourId[]
}

/**
 * Limiting part first: every known part against the colours a scheme, or several schemes together, would want it in;
 * those known in all of them first, then by how many are missing.
 */
export function partsInColours(
  wanted: readonly ColourId[],
  known: Pick<KnownItems, 'coloursOf'>,
  parts: ReadonlyMap<PartId, Part>,
): PartInColours[] {
  return [...parts.values()]
    .map((part) => {
      const there = known.coloursOf.get(part.id)
      return {
        part,
        known: wanted.filter((c) => there?.has(c)),
        missing: wanted.filter((c) => !there?.has(c)),
      }
    })
    .filter((p) => p.known.length > 0)
    .sort((p, q) => p.missing.length - q.missing.length || compareNames(p.part.name, q.part.name))
}
