import type { ModuleId } from '../units/ids.ts'
import type { Design, DesignLine, Module } from './design.ts'

/** The design with a module in its new form. */
export const withModule = (design: Design, next: Module): Design => ({
  ...design,
  modules: design.modules.map((m) => (m.id === next.id ? next : m)),
})

/** The design without a module; what was within it or the same as it stands by itself. */
export const withoutModule = (design: Design, id: ModuleId): Design => ({
  ...design,
  modules: design.modules
    .filter((m) => m.id !== id)
    .map((m) => {
      const { within, like, pair, ...rest } = m
      return {
        ...rest,
        ...(within !== undefined && within !== id ? { within } : {}),
        ...(like !== undefined && like !== id ? { like } : {}),
        ...(pair !== undefined && pair !== id ? { pair } : {}),
      }
    }),
})

/** Modules in the order they are shown: those within another right after it, with their depth. */
export function moduleTree(design: Design): { readonly module: Module; readonly depth: number }[] {
  const inside = new Map<ModuleId, Module[]>(design.modules.map((m) => [m.id, []]))
  for (const m of design.modules) if (m.within !== undefined) inside.get(m.within)?.push(m)
  const seen = new Set<ModuleId>()
  const rows: { module: Module; depth: number }[] = []
  const add = (outer: Module, from: number) => {
    const stack = [{ module: outer, depth: from }]
    for (let next = stack.pop(); next; next = stack.pop()) {
      const { module, depth } = next
      if (seen.has(module.id)) continue
      seen.add(module.id)
      rows.push({ module, depth })
      const inner = inside.get(module.id) ?? []
      stack.push(...inner.map((m) => ({ module: m, depth: depth + 1 })).reverse())
    }
  }
  for (const m of design.modules) if (m.within === undefined || !inside.has(m.within)) add(m, 0)
  // What is left stands in a circle: it is shown all the same.
  for (const m of design.modules) add(m, 0)
  return rows
}

/** A module moved before or after its neighbour of the same surroundings. */
export function moveModule(design: Design, id: ModuleId, by: -1 | 1): Design {
  const module = design.modules.find((m) => m.id === id)
  const siblings = design.modules.filter((m) => m.within === module?.within)
  const other = siblings[siblings.findIndex((m) => m.id === id) + by]
  if (!module || !other) return design
  return {
    ...design,
    modules: design.modules.map((m) => (m.id === id ? other : m.id === other.id ? module : m)),
  }
}

/** The design with each line as `change` makes it. */
export const withLines = (design: Design, change: (line: DesignLine) => DesignLine): Design => ({
  ...design,
  modules: design.modules.map((m) => ({ ...m, lines: m.lines.map(change) })),
})
