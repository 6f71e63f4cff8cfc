import type { Design, DesignLine, Module } from '../../../core/design/design.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { put } from '../../../storage/journal.ts'
import { showWhile } from '../../data/pending-design.ts'
import { perform } from '../../data/perform.ts'

/** Named acts on one design; each is one step of undo. */
export type EditDesign = {
  readonly design: Design
  /** Writes the design; says so unless `quiet`. */
  readonly save: (label: string, next: Design, more?: readonly Change[], quiet?: boolean) => void
  readonly replace: (label: string, next: Module, more?: readonly Change[]) => void
  readonly replaceLine: (label: string, module: Module, next: DesignLine, more?: readonly Change[]) => void
}

export function editDesign(design: Design): EditDesign {
  const save: EditDesign['save'] = (label, next, more = [], quiet = true) => {
    showWhile(next, perform(label, [put('designs', [next]), ...more], { quiet }))
  }
  const replace: EditDesign['replace'] = (label, next, more) => {
    save(label, withModule(design, next), more)
  }
  return {
    design,
    save,
    replace,
    replaceLine: (label, module, next, more) => {
      replace(label, { ...module, lines: module.lines.map((l) => (l.id === next.id ? next : l)) }, more)
    },
  }
}

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
  const known = new Set(design.modules.map((m) => m.id))
  const seen = new Set<ModuleId>()
  const rows: { module: Module; depth: number }[] = []
  const add = (module: Module, depth: number) => {
    if (seen.has(module.id)) return
    seen.add(module.id)
    rows.push({ module, depth })
    for (const inner of design.modules) if (inner.within === module.id) add(inner, depth + 1)
  }
  for (const m of design.modules) if (m.within === undefined || !known.has(m.within)) add(m, 0)
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
