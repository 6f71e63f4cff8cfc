import type { ItemKey } from '../catalogue/item.ts'
import type { Holding } from './holding.ts'
import type { BuildId, HoldingId } from '../units/ids.ts'
import type { Drawn } from './drawn.ts'

/** Pieces each holding gives to a build, by its tally. */
function drawn(tally: Drawn): Map<HoldingId, number> {
  const result = new Map<HoldingId, number>()
  for (const line of tally.lines)
    for (const { source, qty } of line.pegs)
      if (source.kind === 'shelf') result.set(source.holding, (result.get(source.holding) ?? 0) + qty)
  return result
}

/** Reserves for a build just what its tally draws from the shelf; its earlier reservations give way. Changed holdings only. */
export function reserve(build: BuildId, tally: Drawn, holdings: readonly Holding[]): Holding[] {
  const uses = drawn(tally)
  return holdings.flatMap((holding) => {
    const qty = uses.get(holding.id) ?? 0
    const before = holding.reserved ?? []
    const own = before.find((r) => r.build === build)?.qty ?? 0
    if (own === qty) return []
    const others = before.filter((r) => r.build !== build)
    return [withReservations(holding, qty > 0 ? [...others, { build, qty }] : others)]
  })
}

/** Takes a build's reservations back. Changed holdings only. */
export const release = (build: BuildId, holdings: readonly Holding[]): Holding[] =>
  holdings
    .filter((h) => h.reserved?.some((r) => r.build === build))
    .map((h) =>
      withReservations(
        h,
        (h.reserved ?? []).filter((r) => r.build !== build),
      ),
    )

function withReservations(holding: Holding, reserved: NonNullable<Holding['reserved']>): Holding {
  const { reserved: _, ...bare } = holding
  return reserved.length === 0 ? bare : { ...bare, reserved }
}

/** Pieces reserved on the shelf for a build. */
export const reservedFor = (build: BuildId, holdings: readonly Holding[]): number =>
  holdings.reduce((n, h) => n + (h.reserved?.find((r) => r.build === build)?.qty ?? 0), 0)

/** One item that several builds count on, beyond what there is of it on the shelf. */
export type Conflict = {
  readonly item: ItemKey
  readonly have: number
  readonly builds: readonly { readonly build: BuildId; readonly qty: number }[]
}

/** Every item counted twice: the builds together draw more from a holding than it has. */
export function findConflicts(
  tallies: readonly { readonly build: BuildId; readonly tally: Drawn }[],
  holdings: readonly Holding[],
): Conflict[] {
  const uses = tallies.map(({ build, tally }) => ({ build, drawn: drawn(tally) }))
  const conflicts = new Map<ItemKey, { have: number; builds: Map<BuildId, number> }>()
  for (const holding of holdings) {
    const takers = uses.flatMap(({ build, drawn: d }) => {
      const qty = d.get(holding.id) ?? 0
      return qty > 0 ? [{ build, qty }] : []
    })
    if (takers.reduce((n, t) => n + t.qty, 0) <= holding.qty) continue
    const row = conflicts.get(holding.item) ?? { have: 0, builds: new Map<BuildId, number>() }
    row.have += holding.qty
    for (const { build, qty } of takers) row.builds.set(build, (row.builds.get(build) ?? 0) + qty)
    conflicts.set(holding.item, row)
  }
  return [...conflicts].map(([item, { have, builds }]) => ({
    item,
    have,
    builds: [...builds].map(([build, qty]) => ({ build, qty })),
  }))
}
