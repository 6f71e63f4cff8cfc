import type { ModuleId } from '../units/ids.ts'
import type { Design } from './design.ts'

/** Modules directly inside each module: those within it, and what it is the same as. */
function innerModules(design: Design): Map<ModuleId, ModuleId[]> {
  const inner = new Map<ModuleId, ModuleId[]>(design.modules.map((m) => [m.id, []]))
  for (const m of design.modules) {
    if (m.within !== undefined) inner.get(m.within)?.push(m.id)
    if (m.like !== undefined && inner.has(m.like)) inner.get(m.id)?.push(m.like)
  }
  return inner
}

/** Modules that contain themselves, however deep, or lead into such a circle. Linear in modules. */
export function circularModules(design: Design): Set<ModuleId> {
  const inner = innerModules(design)
  const state = new Map<ModuleId, 'open' | 'done'>()
  const circular = new Set<ModuleId>()
  const visit = (id: ModuleId): boolean => {
    if (state.get(id) === 'open') return true
    if (state.get(id) === 'done') return circular.has(id)
    state.set(id, 'open')
    for (const next of inner.get(id) ?? []) if (visit(next)) circular.add(id)
    state.set(id, 'done')
    return circular.has(id)
  }
  for (const m of design.modules) visit(m.id)
  return circular
}

/**
 * Modules that a module may stand within, and those it may be the same as, without ever containing itself: what it holds
 * is no place for it, and what holds it is no model for it. Linear in modules.
 */
export function nestingChoices(design: Design, id: ModuleId): { within: Set<ModuleId>; like: Set<ModuleId> } {
  const inner = innerModules(design)
  const outer = new Map<ModuleId, ModuleId[]>(design.modules.map((m) => [m.id, []]))
  for (const [around, held] of inner) for (const m of held) outer.get(m)?.push(around)
  const except = (links: ReadonlyMap<ModuleId, readonly ModuleId[]>): Set<ModuleId> => {
    const reached = new Set([id])
    for (const at of reached) for (const next of links.get(at) ?? []) reached.add(next)
    return new Set(design.modules.map((m) => m.id).filter((m) => !reached.has(m)))
  }
  return { within: except(inner), like: except(outer) }
}
