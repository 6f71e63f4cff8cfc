import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName, type Part } from '../catalogue/part.ts'
import type { Design } from '../design/design.ts'
import { mapItems } from '../design/map-items.ts'
import type { DesignVersion } from '../design/version.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import type { BuildId, HoldingId, PartId } from '../units/ids.ts'
import type { KeptPlan } from './kept-plan.ts'
import type { Offer } from './market.ts'

/** Everything that names parts. */
export type PartUsers = {
  readonly sets: readonly DonorSet[]
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
  readonly designs: readonly Design[]
  readonly versions: readonly DesignVersion[]
  readonly offers: readonly Offer[]
  readonly plans: readonly KeptPlan[]
}

/** What a merge writes and deletes. */
export type PartMerge = {
  readonly part: Part
  readonly removed: PartId
  readonly sets: readonly DonorSet[]
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
  readonly emptied: readonly HoldingId[]
  readonly designs: readonly Design[]
  readonly versions: readonly DesignVersion[]
  readonly offers: readonly Offer[]
  readonly goneOffers: readonly string[]
  /** Kept plans that bought the merged part no longer fit and go. */
  readonly gonePlans: readonly BuildId[]
}

/**
 * Merges a part into another: every list that names the one names the other from now on, its names and codes become
 * aliases, equal holdings in a place are summed. No piece appears or vanishes. Changed records only.
 */
export function mergeParts(from: Part, into: Part, users: PartUsers): PartMerge {
  const other = (item: ItemKey): ItemKey => {
    const { part, colour, decoration } = splitItemKey(item)
    return part === from.id ? itemKey(into.id, colour, decoration) : item
  }
  const touched = (item: ItemKey) => other(item) !== item
  const rename = <T extends { readonly item: ItemKey }>(line: T): T =>
    touched(line.item) ? { ...line, item: other(line.item) } : line

  const keyOf = (h: Holding) => JSON.stringify([h.place, h.item, h.condition, h.estimate, h.length])
  const there = new Map(users.holdings.filter((h) => !touched(h.item)).map((h) => [keyOf(h), h]))
  const holdings = new Map<HoldingId, Holding>()
  const emptied: HoldingId[] = []
  for (const holding of users.holdings) {
    if (!touched(holding.item)) continue
    const moved = rename(holding)
    const key = keyOf(moved)
    const held = there.get(key)
    const joined = held ? join(held, moved) : moved
    if (held) emptied.push(holding.id)
    there.set(key, joined)
    holdings.set(joined.id, joined)
  }

  const offers = users.offers.filter((o) => touched(o.item))
  return {
    part: { ...into, aliases: [...new Set([...(into.aliases ?? []), from.id, ...(from.aliases ?? [])])] },
    removed: from.id,
    sets: users.sets
      .filter((s) => s.lines.some((l) => touched(l.item)))
      .map((s) => ({ ...s, lines: s.lines.map(rename) })),
    copies: users.copies
      .filter((c) => c.missing.some((m) => touched(m.item)))
      .map((c) => ({ ...c, missing: c.missing.map(rename) })),
    holdings: [...holdings.values()],
    emptied,
    designs: users.designs.flatMap((d) => {
      const next = mapItems(d, other)
      return next === d ? [] : [next]
    }),
    versions: users.versions.flatMap((version) => {
      const design = mapItems(version.design, other)
      return design === version.design ? [] : [{ ...version, design }]
    }),
    // An offer's id names its item, and a market would give it again under the old one.
    offers: offers.filter((o) => o.source === 'file').map(rename),
    goneOffers: offers.filter((o) => o.source === 'market').map((o) => o.id),
    gonePlans: users.plans.filter((p) => p.problem.items.some((i) => i.part === from.id)).map((p) => p.id),
  }
}

function join(held: Holding, more: Holding): Holding {
  const reserved = [...(held.reserved ?? [])]
  for (const { build, qty } of more.reserved ?? []) {
    const at = reserved.findIndex((r) => r.build === build)
    const own = reserved[at]
    if (own) reserved[at] = { build, qty: own.qty + qty }
    else reserved.push({ build, qty })
  }
  return { ...held, qty: held.qty + more.qty, ...(reserved.length > 0 ? { reserved } : {}) }
}

/** A part under a new name, its shape read from it anew; lists that write either name still meet in it. */
export function renamePart(part: Part, name: string): Part {
  const read = partFromName(name)
  const aliases = [...new Set([...(part.aliases ?? []), ...(read.id === part.id ? [] : [read.id])])]
  return { id: part.id, name: read.name, shape: read.shape, ...(aliases.length > 0 ? { aliases } : {}) }
}
