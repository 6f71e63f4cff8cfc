import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { ColourId, LineId, ModuleId, PartId } from '../units/ids.ts'
import { NO_ITEM, type Design, type DesignLine, type Module } from './design.ts'

/** The design without some lines. */
export const withoutLines = (design: Design, ids: ReadonlySet<LineId>): Design => ({
  ...design,
  modules: design.modules.map((m) => (m.lines.some((l) => ids.has(l.id)) ? dropLines(m, ids) : m)),
})

const dropLines = (module: Module, ids: ReadonlySet<LineId>): Module => ({
  ...module,
  lines: module.lines.filter((l) => !ids.has(l.id)),
})

/** The design with some lines changed, wherever they are. */
export const changeLines = (
  design: Design,
  ids: ReadonlySet<LineId>,
  change: (line: DesignLine) => DesignLine,
): Design => ({
  ...design,
  modules: design.modules.map((m) =>
    m.lines.some((l) => ids.has(l.id)) ? { ...m, lines: m.lines.map((l) => (ids.has(l.id) ? change(l) : l)) } : m,
  ),
})

/**
 * Lines moved as they are into another module, after what it has, in the order of the design; the design itself when there is no such
 * module. Those that are in it already stay where they are. What they need changes where the repeats of the two differ.
 */
export function moveLines(design: Design, ids: ReadonlySet<LineId>, to: ModuleId): Design {
  if (!design.modules.some((m) => m.id === to)) return design
  const moved = design.modules.flatMap((m) => (m.id === to ? [] : m.lines.filter((l) => ids.has(l.id))))
  if (moved.length === 0) return design
  return {
    ...design,
    modules: design.modules.map((m) =>
      m.id === to
        ? { ...m, lines: [...m.lines, ...moved] }
        : m.lines.some((l) => ids.has(l.id))
          ? dropLines(m, ids)
          : m,
    ),
  }
}

/** An item in another colour, its part and what is on it as they are. */
export const inColour = (item: ItemKey, colour: ColourId): ItemKey => {
  const { part, decoration } = splitItemKey(item)
  return item === NO_ITEM ? item : itemKey(part, colour, decoration)
}

export type PartSwap = {
  readonly design: Design
  readonly lines: number
  /** Pieces of one repeat of each line's module. */
  readonly pieces: number
}

/**
 * One part for another in all lines, their colours and what is on them as they were; in some lines only where `ids` is
 * given. What may serve instead, and what stands in meanwhile, is the user's own word and stays.
 */
export function swapPart(design: Design, from: PartId, to: PartId, ids?: ReadonlySet<LineId>): PartSwap {
  let [lines, pieces] = [0, 0]
  const concerned = new Set<LineId>()
  for (const { id, item, qty } of design.modules.flatMap((m) => m.lines)) {
    if (item === NO_ITEM || splitItemKey(item).part !== from || (ids && !ids.has(id)) || from === to) continue
    concerned.add(id)
    lines++
    pieces += qty
  }
  if (lines === 0) return { design, lines, pieces }
  const swapped = changeLines(design, concerned, (l) => {
    const { colour, decoration } = splitItemKey(l.item)
    return { ...l, item: itemKey(to, colour, decoration) }
  })
  return { design: swapped, lines, pieces }
}
