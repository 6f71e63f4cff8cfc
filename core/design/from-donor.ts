import type { ItemKey } from '../catalogue/item.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import type { DesignLine, Module } from './design.ts'

type Pieces = { readonly item: ItemKey; readonly qty: number }

/** Sums pieces by item, in the order they first occur. */
export function sumItems(pieces: Iterable<Pieces>): Map<ItemKey, number> {
  const sums = new Map<ItemKey, number>()
  for (const { item, qty } of pieces) sums.set(item, (sums.get(item) ?? 0) + qty)
  return sums
}

const linesOf = (pieces: ReadonlyMap<ItemKey, number>, fresh: () => string): DesignLine[] =>
  [...pieces].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ id: `n-${fresh()}` as LineId, item, qty }))

/** A module for each of a set's stages that is kept, spares left out; what is later removed from it is freed. */
export function modulesFromDonor(set: DonorSet, stages: readonly string[], fresh: () => string): Module[] {
  return set.stages
    .filter((stage) => stages.includes(stage.id))
    .map((stage): Module => {
      const pieces = sumItems(set.lines.filter((l) => l.stage === stage.id && !l.spare))
      return {
        id: `m-${fresh()}` as ModuleId,
        name: `${set.name}: ${stage.name}`.slice(0, 120),
        repeats: 1,
        origin: {
          kind: 'donor',
          set: set.id,
          name: `${set.name}, ${stage.name}`,
          contents: [...pieces].map(([item, qty]) => ({ item, qty })),
        },
        lines: linesOf(pieces, fresh),
      }
    })
}

/** Pieces a module once had from its donor and no longer asks for: usable elsewhere. */
export function freedPieces(module: Module): Pieces[] {
  if (module.origin?.kind !== 'donor') return []
  const kept = sumItems(module.lines)
  return [...sumItems(module.origin.contents)]
    .map(([item, qty]) => ({ item, qty: qty - (kept.get(item) ?? 0) }))
    .filter(({ qty }) => qty > 0)
}

/** A design counted after it was built, or why it cannot be what was counted. */
export type AsBuilt =
  | { readonly ok: true; readonly pieces: ReadonlyMap<ItemKey, number> }
  /** More left over than the donors held. */
  | {
      readonly ok: false
      readonly excess: readonly { readonly item: ItemKey; readonly held: number; readonly left: number }[]
    }

/**
 * What was built: what the donors held, less what was counted as left over, plus what was added from elsewhere. Leftovers
 * beyond what the donors held are refused item by item: either the count or the donors are not what was said.
 */
export function asBuilt(held: Iterable<Pieces>, leftOver: Iterable<Pieces>, added: Iterable<Pieces>): AsBuilt {
  const pieces = sumItems(held)
  const excess: { item: ItemKey; held: number; left: number }[] = []
  for (const [item, left] of sumItems(leftOver)) {
    const had = pieces.get(item) ?? 0
    if (left > had) excess.push({ item, held: had, left })
    else if (left === had) pieces.delete(item)
    else pieces.set(item, had - left)
  }
  if (excess.length > 0) return { ok: false, excess }
  for (const [item, qty] of sumItems(added)) pieces.set(item, (pieces.get(item) ?? 0) + qty)
  return { ok: true, pieces }
}

/** The other side: what must be left over of the donors when it was the built pieces that were counted. */
export function leftOverOf(held: Iterable<Pieces>, built: Iterable<Pieces>): { left: Pieces[]; added: Pieces[] } {
  const counts = sumItems(built)
  const left: Pieces[] = []
  for (const [item, qty] of sumItems(held)) {
    const used = Math.min(qty, counts.get(item) ?? 0)
    counts.set(item, (counts.get(item) ?? 0) - used)
    if (qty > used) left.push({ item, qty: qty - used })
  }
  return { left, added: [...counts].filter(([, qty]) => qty > 0).map(([item, qty]) => ({ item, qty })) }
}

/** A module of counted pieces. */
export function moduleOfPieces(name: string, pieces: ReadonlyMap<ItemKey, number>, fresh: () => string): Module {
  return {
    id: `m-${fresh()}` as ModuleId,
    name,
    repeats: 1,
    origin: { kind: 'as built', name },
    lines: linesOf(pieces, fresh),
  }
}

/**
 * A module with all it holds under new ids, as it is inserted from the library or a version: itself first. What it is
 * the same as becomes an inner module of its own, so that the copy stands by itself. Finished models stay behind.
 */
export function copyModules(modules: readonly Module[], top: ModuleId, fresh: () => string): Module[] {
  const copied: Module[] = []
  const copy = (module: Module, within: ModuleId | undefined, repeats: number, around: readonly ModuleId[]): void => {
    if (around.includes(module.id)) return
    const { within: _, like, pair: __, built: ___, ...rest } = module
    const id = `m-${fresh()}` as ModuleId
    copied.push({
      ...rest,
      id,
      repeats,
      ...(within === undefined ? {} : { within }),
      lines: module.lines.map((line) => ({ ...line, id: `n-${fresh()}` as LineId })),
    })
    const inside = [...around, module.id]
    const same = modules.find((m) => m.id === like)
    if (same && !same.later) copy(same, id, 1, inside)
    for (const inner of modules) if (inner.within === module.id) copy(inner, id, inner.repeats, inside)
  }
  const module = modules.find((m) => m.id === top)
  if (module) copy(module, undefined, module.repeats, [])
  return copied
}
