import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { ModuleId, PartId } from '../units/ids.ts'
import type { Design } from './design.ts'
import { explode, type Requirement } from './explode.ts'

export type PieceListOptions = {
  /** One module with all it holds; the whole design when left out. */
  readonly module?: ModuleId | undefined
  /** Of the module once, however often it occurs. */
  readonly once?: boolean
  /** A colourway by its id; `null` as drawn, the chosen one when left out. */
  readonly colourway?: string | null | undefined
}

/**
 * Pieces of a design or one of its modules by the innermost module that they are for, as it is built: mirrored and
 * recoloured; in design order.
 */
export function pieceGroups(
  design: Design,
  parts: ReadonlyMap<PartId, Part>,
  options: PieceListOptions = {},
): Map<ModuleId, Map<ItemKey, number>> {
  const groups = new Map<ModuleId, Map<ItemKey, number>>()
  for (const { module, item, qty } of listed(design, parts, options)) {
    let group = groups.get(module)
    if (!group) groups.set(module, (group = new Map()))
    group.set(item, (group.get(item) ?? 0) + qty)
  }
  return groups
}

/** What is needed of what is listed, place by place. */
function listed(
  design: Design,
  parts: ReadonlyMap<PartId, Part>,
  { module, once = false, colourway }: PieceListOptions,
): Requirement[] {
  const byId = new Map(design.modules.map((m) => [m.id, m]))
  const line = new Set<ModuleId>()
  for (let at = module; at !== undefined && !line.has(at); at = byId.get(at)?.within) line.add(at)
  const alone =
    module === undefined || !once
      ? design
      : {
          ...design,
          modules: design.modules.map((m) =>
            line.has(m.id) ? { ...m, repeats: 1 } : m.within === undefined ? { ...m, repeats: 0 } : m,
          ),
        }
  const all = explode(alone, {
    parts,
    later: module !== undefined,
    ...(colourway === undefined ? {} : { colourway }),
  })
  return all.filter((r) => module === undefined || r.path.includes(module))
}
