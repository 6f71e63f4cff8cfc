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

/**
 * Modules in an order in which all that a module holds comes before it; those that contain themselves, however deep, or
 * lead into such a circle, are not in it. Linear in modules, however deep they nest.
 */
function innermostFirst(inner: ReadonlyMap<ModuleId, readonly ModuleId[]>): ModuleId[] {
  const open = new Map([...inner].map(([id, held]) => [id, held.length]))
  const holders = new Map<ModuleId, ModuleId[]>([...inner.keys()].map((id) => [id, []]))
  for (const [id, held] of inner) for (const one of held) holders.get(one)?.push(id)
  const order = [...inner.keys()].filter((id) => open.get(id) === 0)
  for (const id of order)
    for (const holder of holders.get(id) ?? []) {
      const left = (open.get(holder) ?? 0) - 1
      open.set(holder, left)
      if (left === 0) order.push(holder)
    }
  return order
}

/** Modules that contain themselves, however deep, or lead into such a circle. Linear in modules. */
export function circularModules(design: Design): Set<ModuleId> {
  const sound = new Set(innermostFirst(innerModules(design)))
  return new Set(design.modules.map((m) => m.id).filter((id) => !sound.has(id)))
}

/** How many modules stand within, or are the same as, one another at the deepest; those in circles are left out. Linear. */
export function nestingDepth(design: Design): number {
  const inner = innerModules(design)
  const depth = new Map<ModuleId, number>()
  let deepest = 0
  for (const id of innermostFirst(inner)) {
    let own = 1
    for (const held of inner.get(id) ?? []) own = Math.max(own, 1 + (depth.get(held) ?? 0))
    depth.set(id, own)
    deepest = Math.max(deepest, own)
  }
  return deepest
}

/** Sums beyond this are as good as endless. */
const ENDLESS = 1e12

/** Of each module that is in no circle: how many places it and its lines, and all it holds, have in one of it. */
export function placesOfLines(design: Design): Map<ModuleId, number> {
  const inner = innerModules(design)
  const lines = new Map(design.modules.map((m) => [m.id, m.lines.length]))
  const places = new Map<ModuleId, number>()
  for (const id of innermostFirst(inner)) {
    // A module without lines has a place too: it is visited all the same.
    let sum = 1 + (lines.get(id) ?? 0)
    for (const held of inner.get(id) ?? []) sum += places.get(held) ?? 0
    places.set(id, Math.min(ENDLESS, sum))
  }
  return places
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
