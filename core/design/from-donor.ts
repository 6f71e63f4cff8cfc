import type { ItemKey } from '../catalogue/item.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import type { DesignLine, Module } from './design.ts'
import { type Pieces, sumItems } from './sum-items.ts'

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
          stage: stage.id,
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
